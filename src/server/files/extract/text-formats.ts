import { TextBuilder, type Extracted, type Limits } from './extracted.ts';

export function extractPlain(text: string, limits: Limits): Extracted {
  const out = new TextBuilder(limits);
  out.gap(text);
  return out.done('plain text');
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
