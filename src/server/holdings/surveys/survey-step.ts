import { changedSince, type SurveyContent } from '../../../core/holdings/surveys/survey.ts';
import { leftToRead, type LeftToRead, type ReadWith } from '../../../core/holdings/surveys/reading.ts';
import { joinPlace, ItemError, type Connector, type ListedItem } from '../connectors/connector.ts';
import { TookTooLong, type DetectPool } from '../detection/threads/detection-threads.ts';
import type { KnownItem } from './known-items.ts';
import type { SurveyedItem } from './survey-item.ts';

/** An item that has to be read, and how much of it. */
export interface ToRead {
  readonly place: string;
  readonly item: ListedItem;
  readonly known: KnownItem | undefined;
  readonly left: Extract<LeftToRead, { read: 'all' | 'some' }>;
  /** It is as it was; only what it is read with changed. */
  readonly again: boolean;
}

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
  readonly detectors: readonly ReadWith[];
  /** What an earlier reading was made with. */
  readonly readings: ReadonlyMap<number, readonly ReadWith[]>;
  readonly wholeDocument: (detector: string) => boolean;
}

/** Sorts the items of a place by what has to be done with them. */
export function sortItems(
  place: string,
  items: readonly ListedItem[],
  known: ReadonlyMap<string, KnownItem>,
  sorting: Sorting,
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
      sorted.toRead.push({ place, item, known: before, left: { read: 'all' }, again: false });
      continue;
    }
    if (before.state === 'gone') sorted.back.push(before);
    const left = leftOf(before, sorting);
    if (left.read === 'nothing') sorted.unchanged.push(item);
    else if (left.read === 'no more') sorted.toDrop.push({ known: before, dropped: left.dropped });
    else sorted.toRead.push({ place, item, known: before, left, again: true });
  }
  return sorted;
}

function leftOf(
  { reading }: KnownItem,
  { detectors, readings, reading: now, wholeDocument }: Sorting,
): LeftToRead {
  if (reading === now) return { read: 'nothing' };
  const before = reading === null ? undefined : readings.get(reading);
  return before ? leftToRead(before, detectors, wholeDocument) : { read: 'all' };
}

/** An item with what reading it came to. */
export interface ReadItem extends ToRead {
  readonly title: string | undefined;
  readonly outcome: SurveyedItem | { readonly unreadable: string };
}

const ITEM_MS = 120_000;
/** Detectors that are left out of one item because they did not come to an end in it. */
const MOST_LEFT_OUT = 5;

/** Reads one item; never throws for what is wrong with it alone. */
export async function readItem(connector: Connector, pool: DetectPool, toRead: ToRead): Promise<ReadItem> {
  const { place, item, known, again } = toRead;
  const done = (outcome: ReadItem['outcome'], title = item.title): ReadItem => ({
    ...toRead,
    outcome,
    title,
  });
  let title = item.title;
  try {
    const content = await connector.read(place, item);
    if ('title' in content && content.title) title = content.title;
    // Only what was read with the same detectors can be passed over because its bytes are the same.
    const same = again ? null : (known?.hash ?? null);
    const outcome = await runItem(pool, { content, known: same ? Uint8Array.from(same) : null }, item.size);
    return done(outcome, title);
  } catch (error) {
    return done({ unreadable: unreadableWords(error) }, title);
  }
}

async function runItem(
  pool: DetectPool,
  item: { content: Awaited<ReturnType<Connector['read']>>; known: Uint8Array | null },
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

function unreadableWords(error: unknown): string {
  const words = (error as Error).message;
  return error instanceof ItemError ? `It could not be read: ${words}.` : `It could not be read: ${words}`;
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
