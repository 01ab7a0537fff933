import { z } from 'zod';
import { ONE_CAUSE_DAYS, type StepKind } from '../../../core/protection/alerts/alert.ts';
import type { Raised } from '../../../core/protection/lookouts/watcher.ts';
import { tellAt } from '../../../core/protection/lookouts/telling.ts';
import { putOnToday, takeOffToday } from '../../desk/today.ts';
import { record } from '../../evidence/ledger.ts';
import { Count, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import type { StandingLookout } from '../lookouts/lookouts.ts';

/** What raises: a lookout, or a handling rule wherever it holds. */
export interface Raiser extends StandingLookout {
  readonly kind?: 'lookout' | 'handling rule';
}

const DAY = 86_400_000;

/**
 * Puts what a lookout raised on record, in the transaction of what it saw: as a new alert, or as more of one that is open
 * for the same. Its number.
 */
export async function raiseAlert(
  tx: Queries,
  now: Date,
  lookout: Raiser,
  raised: Raised,
  /** Times of its acts, by their numbers. */
  times: ReadonlyMap<string, string>,
): Promise<number> {
  const { id, content, version, kind = 'lookout' } = lookout;
  const acts = raised.events.map(
    (e) => [toDatetime(times.get(e) ?? raised.at), Buffer.from(e, 'hex')] as const,
  );
  const open = await tx.one(
    z.object({ id: z.number() }),
    `SELECT id FROM alert WHERE by_kind = ? AND lookout = ? AND event_key = ? AND state IN ('new', 'looked into') AND last_at >= ?
     ORDER BY last_at DESC LIMIT 1 FOR UPDATE`,
    [kind, id, raised.key, toDatetime(new Date(Date.parse(raised.at) - ONE_CAUSE_DAYS * DAY))],
  );
  if (open) {
    await addActs(tx, open.id, acts);
    await tx.run(
      `UPDATE alert SET last_at = GREATEST(last_at, ?), because = ?,
         acts = (SELECT COUNT(*) FROM alert_event WHERE alert_id = ?) WHERE id = ?`,
      [toDatetime(raised.at), raised.because, open.id, open.id],
    );
    await addStep(tx, new Date(raised.at), open.id, 'again', null, raised.because);
    return open.id;
  }
  const { id: alert } = await tx.run(
    `INSERT INTO alert (by_kind, lookout, version, severity, category, event_key, raised_at, last_at, acts, because, tell_at)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
    [
      ...[kind, id, version, content.severity, content.category, raised.key],
      ...[toDatetime(raised.at), toDatetime(raised.at), acts.length, raised.because],
      tellsAnybody(content) ? toDatetime(tellAt(content.tell, now)) : null,
    ],
  );
  await addActs(tx, alert, acts);
  await tx.run('UPDATE alert SET cause = ? WHERE id = ?', [await causeOf(tx, alert, acts), alert]);
  await addStep(tx, new Date(raised.at), alert, 'raised', null, raised.because);
  await record(tx, now, {
    ...{ actor: 'worker', action: 'alert.raise', object: 'alert', objectId: alert },
    detail: { by: kind, id, version, acts: acts.length },
  });
  return alert;
}

function tellsAnybody({ tell }: StandingLookout['content']): boolean {
  return tell.mail.length + tell.hooks.length > 0;
}

type Acts = readonly (readonly [at: string, id: Buffer])[];

async function addActs(tx: Queries, alert: number, acts: Acts): Promise<void> {
  await tx.run('INSERT IGNORE INTO alert_event (alert_id, at, id) VALUES ?', [
    acts.map(([at, id]) => [alert, at, id]),
  ]);
}

/** The cause of an open alert that has an act in common; its own number where there is none. */
async function causeOf(tx: Queries, alert: number, acts: Acts): Promise<number> {
  const shared = await tx.one(
    z.object({ cause: Count }),
    `SELECT MIN(a.cause) AS cause FROM alert_event e JOIN alert a ON a.id = e.alert_id
     WHERE e.id IN (?) AND a.id <> ? AND a.state IN ('new', 'looked into')`,
    [acts.map(([, id]) => id), alert],
  );
  return shared && shared.cause > 0 ? shared.cause : alert;
}

export async function addStep(
  tx: Queries,
  at: Date,
  alert: number,
  kind: StepKind,
  by: number | null,
  words: string,
): Promise<void> {
  await tx.run('INSERT INTO alert_step (alert_id, at, kind, by_account, words) VALUES (?, ?, ?, ?, ?)', [
    ...[alert, toDatetime(at), kind, by, words.slice(0, 1000)],
  ]);
}

/** One of high severity stands on Today by itself until somebody looks into it, up to so many. */
const MOST_ALONE = 20;

/** Tells on Today what nobody has looked into, in the transaction that changed that. */
export async function showAlerts(tx: Queries): Promise<void> {
  const high = await tx.all(
    z.object({ id: z.number(), name: z.string(), because: z.string(), last_at: z.string() }),
    `SELECT a.id, r.name, a.because, a.last_at FROM alert a JOIN rule r ON r.kind = a.by_kind AND r.id = a.lookout
     WHERE a.state = 'new' AND a.severity = 'high' ORDER BY a.last_at DESC LIMIT ${MOST_ALONE}`,
  );
  const all = await tx.one(
    z.object({ n: Count, since: z.string().nullable() }),
    "SELECT COUNT(*) AS n, MIN(last_at) AS since FROM alert WHERE state = 'new'",
  );
  const others = (all?.n ?? 0) - high.length;
  const shown = new Set(high.map((a) => `alert ${a.id}`));
  const before = await tx.all(
    z.object({ item_key: z.string() }),
    "SELECT item_key FROM today_item WHERE kind = 'alert raised' AND item_key <> 'others'",
  );
  for (const { item_key } of before)
    if (!shown.has(item_key)) await takeOffToday(tx, 'alert raised', item_key);
  for (const a of high)
    await putOnToday(tx, {
      ...{ kind: 'alert raised', key: `alert ${a.id}`, action: 'protection.alerts', words: a.name },
      ...{ detail: a.because, link: `/protection/alerts/${a.id}`, since: `${a.last_at.replace(' ', 'T')}Z` },
      act: {
        ...{ words: 'Look into it', done: 'You look into it.', needs: 'protection.alerts' },
        ...{ path: `/api/protection/alerts/${a.id}`, body: { does: { act: 'look into' } } },
      },
    });
  if (others > 0 && all?.since)
    await putOnToday(tx, {
      ...{ kind: 'alert raised', key: 'others', action: 'protection.alerts' },
      words: others === 1 ? '1 other alert' : `${others} other alerts`,
      ...{ detail: 'Nobody has looked into them.', link: '/protection/alerts?state=new' },
      since: `${all.since.replace(' ', 'T')}Z`,
    });
  else await takeOffToday(tx, 'alert raised', 'others');
}
