import { existsSync, mkdirSync, utimesSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { z } from 'zod';
import type { Account } from '../../../src/core/accounts/authority.ts';
import { parseLens } from '../../../src/core/lens/lens-text.ts';
import { newHold, type HoldContent } from '../../../src/core/retention/holds/hold.ts';
import { newLawBound, type LawBoundDraft } from '../../../src/core/retention/rules/law-bound.ts';
import {
  newRetentionRule,
  type RetentionRuleDraft,
} from '../../../src/core/retention/rules/retention-rule.ts';
import type { Act } from '../../../src/core/rules/rule.ts';
import type { Context } from '../../../src/server/context.ts';
import { sha256 } from '../../../src/server/holdings/items/kept-copy.ts';
import { hash16 } from '../../../src/server/holdings/items/item-hash.ts';
import { touchBlocks } from '../../../src/server/holdings/items/item-blocks.ts';
import { closeLensThreads } from '../../../src/server/holdings/items/index/ask-lens.ts';
import { folderConnector } from '../../../src/server/holdings/connectors/folder.ts';
import { addHold, HOLD } from '../../../src/server/retention/holds/holds.ts';
import { addLawBound, LAW_BOUND } from '../../../src/server/retention/rules/law-bounds.ts';
import { addRetentionRule, RETENTION_RULE } from '../../../src/server/retention/rules/retention-rules.ts';
import type { RuleKind } from '../../../src/server/rules/rule-kind.ts';
import { moveRule } from '../../../src/server/rules/rule-moves.ts';
import { readRule } from '../../../src/server/rules/rule-store.ts';
import { readSettings } from '../../../src/server/settings.ts';
import { BigId } from '../../../src/server/store/columns.ts';
import { freshDatabase } from '../../fresh-database.ts';
import { testAccount, unique } from '../context.ts';
import { folderSource, tempFolder } from '../holdings/estate.ts';

export const TODAY = '2026-11-29';

/** A database of its own, a share with real files, and a clock that stands still until it is moved. */
export interface RetentionTest {
  readonly ctx: Context;
  readonly officer: Account;
  readonly root: string;
  readonly source: number;
  /** Moves the clock. */
  at(day: string): void;
  close(): Promise<void>;
}

export async function retentionTest(name: string): Promise<RetentionTest> {
  const home = tempFolder();
  const { url, store } = await freshDatabase(name);
  let now = new Date(`${TODAY}T12:00:00Z`);
  const ctx: Context = {
    store,
    settings: readSettings({
      DATABASE_URL: url,
      SECRET_KEY: 'ab'.repeat(32),
      LOG_LEVEL: 'silent',
      SOURCE_ROOTS: home.path,
    }),
    now: () => now,
  };
  const root = join(home.path, 'share');
  mkdirSync(root);
  return {
    ctx,
    root,
    officer: await testAccount(ctx),
    source: await folderSource(ctx, root),
    at: (day) => {
      now = new Date(`${day}T12:00:00Z`);
    },
    close: async () => {
      await closeLensThreads();
      await store.close();
      home.remove();
    },
  };
}

export interface TestFile {
  readonly path: string;
  /** The day on which it was changed last. */
  readonly changed: string;
  readonly text?: string;
  readonly document?: string;
  readonly people?: number;
  readonly owner?: string;
}

/** Writes files, and has them known as a survey would have them; their numbers by path. */
export async function heldFiles(
  { ctx, root, source }: Pick<RetentionTest, 'ctx' | 'root' | 'source'>,
  files: readonly TestFile[],
): Promise<ReadonlyMap<string, number>> {
  const connector = folderConnector(root);
  const made = new Map<string, number>();
  for (const { path, changed, text = `text of ${path}`, document = null, people = 0, owner } of files) {
    const whole = join(root, path);
    mkdirSync(dirname(whole), { recursive: true });
    writeFileSync(whole, text);
    utimesSync(whole, new Date(`${changed}T09:00:00Z`), new Date(`${changed}T09:00:00Z`));
    const place = dirname(path) === '.' ? '' : dirname(path);
    const name = path.slice(place === '' ? 0 : place.length + 1);
    const [listed] = await connector.details(place, [name]);
    if (!listed) throw new Error(`${path} is not listed.`);
    await ctx.store.run('INSERT IGNORE INTO place (source_id, hash, path) VALUES (?, ?, ?)', [
      source,
      hash16(place),
      place,
    ]);
    const { id } = await ctx.store.run(
      `INSERT INTO item (source_id, place_id, name_hash, name, size, created_at, changed_at, owner, version, content_hash, state, format, document, people)
       SELECT ?, p.id, ?, ?, ?, ?, ?, ?, ?, ?, 'read', 'text', ?, ? FROM place p WHERE p.source_id = ? AND p.hash = ?`,
      [
        ...[source, hash16(name), name, listed.size, `${changed} 09:00:00`, `${changed} 09:00:00`],
        ...[owner ?? listed.owner, listed.version, sha256(Buffer.from(text)), document, people, source],
        hash16(place),
      ],
    );
    if (document !== null)
      await ctx.store.run(
        'INSERT INTO finding (item_id, detector, version, matches, distinct_values, confidence) VALUES (?, ?, 1, 1, 1, 1)',
        [id, document],
      );
    made.set(path, id);
  }
  await touchBlocks(ctx.store, [...made.values()]);
  return made;
}

export function exists({ root }: Pick<RetentionTest, 'root'>, path: string): boolean {
  return existsSync(join(root, path));
}

type Given<T> = Partial<Omit<T, 'lens'>> & { readonly where?: string };

export function rule(test: RetentionTest, given: Given<RetentionRuleDraft>, ...acts: readonly Act['act'][]) {
  return begin(test, RETENTION_RULE, newRetentionRule, addRetentionRule, given, acts);
}

export function bound(test: RetentionTest, given: Given<LawBoundDraft>, ...acts: readonly Act['act'][]) {
  return begin(
    test,
    LAW_BOUND,
    (name): LawBoundDraft => ({ ...newLawBound(name), article: 'Some Act, § 1' }),
    addLawBound,
    given,
    acts,
  );
}

export function hold(test: RetentionTest, given: Given<HoldContent>, ...acts: readonly Act['act'][]) {
  return begin(test, HOLD, (name) => ({ ...newHold(name), matter: 'A matter' }), addHold, given, acts);
}

async function begin<T extends { readonly name: string }>(
  test: RetentionTest,
  kind: RuleKind<T>,
  empty: (name: string) => T,
  add: (tx: Context['store'], now: Date, by: number, content: T) => Promise<string>,
  { where, ...given }: Given<T>,
  acts: readonly Act['act'][],
): Promise<string> {
  const { ctx, officer } = test;
  const content: T = {
    ...empty(unique('R ')),
    ...given,
    ...(where === undefined ? {} : { lens: parseLens(where) }),
  };
  const id = await ctx.store.transaction((tx) => add(tx as Context['store'], ctx.now(), officer.id, content));
  for (const act of acts) await move(test, kind, id, act);
  return id;
}

export async function move<T>(
  { ctx, officer }: Pick<RetentionTest, 'ctx' | 'officer'>,
  kind: RuleKind<T>,
  id: string,
  act: Act['act'],
): Promise<void> {
  const { revision } = await readRule(ctx.store, kind, id);
  await ctx.store.transaction((tx) => moveRule(tx, ctx.now(), kind, officer.id, id, act, revision));
}

/** Disposals, the oldest first. */
export async function disposals({ ctx }: Pick<RetentionTest, 'ctx'>) {
  return ctx.store.all(
    z.object({ id: BigId, rule_id: z.string(), state: z.string(), items: z.number(), needed: z.number() }),
    'SELECT id, rule_id, state, items, needed FROM disposal ORDER BY id',
  );
}

/** What became of the items of all disposals, the latest of each, by number. */
export async function became({ ctx }: Pick<RetentionTest, 'ctx'>) {
  const rows = await ctx.store.all(
    z.object({ item_id: BigId.transform(Number), state: z.string(), why: z.string() }),
    'SELECT item_id, state, why FROM disposal_item ORDER BY disposal_id',
  );
  return new Map(rows.map((r) => [r.item_id, r]));
}
