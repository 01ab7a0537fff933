import { z } from 'zod';
import type { Account } from '../../../core/accounts/authority.ts';
import { may } from '../../../core/accounts/authority.ts';
import { repetition, type Repetition } from '../../../core/cases/requests/law/repetition.ts';
import type { RequestLaw } from '../../../core/cases/requests/law/request-law.ts';
import type { Pause, RequestClock } from '../../../core/cases/requests/law/clock.ts';
import type { Need, RequestFacts } from '../../../core/cases/requests/progress.ts';
import { STEP_KINDS } from '../../../core/cases/requests/request-act.ts';
import { LETTERS } from '../../../core/cases/requests/letters/request-letter.ts';
import type { Subject } from '../../../core/cases/requests/person/subject.ts';
import type { NewRequest } from '../../../core/cases/requests/request.ts';
import type { Context } from '../../context.ts';
import { BigId, Instant } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { handlersOf } from './act-on-request.ts';
import { listItems, type RequestItem } from './items/list-items.ts';
import { readingOf } from './items/request-items.ts';
import { latestPackage, phraseOf, type RequestPackage } from './package/packages.ts';
import { knowRequest } from './request-facts.ts';
import { knownSubject, openJson, openRequest, type RequestRow } from './request-row.ts';
import { quantile } from './requests.ts';
import { listTasks, type RequestTask } from './tasks/tasks.ts';

export interface RequestStep {
  readonly at: string;
  readonly kind: (typeof STEP_KINDS)[number];
  readonly by: string | null;
  readonly words: string;
}

export interface SentLetter {
  readonly id: number;
  readonly at: string;
  readonly letter: (typeof LETTERS)[number];
  readonly by: string | null;
  readonly content: {
    readonly to: string;
    readonly subject: string;
    readonly paragraphs: readonly string[];
  } | null;
}

/** Somebody of the same name, whom a person has to tell apart. */
export interface Bearer {
  readonly hash: string;
  readonly words: string;
  readonly items: number;
}

export interface ViewedRequest {
  readonly row: Omit<RequestRow, 'content' | 'learned' | 'person_hash' | 'law'>;
  readonly law: Pick<
    RequestLaw,
    'id' | 'name' | 'answerArticle' | 'rights' | 'pauses' | 'extend' | 'confirm'
  >;
  /** What they said; `null` once it was let go. */
  readonly request: NewRequest | null;
  /** What their own rows told of them. */
  readonly known: Subject | null;
  readonly clock: RequestClock;
  readonly pauses: readonly Pause[];
  readonly facts: RequestFacts;
  readonly needs: readonly Need[];
  readonly repetition: Repetition;
  readonly items: readonly RequestItem[];
  readonly bearers: readonly Bearer[];
  readonly tasks: readonly RequestTask[];
  readonly package: (Omit<RequestPackage, 'phrase' | 'copyId'> & { readonly phrase: string | null }) | null;
  readonly letters: readonly SentLetter[];
  readonly steps: readonly RequestStep[];
  readonly handlers: readonly { readonly id: number; readonly name: string }[];
  readonly handler: string | null;
  readonly proofs: readonly { readonly id: number; readonly name: string; readonly size: number }[];
  /** Other requests of the same person. */
  readonly others: readonly {
    readonly id: number;
    readonly kind: string;
    readonly receivedOn: string;
    readonly outcome: string | null;
  }[];
  /** Days that the last ones like it took. */
  readonly like: {
    readonly n: number;
    readonly median: number;
    readonly least: number;
    readonly most: number;
  } | null;
  readonly today: string;
}

/** All of a request for whoever handles it. Throws a RefusedError (404). */
export async function viewRequest(ctx: Context, account: Account, id: number): Promise<ViewedRequest> {
  const { store } = ctx;
  const { row, clock, pauses, facts, needs, today } = await knowRequest(store, ctx, id);
  const { content: _content, learned: _learned, person_hash: person, law, ...rest } = row;
  const request = openRequest(ctx, row);
  const [items, tasks, made, steps, letters, handlers, proofs, others, times] = await Promise.all([
    listItems(store, id),
    listTasks(store, id),
    latestPackage(store, id),
    store.all(
      z.object({ at: Instant, kind: z.enum(STEP_KINDS), by: z.string().nullable(), words: z.string() }),
      'SELECT s.at, s.kind, a.name AS `by`, s.words FROM request_step s LEFT JOIN account a ON a.id = s.by_account WHERE s.request_id = ? ORDER BY s.id LIMIT 500',
      [id],
    ),
    store.all(
      z.object({
        id: z.number(),
        at: Instant,
        letter: z.enum(LETTERS),
        by: z.string().nullable(),
        content: z.string().nullable(),
      }),
      'SELECT l.id, l.at, l.letter, a.name AS `by`, l.content FROM request_letter l LEFT JOIN account a ON a.id = l.by_account WHERE l.request_id = ? ORDER BY l.id LIMIT 100',
      [id],
    ),
    handlersOf(store),
    store.all(
      z.object({ id: z.number(), name: z.string(), size: z.number() }),
      'SELECT id, name, size FROM request_proof WHERE request_id = ? ORDER BY id',
      [id],
    ),
    store.all(
      z.object({ id: z.number(), kind: z.string(), receivedOn: z.string(), outcome: z.string().nullable() }),
      'SELECT id, kind, received_on AS receivedOn, outcome FROM subject_request WHERE person_hash = ? AND id <> ? ORDER BY received_on DESC LIMIT 50',
      [person, id],
    ),
    store.all(
      z.object({ days: z.number() }),
      `SELECT DATEDIFF(answered_on, received_on) AS days FROM subject_request
       WHERE kind = ? AND law = ? AND answered_on IS NOT NULL AND id <> ? ORDER BY answered_on DESC LIMIT 20`,
      [row.kind, law.id, id],
    ),
  ]);
  const days = times.map((t) => t.days).toSorted((a, b) => a - b);
  const mayHandle = may(account, 'cases.handle');
  return {
    row: rest,
    law: {
      ...{
        id: law.id,
        name: law.name,
        answerArticle: law.answerArticle,
        rights: law.rights,
        pauses: law.pauses,
      },
      ...(law.extend ? { extend: law.extend } : {}),
      ...(law.confirm ? { confirm: law.confirm } : {}),
    },
    request: request ?? null,
    known: request ? knownSubject(ctx, row, request) : null,
    ...{ clock, pauses, facts, needs, items, tasks, steps, handlers, proofs, others, today },
    repetition: repetition(
      law,
      row.received_on,
      others.filter((o) => o.kind === row.kind && o.id < id).map((o) => o.receivedOn),
    ),
    bearers: await bearersOf(store, ctx, items),
    package: made ? { ...without(made), phrase: mayHandle ? phraseOf(ctx, made) : null } : null,
    letters: letters.map((l) => ({
      ...l,
      content: l.content === null ? null : (openJson(ctx, l.content) as SentLetter['content']),
    })),
    handler: handlers.find((h) => h.id === row.handler)?.name ?? null,
    like:
      days.length >= 3
        ? { n: days.length, median: quantile(days, 0.5) ?? 0, least: days[0] ?? 0, most: days.at(-1) ?? 0 }
        : null,
  };
}

function without({
  phrase: _phrase,
  copyId: _copy,
  ...made
}: RequestPackage): Omit<RequestPackage, 'phrase' | 'copyId'> {
  return made;
}

/** Whom items may be about that nobody said yet, each bearer once. */
async function bearersOf(
  store: Queries,
  ctx: Context,
  items: readonly RequestItem[],
): Promise<readonly Bearer[]> {
  const asked = items.filter((i) => i.theirs === 'ask' && i.state !== 'unreadable');
  const groups = new Map<string, RequestItem[]>();
  for (const i of asked) groups.set(i.bearerHash, [...(groups.get(i.bearerHash) ?? []), i]);
  const bearers: Bearer[] = [];
  for (const [hash, of] of groups) {
    const reading = of[0] && (await readingOf(store, ctx, of[0].id));
    const nothing = /^0+$/.test(hash);
    bearers.push({
      ...{ hash, items: of.length },
      words: nothing
        ? `nothing but ${reading?.why.replace(/^by /, '') ?? 'the name'}`
        : (reading?.bearer ?? ''),
    });
  }
  return bearers.toSorted((a, b) => b.items - a.items);
}

export const RequestId = z.coerce.number().int().min(1);
export const ItemId = BigId.pipe(z.string().regex(/^\d{1,18}$/));
