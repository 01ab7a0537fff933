import { z } from 'zod';
import { lawOf } from '../../../core/cases/requests/law/laws.ts';
import { requestClock } from '../../../core/cases/requests/law/clock.ts';
import { asksWords, complaintWords, letterDay } from '../../../core/cases/requests/letters/letter-values.ts';
import { composeLetter } from '../../../core/cases/requests/letters/request-letter.ts';
import {
  identityNeed,
  letterAddress,
  letterName,
  requestNumber,
  WAY_WORDS,
  type NewRequest,
  type WayIn,
} from '../../../core/cases/requests/request.ts';
import { RefusedError } from '../../../core/refusal.ts';
import { dayIn } from '../../../core/retention/offers.ts';
import type { Context } from '../../context.ts';
import { record, type Actor } from '../../evidence/ledger.ts';
import { toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { sendLetter } from './letters/send-letter.ts';
import { showRequest } from './request-facts.ts';
import { readRequestPolicy } from './request-policy.ts';
import { addStep, personHash, sealJson } from './request-row.ts';
import { workingDays } from './working-days.ts';

export interface Incoming {
  readonly way: WayIn;
  readonly by: Actor;
  /** When it came in, where that was before now. */
  readonly at?: Date;
  /** A second one of the same is not taken. */
  readonly sentKey?: string;
  /** Receipt is told by mail at once. */
  readonly confirm?: boolean;
}

/**
 * Takes a request in: its clock begins on the day it came. Throws a RefusedError (400) where the law of where they are has
 * no such right, or nothing tells whom it is about.
 */
export async function takeRequest(
  tx: Queries,
  ctx: Context,
  request: NewRequest,
  { way, by, at = ctx.now(), sentKey, confirm = false }: Incoming,
): Promise<{ readonly id: number; readonly isNew: boolean }> {
  const { kind, region, subject } = request;
  if (subject.name === '' && subject.emails.length + subject.numbers.length + subject.phones.length === 0)
    throw new RefusedError('Nothing tells whom it is about.', [
      { field: 'subject.name', message: 'A name, an address or a number.' },
    ]);
  if (sentKey !== undefined) {
    const known = await tx.one(
      z.object({ id: z.number() }),
      'SELECT id FROM subject_request WHERE sent_key = ?',
      [sentKey],
    );
    if (known) return { id: known.id, isNew: false };
  }
  const law = lawOf(region);
  if (!law.rights[kind])
    throw new RefusedError(`${law.name} has no such right.`, [
      { field: 'kind', message: `It gives: ${Object.keys(law.rights).join(', ')}.` },
    ]);
  const policy = await readRequestPolicy(tx);
  const received = dayIn(at.toISOString(), policy.zone);
  const today = dayIn(ctx.now().toISOString(), policy.zone);
  const clock = requestClock({
    ...{ law, kind, received, pauses: [], extended: null, answered: null, today },
    isWorkingDay: workingDays(policy.country),
  });
  const needs = identityNeed(kind) !== 'not needed';
  const { id } = await tx.run(
    `INSERT INTO subject_request (kind, law, region, language, way, site, content, person_hash, received_at, received_on,
       known_by, known_at, handler, due_on, sent_key) VALUES (?)`,
    [
      [
        ...[kind, law.id, region, request.language, way, request.site, sealJson(ctx, request)],
        ...[personHash(ctx, request), toDatetime(at), received],
        ...[needs ? null : 'not needed', needs ? null : toDatetime(at)],
        ...[policy.handler === '' ? null : Number(policy.handler), clock.answerBy, sentKey ?? null],
      ],
    ],
  );
  await addStep(tx, at, id, 'came in', typeof by === 'number' ? by : null, WAY_WORDS[way]);
  await record(tx, ctx.now(), {
    ...{ actor: by, action: 'request.add', object: 'request', objectId: id },
    detail: { kind, law: law.id, region, way, due: clock.answerBy },
  });
  if (confirm && letterAddress(request) !== '')
    await sendLetter(tx, ctx, {
      ...{
        request: id,
        letter: 'received',
        language: request.language,
        by: null,
        to: letterAddress(request),
      },
      written: composeLetter('received', request.language, {
        ...{ name: letterName(request), organisation: policy.organisation, number: requestNumber(id) },
        ...{ asks: asksWords(kind, request.language), law: law.name, article: law.answerArticle, told: '' },
        day: letterDay(clock.answerBy, request.language),
        complaint: complaintWords(law, request.language),
      }),
    });
  await showRequest(tx, ctx, id);
  return { id, isNew: true };
}
