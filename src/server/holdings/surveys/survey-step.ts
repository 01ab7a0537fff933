import { changedSince, type SurveyContent } from '../../../core/holdings/surveys/survey.ts';
import { leftToRead, type LeftToRead, type ReadWith } from '../../../core/holdings/surveys/reading.ts';
import {
  joinPlace,
  ItemError,
  type Connector,
  type Content,
  type ListedItem,
} from '../connectors/connector.ts';
import { TookTooLong, type DetectPool } from '../detection/threads/detection-threads.ts';
import type { KnownItem } from './known-items.ts';
import type { SurveyedItem } from './survey-item.ts';

/** An item that has to be read, and how much of it. */
export interface ToRead {
  readonly place: string;
  readonly item: ListedItem;
  readonly known: KnownItem | undefined;
  readonly by: ReadBy;
  /** It is as it was; only what it is read with changed. */
  readonly again: boolean;
}

/**
 * What an item is read with: all detectors in use; those that the survey asks for, where it asks for some; or some of
 * them, beside which what others found stays.
 */
export type ReadBy =
  | { readonly read: 'all' }
  | { readonly read: 'asked'; readonly detectors: readonly string[] }
  | { readonly read: 'some'; readonly detectors: readonly string[]; readonly dropped: readonly ReadWith[] };

/** What is to be done with the items of a place. */
export interface Sorted {
  readonly toRead: readonly ToRead[];
  /** Unchanged, and read with the same detectors; or changed longer ago than is asked for. */
  readonly unchanged: readonly ListedItem[];
  /** Unchanged; what some detectors found in them goes without reading. */
  readonly toDrop: readonly { readonly known: KnownItem; readonly dropped: readonly ReadWith[] }[];
  /** Items that are there again, as they were. */
  readonly back: readonly KnownItem[];
}

export interface Sorting {
  readonly survey: SurveyContent;
  readonly now: Date;
  readonly reading: number;
  /** Those that the survey asks for. */
  readonly detectors: readonly ReadWith[];
  /** How many there are in use. */
  readonly inUse: number;
  /** What an earlier reading was made with. */
  readonly readings: ReadonlyMap<number, readonly ReadWith[]>;
  readonly wholeDocument: (detector: string) => boolean;
  /** Versions that items were read with, as `id version`, of detectors that since only find less. */
  readonly narrowed: ReadonlySet<string>;
}

/** Sorts the items of a place by what has to be done with them. */
export function sortItems(
  place: string,
  items: readonly ListedItem[],
  known: ReadonlyMap<string, KnownItem>,
  sorting: Sorting,
  /** Of detectors that only find less: those that found something in an item, by its id. */
  found: ReadonlyMap<number, ReadonlySet<string>> = new Map(),
): Sorted {
  const since = changedSince(sorting.survey, sorting.now);
  const sorted = {
    toRead: [] as ToRead[],
    unchanged: [] as ListedItem[],
    toDrop: [] as Sorted['toDrop'][number][],
    back: [] as KnownItem[],
  };
  for (const item of items) {
    const before = known.get(item.name);
    if (since !== undefined && item.changed !== null && item.changed < since) {
      sorted.unchanged.push(item);
      continue;
    }
    const same =
      before !== undefined && before.version === item.version && item.version !== '' && before.hash !== null;
    if (!same) {
      const asked = sorting.survey.detectors;
      const by: ReadBy = asked.length > 0 ? { read: 'asked', detectors: asked } : { read: 'all' };
      sorted.toRead.push({ place, item, known: before, by, again: false });
      continue;
    }
    if (before.state === 'gone') sorted.back.push(before);
    const left = leftOf(before, sorting, found.get(before.id));
    if (left.read === 'nothing') sorted.unchanged.push(item);
    else if (left.read === 'no more') sorted.toDrop.push({ known: before, dropped: left.dropped });
    else sorted.toRead.push({ place, item, known: before, by: left, again: true });
  }
  return sorted;
}

function leftOf(
  { reading }: KnownItem,
  { survey, detectors, inUse, readings, reading: now, wholeDocument, narrowed }: Sorting,
  found: ReadonlySet<string> | undefined,
): LeftToRead {
  if (reading === now) return { read: 'nothing' };
  const before = reading === null ? undefined : readings.get(reading);
  if (!before) return { read: 'all' };
  // What others found is none of the business of a survey that asks for some.
  const asked =
    survey.detectors.length === 0 ? before : before.filter((d) => survey.detectors.includes(d.id));
  const cannotMatter = (was: ReadWith) =>
    !was.rehearsed && narrowed.has(`${was.id} ${was.version}`) && !found?.has(was.id);
  return leftToRead(asked, detectors, wholeDocument, inUse, cannotMatter);
}

/** An item with what reading it came to. */
export interface ReadItem extends ToRead {
  /** What it was read with; see `reading`. */
  readonly reading: number;
  readonly title: string | undefined;
  readonly outcome: SurveyedItem | { readonly unreadable: string };
}

const ITEM_MS = 120_000;
/** Detectors that are left out of one item because they did not come to an end in it. */
const MOST_LEFT_OUT = 5;

/**
 * Reads one item; never throws for what is wrong with it alone. What is wrong with the whole source is thrown, so that
 * its items are not told as unreadable one by one.
 */
export async function readItem(
  connector: Connector,
  pool: DetectPool,
  reading: number,
  toRead: ToRead,
): Promise<ReadItem> {
  const { place, item, known } = toRead;
  const done = (outcome: ReadItem['outcome'], title = item.title): ReadItem => ({
    ...toRead,
    reading,
    outcome,
    title,
  });
  let content: Content;
  try {
    content = await connector.read(place, item);
  } catch (error) {
    if (!(error instanceof ItemError)) throw error;
    return done({ unreadable: `It could not be read: ${error.message}.` });
  }
  const title = ('title' in content && content.title) || item.title;
  // Only what was read with the same detectors can be passed over because its bytes are the same.
  const same = known?.reading === reading && known.hash ? Uint8Array.from(known.hash) : null;
  try {
    return done(await runItem(pool, { content, known: same }, item.size), title);
  } catch (error) {
    return done({ unreadable: `It could not be read: ${(error as Error).message}` }, title);
  }
}

async function runItem(
  pool: DetectPool,
  item: { content: Content; known: Uint8Array | null },
  size: number,
): Promise<SurveyedItem> {
  const without: number[] = [];
  const stopped: string[] = [];
  for (;;)
    try {
      const options = { without, budgetMs: ITEM_MS / 2 };
      const outcome = await pool.run({ what: 'survey', item, options }, ITEM_MS + size / 5e4);
      return outcome.unchanged ? outcome : { ...outcome, stopped: [...stopped, ...outcome.stopped] };
    } catch (error) {
      if (!(error instanceof TookTooLong) || error.detector === undefined || without.length >= MOST_LEFT_OUT)
        throw error;
      without.push(error.detector);
      stopped.push(pool.setting.detectors[error.detector]?.id ?? '');
    }
}

/** Why an item counts as unreadable: nothing of it could be read. */
export function problemOf(outcome: ReadItem['outcome']): {
  readonly unreadable: boolean;
  readonly words: string | null;
} {
  if ('unreadable' in outcome) return { unreadable: true, words: outcome.unreadable };
  if (outcome.unchanged) return { unreadable: false, words: null };
  const { problems, stopped, length } = outcome;
  const words = [
    ...problems.slice(0, 5).map((p) => (p.part ? `${p.part}: ${p.words}` : p.words)),
    ...(problems.length > 5 ? [`and ${problems.length - 5} more`] : []),
    ...(stopped.length > 0 ? [`Not looked for to the end: ${[...new Set(stopped)].join(', ')}`] : []),
  ].join('. ');
  const whole = problems.find((p) => p.part === '' && p.kind !== 'misnamed' && p.kind !== 'cut short');
  return { unreadable: length === 0 && whole !== undefined, words: words || null };
}

/** As people name an item: where it lies and what it is called. */
export function itemPath(place: string, name: string): string {
  return joinPlace(place, name);
}
