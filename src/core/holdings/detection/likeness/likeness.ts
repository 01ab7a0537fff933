import { tokenize } from '../words/token.ts';

/** Words in a row that are compared as one. */
const SHINGLE = 3;
const BLOCK = 40;
const SMALLEST_EXCERPT = 24;
/** Of a form, this much must be there before a copy is spoken of. */
export const LIKENESS_FROM = 0.6;

/** A blank document as the set of its word rows. */
export interface LikenessTemplate {
  readonly name: string;
  readonly words: number;
  readonly shingles: ReadonlySet<number>;
  /** The shingles of each stretch of some forty words. */
  readonly blocks: readonly (readonly number[])[];
}

export interface LikenessPart {
  /** UTF-16 offsets in the document. */
  readonly start: number;
  readonly end: number;
}

export interface Likeness {
  readonly template: string;
  /** In [0, 1]: the share of the template’s words that are likely to have been kept, or of an excerpt’s that come from it. */
  readonly measure: number;
  readonly how: 'copy' | 'excerpt';
  /** Of the template’s word rows that are there. */
  readonly coverage: number;
  readonly parts: readonly LikenessPart[];
}

interface Shingled {
  readonly hashes: readonly number[];
  readonly spans: readonly LikenessPart[];
}

/** Word rows of a text: without case, marks and numbers, so that filling in changes only what was filled in. */
function shingle(text: string): Shingled {
  const words = tokenize(text, 0, text.length).filter((t) => /\p{L}/u.test(t.word));
  const bare = words.map((t) => t.word.normalize('NFKD').replace(/\p{M}+/gu, ''));
  const hashes: number[] = [];
  const spans: LikenessPart[] = [];
  for (let i = 0; i + SHINGLE <= bare.length; i++) {
    let h = 0x811c9dc5;
    for (let k = 0; k < SHINGLE; k++) {
      const w = bare[i + k] as string;
      for (let c = 0; c < w.length; c++) h = Math.imul(h ^ w.charCodeAt(c), 0x01000193);
      h = Math.imul(h ^ 32, 0x01000193);
    }
    hashes.push(h >>> 0);
    spans.push({ start: words[i]?.start ?? 0, end: words[i + SHINGLE - 1]?.end ?? 0 });
  }
  return { hashes, spans };
}

/** Throws a RangeError for a document of too few words to be told from others. */
export function likenessTemplate(name: string, text: string): LikenessTemplate {
  const { hashes } = shingle(text);
  if (hashes.length < 12)
    throw new RangeError(`“${name}” has too few words to be recognised: give one with fifteen or more.`);
  const blocks: number[][] = [];
  for (let i = 0; i < hashes.length; i += BLOCK) blocks.push(hashes.slice(i, i + BLOCK));
  const last = blocks.at(-1);
  if (last && last.length < SMALLEST_EXCERPT && blocks.length > 1) {
    blocks.pop();
    blocks.at(-1)?.push(...last);
  }
  return { name, words: hashes.length + SHINGLE - 1, shingles: new Set(hashes), blocks };
}

/**
 * How much of a template a text has. Where a share p of the words was kept, about p³ of the rows of three are, so the
 * cube root of the rows' share estimates p. Order and form do not matter: rows are compared as sets.
 */
export function likeness(template: LikenessTemplate, text: string): Likeness {
  const { hashes, spans } = shingle(text);
  const there = new Set(hashes);
  let common = 0;
  for (const h of template.shingles) if (there.has(h)) common++;
  const coverage = common / template.shingles.size;
  let fromIt = 0;
  for (const h of there) if (template.shingles.has(h)) fromIt++;
  const ofExcerpt = there.size >= SMALLEST_EXCERPT ? fromIt / there.size : 0;
  let block = 0;
  for (const b of template.blocks) {
    const share = b.filter((h) => there.has(h)).length / b.length;
    if (b.length >= SMALLEST_EXCERPT) block = Math.max(block, share);
  }
  const whole = Math.cbrt(coverage);
  // Part of it within something else counts a little less than the whole.
  const excerpt = Math.max(Math.cbrt(ofExcerpt), 0.9 * Math.cbrt(block));
  return {
    template: template.name,
    measure: Math.max(whole, excerpt),
    how: whole >= excerpt ? 'copy' : 'excerpt',
    coverage,
    parts: partsIn({ hashes, spans }, template.shingles),
  };
}

/** The parts of a template’s text that stand in a document: the other side of what `likeness` marks there. */
export function matchedInTemplate(templateText: string, text: string): readonly LikenessPart[] {
  return partsIn(shingle(templateText), new Set(shingle(text).hashes));
}

/** Stretches whose word rows are among some, joined where little lies between. */
function partsIn({ hashes, spans }: Shingled, among: ReadonlySet<number>): readonly LikenessPart[] {
  const parts: LikenessPart[] = [];
  for (const [i, h] of hashes.entries()) {
    if (!among.has(h)) continue;
    const span = spans[i] as LikenessPart;
    const last = parts.at(-1);
    if (last && span.start - last.end < 24)
      parts[parts.length - 1] = { start: last.start, end: Math.max(last.end, span.end) };
    else parts.push(span);
  }
  return parts;
}

/** The template a text is most like. */
export function bestLikeness(templates: readonly LikenessTemplate[], text: string): Likeness | undefined {
  let best: Likeness | undefined;
  for (const t of templates) {
    const l = likeness(t, text);
    if (!best || l.measure > best.measure) best = l;
  }
  return best;
}
