import { createHash } from 'node:crypto';
import { z } from 'zod';
import type { AccessStep } from '../../../core/access/change/access-change.ts';
import { GrantLine, LinkLine } from '../../../core/access/estate/estate-line.ts';
import type { Lens } from '../../../core/lens/lens.ts';
import { plainEmail } from '../../../core/accounts/email.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { readLens } from '../../holdings/offers.ts';
import { putOnToday, takeOffToday } from '../../desk/today.ts';
import { record } from '../../evidence/ledger.ts';
import { Count, Instant, JsonColumn, toDatetime } from '../../store/columns.ts';
import { decodeCursor, toPage, type Page } from '../../store/page.ts';
import type { Queries } from '../../store/pool.ts';
import { Where } from '../../store/where.ts';
import { keepChange } from '../change/access-changes.ts';
import { WHOLE_ESTATE } from '../whole-estate.ts';
import { exposuresOf } from '../breadth/exposures.ts';
import { askAccess } from '../index/ask-access.ts';
import { PEOPLE_KINDS } from '../index/person-answers.ts';
import type { ReviewFacts } from '../index/review-answers.ts';

const Key = z.string().regex(/^[\w-]{12}$/);

/**
 * What a review is about: places with all below them; people and groups, or all of a kind, by what is theirs by name; or
 * the ways to all items that a lens shows.
 */
export const ReviewScope = z
  .strictObject({
    places: z.array(Key).max(200).default([]),
    people: z.array(Key).max(200).default([]),
    kind: z.enum(PEOPLE_KINDS).optional(),
    lens: z.string().trim().min(1).max(4000).optional(),
  })
  .refine(
    (s) => s.places.length + s.people.length > 0 || s.kind !== undefined || s.lens !== undefined,
    'Choose a place, a person or a group, or say what a lens shows.',
  );
export type ReviewScope = z.infer<typeof ReviewScope>;

/** More lines than this nobody answers one by one. */
const MOST_LINES = 20_000;
const AT_ONCE = 1000;

export interface NewReview {
  readonly name: string;
  readonly scope: ReviewScope;
  /** ISO 8601 day. */
  readonly due: string;
}

/** Asks about everything in the scope; what nobody owns is asked of whoever begins. Throws a RefusedError where it is nothing. */
export async function startReview(
  ctx: Context,
  account: { readonly id: number; readonly email: string },
  { name, scope, due }: NewReview,
): Promise<number> {
  if (due < ctx.now().toISOString().slice(0, 10))
    throw new RefusedError('That day is over.', [{ field: 'due', message: 'Give them some days.' }]);
  const { lens, ...rest } = scope;
  const lines =
    lens === undefined
      ? await askAccess(ctx, 'review', rest)
      : await withReached(ctx, readLens(lens), (reached) => askAccess(ctx, 'review', { ...rest, reached }));
  if (lines.length === 0)
    throw new RefusedError('Nothing is given there by name.', [
      { field: 'scope', message: 'What is inherited is reviewed where it is given.' },
    ]);
  if (lines.length > MOST_LINES)
    throw new RefusedError(`These are ${lines.length} lines.`, [
      { field: 'scope', message: `Take fewer places at once: ${MOST_LINES} lines at the most.` },
    ]);
  return ctx.store.transaction(async (tx) => {
    const { id } = await tx.run(
      'INSERT INTO access_review (name, scope, due, made_by, made_at) VALUES (?, ?, ?, ?, ?)',
      [name, JSON.stringify(scope), due, account.id, toDatetime(ctx.now())],
    );
    for (let at = 0; at < lines.length; at += AT_ONCE)
      await tx.run('INSERT INTO access_review_line (review_id, n, place, line, who, owner) VALUES ?', [
        lines
          .slice(at, at + AT_ONCE)
          .map((l, i) => [
            ...[id, at + i, l.place, JSON.stringify(l.line), l.who],
            plainEmail(l.owner ?? account.email),
          ]),
      ]);
    await record(tx, ctx.now(), {
      ...{ actor: account.id, action: 'access-review.start', object: 'access review', objectId: id },
      detail: { lines: lines.length, due },
    });
    return id;
  });
}

/** A reading that goes on for longer is not waited for. */
const MOST_TRIES = 5;

/** With the numbers of the places that hold what a lens shows; asked again where the estate changed meanwhile. */
async function withReached<T>(
  ctx: Context,
  lens: Lens,
  ask: (reached: readonly number[]) => Promise<T>,
): Promise<T> {
  for (let tries = 0; tries < MOST_TRIES; tries++) {
    const { revision, regions } = await askAccess(ctx, 'regions', {});
    const found = await exposuresOf(
      ctx,
      regions.map((r) => [r.place, r.holds]),
      false,
      lens,
    );
    const answer = await ask(found.map(([place]) => place));
    // Numbers of places are those of the revision they were asked of.
    if ((await askAccess(ctx, 'regions', {})).revision === revision) return answer;
  }
  throw new RefusedError(
    'The estate is changing just now.',
    [{ field: 'scope', message: 'Try it again in a minute.' }],
    409,
  );
}

const Row = z.object({
  id: z.number(),
  name: z.string(),
  due: z.string(),
  state: z.enum(['open', 'done']),
  made_at: Instant,
  ended_at: Instant.nullable(),
  change_id: z.number().nullable(),
  maker: z.string().nullable(),
  n: Count,
  kept: Count,
  taken: Count,
  owners: Count,
});

/** A review as the desk lists it. */
export interface ListedReview {
  readonly id: number;
  readonly name: string;
  readonly due: string;
  readonly state: 'open' | 'done';
  readonly madeAt: string;
  readonly madeBy: string | null;
  readonly endedAt: string | null;
  readonly change: number | null;
  readonly lines: number;
  readonly kept: number;
  readonly taken: number;
  readonly owners: number;
}

const LISTED = `SELECT r.id, r.name, r.due, r.state, r.made_at, r.ended_at, r.change_id, a.name AS maker,
    COUNT(l.n) AS n, SUM(l.answer = 'keep') AS kept, SUM(l.answer = 'take') AS taken, COUNT(DISTINCT l.owner) AS owners
  FROM access_review r LEFT JOIN account a ON a.id = r.made_by LEFT JOIN access_review_line l ON l.review_id = r.id`;

function listed({ made_at, ended_at, change_id, maker, n, ...rest }: z.infer<typeof Row>): ListedReview {
  return { ...rest, lines: n, madeAt: made_at, endedAt: ended_at, change: change_id, madeBy: maker };
}

export async function listReviews(store: Queries): Promise<readonly ListedReview[]> {
  const rows = await store.all(Row, `${LISTED} GROUP BY r.id ORDER BY r.state, r.due, r.id DESC LIMIT 200`);
  return rows.map(listed);
}

/** Who is asked, and how far they are. */
export interface ReviewOwner {
  readonly address: string;
  readonly name: string | null;
  readonly lines: number;
  readonly open: number;
  readonly remindedAt: string | null;
}

export interface ReviewView extends ListedReview {
  readonly asked: readonly ReviewOwner[];
}

/** Throws a RefusedError (404). */
export async function viewReview(store: Queries, id: number): Promise<ReviewView> {
  const row = await store.one(Row, `${LISTED} WHERE r.id = ? GROUP BY r.id`, [id]);
  if (!row) throw notFound('review');
  const asked = await store.all(
    z.object({
      owner: z.string(),
      name: z.string().nullable(),
      n: Count,
      open: Count,
      reminded: Instant.nullable(),
    }),
    `SELECT l.owner, s.name, COUNT(*) AS n, SUM(l.answer IS NULL) AS open, MAX(COALESCE(l.reminded_at, l.told_at)) AS reminded
     FROM access_review_line l LEFT JOIN staff s ON s.address = l.owner WHERE l.review_id = ? GROUP BY l.owner, s.name
     ORDER BY open DESC, l.owner`,
    [id],
  );
  return {
    ...listed(row),
    asked: asked.map((a) => ({
      ...{ address: a.owner, name: a.name, lines: a.n, open: a.open, remindedAt: a.reminded },
    })),
  };
}

const Line = z.union([GrantLine, LinkLine]);
const LineRow = z.object({
  n: z.number(),
  line: JsonColumn(Line),
  owner: z.string(),
  answer: z.enum(['keep', 'take']).nullable(),
  reason: z.string(),
  said_by: z.string().nullable(),
  said_at: Instant.nullable(),
});

/** A line of a review, beside what whoever answers needs to know. */
export interface ReviewLine extends ReviewFacts {
  readonly n: number;
  readonly is: 'grant' | 'link';
  readonly strength: string;
  readonly until: string | null;
  readonly given: string | null;
  readonly owner: string;
  readonly answer: 'keep' | 'take' | null;
  readonly reason: string;
  readonly saidBy: string | null;
  readonly saidAt: string | null;
  readonly sensitive: number | null;
}

export interface LineWish {
  readonly answer?: 'open' | 'keep' | 'take' | undefined;
  readonly owner?: string | undefined;
  readonly after?: string | undefined;
  readonly size: number;
}

/** Lines of a review, the open ones as well as the answered, in order. */
export async function reviewLines(
  ctx: Context,
  id: number,
  { answer, owner, after, size }: LineWish,
): Promise<Page<ReviewLine>> {
  const [last = -1] = after === undefined ? [] : decodeCursor(after, z.tuple([z.number()]));
  const where = new Where().and('review_id = ?', id).and('n > ?', last).and('owner = ?', owner);
  if (answer === 'open') where.and('answer IS NULL');
  else where.and('answer = ?', answer);
  const rows = await ctx.store.all(
    LineRow,
    `SELECT n, line, owner, answer, reason, said_by, said_at FROM access_review_line WHERE ${where.sql} ORDER BY n LIMIT ?`,
    [...where.params, size + 1],
  );
  const page = toPage(rows, size, (r) => [r.n]);
  const facts = await askAccess(ctx, 'reviewed', { lines: page.rows.map((r) => r.line) });
  const places = [...new Map(facts.map((f) => [f.place.key, f.place])).values()].filter(
    (p) => p.holds !== null,
  );
  const exposures = await exposuresOf(
    ctx,
    places.map((p, i) => [i, p.holds ?? '']),
    true,
  );
  const sensitive = new Map(exposures.map(([i, e]) => [places[i]?.key ?? '', e.sensitive]));
  return {
    next: page.next,
    rows: page.rows.map((r, i): ReviewLine => {
      const f = facts[i] as ReviewFacts;
      return {
        ...f,
        ...{ n: r.n, is: r.line.type, strength: r.line.strength, until: r.line.until, given: r.line.at },
        ...{ owner: r.owner, answer: r.answer, reason: r.reason, saidBy: r.said_by, saidAt: r.said_at },
        sensitive: f.place.holds === null ? null : (sensitive.get(f.place.key) ?? 0),
      };
    }),
  };
}

type Said = 'keep' | 'take' | null;

export interface Answering {
  /** Each with the answer that stood on it as it was looked at. */
  readonly lines: readonly { readonly n: number; readonly seen: Said }[];
  readonly answer: Said;
  readonly reason: string;
}

/**
 * Says of lines whether they may stay; null takes an answer back. An owner answers for what they are asked, a reviewer for all.
 * What somebody else answered meanwhile stays as it is, and is counted as `passed`. Throws a RefusedError for a review that is
 * over, and for lines of others.
 */
export async function answerLines(
  ctx: Context,
  id: number,
  { lines, answer, reason }: Answering,
  who: { readonly account: number; readonly address: string } | { readonly owner: string },
): Promise<{ readonly answered: number; readonly passed: number }> {
  const by = 'owner' in who ? who.owner : who.address;
  return ctx.store.transaction(async (tx) => {
    const review = await lockReview(tx, id);
    if (review.state !== 'open') throw new RefusedError('This review is over.', [], 409);
    const where = new Where().and('review_id = ?', id).among(
      'n',
      lines.map((l) => l.n),
    );
    if ('owner' in who) where.and('owner = ?', who.owner);
    const now = await tx.all(
      z.object({ n: z.number(), answer: z.enum(['keep', 'take']).nullable() }),
      `SELECT n, answer FROM access_review_line WHERE ${where.sql} FOR UPDATE`,
      where.params,
    );
    if (now.length === 0) throw new RefusedError('These are not yours to answer.', [], 403);
    const seen = new Map(lines.map((l) => [l.n, l.seen]));
    const same = now.flatMap((l) => (seen.get(l.n) === l.answer ? [l.n] : []));
    if (same.length > 0)
      await tx.run(
        'UPDATE access_review_line SET answer = ?, reason = ?, said_by = ?, said_at = ? WHERE review_id = ? AND n IN (?)',
        [
          ...[
            answer,
            reason,
            answer === null ? null : by,
            answer === null ? null : toDatetime(ctx.now()),
            id,
          ],
          same,
        ],
      );
    await record(tx, ctx.now(), {
      ...{ actor: 'owner' in who ? 'system' : who.account, action: 'access-review.answer' },
      ...{ object: 'access review', objectId: id },
      detail: { lines: same.slice(0, 100), count: same.length, answer, byOwner: 'owner' in who },
    });
    return { answered: same.length, passed: now.length - same.length };
  });
}

/** Has somebody else asked about lines. Throws a RefusedError for an address of nobody who works here. */
export async function handOn(
  ctx: Context,
  id: number,
  lines: readonly number[],
  to: string,
  who: { readonly account: number } | { readonly owner: string },
): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const review = await lockReview(tx, id);
    if (review.state !== 'open') throw new RefusedError('This review is over.', [], 409);
    const address = plainEmail(to);
    const staff = await tx.one(
      z.object({ id: z.number() }),
      'SELECT id FROM staff WHERE address = ? AND (left_on IS NULL OR left_on > ?)',
      [address, ctx.now().toISOString().slice(0, 10)],
    );
    if (!staff)
      throw new RefusedError('Nobody who works here has this address.', [
        { field: 'to', message: 'Type the address of somebody who is here.' },
      ]);
    await tx.run(
      `UPDATE access_review_line SET owner = ?, told_at = NULL, reminded_at = NULL WHERE review_id = ? AND answer IS NULL AND n IN (?)${
        'owner' in who ? ' AND owner = ?' : ''
      }`,
      [address, id, [-1, ...lines], ...('owner' in who ? [who.owner] : [])],
    );
    await record(tx, ctx.now(), {
      ...{ actor: 'owner' in who ? 'system' : who.account, action: 'access-review.hand-on' },
      ...{ object: 'access review', objectId: id, detail: { count: lines.length } },
    });
  });
}

async function lockReview(tx: Queries, id: number) {
  const row = await tx.one(
    z.object({ state: z.enum(['open', 'done']), name: z.string(), due: z.string() }),
    'SELECT state, name, due FROM access_review WHERE id = ? FOR UPDATE',
    [id],
  );
  if (!row) throw notFound('review');
  return row;
}

/** What the ledger keeps of all answers: their lines, hashed in order. */
async function answersDigest(tx: Queries, id: number): Promise<string> {
  const rows = await tx.all(
    LineRow,
    'SELECT n, line, owner, answer, reason, said_by, said_at FROM access_review_line WHERE review_id = ? ORDER BY n',
    [id],
  );
  const hash = createHash('sha256');
  for (const r of rows) hash.update(`${JSON.stringify([r.n, r.line, r.answer, r.said_by, r.said_at])}\n`);
  return hash.digest('hex');
}

/**
 * Ends a review: what is to go becomes a change, to be rehearsed; what nobody answered stays, and is told so in the ledger. The
 * number of the change, null where nothing is to go.
 */
export async function endReview(ctx: Context, account: number, id: number): Promise<number | null> {
  const taken = await ctx.store.all(
    z.object({ line: JsonColumn(Line) }),
    "SELECT line FROM access_review_line WHERE review_id = ? AND answer = 'take' ORDER BY n",
    [id],
  );
  // What is gone by now need not be taken away.
  const facts = await askAccess(ctx, 'reviewed', { lines: taken.map((t) => t.line) });
  const steps = taken.flatMap(({ line }, i): AccessStep[] => {
    if (!facts[i]?.stands) return [];
    return [
      line.type === 'grant'
        ? { is: 'grant', act: 'take', grant: line }
        : { is: 'link', act: 'take', link: line },
    ];
  });
  return ctx.store.transaction(async (tx) => {
    const review = await lockReview(tx, id);
    if (review.state !== 'open') throw new RefusedError('This review is over.', [], 409);
    const change =
      steps.length === 0
        ? null
        : await keepChange(
            tx,
            ctx,
            { name: `What ${review.name} takes away`.slice(0, 200), steps },
            { by: account, reason: `Review ${id}`, review: id },
          );
    await tx.run("UPDATE access_review SET state = 'done', ended_at = ?, change_id = ? WHERE id = ?", [
      toDatetime(ctx.now()),
      change,
      id,
    ]);
    const counts = await tx.one(
      z.object({ n: Count, kept: Count, taken: Count }),
      "SELECT COUNT(*) AS n, SUM(answer = 'keep') AS kept, SUM(answer = 'take') AS taken FROM access_review_line WHERE review_id = ?",
      [id],
    );
    await takeOffToday(tx, 'access review due', String(id));
    await record(tx, ctx.now(), {
      ...{ actor: account, action: 'access-review.end', object: 'access review', objectId: id },
      detail: { ...counts, change, answers: await answersDigest(tx, id) },
    });
    return change;
  });
}

/** Puts reviews on Today that are due in a week, or over. */
export async function tellDueReviews(ctx: Context): Promise<void> {
  for (const r of await listReviews(ctx.store)) {
    if (r.state !== 'open') continue;
    const open = r.lines - r.kept - r.taken;
    const days = Math.ceil((Date.parse(r.due) - ctx.now().getTime()) / 86_400_000);
    if (days > 7) continue;
    await ctx.store.transaction((tx) =>
      putOnToday(tx, {
        ...{ kind: 'access review due', key: String(r.id), action: 'access.read', since: r.madeAt },
        words: r.name,
        detail: open === 0 ? 'all is answered: end it' : `${open} of ${r.lines} lines are not answered`,
        link: `/access/reviews/${r.id}`,
        due: `${r.due}T23:59:59.000Z`,
        within: WHOLE_ESTATE,
      }),
    );
  }
}
