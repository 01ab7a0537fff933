import { isAnswer } from '../../../core/cases/requests/request-act.ts';
import { LINK } from './letters/draft-letter.ts';
import type { Account } from '../../../core/accounts/authority.ts';
import type { RequestAct } from '../../../core/cases/requests/request-act.ts';
import { whyNotClosed } from '../../../core/cases/requests/progress.ts';
import { letterAddress } from '../../../core/cases/requests/request.ts';
import { dayIn, lastDayOf } from '../../../core/retention/offers.ts';
import { RefusedError } from '../../../core/refusal.ts';
import { peopleWho } from '../../accounts/account-names.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { agreeToChanges } from './changes/carry-out-job.ts';
import { planChanges } from './changes/plan-changes.ts';
import { askWho, pauseClock, resumeClock, setKnown } from './identity/ask-who.ts';
import { endLinks, makeLink } from './identity/request-link.ts';
import { sendLetter } from './letters/send-letter.ts';
import { latestPackage } from './package/packages.ts';
import { queuePackage } from './package/make-package-job.ts';
import { knowRequest, showRequest } from './request-facts.ts';
import { addStep, findRequest, openRequest } from './request-row.ts';
import { queueSearch } from './search/find-person-job.ts';
import { routeTasks } from './tasks/route-tasks.ts';

/** Does something about a request. Throws a RefusedError (400, 404, 409). */
export async function actOnRequest(
  ctx: Context,
  account: Account,
  id: number,
  act: RequestAct,
): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const row = await findRequest(tx, id, true);
    if (row.outcome !== null && act.act !== 'open again' && act.act !== 'note')
      throw new RefusedError(`It is closed: ${row.outcome}.`, [], 409);
    await doAct(tx, ctx, account.id, id, act);
    await showRequest(tx, ctx, id);
  });
}

async function doAct(tx: Queries, ctx: Context, by: number, id: number, act: RequestAct): Promise<void> {
  const now = ctx.now();
  const tell = (detail: Record<string, string | number | boolean | null> = {}) =>
    record(tx, now, {
      ...{
        actor: by,
        action: `request.${act.act.replaceAll(' ', '-')}`,
        object: 'request',
        objectId: id,
        detail,
      },
    });
  switch (act.act) {
    case 'assign': {
      const who =
        act.to === null ? null : (await peopleWho(tx, 'cases.handle')).find((p) => p.id === act.to && p.able);
      if (who === undefined)
        throw new RefusedError('They may not handle requests.', [
          { field: 'to', message: 'Choose somebody whose role includes it.' },
        ]);
      await tx.run('UPDATE subject_request SET handler = ? WHERE id = ?', [act.to, id]);
      await addStep(tx, now, id, 'assign', by, who?.name ?? 'nobody');
      await tell({ to: act.to });
      return;
    }
    case 'note':
      await addStep(tx, now, id, 'note', by, act.words);
      await tell();
      return;
    case 'known': {
      if (act.by === 'hand' && act.words.length < 3)
        throw new RefusedError('Say how you know who it is.', [
          { field: 'words', message: 'Such as: came to the desk with a passport.' },
        ]);
      if (act.by !== 'hand' && act.by !== 'not needed') throw new RefusedError('That comes about by itself.');
      await setKnown(tx, ctx, id, act.by, by, act.words);
      await endLinks(tx, id, 'identity');
      return;
    }
    case 'wait': {
      const row = await findRequest(tx, id);
      const stands = await pauseClock(tx, ctx, row, act.why);
      if (!stands)
        throw new RefusedError(`${row.law.name} does not let the clock stand for that.`, [
          {
            field: 'why',
            message:
              row.law.pauses.length === 0
                ? 'It lets it stand for nothing.'
                : `It does for: ${row.law.pauses.join(', ')}.`,
          },
        ]);
      await addStep(tx, now, id, 'wait', by, act.words);
      await tell({ why: act.why });
      return;
    }
    case 'go on':
      if ((await resumeClock(tx, ctx, id)) === 0) throw new RefusedError('The clock runs.', [], 409);
      await addStep(tx, now, id, 'go on', by);
      await tell();
      return;
    case 'write':
      return write(tx, ctx, by, id, act, tell);
    case 'search':
      return queueSearch(tx, ctx, id, by);
    case 'tell apart': {
      const { changed } = await tx.run(
        "UPDATE request_item SET theirs = ?, looked_by = ?, looked_at = ?, version = version + 1 WHERE request_id = ? AND theirs = 'ask' AND bearer_hash = ? AND state <> 'unreadable'",
        [act.theirs ? 'yes' : 'no', by, toDatetime(now), id, Buffer.from(act.bearer, 'hex')],
      );
      if (changed === 0) throw new RefusedError('Nothing is asked of them any more.', [], 409);
      await addStep(tx, now, id, 'told apart', by, `${changed} ${act.theirs ? 'theirs' : 'of another'}`);
      await tell({ theirs: act.theirs, items: changed });
      await planChanges(tx, ctx, id);
      await routeTasks(tx, ctx, id);
      return;
    }
    case 'package':
      return queuePackage(tx, ctx, id, by);
    case 'close': {
      const { facts, policy, today } = await knowRequest(tx, ctx, id);
      const why = whyNotClosed(facts, act.outcome);
      if (why) throw new RefusedError(why, [{ field: 'outcome', message: why }], 409);
      const forgetOn = lastDayOf(today, { count: policy.keepDays, unit: 'days' });
      await tx.run('UPDATE subject_request SET outcome = ?, closed_at = ?, forget_on = ? WHERE id = ?', [
        ...[act.outcome, toDatetime(now), forgetOn, id],
      ]);
      // What was shown to prove who it is has done its work.
      await tx.run('DELETE FROM request_proof WHERE request_id = ?', [id]);
      await tx.run(
        "UPDATE request_task SET done_at = ?, outcome = 'the request is closed' WHERE request_id = ? AND done_at IS NULL",
        [toDatetime(now), id],
      );
      await endLinks(tx, id, 'identity');
      await resumeClock(tx, ctx, id);
      await addStep(tx, now, id, 'close', by, act.words ? `${act.outcome}: ${act.words}` : act.outcome);
      await tell({ outcome: act.outcome });
      return;
    }
    case 'open again':
      await tx.run(
        'UPDATE subject_request SET outcome = NULL, closed_at = NULL, forget_on = NULL, answered_on = NULL WHERE id = ?',
        [id],
      );
      await addStep(tx, now, id, 'open again', by, act.words);
      await tell();
  }
}

async function write(
  tx: Queries,
  ctx: Context,
  by: number,
  id: number,
  act: Extract<RequestAct, { act: 'write' }>,
  tell: (detail: Record<string, string | number | boolean | null>) => Promise<number>,
): Promise<void> {
  const { row, policy, today, clock, needs, facts } = await knowRequest(tx, ctx, id);
  const request = openRequest(ctx, row);
  const to = request ? letterAddress(request) : '';
  if (to === '')
    throw new RefusedError('There is no address to write to. Note what was told them, and how.', [], 409);
  if (act.letter === 'prove') return askWho(tx, ctx, row, by);
  if (act.letter === 'extended') {
    if (clock.extendBy === null) throw new RefusedError(`${row.law.name} lets it take no longer.`, [], 409);
    if (row.extended_on !== null) throw new RefusedError('They were told already.', [], 409);
    if (today > clock.extendBy)
      throw new RefusedError(
        'It is too late for that: they had to be told before the first time was over.',
        [],
        409,
      );
    if (act.reason.length < 3)
      throw new RefusedError('Say why it takes longer.', [
        { field: 'reason', message: 'The law asks for a reason.' },
      ]);
    await tx.run('UPDATE subject_request SET extended_on = ? WHERE id = ?', [today, id]);
    await addStep(tx, ctx.now(), id, 'extended', by, act.reason);
  }
  if (act.letter === 'refused' && act.reason.length < 3)
    throw new RefusedError('Say why it is refused.', [
      { field: 'reason', message: 'The law asks for a reason.' },
    ]);
  const answers = isAnswer(act.letter) && act.letter !== 'refused';
  const open = needs.filter((n) => n.step !== 'answered');
  if (answers && open.length > 0)
    throw new RefusedError(`It is not ready to be answered: ${open[0]?.words ?? ''}.`, [], 409);
  if (act.letter === 'nothing held' && facts.items.theirs > 0)
    throw new RefusedError('Something is held of them.', [], 409);
  let { paragraphs } = act;
  let secret: string[] = [];
  if (act.letter === 'package') {
    const made = await latestPackage(tx, id);
    if (!made) throw new RefusedError('Make the package first.', [], 409);
    const until = new Date(ctx.now().getTime() + policy.fetchDays * 86_400_000);
    const token = await makeLink(tx, id, 'package', until);
    await tx.run('UPDATE request_package SET until_on = ? WHERE id = ?', [
      dayIn(until.toISOString(), policy.zone),
      made.id,
    ]);
    // Where the page is stands in the letter alone; nothing here keeps it.
    paragraphs = paragraphs.map((p) => p.replaceAll(LINK, `${ctx.settings.WEB_ORIGIN}/package/${token}`));
    secret = [token];
    if (!paragraphs.some((p) => p.includes(token)))
      throw new RefusedError('The letter has to hold the link.', [
        { field: 'paragraphs', message: `Leave ${LINK} in it, on a line of its own.` },
      ]);
  }
  await sendLetter(tx, ctx, {
    ...{ request: id, letter: act.letter, language: row.language, by, to, secret },
    written: { subject: act.subject, paragraphs },
  });
  await tell({ letter: act.letter });
}

/** Accounts that may be given requests. */
export async function handlersOf(
  store: Queries,
): Promise<readonly { readonly id: number; readonly name: string }[]> {
  return (await peopleWho(store, 'cases.handle')).filter((p) => p.able).map(({ id, name }) => ({ id, name }));
}

/** See `agreeToChanges`. */
export async function agree(ctx: Context, account: Account, id: number): Promise<void> {
  await ctx.store.transaction((tx) => agreeToChanges(tx, ctx, id, account.id));
}
