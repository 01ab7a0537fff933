import { parse } from 'csv-parse/sync';
import { z, ZodError } from 'zod';
import { RefusedError, type FieldError } from '../../../core/refusal.ts';
import { KnownTracker } from '../../../core/websites/trackers/known-tracker.ts';
import { ThreadEnded, threadOnce } from '../../processes/thread-once.ts';

const COLUMNS = ['name', 'match', 'kind', 'domain', 'provider', 'purpose', 'lifetime'] as const;
const MOST_ENTRIES = 50_000;
const MOST_COLUMNS = 200;

const LibraryFile = z.strictObject({
  format: z.literal('yare-known-trackers'),
  version: z.literal(1),
  trackers: z.array(z.unknown()).max(MOST_ENTRIES, `At most ${MOST_ENTRIES} entries`),
});

/** Reads a library from CSV (a header line, `text_LANGUAGE` columns for texts) or JSON. Throws a RefusedError naming each line. */
export function readKnownTrackers(fileName: string, content: Uint8Array): KnownTracker[] {
  const text = readText(content);
  const rows = /^\s*[{[]/.test(text) || /\.json$/i.test(fileName) ? readJson(text) : readCsv(text);
  const fields: FieldError[] = [];
  const entries = rows.flatMap(({ where, value }) => {
    const read = KnownTracker.safeParse(value);
    if (read.success) return [read.data];
    fields.push(...issues(read.error, where));
    return [];
  });
  if (fields.length > 0)
    throw new RefusedError(
      `Nothing was taken in: ${fields.length === 1 ? 'one entry' : `${fields.length} entries`} cannot be used.`,
      fields.slice(0, 50),
    );
  return entries;
}

export interface LibraryInput {
  readonly fileName: string;
  readonly content: Uint8Array;
}

type LibraryRead =
  | { readonly entries: readonly KnownTracker[] }
  | { readonly words: string; readonly fields: readonly FieldError[] };

/** As a thread answers: a refusal as a value, since errors lose what they hold on the way. */
export function readInThread({ fileName, content }: LibraryInput): LibraryRead {
  try {
    return { entries: readKnownTrackers(fileName, content) };
  } catch (error) {
    if (!(error instanceof RefusedError)) throw error;
    return { words: error.message, fields: error.fields };
  }
}

/** Reads a library that somebody sent in a thread of its own. Throws a RefusedError naming each line, or that it is too much. */
export async function readSentLibrary(input: LibraryInput): Promise<readonly KnownTracker[]> {
  const read = await threadOnce<LibraryRead>('library-thread', input, { ms: 15_000, megabytes: 512 }).catch(
    (error: unknown) => {
      if (!(error instanceof ThreadEnded)) throw error;
      throw refuse(`This file could not be read: ${error.message} Give fewer entries at once.`);
    },
  );
  if ('words' in read) throw new RefusedError(read.words, read.fields);
  return read.entries;
}

interface Row {
  readonly where: string;
  readonly value: unknown;
}

function readJson(text: string): Row[] {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    throw refuse(`This is no JSON: ${(error as Error).message}`);
  }
  const file = LibraryFile.safeParse(value);
  if (!file.success)
    throw refuse(
      'Give {"format": "yare-known-trackers", "version": 1, "trackers": […]}, as an export has it.',
    );
  return file.data.trackers.map((v, i) => ({ where: `entry ${i + 1}`, value: v }));
}

function readCsv(text: string): Row[] {
  let rows: Record<string, string>[];
  try {
    rows = parse(text, {
      columns: (header: string[]) => {
        if (header.length > MOST_COLUMNS) throw new Error(`its first line names ${header.length} columns`);
        return header.map((h) => h.trim().toLowerCase());
      },
      bom: true,
      skip_empty_lines: true,
      delimiter: [',', ';', '\t'],
      relax_column_count: true,
      to: MOST_ENTRIES + 1,
    });
  } catch (error) {
    throw refuse(`This is no CSV: ${(error as Error).message}`);
  }
  const [first] = rows;
  if (rows.length > MOST_ENTRIES) throw refuse(`At most ${MOST_ENTRIES} entries.`);
  if (!first || !('name' in first) || !('purpose' in first))
    throw refuse(
      `The first line names the columns: ${COLUMNS.join(', ')}, text_en, … Only name and purpose must be there.`,
    );
  return rows.map((row, i) => {
    const cell = (name: string) => unguarded(row[name]?.trim() ?? '');
    const texts = Object.keys(row).flatMap((column) => {
      const language = /^text_(.+)$/.exec(column)?.[1];
      const words = cell(column);
      return language && words ? [[language, words] as const] : [];
    });
    return {
      where: `line ${i + 2}`,
      value: {
        name: cell('name'),
        match: cell('match') || 'exact',
        kind: cell('kind') || null,
        domain: cell('domain'),
        provider: cell('provider'),
        purpose: cell('purpose').toLowerCase(),
        lifetime: cell('lifetime'),
        texts: Object.fromEntries(texts),
      },
    };
  });
}

/** An export guards cells that a spreadsheet would take for formulas with an apostrophe. */
function unguarded(cell: string): string {
  return /^'\s*[=+\-@\t\r\n|%]/.test(cell) ? cell.slice(1) : cell;
}

function issues(error: ZodError, where: string): FieldError[] {
  return error.issues.map((i) => ({ field: `${where}, ${i.path.join('.')}`, message: i.message }));
}

function readText(content: Uint8Array): string {
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(content).replace(/^\uFEFF/, '');
  } catch {
    // Spreadsheets of the region still write it.
    return new TextDecoder('windows-1252').decode(content);
  }
}

function refuse(words: string): RefusedError {
  return new RefusedError(words, [{ field: 'file', message: words }]);
}

/** The columns and cells of an export in CSV. */
export function knownTrackerTable(entries: readonly KnownTracker[]): string[][] {
  const languages = [...new Set(entries.flatMap((e) => Object.keys(e.texts)))].sort();
  return [
    [...COLUMNS, ...languages.map((l) => `text_${l}`)],
    ...entries.map((e) => [...COLUMNS.map((c) => e[c] ?? ''), ...languages.map((l) => e.texts[l] ?? '')]),
  ];
}

export function knownTrackerJson(entries: readonly KnownTracker[]): string {
  return `${JSON.stringify({ format: 'yare-known-trackers', version: 1, trackers: entries }, null, 2)}\n`;
}
