import { createHash } from 'node:crypto';
import { z } from 'zod';
import type { ActivityEvent } from '../../../core/protection/activity/event.ts';
import type { LedgerEntry } from '../../../core/evidence/ledger.ts';
import type { Context } from '../../context.ts';
import { sealedAfter } from '../../evidence/ledger.ts';
import { Count } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { readView } from '../view/view-rules.ts';
import { insertEvents, queueForLookouts } from './event-store.ts';

const AT_ONCE = 2000;

/** What the desk does by itself is told where it says something of people or of data; the rest is bookkeeping. */
const BY_ITSELF = /^(?:session|sweep|disposal|consent|gate|access-change|level|evidence)\./;

function isTold({ actor, action }: LedgerEntry): boolean {
  // What visitors choose is no act of anybody who works here, and too much to be told one by one.
  return action !== 'consent.record' && (/^\d+$/.test(actor) || BY_ITSELF.test(action));
}

/**
 * Tells of what was done at the desk, all areas’ changes alike: what the ledger sealed since, once each, in its order.
 * Sealed entries stand in a place that no later one comes before, so that nothing is missed.
 */
export async function tellOfTheDesk(ctx: Context): Promise<number> {
  for (let told = 0; ;) {
    const part = await ctx.store.transaction((tx) => tellPart(ctx, tx));
    told += part.told;
    if (part.read < AT_ONCE) return told;
  }
}

async function tellPart(ctx: Context, tx: Queries): Promise<{ read: number; told: number }> {
  const at = await tx.one(
    z.object({ tree: Count, tree_index: Count }),
    "SELECT tree, tree_index FROM activity_feed WHERE feed = 'ledger' FOR UPDATE",
  );
  if (!at) return { read: 0, told: 0 };
  const entries = await sealedAfter(tx, at.tree, at.tree_index, AT_ONCE);
  const last = entries.at(-1);
  if (!last) return { read: 0, told: 0 };
  const view = await readView(ctx);
  const people = await addressesOf(tx, entries);
  const now = ctx.now();
  const events = entries
    .filter(isTold)
    .map((entry) => eventOf(entry, people))
    .map((event) => ({ event, device: 0, kept: view.keptFor(event) }))
    .filter(
      ({ event, kept: { days } }) => days > 0 && Date.parse(event.at) >= now.getTime() - days * 86_400_000,
    )
    .map(({ event, device, kept: { days, by } }) => ({
      ...{ event, device },
      ...(by === undefined ? {} : { keepDays: days }),
    }));
  await insertEvents(tx, now, events);
  await queueForLookouts(tx, now, events);
  await tx.run("UPDATE activity_feed SET tree = ?, tree_index = ? WHERE feed = 'ledger'", [
    last.tree,
    last.treeIndex,
  ]);
  return { read: entries.length, told: events.length };
}

/** What an entry of the ledger says was done, and by whom as far as that is known. */
function eventOf(entry: LedgerEntry, people: ReadonlyMap<string, string>): ActivityEvent {
  const { action, object, objectId } = entry;
  const [of = ''] = action.split('.');
  const failed = action === 'session.refuse';
  const who = failed ? objectId : entry.actor;
  const signIn = action === 'session.start' || failed;
  const kind = signIn
    ? 'sign-in'
    : action === 'level.set' || action === 'level.choose'
      ? 'level'
      : of.startsWith('access-')
        ? 'access'
        : 'desk';
  return {
    ...{ id: idOf(entry.id), at: entry.at, kind, person: people.get(who) ?? (failed ? 'unknown' : who) },
    act: signIn
      ? failed
        ? 'fail to sign in'
        : 'sign in'
      : kind === 'level'
        ? 'set a level'
        : kind === 'access'
          ? 'change access'
          : 'change',
    ...{ channel: null, towards: [], program: '', network: '', item: null, findings: [] },
    ...{ outcome: 'go', rules: [], counted: [], answer: null, reason: '' },
    change: { action, object, id: objectId.slice(0, 120) },
  };
}

/** The same entry is the same event. */
function idOf(entry: string): string {
  return createHash('sha256').update(`ledger entry ${entry}`).digest('hex').slice(0, 32);
}

async function addressesOf(
  tx: Queries,
  entries: readonly LedgerEntry[],
): Promise<ReadonlyMap<string, string>> {
  const ids = [...new Set(entries.flatMap((e) => [e.actor, e.objectId]).filter((a) => /^\d{1,9}$/.test(a)))];
  if (ids.length === 0) return new Map();
  const rows = await tx.all(
    z.object({ id: z.coerce.string(), email: z.string() }),
    'SELECT id, email FROM account WHERE id IN (?)',
    [ids],
  );
  return new Map(rows.map((r) => [r.id, r.email.toLowerCase()]));
}
