import { visit } from 'jsonc-parser';
import type { Cutter, Piece } from './csv.ts';
import { LIMITS, TextBuilder, type Extracted, type Limits } from './extracted.ts';

export function extractPlain(text: string, limits: Limits): Extracted {
  const out = new TextBuilder(limits);
  out.gap(text);
  return out.done('plain text');
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

/** Lines of JSON, as many whole ones as there are. */
export class JsonLineCutter implements Cutter {
  #rest = '';
  #records = 0;

  next(more: string, isLast: boolean): Piece {
    const all = this.#rest + more;
    const end = isLast ? all.length : all.lastIndexOf('\n') + 1;
    this.#rest = all.slice(end);
    const { text, segments } = extractJson(all.slice(0, end), NO_LIMITS, true);
    const base = this.#records;
    for (const s of segments) this.#records = Math.max(this.#records, base + (s.record ?? 0) + 1);
    return {
      text,
      segments: segments.map((s) => (s.record === undefined ? s : { ...s, record: s.record + base })),
    };
  }
}

const NO_LIMITS: Limits = { ...LIMITS, text: Infinity };

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
