import { visit } from 'jsonc-parser';
import { looksLikeHeadings, TextBuilder, type Extracted, type Limits } from './extracted.ts';

export function extractPlain(text: string, limits: Limits): Extracted {
  const out = new TextBuilder(limits);
  out.gap(text);
  return out.done('plain text');
}

/** The text stays as it is; every cell knows its column. `undefined` where it is no table. */
export function extractCsv(text: string, limits: Limits): Extracted | undefined {
  const delimiter = delimiterOf(text);
  if (!delimiter) return undefined;
  const out = new TextBuilder(limits);
  let headings: readonly string[] | undefined;
  let at = 0;
  let row = 0;
  for (const cells of rowsOf(text, delimiter)) {
    if (row === 0) {
      const names = cells.map((c) => text.slice(c.start, c.end));
      headings = looksLikeHeadings(names) ? names.map((n) => n.trim()) : undefined;
    }
    for (const [column, c] of cells.entries()) {
      out.gap(text.slice(at, c.start));
      out.add(
        text.slice(c.start, c.end),
        { row: row + 1, cell: cellName(column, row) },
        { heading: row > 0 ? headings?.[column] : undefined, record: row },
      );
      at = c.end;
    }
    row++;
  }
  out.gap(text.slice(at));
  return out.done('CSV');
}

interface Span {
  readonly start: number;
  readonly end: number;
}

/** Cells row by row, RFC 4180; quotes stay outside a cell. */
function* rowsOf(text: string, delimiter: string): Generator<readonly Span[]> {
  let i = 0;
  while (i < text.length) {
    const cells: Span[] = [];
    for (;;) {
      if (text[i] === '"') {
        const start = ++i;
        let end = text.indexOf('"', i);
        while (end >= 0 && text[end + 1] === '"') end = text.indexOf('"', end + 2);
        if (end < 0) end = text.length;
        cells.push({ start, end });
        i = end + 1;
        while (i < text.length && text[i] !== delimiter && text[i] !== '\n') i++;
      } else {
        const start = i;
        while (i < text.length && text[i] !== delimiter && text[i] !== '\n') i++;
        cells.push({
          start,
          end: text[i - 1] === '\r' && text[i] !== delimiter ? Math.max(start, i - 1) : i,
        });
      }
      if (text[i] !== delimiter) break;
      i++;
    }
    i++;
    yield cells;
  }
}

/** The sign that parts the first lines into as many cells each. */
function delimiterOf(text: string): string | undefined {
  const lines = text
    .slice(0, 20_000)
    .split('\n')
    .slice(0, 12)
    .filter((l) => l.trim() !== '');
  let best: { readonly sign: string; readonly cells: number } | undefined;
  for (const sign of ['\t', ';', ',', '|']) {
    const counts = lines.map((l) => l.replace(/"(?:[^"]|"")*"/g, '').split(sign).length);
    const cells = counts[0] ?? 1;
    const steady = counts.filter((c) => c === cells).length >= counts.length * 0.8;
    if (cells > 1 && steady && cells > (best?.cells ?? 1)) best = { sign, cells };
  }
  return best?.sign;
}

/** As a spreadsheet names a cell; both from 0. */
export function cellName(column: number, row: number): string {
  let name = '';
  for (let c = column + 1; c > 0; c = Math.floor((c - 1) / 26))
    name = String.fromCharCode(65 + ((c - 1) % 26)) + name;
  return `${name}${row + 1}`;
}

/** The text stays as it is, but for escapes in strings, which are read; every value knows its field. */
export function extractJson(text: string, limits: Limits, byLine: boolean): Extracted {
  const out = new TextBuilder(limits);
  let at = 0;
  const read = (source: string, base: number) => {
    const records: number[] = [];
    const names: string[] = [];
    visit(
      source,
      {
        onObjectBegin: () => {
          records.push(out.records++);
          names.push('');
        },
        onObjectEnd: () => {
          records.pop();
          names.pop();
        },
        onObjectProperty: (name) => {
          names[names.length - 1] = name;
        },
        onLiteralValue: (value, offset, length) => {
          const raw = source.slice(offset, offset + length);
          const quoted = raw.startsWith('"');
          const start = base + offset + (quoted ? 1 : 0);
          out.gap(text.slice(at, start));
          const inner = quoted ? raw.slice(1, -1) : raw;
          out.add(
            quoted && inner.includes('\\') ? String(value) : inner,
            {},
            { heading: names.at(-1), record: records.at(-1) },
          );
          at = start + inner.length;
        },
      },
      { allowTrailingComma: true, allowEmptyContent: true },
    );
  };
  if (byLine) {
    let start = 0;
    for (const line of text.split('\n')) {
      read(line, start);
      start += line.length + 1;
    }
  } else read(text, 0);
  out.gap(text.slice(at));
  return out.done('JSON');
}

const TEXTUAL: Readonly<Record<string, string>> = { '{': '', '}': '', '\\': '\\' };
/** Groups of RTF that hold no text of the document. */
const SILENT =
  /^(?:fonttbl|colortbl|stylesheet|pict|themedata|colorschememapping|datastore|latentstyles|listtable|listoverridetable|rsidtbl|generator|xmlnstbl|filetbl|revtbl|object|fldinst)$/;

/** Rich Text Format 1.9: the text of the document, headers, footers and notes. */
export function extractRtf(bytes: Buffer, limits: Limits): Extracted {
  const source = bytes.toString('latin1');
  const out = new TextBuilder(limits);
  const codepage = /\\ansicpg(\d+)/.exec(source)?.[1] ?? '1252';
  const decoder = new TextDecoder(codepage === '65001' ? 'utf-8' : `windows-${codepage}`);
  const stack: { silent: boolean; skip: number }[] = [];
  let state = { silent: false, skip: 1 };
  let skip = 0;
  let text = '';
  const say = (s: string) => {
    if (skip > 0) skip--;
    else if (!state.silent) text += s;
  };
  for (let i = 0; i < source.length;) {
    const c = source[i] as string;
    if (c === '{') {
      stack.push({ ...state });
      i++;
    } else if (c === '}') {
      state = stack.pop() ?? state;
      i++;
    } else if (c === '\\') {
      const word = /^\\([a-z]+)(-?\d+)? ?/i.exec(source.slice(i, i + 40));
      if (word) {
        i += word[0].length;
        const [, name = '', n] = word;
        if (SILENT.test(name)) state.silent = true;
        else if (name === 'u') {
          say(String.fromCharCode((Number(n) + 65536) % 65536));
          skip = state.skip;
        } else if (name === 'uc') state.skip = Number(n ?? 1);
        else if (/^(?:par|line|row|sect|page)$/.test(name)) say('\n');
        else if (/^(?:tab|cell)$/.test(name)) say('\t');
        else if (name === 'bin') i += Number(n ?? 0);
      } else if (source[i + 1] === "'") {
        say(decoder.decode(Uint8Array.of(parseInt(source.slice(i + 2, i + 4), 16) || 63)));
        i += 4;
      } else {
        const sign = source[i + 1] ?? '';
        if (sign === '*') state.silent = true;
        else if (sign === '~') say(' ');
        else if (sign in TEXTUAL) say(sign);
        i += 2;
      }
    } else {
      if (c !== '\r' && c !== '\n') say(c);
      i++;
    }
  }
  out.gap(text);
  return out.done('RTF');
}
