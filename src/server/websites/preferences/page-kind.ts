import { z } from 'zod';
import { RefusedError } from '../../../core/refusal.ts';
import { sentenceText } from '../../../core/rules/sentence.ts';
import { versionInForce } from '../../../core/rules/rule.ts';
import {
  firstPreferencePage,
  missingWords,
  PreferencePage,
} from '../../../core/websites/preferences/preference-page.ts';
import {
  preferenceSentence,
  preferenceVocabulary,
} from '../../../core/websites/preferences/preference-sentence.ts';
import type { RuleKind } from '../../rules/rule-kind.ts';
import { addNumberedRule, readRule } from '../../rules/rule-store.ts';
import { readRuleVersion } from '../../rules/rule-versions.ts';
import type { Queries } from '../../store/pool.ts';

/** There is one, and this is its number. */
export const PAGE_ID = '1';

/** What people are asked of how and about what they may be written to. */
export const PREFERENCE_PAGE: RuleKind<PreferencePage> = {
  object: 'preference page',
  content: PreferencePage,
  name: (_store, _id, { name }) => name,
  place: () => '/websites/preferences?tab=page',
  text: (_store, _id, content) => Promise.resolve(sentenceText(preferenceSentence(content), content)),
  vocabulary: () => Promise.resolve(preferenceVocabulary()),
  blocks: (_store, _key, content) => Promise.resolve(missingWords(content)),
};

export async function isBegun(store: Queries, lock = false): Promise<boolean> {
  const there = await store.one(
    z.object({ id: z.string() }),
    `SELECT id FROM rule WHERE kind = ?${lock ? ' FOR UPDATE' : ''}`,
    [PREFERENCE_PAGE.object],
  );
  return there !== undefined;
}

/** Begins the page. Throws a RefusedError (409) where there is one. */
export async function beginPage(tx: Queries, now: Date, by: number | null, name: string): Promise<void> {
  if (await isBegun(tx, true))
    throw new RefusedError('Somebody began the page a moment ago. Look at it.', [], 409);
  await addNumberedRule(tx, now, PREFERENCE_PAGE, by, firstPreferencePage(name));
}

export interface AskedPage {
  readonly version: number;
  readonly content: PreferencePage;
  /** People can choose; where they cannot, they can still leave. */
  readonly open: boolean;
}

/** The page that people are asked by, or the last that they were; `undefined` where none was ever in force. */
export async function askedPage(store: Queries): Promise<AskedPage | undefined> {
  const rule = await readRule(store, PREFERENCE_PAGE, PAGE_ID).catch((error: unknown) => {
    if (error instanceof RefusedError && error.status === 404) return undefined;
    throw error;
  });
  if (!rule) return undefined;
  const inForce = versionInForce(rule.stage);
  const { stage } = rule;
  const stopped = stage.state === 'paused' || stage.state === 'retired' ? stage.version : null;
  const last = inForce ?? stopped ?? (await lastAsked(store));
  if (last === undefined) return undefined;
  return {
    version: last,
    content: await readRuleVersion(store, PREFERENCE_PAGE, PAGE_ID, last),
    open: inForce !== undefined,
  };
}

/** A page that is a draft again asks nothing, but what it asked can still be taken back. */
async function lastAsked(store: Queries): Promise<number | undefined> {
  const row = await store.one(
    z.object({ n: z.coerce.number().nullable() }),
    'SELECT MAX(page_version) AS n FROM preference_record',
  );
  return row?.n ?? undefined;
}

/** The same where there has to be one. Throws a RefusedError (409). */
export async function requirePage(store: Queries): Promise<AskedPage> {
  const page = await askedPage(store);
  if (!page)
    throw new RefusedError(
      'No page was in force yet, so there is nothing to choose among.',
      [{ field: 'page', message: 'Put the page in force first.' }],
      409,
    );
  return page;
}
