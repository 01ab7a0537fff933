/** Where a line stands on a printed page. */
export type Part = 'left' | 'centre' | 'right';

const CODE: Readonly<Record<Part, string>> = { left: 'L', centre: 'C', right: 'R' };
/** Around whatever is ours; nobody sees it (U+2063, invisible separator). */
const FENCE = '\u2063';
/** What spreadsheets read of a header or footer (ISO/IEC 29500-1, 18.3.1.46: 255 characters). */
const MOST = 255;

interface Found {
  readonly part: Part;
  /** Where its text begins, behind the code, and where it ends. */
  readonly from: number;
  readonly to: number;
}

/**
 * The parts of a header or footer of a sheet, as its codes say (ISO/IEC 29500-1, 18.3.1.46): `&L`, `&C`, `&R`; what stands
 * before any of them is in the middle.
 */
export function partsOf(text: string): readonly Found[] {
  const found: { part: Part; from: number; to: number; at: number }[] = [];
  let open = { part: 'centre' as Part, from: 0, to: 0, at: 0 };
  for (let i = 0; i < text.length; i++) {
    if (text[i] !== '&') continue;
    const code = text[i + 1];
    // A font is quoted, and may hold anything.
    if (code === '"') {
      const end = text.indexOf('"', i + 2);
      i = end < 0 ? text.length : end;
      continue;
    }
    const part = (Object.keys(CODE) as Part[]).find((p) => CODE[p] === code);
    if (part) {
      if (i > 0) found.push({ ...open, to: i });
      open = { part, from: i + 2, to: 0, at: i };
    }
    i++;
  }
  if (open.at > 0 || text.length > 0) found.push({ ...open, to: text.length });
  return found.map(({ part, from, to }) => ({ part, from, to }));
}

export interface PageLine {
  readonly text: string;
  readonly align: Part;
  /** Points. */
  readonly size: number;
  readonly colour: string;
}

/**
 * A header or footer with a line put in, behind what stands in that part already; `undefined` where there is no room for it.
 * Everything that is put in lies between fences, so that `withoutLine` gives back the very text.
 */
export function withLine(text: string, { text: words, align, size, colour }: PageLine): string | undefined {
  const written = `&K${colour.slice(1).toUpperCase()}&${Math.round(size)} ${words.replaceAll('&', '&&')}`;
  const parts = partsOf(text);
  const own = parts.findLast((p) => p.part === align);
  let at: number;
  let put: string;
  if (own) {
    at = own.to;
    put = own.to > own.from ? `\n${written}` : written;
  } else if (align === 'left') {
    at = 0;
    // What has no code of its own would be taken for the left part as well.
    const implied = text !== '' && !/^&[LCR]/.test(text);
    put = `&L${written}${implied ? '&C' : ''}`;
  } else {
    const right = align === 'centre' ? parts.find((p) => p.part === 'right') : undefined;
    at = right ? right.from - 2 : text.length;
    put = `&${CODE[align]}${written}`;
  }
  const out = `${text.slice(0, at)}${FENCE}${put}${FENCE}${text.slice(at)}`;
  return out.length > MOST ? undefined : out;
}

/** Takes out what `withLine` put in. */
export function withoutLine(text: string): string {
  return text.replace(/\u2063[^\u2063]*\u2063/g, '');
}
