import type { Around } from '../../../core/obligations/framework/around.ts';
import { fileFaults } from '../../../core/obligations/framework/framework-faults.ts';
import { FrameworkFile } from '../../../core/obligations/framework/framework-file.ts';
import type { Sheet } from '../../../core/obligations/framework/workbook/layout.ts';
import {
  placeWords,
  readWorkbook,
  type WorkbookFault,
} from '../../../core/obligations/framework/workbook/read-workbook.ts';
import { workbookOf } from '../../../core/obligations/framework/workbook/write-workbook.ts';
import { isOscal, readOscal } from '../../../core/obligations/oscal/read-framework.ts';
import { decodeText } from '../../holdings/offers.ts';

/** Something in a file that cannot be taken. */
export interface FileFault {
  /** `Controls F12`, `controls.3.risk`, `crew-code 4-2`, `file`. */
  readonly at: string;
  readonly message: string;
}

export interface ReadFramework {
  /** Null where anything is wrong. */
  readonly file: FrameworkFile | null;
  readonly faults: readonly FileFault[];
  /** What was taken as usual since the file does not say it. */
  readonly notes: readonly string[];
  /** As a workbook with what is wrong in it; null where it holds nothing that could be shown as one. */
  readonly marked: { readonly sheets: readonly Sheet[]; readonly faults: readonly WorkbookFault[] } | null;
}

/** Bytes of JSON; the largest framework that ships has 100 kB. */
const MOST_TEXT = 20e6;

/** What a framework of an id may name. */
export type AroundOf = (id: string) => Around;

/** Reads a framework from a workbook, from JSON, or from an OSCAL catalog or profile. `sheets` unpacks a workbook. */
export async function readFrameworkFile(
  bytes: Buffer,
  aroundOf: AroundOf,
  sheets: (bytes: Buffer) => Promise<readonly Sheet[]>,
): Promise<ReadFramework> {
  if (bytes.subarray(0, 2).toString('latin1') === 'PK') {
    let found: readonly Sheet[];
    try {
      found = await sheets(bytes);
    } catch (error) {
      return unreadable(`It cannot be read as a workbook: ${(error as Error).message}`);
    }
    return ofSheets(found, aroundOf);
  }
  if (bytes.length > MOST_TEXT) return unreadable(`It is larger than ${MOST_TEXT / 1e6} MB.`);
  let value: unknown;
  let notes: readonly string[] = [];
  try {
    value = JSON.parse(decodeText(bytes).text.replace(/^\ufeff/, ''));
  } catch (error) {
    return unreadable(`It is no workbook, and cannot be read as JSON: ${(error as Error).message}`);
  }
  if (isOscal(value))
    try {
      ({ value, notes } = readOscal(value, (text) => Buffer.from(text, 'base64').toString()));
    } catch (error) {
      return unreadable((error as Error).message);
    }
  return { ...ofValue(value, aroundOf), notes };
}

function ofSheets(sheets: readonly Sheet[], aroundOf: AroundOf): ReadFramework {
  const read = readWorkbook(sheets, aroundOf(idIn(sheets)));
  return {
    file: read.file,
    faults: read.faults.map((f) => ({ at: placeWords(f), message: f.words })),
    notes: [],
    marked: { sheets, faults: read.faults },
  };
}

/** What the workbook says its id is, as far as it does. */
function idIn(sheets: readonly Sheet[]): string {
  const rows = sheets.find((s) => s.name.trim().toLowerCase() === 'framework')?.rows ?? [];
  return rows.find((r) => r[0]?.trim().toLowerCase() === 'id')?.[1]?.trim() ?? '';
}

function ofValue(value: unknown, aroundOf: AroundOf): Omit<ReadFramework, 'notes'> {
  const parsed = FrameworkFile.safeParse(value);
  const marked = () => {
    if (typeof value !== 'object' || value === null) return null;
    const sheets = workbookOf(value as FrameworkFile);
    return { sheets, faults: readWorkbook(sheets, aroundOf(idIn(sheets))).faults };
  };
  if (!parsed.success)
    return {
      file: null,
      faults: parsed.error.issues.map((i) => ({ at: i.path.join('.') || 'file', message: i.message })),
      marked: marked(),
    };
  const faults = fileFaults(parsed.data, aroundOf(parsed.data.id));
  return faults.length === 0
    ? { file: parsed.data, faults: [], marked: marked() }
    : { file: null, faults: faults.map(({ at, message }) => ({ at, message })), marked: marked() };
}

const unreadable = (message: string): ReadFramework => ({
  ...{ file: null, notes: [], marked: null },
  faults: [{ at: 'file', message }],
});
