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
