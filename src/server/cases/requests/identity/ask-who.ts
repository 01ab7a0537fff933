import { z } from 'zod';
import { searches } from '../../../../core/cases/requests/progress.ts';
import { Subject, traitKey } from '../../../../core/cases/requests/person/subject.ts';
import { asksWords, letterDay } from '../../../../core/cases/requests/letters/letter-values.ts';
import { composeLetter } from '../../../../core/cases/requests/letters/request-letter.ts';
import {
  identityNeed,
  letterAddress,
  letterName,
  requestNumber,
} from '../../../../core/cases/requests/request.ts';
import { RefusedError } from '../../../../core/refusal.ts';
import { dayIn } from '../../../../core/retention/offers.ts';
import type { Context } from '../../../context.ts';
import { record } from '../../../evidence/ledger.ts';
import { addJob } from '../../../jobs/job.ts';
import { toDatetime } from '../../../store/columns.ts';
import type { Queries } from '../../../store/pool.ts';
import { sendLetter } from '../letters/send-letter.ts';
import { showRequest } from '../request-facts.ts';
import { readRequestPolicy } from '../request-policy.ts';
import { addStep, findRequest, openRequest, personHash, sealJson, type RequestRow } from '../request-row.ts';
import { queueSearch } from '../search/find-person-job.ts';
import { makeLink, openLink, useLink } from './request-link.ts';

const DAY = 86_400_000;
/** A link that asks who somebody is opens so long. */
const ASKED_DAYS = 14;

/**
 * Mails who asks a link by which they show that the address is theirs, and answer what is asked besides. Where the law
 * lets the clock stand meanwhile, it does from today on. Throws a RefusedError (409).
 */
export async function askWho(tx: Queries, ctx: Context, row: RequestRow, by: number | null): Promise<void> {
  const request = openRequest(ctx, row);
  if (!request || row.outcome !== null) throw new RefusedError('It is closed.', [], 409);
  if (row.known_by !== null) throw new RefusedError('It is known who asks.', [], 409);
  const to = letterAddress(request);
  if (to === '')
    throw new RefusedError(
      'There is no address to write to. Say by hand that it is known who asks, and how.',
      [],
      409,
    );
  const policy = await readRequestPolicy(tx);
  const now = ctx.now();
  const until = new Date(now.getTime() + ASKED_DAYS * DAY);
  const token = await makeLink(tx, row.id, 'identity', until);
  const link = `${ctx.settings.WEB_ORIGIN}/request/${token}`;
  await sendLetter(tx, ctx, {
    ...{ request: row.id, letter: 'prove', language: row.language, by, to, secret: [token] },
    written: composeLetter('prove', row.language, {
      ...{
        name: letterName(request),
        organisation: policy.organisation,
        number: requestNumber(row.id),
        link,
      },
      asks: asksWords(row.kind, row.language),
      day: letterDay(dayIn(until.toISOString(), policy.zone), row.language),
    }),
  });
  await tx.run('UPDATE subject_request SET asked_at = ?, proof = NULL WHERE id = ?', [
    toDatetime(now),
    row.id,
  ]);
  await pauseClock(tx, ctx, row, 'proof');
  await addStep(tx, now, row.id, 'asked', by);
  await record(tx, now, {
    ...{ actor: by ?? 'system', action: 'request.ask', object: 'request', objectId: row.id },
    detail: {},
  });
}

/** The clock stands from today on, where the law lets it; once. */
export async function pauseClock(
  tx: Queries,
  ctx: Context,
  { id, law }: Pick<RequestRow, 'id' | 'law'>,
  why: 'proof' | 'clarification',
): Promise<boolean> {
  if (!law.pauses.includes(why)) return false;
  const { zone } = await readRequestPolicy(tx);
  const open = await tx.one(
    z.object({ id: z.number() }),
    'SELECT id FROM request_pause WHERE request_id = ? AND why = ? AND to_on IS NULL FOR UPDATE',
    [id, why],
  );
  if (!open)
    await tx.run('INSERT INTO request_pause (request_id, why, from_on) VALUES (?, ?, ?)', [
      id,
      why,
      dayIn(ctx.now().toISOString(), zone),
    ]);
  return true;
}

/** The clock runs again. */
export async function resumeClock(
  tx: Queries,
  ctx: Context,
  id: number,
  why?: 'proof' | 'clarification',
): Promise<number> {
  const { zone } = await readRequestPolicy(tx);
  const { changed } = await tx.run(
    `UPDATE request_pause SET to_on = ? WHERE request_id = ? AND to_on IS NULL${why ? ' AND why = ?' : ''}`,
    [dayIn(ctx.now().toISOString(), zone), id, ...(why ? [why] : [])],
  );
  return changed;
}

/** It is known who asks, by whichever way. */
export async function setKnown(
  tx: Queries,
  ctx: Context,
  id: number,
  by: NonNullable<RequestRow['known_by']>,
  account: number | null,
  words: string,
): Promise<void> {
  const now = ctx.now();
  await tx.run('UPDATE subject_request SET known_by = ?, known_at = ? WHERE id = ?', [
    by,
    toDatetime(now),
    id,
  ]);
  await resumeClock(tx, ctx, id, 'proof');
  await addStep(tx, now, id, 'known', account, words);
  await record(tx, now, {
    ...{ actor: account ?? 'visitor', action: 'request.know', object: 'request', objectId: id },
    detail: { by },
  });
  const row = await findRequest(tx, id);
  if (searches(row.kind) && row.search === 'never') await queueSearch(tx, ctx, id, account);
}

/** What somebody answers who was asked who they are; all but the press itself may be left out. */
export const WhoAnswers = z.strictObject({
  born: z.string().trim().max(40).default(''),
  phone: z.string().trim().max(60).default(''),
  address: z.string().trim().max(200).default(''),
  number: z.string().trim().max(120).default(''),
});
export type WhoAnswers = z.infer<typeof WhoAnswers>;

/**
 * Takes what somebody answered by their link. It never tells whether anything is held: everybody is asked the same, and
 * thanked the same. Throws a RefusedError (404) for a link that opens nothing, (400) for a birth date that is none.
 */
export async function answerWho(ctx: Context, token: string, answers: WhoAnswers): Promise<void> {
  const born = answers.born === '' ? '' : traitKey('birth date', answers.born);
  if (answers.born !== '' && born === '')
    throw new RefusedError('', [{ field: 'born', message: '1984-03-09' }]);
  await ctx.store.transaction(async (tx) => {
    const link = await openLink(tx, ctx, 'identity', token, true);
    if (!link) throw new RefusedError('This link is over.', [], 404);
    await useLink(tx, ctx, token);
    const row = await findRequest(tx, link.request, true);
    const request = openRequest(ctx, row);
    if (!request || row.outcome !== null || row.known_by !== null) return;
    const { subject } = request;
    const added = (values: readonly string[], value: string) =>
      value === '' || values.includes(value) ? [...values] : [...values, value];
    const told = Subject.parse({
      ...subject,
      born: subject.born || born,
      phones: added(subject.phones, answers.phone).slice(0, 10),
      address: subject.address || answers.address,
      numbers: answers.number
        .split(/[,;\n]+/)
        .map((n) => n.trim())
        .reduce<string[]>((all, n) => added(all, n), [...subject.numbers])
        .slice(0, 20),
    });
    const next = { ...request, subject: told };
    await tx.run('UPDATE subject_request SET content = ?, person_hash = ?, proof = ? WHERE id = ?', [
      ...[sealJson(ctx, next), personHash(ctx, next), 'answered', row.id],
    ]);
    if (identityNeed(row.kind) === 'link') {
      await setKnown(tx, ctx, row.id, 'link', null, '');
      await tx.run("UPDATE subject_request SET proof = 'agrees' WHERE id = ?", [row.id]);
    } else
      await addJob(tx, ctx.now(), {
        ...{ kind: 'compare-answers', title: `Comparing answers of ${requestNumber(row.id)}` },
        about: { object: 'request', id: row.id },
        payload: { request: row.id },
        ...{ createdBy: null, link: `/cases/requests/${row.id}` },
      });
    await showRequest(tx, ctx, row.id);
  });
}
