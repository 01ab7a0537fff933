import { z } from 'zod';
import type { Account, AuthorityObject } from '../../../core/accounts/authority.ts';
import { explainLens, type Explained } from '../../../core/lens/lens-item.ts';
import { itemFact, itemVocabulary } from '../../../core/holdings/items/item-facts.ts';
import type { MatchContent } from '../../../core/holdings/items/gathered.ts';
import { clauseWords } from '../../../core/lens/lens-words.ts';
import { notFound } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { BigId, Bytes, Count, Instant, JsonColumn } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { readLens } from './explorer.ts';
import { listOwnDetectors } from '../detection/detectors/own-detectors.ts';
import { itemNames } from './item-names.ts';
import { itemRows } from './item-rows.ts';

const ItemDetail = z.object({
  id: BigId,
  source_id: z.number(),
  source: z.string(),
  path: z.string(),
  name: z.string(),
  title: z.string().nullable(),
  size: Count,
  created_at: Instant.nullable(),
  changed_at: Instant.nullable(),
  read_at: Instant.nullable(),
  owner: z.string(),
  version: z.string(),
  content_hash: Bytes.nullable(),
  format: z.string(),
  state: z.enum(['read', 'unreadable', 'gone']),
  problem: z.string().nullable(),
  document: z.string().nullable(),
  document_confidence: z.number().nullable(),
  people: z.number(),
});
export type ItemDetail = z.infer<typeof ItemDetail>;

/** Throws a RefusedError (404). */
export async function findItem(store: Queries, id: number | string): Promise<ItemDetail> {
  const item = await store.one(
    ItemDetail,
    `SELECT i.id, i.source_id, s.name AS source, p.path, i.name, i.title, i.size, i.created_at, i.changed_at, i.read_at, i.owner, i.version,
       i.content_hash, i.format, i.state, i.problem, i.document, i.document_confidence, i.people
     FROM item i JOIN place p ON p.id = i.place_id JOIN source s ON s.id = i.source_id WHERE i.id = ?`,
    [id],
  );
  if (!item) throw notFound('item');
  return item;
}

/** For endpoints about one item. */
export async function itemObject(
  { store }: Context,
  { id }: { id: number | string },
): Promise<AuthorityObject> {
  const item = await findItem(store, id);
  return { kind: 'item', id: item.id, within: [{ kind: 'source', id: String(item.source_id) }] };
}

/** For endpoints about several: what all of them belong to. */
export async function itemsObject({ store }: Context, ids: readonly number[]): Promise<AuthorityObject> {
  const rows = await itemRows(store, [...new Set(ids)]);
  const sources = new Set([...rows.values()].map((r) => r.source));
  return { kind: 'item', id: null, within: [...sources].map((id) => ({ kind: 'source', id })) };
}

export interface ViewedMatch {
  readonly number: number;
  /** Of the value, keyed; what judging it goes by. */
  readonly hash: string;
  readonly masked: string;
  readonly confidence: number;
  readonly content: MatchContent;
  /** What a person said of it. */
  readonly judged: {
    readonly holds: boolean;
    readonly reason: string;
    readonly by: string;
    readonly at: string;
  } | null;
}

export interface ViewedFinding {
  readonly detector: string;
  readonly name: string;
  readonly version: number;
  readonly rehearsed: boolean;
  /** It is learned from examples, and can be taught with this item. */
  readonly learned: boolean;
  readonly matches: number;
  readonly distinct: number;
  readonly confidence: number;
  readonly kept: readonly ViewedMatch[];
}

/** A condition of a lens, and whether the item meets it. */
export interface ExplainedClause {
  readonly words: string;
  readonly found: string;
  readonly holds: boolean;
}

export interface ItemView {
  readonly item: Omit<ItemDetail, 'content_hash' | 'version'>;
  readonly documentName: string | null;
  readonly findings: readonly ViewedFinding[];
  /** Why it is in the lens that is looked through, or not. */
  readonly why: readonly ExplainedClause[];
}

const Finding = z.object({
  detector: z.string(),
  rehearsed: z.number(),
  version: z.number(),
  matches: z.number(),
  distinct_values: z.number(),
  confidence: z.number(),
});
const Match = z.object({
  detector: z.string(),
  rehearsed: z.number(),
  number: z.number(),
  value_hash: Bytes,
  masked: z.string(),
  confidence: z.number(),
  content: JsonColumn(z.custom<MatchContent>()),
  holds: z.number().nullable(),
  reason: z.string().nullable(),
  judged_at: Instant.nullable(),
  judge: z.string().nullable(),
});

export async function viewItem(ctx: Context, _account: Account, id: number, line: string): Promise<ItemView> {
  const { store } = ctx;
  const { content_hash: _hash, version: _version, ...item } = await findItem(store, id);
  const names = await itemNames(store);
  const learned = new Set(
    (await listOwnDetectors(store)).filter((d) => d.kind === 'learned').map((d) => d.id),
  );
  const findings = await store.all(
    Finding,
    'SELECT detector, rehearsed, version, matches, distinct_values, confidence FROM finding WHERE item_id = ? ORDER BY rehearsed, confidence DESC, detector',
    [id],
  );
  const matches = await store.all(
    Match,
    `SELECT m.detector, m.rehearsed, m.number, m.value_hash, m.masked, m.confidence, m.content, j.holds, j.reason, j.judged_at, a.name AS judge
     FROM finding_match m
     LEFT JOIN judgement j ON j.item_id = m.item_id AND j.detector = m.detector AND j.value_hash = m.value_hash
     LEFT JOIN account a ON a.id = j.judged_by
     WHERE m.item_id = ? ORDER BY m.detector, m.rehearsed, m.number`,
    [id],
  );
  const vocabulary = itemVocabulary(names);
  const row = (await itemRows(store, [id])).get(id);
  const why = explainLens(
    readLens(line),
    (fact) => row && itemFact(row, fact),
    ctx.now().toISOString().slice(0, 10),
  );
  return {
    item,
    documentName: item.document && (names.detectors.get(item.document) ?? item.document),
    findings: findings.map(({ distinct_values, rehearsed, ...f }) => ({
      ...f,
      rehearsed: rehearsed === 1,
      learned: learned.has(f.detector),
      distinct: distinct_values,
      name: names.detectors.get(f.detector) ?? f.detector,
      kept: matches
        .filter((m) => m.detector === f.detector && m.rehearsed === rehearsed)
        .map(({ number, value_hash, masked, confidence, content, holds, reason, judged_at, judge }) => ({
          number,
          hash: value_hash.toString('hex'),
          masked,
          confidence,
          content,
          judged:
            holds === null
              ? null
              : {
                  holds: holds === 1,
                  reason: reason ?? '',
                  by: judge ?? 'somebody who left',
                  at: judged_at ?? '',
                },
        })),
    })),
    why: clausesExplained(why).map((e) => ({
      words: clauseWords(e.clause, vocabulary),
      found: foundWords(e.found, e.clause.fact, vocabulary),
      holds: e.holds,
    })),
  };
}

type ExplainedLeaf = Extract<Explained, { clause: unknown }>;

function clausesExplained(e: Explained): readonly ExplainedLeaf[] {
  return 'clause' in e ? [e] : e.of.flatMap(clausesExplained);
}

function foundWords(found: string, fact: string, vocabulary: ReturnType<typeof itemVocabulary>): string {
  return found
    .split(', ')
    .map((v) => vocabulary.value(fact, v) ?? v)
    .join(', ');
}
