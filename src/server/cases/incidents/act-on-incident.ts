import type { Account } from '../../../core/accounts/authority.ts';
import { NewIncident } from '../../../core/cases/incidents/incident.ts';
import type { INCIDENT_STEPS, IncidentAct } from '../../../core/cases/incidents/incident-act.ts';
import { mostPeople, peopleWords } from '../../../core/cases/incidents/reckoned.ts';
import { severityOf } from '../../../core/cases/incidents/severity.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import { peopleWho } from '../../accounts/account-names.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { readRequestPolicy } from '../requests/request-policy.ts';
import { sealJson } from '../requests/request-row.ts';
import { addIncidentStep, knowIncident, showIncident, type KnownIncident } from './known-incident.ts';
import { reckon } from './reckon.ts';

/** Takes an incident in: from when it was known on, times run. Throws a RefusedError (400) for one known of later than now. */
export async function takeIncident(
  tx: Queries,
  ctx: Context,
  incident: NewIncident,
  by: number | null,
): Promise<number> {
  const now = ctx.now();
  for (const field of ['knownAt', 'happenedAt'] as const)
    if (incident[field] !== null && Date.parse(incident[field]) > now.getTime() + 60_000)
      throw new RefusedError('That is still to come.', [{ field, message: 'Now, or before.' }]);
  const policy = await readRequestPolicy(tx);
  const { id } = await tx.run(
    'INSERT INTO incident (kind, content, known_at, taken_at, handler) VALUES (?)',
    [
      [
        incident.kind,
        sealJson(ctx, incident),
        toDatetime(incident.knownAt),
        toDatetime(now),
        policy.handler === '' ? null : Number(policy.handler),
      ],
    ],
  );
  await addIncidentStep(tx, now, id, 'taken in', by);
  await record(tx, now, {
    ...{ actor: by ?? 'visitor', action: 'incident.add', object: 'incident', objectId: id },
    detail: { kind: incident.kind, knownAt: incident.knownAt },
  });
  await showIncident(tx, ctx, id);
  return id;
}
/** Does something about an incident. Throws a RefusedError (400, 404, 409). */
export async function actOnIncident(
  ctx: Context,
  account: Account,
  id: number,
  act: IncidentAct,
): Promise<void> {
  // Reading all that it touched takes its time, and nobody has to wait for that.
  const found = act.act === 'reckon' ? await reckonIncident(ctx, id) : undefined;
  await ctx.store.transaction(async (tx) => {
    const known = await knowIncident(tx, ctx, id, true);
    const closed = known.row.closed_at !== null;
    if (closed && act.act !== 'note' && act.act !== 'open again')
      throw new RefusedError('It is closed.', [], 409);
    if (!closed && act.act === 'open again') throw new RefusedError('It is open.', [], 409);
    const said = await doAct(tx, ctx, account.id, known, act, found);
    await addIncidentStep(tx, ctx.now(), id, said.kind, account.id, said.words);
    await record(tx, ctx.now(), {
      ...{
        actor: account.id,
        action: `incident.${said.kind.replaceAll(' ', '-')}`,
        object: 'incident',
        objectId: id,
      },
      detail: said.detail ?? {},
    });
    await showIncident(tx, ctx, id);
  });
}

interface Found extends Awaited<ReturnType<typeof reckon>> {
  /** What it was reckoned from. */
  readonly touched: NewIncident['touched'];
}

async function reckonIncident(ctx: Context, id: number): Promise<Found> {
  const { incident } = await knowIncident(ctx.store, ctx, id);
  if (incident.touched.length === 0)
    throw new RefusedError(
      'Say first what it touched.',
      [{ field: 'touched', message: 'A device, a place or an item.' }],
      409,
    );
  return { ...(await reckon(ctx, incident)), touched: incident.touched };
}

interface Said {
  readonly kind: (typeof INCIDENT_STEPS)[number];
  readonly words: string;
  readonly detail?: Record<string, string | number | boolean | null>;
}

async function doAct(
  tx: Queries,
  ctx: Context,
  by: number,
  { row, incident, deadlines, needs }: KnownIncident,
  act: IncidentAct,
  found: Found | undefined,
): Promise<Said> {
  const { id } = row;
  const now = ctx.now();
  const json = (column: string, value: unknown) =>
    tx.run(`UPDATE incident SET ${column} = ? WHERE id = ?`, [JSON.stringify(value), id]);
  switch (act.act) {
    case 'assign': {
      const who =
        act.to === null
          ? null
          : (await peopleWho(tx, 'cases.incidents')).find((p) => p.id === act.to && p.able);
      if (who === undefined)
        throw new RefusedError('They may not handle incidents.', [
          { field: 'to', message: 'Choose somebody whose role includes it.' },
        ]);
      await tx.run('UPDATE incident SET handler = ? WHERE id = ?', [act.to, id]);
      return { kind: 'assign', words: who?.name ?? 'nobody', detail: { to: act.to } };
    }
    case 'note':
      return { kind: 'note', words: act.words };
    case 'touch': {
      const next = NewIncident.parse({ ...incident, touched: act.touched, regions: act.regions });
      await tx.run(
        'UPDATE incident SET content = ?, nis2 = ?, hipaa = ?, reckoned = NULL, reckoned_at = NULL WHERE id = ?',
        [...[sealJson(ctx, next), act.nis2 ? 1 : 0, act.hipaa ? 1 : 0, id]],
      );
      return {
        kind: 'touch',
        words: `${act.touched.length} touched; ${act.regions.join(', ') || 'no region'}`,
      };
    }
    case 'reckon': {
      if (!found || JSON.stringify(found.touched) !== JSON.stringify(incident.touched))
        throw new RefusedError('Somebody just said otherwise what it touched: reckon again.', [], 409);
      const { reckoned, seen } = found;
      await json('reckoned', reckoned);
      await tx.run('UPDATE incident SET reckoned_at = ? WHERE id = ?', [toDatetime(now), id]);
      for (const s of seen)
        await tx.run('INSERT INTO incident_evidence (incident_id, at, what, hash) VALUES (?)', [
          [id, toDatetime(now), s.what.slice(0, 300), s.hash],
        ]);
      return {
        kind: 'reckon',
        words: `${reckoned.items} items, ${peopleWords(reckoned)}`,
        detail: { items: reckoned.items, digests: seen.map((s) => s.hash.toString('hex')).join(' ') },
      };
    }
    case 'weigh': {
      await json('severity', act.severity);
      const { score, level } = severityOf(act.severity, mostPeople(row.reckoned));
      return { kind: 'weigh', words: `${score.toFixed(2)}, ${level}`, detail: { score } };
    }
    case 'decide':
      if (!row.severity) throw new RefusedError('Say first how grave it is.', [], 409);
      await json('decision', {
        authority: act.authority,
        people: act.people,
        reason: act.reason,
        by,
        agreedBy: null,
      });
      return {
        kind: 'decide',
        words: `authority: ${act.authority}; people: ${act.people}: ${act.reason}`,
        detail: { authority: act.authority, people: act.people },
      };
    case 'agree': {
      if (!row.decision || row.decision.agreedBy !== null)
        throw new RefusedError('There is nothing to agree to.', [], 409);
      if (row.decision.by === by)
        throw new RefusedError('Somebody else has to agree: you decided it.', [], 409);
      await json('decision', act.agrees ? { ...row.decision, agreedBy: by } : null);
      return { kind: act.agrees ? 'agree' : 'disagree', words: act.words };
    }
    case 'words':
      await tx.run('UPDATE incident SET words = ? WHERE id = ?', [sealJson(ctx, act.words), id]);
      return { kind: 'words', words: '' };
    case 'told': {
      const deadline = deadlines.find((d) => d.id === act.deadline);
      if (!deadline)
        throw new RefusedError('No law names this.', [
          { field: 'deadline', message: 'Choose one of those that run.' },
        ]);
      if ((row.decision?.agreedBy ?? null) === null && deadline.to !== 'security authority')
        throw new RefusedError('Two people have to decide first.', [], 409);
      const at = Date.parse(act.at);
      if (at > now.getTime() || at < Date.parse(row.known_at))
        throw new RefusedError('Nobody can have been told then.', [
          { field: 'at', message: 'After it was known, and not later than now.' },
        ]);
      await json('told', { ...row.told, [deadline.id]: act.at });
      const late = deadline.by !== null && at > Date.parse(deadline.by);
      return {
        kind: 'told',
        words: `${deadline.law}, ${deadline.article}${late ? ', late' : ''}`,
        detail: { deadline: deadline.id, at: act.at, late },
      };
    }
    case 'measure':
      await tx.run('INSERT INTO incident_measure (incident_id, what, owner, due_on) VALUES (?)', [
        [id, act.what, act.owner, act.due],
      ]);
      return { kind: 'measure', words: act.what };
    case 'measure done': {
      const { changed } = await tx.run(
        'UPDATE incident_measure SET done_at = ? WHERE id = ? AND incident_id = ? AND done_at IS NULL',
        [toDatetime(now), act.measure, id],
      );
      if (changed === 0) throw notFound('measure');
      return { kind: 'measure done', words: '' };
    }
    case 'no breach':
      await tx.run('UPDATE incident SET no_breach = ?, closed_at = ? WHERE id = ?', [
        ...[act.words, toDatetime(now), id],
      ]);
      return { kind: 'no breach', words: act.words };
    case 'open again':
      await tx.run('UPDATE incident SET no_breach = NULL, closed_at = NULL WHERE id = ?', [id]);
      return { kind: 'open again', words: act.words };
    case 'close': {
      const [first] = needs;
      if (first) throw new RefusedError(`It is not done: ${first.words}.`, [], 409);
      await tx.run('UPDATE incident SET closed_at = ? WHERE id = ?', [toDatetime(now), id]);
      return { kind: 'close', words: act.words };
    }
  }
}
