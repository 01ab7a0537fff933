import { z } from 'zod';
import type { Account } from '../../../core/accounts/authority.ts';
import { NO_FACTS, type LinkedFacts } from '../../../core/cases/linked/linked.ts';
import { dayIn } from '../../../core/retention/offers.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { replaceOnToday } from '../../desk/today.ts';
import { record } from '../../evidence/ledger.ts';
import { addNamed, readNamed, writeNamed, type NamedTable } from '../../rules/named-table.ts';
import type { PlainKind } from '../../rules/plain-object.ts';
import { Count, Flag, Instant, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { readRequestPolicy } from '../requests/request-policy.ts';
import type { DossierKind, Known } from './dossier-kind.ts';
import { KeptFacts, readFacts } from './linked-facts.ts';

/** What was read of links stays good for so long. */
const GOOD_MS = 600_000;

const tableOf = <C extends { readonly name: string }, R, A>({
  table,
  object,
  content,
}: DossierKind<C, R, A>): NamedTable<C> => ({
  ...{ table, object, content },
  // What it is linked to may be other than it was.
  columns: () => ({ facts_at: null }),
});

/** What is written of one, edited as plain objects are. */
export function plainDossier<C extends { readonly name: string }, R, A>(
  kind: DossierKind<C, R, A>,
): PlainKind<C> {
  return {
    ...{ object: kind.object, content: kind.content },
    vocabulary: () =>
      Promise.resolve({ path: ([first]) => kind.words[String(first)], value: () => undefined }),
    read: (store, key, lock) => readNamed(store, tableOf(kind), key, lock),
    write: (tx, key, content, _before, now) => writeNamed(tx, tableOf(kind), key, content, now),
  };
}

/** Throws a RefusedError (409) for a name that is taken. */
export async function addDossier<C extends { readonly name: string }, R, A>(
  tx: Queries,
  ctx: Pick<Context, 'now'>,
  kind: DossierKind<C, R, A>,
  by: number | null,
  content: C,
): Promise<number> {
  const id = await addNamed(tx, tableOf(kind), ctx.now(), by, content);
  await addDossierStep(tx, ctx.now(), kind.object, id, 'begun', by);
  return id;
}

/** Writes what happened, in the transaction of the change. */
export async function addDossierStep(
  tx: Queries,
  at: Date,
  object: string,
  id: number,
  step: string,
  by: number | null,
  words = '',
): Promise<void> {
  await tx.run('INSERT INTO dossier_step (object, object_id, at, step, by_account, words) VALUES (?)', [
    [object, id, toDatetime(at), step, by, words.slice(0, 2000)],
  ]);
}

interface KnowWishes {
  readonly lock?: boolean;
  /** What its links come to, where that was read just now; else as it was read last. */
  readonly facts?: LinkedFacts;
}

/** As it is kept. Throws a RefusedError (404). */
export async function knowDossier<C extends { readonly name: string }, R, A>(
  store: Queries,
  ctx: Pick<Context, 'now'>,
  kind: DossierKind<C, R, A>,
  id: number,
  { lock = false, facts }: KnowWishes = {},
): Promise<Known<C, R>> {
  const row = await store.one(
    z.object({
      ...{ content: JsonColumn(kind.content), decided: z.unknown(), facts: KeptFacts, created_at: Instant },
      facts_at: Instant.nullable(),
    }),
    `SELECT content, decided, facts, facts_at, created_at FROM ${kind.table} WHERE id = ?${lock ? ' FOR UPDATE' : ''}`,
    [id],
  );
  if (!row) throw notFound(kind.object);
  const edit = await store.one(
    z.object({ revision: z.number() }),
    'SELECT revision FROM object_edit WHERE object = ? AND id = ?',
    [kind.object, String(id)],
  );
  const { zone } = await readRequestPolicy(store);
  const decided: unknown = typeof row.decided === 'string' ? JSON.parse(row.decided) : row.decided;
  return {
    ...{
      id,
      content: row.content as C,
      facts: facts ?? row.facts ?? NO_FACTS,
      factsAt: row.facts_at,
      createdAt: row.created_at,
    },
    record: kind.record.parse({ ...kind.none, ...(decided as object) }),
    revision: edit?.revision ?? 0,
    today: dayIn(ctx.now().toISOString(), zone),
  };
}

/** As it is, with what its links come to now where that was not read lately. Throws a RefusedError (404). */
export async function knowNow<C extends { readonly name: string }, R, A>(
  ctx: Context,
  kind: DossierKind<C, R, A>,
  id: number,
  mayBeOld = true,
): Promise<Known<C, R>> {
  const known = await knowDossier(ctx.store, ctx, kind, id);
  const at = known.factsAt === null ? -Infinity : Date.parse(known.factsAt);
  if (mayBeOld && at > ctx.now().getTime() - GOOD_MS) return known;
  return { ...known, facts: await readFacts(ctx, kind.links(known.content, id)) };
}

/** Does something about one: read by what is so now, written with its step and its entry in the ledger. Throws a RefusedError (400, 404, 409). */
export async function actOnDossier<C extends { readonly name: string }, R, A>(
  ctx: Context,
  kind: DossierKind<C, R, A>,
  account: Account,
  id: number,
  act: A,
): Promise<void> {
  for (let tries = 1; ; tries++) {
    // Nobody waits behind a lock for what reading links takes.
    const { facts, revision } = await knowNow(ctx, kind, id, false);
    const isDone = await ctx.store.transaction(async (tx) => {
      const known = await knowDossier(tx, ctx, kind, id, { lock: true, facts });
      // It was edited meanwhile: what it is linked to may be other than what was read.
      if (known.revision !== revision) return false;
      const done = await kind.act(tx, ctx, known, act, account);
      await decide(tx, ctx, kind, { ...known, record: done.record }, done, account.id);
      return true;
    });
    if (isDone) return;
    if (tries === MOST_TRIES)
      throw new RefusedError('Somebody is changing it: look at it again, and try again.', [], 409);
  }
}

const MOST_TRIES = 4;

/** Writes what was decided, in the transaction that locked it. `by` is `null` where no account did it. */
export async function decide<C extends { readonly name: string }, R, A>(
  tx: Queries,
  ctx: Context,
  kind: DossierKind<C, R, A>,
  known: Known<C, R>,
  {
    step,
    words,
    detail,
  }: {
    readonly step: string;
    readonly words: string;
    readonly detail?: Readonly<Record<string, string | number | boolean | null>>;
  },
  by: number | null,
): Promise<void> {
  await tx.run(`UPDATE ${kind.table} SET decided = ? WHERE id = ?`, [JSON.stringify(known.record), known.id]);
  await addDossierStep(tx, ctx.now(), kind.object, known.id, step, by, words);
  await record(tx, ctx.now(), {
    ...{
      actor: by ?? 'visitor',
      action: `${kind.object}.${step.replaceAll(' ', '-')}`,
      object: kind.object,
      objectId: known.id,
    },
    detail: detail ?? {},
  });
  await showDossier(tx, ctx, kind, known);
}

/** Brings lists and Today up to date with one as it is known. */
export async function showDossier<C extends { readonly name: string }, R, A>(
  tx: Queries,
  ctx: Pick<Context, 'now'>,
  kind: DossierKind<C, R, A>,
  known: Known<C, R>,
): Promise<void> {
  const { state, needs } = kind.progress(known);
  const [first] = needs;
  const wrong = needs.find((n) => n.wrong);
  await tx.run(
    `UPDATE ${kind.table} SET facts = ?, facts_at = ?, state = ?, next_words = ?, next_on = ?, is_wrong = ?, needs = ? WHERE id = ?`,
    [
      ...[
        JSON.stringify(known.facts),
        toDatetime(ctx.now()),
        state,
        (first?.words ?? '').slice(0, 300),
        first?.by ?? null,
      ],
      ...[wrong ? 1 : 0, needs.length, known.id],
    ],
  );
  const shown = wrong ?? needs.find((n) => n.by !== undefined);
  await replaceOnToday(
    tx,
    `${kind.object} ${known.id}`,
    shown
      ? [
          {
            ...{
              kind: wrong ? 'dossier wrong' : 'dossier due',
              key: `${kind.object} ${known.id}`,
              action: 'cases.dossiers',
            },
            words: `${kind.number(known.id)}, ${known.content.name}`,
            ...{ detail: shown.words, link: `${kind.place}/${known.id}`, since: known.createdAt },
            ...(shown.by ? { due: `${shown.by}T12:00:00Z` } : {}),
          },
        ]
      : [],
  );
}

/** Those that were changed, or whose links were not read for ten minutes, are looked at again. */
export function watchDossiers<C extends { readonly name: string }, R, A>(
  kind: DossierKind<C, R, A>,
): (ctx: Context) => Promise<void> {
  return async (ctx) => {
    const rows = await ctx.store.all(
      z.object({ id: z.number() }),
      `SELECT id FROM ${kind.table} WHERE facts_at IS NULL OR facts_at < ? ORDER BY facts_at, id LIMIT 200`,
      [toDatetime(new Date(ctx.now().getTime() - GOOD_MS))],
    );
    for (const { id } of rows) {
      const { facts, revision } = await knowNow(ctx, kind, id, false);
      await ctx.store.transaction(async (tx) => {
        const known = await knowDossier(tx, ctx, kind, id, { lock: true, facts });
        // Somebody wrote meanwhile: the next round has it.
        if (known.revision === revision) await showDossier(tx, ctx, kind, known);
      });
    }
  };
}

export interface ListedDossier {
  readonly id: number;
  readonly name: string;
  readonly state: string;
  readonly next: string;
  readonly nextOn: string | null;
  readonly isWrong: boolean;
  readonly needs: number;
}

/** What something is wrong with first, then what something has to happen to, then the rest; by name. */
export function listDossiers<C extends { readonly name: string }, R, A>(
  store: Queries,
  { table }: DossierKind<C, R, A>,
): Promise<readonly ListedDossier[]> {
  return store.all(
    z.object({
      ...{ id: z.number(), name: z.string(), state: z.string(), next: z.string() },
      ...{ nextOn: z.string().nullable(), isWrong: Flag, needs: z.number() },
    }),
    `SELECT id, name, state, next_words AS next, next_on AS nextOn, is_wrong AS isWrong, needs FROM ${table}
     ORDER BY is_wrong DESC, needs = 0, next_on IS NULL, next_on, name LIMIT 5000`,
  );
}

/** How many of each there are. */
export async function countDossiers(store: Queries, tables: readonly string[]): Promise<readonly number[]> {
  return Promise.all(
    tables.map(
      async (t) => (await store.one(z.object({ n: Count }), `SELECT COUNT(*) AS n FROM ${t}`))?.n ?? 0,
    ),
  );
}

export interface DossierStep {
  readonly at: string;
  readonly step: string;
  readonly by: string | null;
  readonly words: string;
}

/** What happened to one, the first first. */
export function stepsOf(store: Queries, object: string, id: number): Promise<readonly DossierStep[]> {
  return store.all(
    z.object({ at: Instant, step: z.string(), by: z.string().nullable(), words: z.string() }),
    'SELECT s.at, s.step, a.name AS `by`, s.words FROM dossier_step s LEFT JOIN account a ON a.id = s.by_account WHERE s.object = ? AND s.object_id = ? ORDER BY s.id DESC LIMIT 500',
    [object, id],
  );
}

/** Those whose name holds a text. */
export function findDossiers<C extends { readonly name: string }, R, A>(kind: DossierKind<C, R, A>) {
  return async ({ store }: Context, text: string) => {
    const rows = await store.all(
      z.object({ id: z.number(), name: z.string(), next: z.string(), state: z.string() }),
      `SELECT id, name, next_words AS next, state FROM ${kind.table} WHERE name LIKE CONCAT('%', ?, '%') OR CONCAT(?, id) = ? ORDER BY name LIMIT 8`,
      [text.replace(/[\\%_]/g, '\\$&'), kind.number(0).replace(/0$/, ''), text.trim().toUpperCase()],
    );
    return rows.map((r) => ({
      ...{ kind: kind.object, words: `${kind.number(r.id)}, ${r.name}` },
      ...{ detail: r.next || r.state, link: `${kind.place}/${r.id}` },
    }));
  };
}
