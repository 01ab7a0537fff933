import { tableLine } from '../../../core/access/estate/estate-table.ts';
import { readTable } from '../../files/table-file.ts';
import { lineOf } from './library.ts';
import type { AccessReader, SourceLine } from './reader.ts';

/** An estate as somebody took it in, a JSON object a line. Bytes that are no UTF-8 are told. */
export function estateFileReader(bytes: Buffer): AccessReader {
  return {
    async *lines() {
      yield* fileLines(bytes);
    },
    close: () => Promise.resolve(),
  };
}

export function* fileLines(bytes: Buffer): Generator<SourceLine> {
  if (!isJsonLines(bytes)) yield* tableLines(bytes);
  else yield* jsonLines(bytes);
}

/** A table begins with its headings. */
function isJsonLines(bytes: Buffer): boolean {
  const start = bytes
    .subarray(0, 200)
    .toString('latin1')
    .replace(/^\u00ef\u00bb\u00bf/, '')
    .trimStart();
  return start === '' || start.startsWith('{') || !/^"?(?:type|id|place)"?[,;\t|]/i.test(start);
}

function* tableLines(bytes: Buffer): Generator<SourceLine> {
  let table: ReturnType<typeof readTable>;
  try {
    table = readTable(bytes);
  } catch (error) {
    yield { fault: (error as Error).message };
    return;
  }
  for (const [i, cells] of table.rows.entries()) {
    const told = lineOf(tableLine(table.headings, cells));
    yield 'fault' in told ? { fault: `row ${i + 2}: ${told.fault}` } : told;
  }
}

function* jsonLines(bytes: Buffer): Generator<SourceLine> {
  const decoder = new TextDecoder('utf-8', { fatal: true });
  let number = 0;
  for (let from = 0; from < bytes.length;) {
    let to = bytes.indexOf(10, from);
    if (to < 0) to = bytes.length;
    number++;
    const told = one(decoder, bytes.subarray(from, to));
    from = to + 1;
    if (told) yield 'fault' in told ? { fault: `line ${number}: ${told.fault}` } : told;
  }
}

function one(decoder: TextDecoder, bytes: Buffer): SourceLine | undefined {
  try {
    const text = decoder.decode(bytes).trim();
    return text === '' ? undefined : lineOf(JSON.parse(text));
  } catch (error) {
    return {
      fault: error instanceof SyntaxError ? 'It is no JSON.' : 'Its letters are not in UTF-8.',
    };
  }
}
