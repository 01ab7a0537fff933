import type { Segment } from '../../../text/segment.ts';
import { isCell } from '../../../text/segment.ts';
import { nameKey, subjectValues, traitKey, type Subject, type SubjectValue, type Trait } from './subject.ts';

/** A value in a text that tells of somebody; UTF-16 offsets. */
export interface TraitSpan {
  readonly start: number;
  readonly end: number;
  readonly trait: Trait;
}

/** A text with its stretches, and what detectors recognise people by in it. */
export interface ReadDocument {
  readonly text: string;
  readonly segments: readonly Segment[];
  readonly found: readonly TraitSpan[];
  /** It is many messages or files in one, each about people of its own. */
  readonly splits?: boolean;
}

/**
 * How surely a part of a document is about the subject. Namesake: it has their name, and says by itself that it is somebody
 * else.
 */
export type Sureness = 'certain' | 'ask' | 'namesake';

/** A part that is about one person: a row of a table, a record, or all of a text. */
export interface RecognisedPart {
  /** Of a table; `null` where it is the running text. */
  readonly record: number | null;
  readonly start: number;
  readonly end: number;
  readonly sure: Sureness;
  readonly by: readonly Trait[];
  readonly why: string;
  /** What tells this bearer of the name from others: their birth date or address; '' where nothing does. */
  readonly bearer: string;
}

export interface Recognised {
  /** Of the surest part; `undefined` where nothing tells of them. */
  readonly sure: Sureness | undefined;
  /** Every trait that parts were recognised by, each once. */
  readonly by: readonly Trait[];
  readonly parts: readonly RecognisedPart[];
  /** Values of the subject that stand in it, in order. */
  readonly own: readonly TraitSpan[];
  /** Records of a table in all. */
  readonly records: number;
}

/**
 * Finds somebody in a document. By an address, a number, or a name together with a birth date, phone or postal address it is
 * certain; by a name alone, or an address that stands beside another’s name, a person has to say; a row that has the name and
 * another birth date or address is a namesake’s.
 */
export function recognise(subject: Subject, document: ReadDocument): Recognised {
  const values = subjectValues(subject);
  const own = ownSpans(values, document);
  const parts = partsOf(document);
  const inRecords = new Set(parts.map((p) => p.record)).size - (parts.some((p) => p.record === null) ? 1 : 0);
  const recognised = parts.flatMap((part): RecognisedPart[] => {
    const mine = own.filter((s) => inPart(part, s));
    if (mine.length === 0) return [];
    const judged = judge(subject, values, mine, part, document);
    return judged ? [{ ...part, ...judged }] : [];
  });
  const order: readonly Sureness[] = ['certain', 'ask', 'namesake'];
  return {
    sure: order.find((s) => recognised.some((p) => p.sure === s)),
    by: [...new Set(recognised.filter((p) => p.sure !== 'namesake').flatMap((p) => p.by))],
    parts: recognised,
    own,
    records: Math.max(0, inRecords),
  };
}

interface Part {
  readonly record: number | null;
  readonly start: number;
  readonly end: number;
}

const inPart = (part: Part, s: { readonly start: number; readonly end: number }) =>
  s.start >= part.start && s.end <= part.end;

/** Records of tables, and what lies between them as one part each. */
function partsOf(document: ReadDocument): readonly Part[] {
  const { text, segments, splits } = document;
  const breaks = splits
    ? segments.filter((s, i) => stepOf(s) !== stepOf(segments[i - 1])).map((s) => s.start)
    : [];
  const parts: { record: number | null; start: number; end: number }[] = [];
  const heads = headRecords(segments);
  let at = 0;
  for (const s of segments) {
    if (s.record === undefined || !isCell(s) || heads.has(s.record)) continue;
    const last = parts.at(-1);
    if (last && last.record === s.record) last.end = s.end;
    else {
      if (s.start > at) parts.push({ record: null, start: at, end: s.start });
      parts.push({ record: s.record, start: s.start, end: s.end });
    }
    at = s.end;
  }
  if (at < text.length || parts.length === 0) parts.push({ record: null, start: at, end: text.length });
  const cut = parts.flatMap((p) => {
    if (p.record !== null) return [p];
    const within = breaks.filter((b) => b > p.start && b < p.end);
    return [p.start, ...within].map((start, i) => ({ record: null, start, end: within[i] ?? p.end }));
  });
  // Lines between rows hold nothing.
  return cut.filter((p) => p.record !== null || /[\p{L}\p{N}]/u.test(text.slice(p.start, p.end)));
}

/** Records that are the headings of a table, or stand above them: whoever gets rows gets these too. */
export function headRecords(segments: readonly Segment[]): ReadonlySet<number> {
  const heads = new Set<number>();
  const begun = new Set<string>();
  const waiting = new Map<string, Set<number>>();
  const headed = new Set(
    segments.flatMap((s) => (s.heading !== undefined && s.record !== undefined ? [s.record] : [])),
  );
  for (const s of segments) {
    if (s.record === undefined || !isCell(s)) continue;
    const table = `${s.place.part ?? ''}\n${s.place.sheet ?? ''}`;
    if (begun.has(table)) continue;
    const above = waiting.get(table) ?? new Set<number>();
    waiting.set(table, above);
    if (headed.has(s.record)) {
      begun.add(table);
      for (const r of above) heads.add(r);
    } else above.add(s.record);
  }
  return heads;
}

const stepOf = (s: Segment | undefined) => s?.place.part?.split('/')[0] ?? '';

function judge(
  subject: Subject,
  values: readonly SubjectValue[],
  mine: readonly TraitSpan[],
  part: Part,
  document: ReadDocument,
): Pick<RecognisedPart, 'sure' | 'by' | 'why' | 'bearer'> | undefined {
  const by = [...new Set(mine.map((s) => s.trait))];
  const has = (t: Trait) => by.includes(t);
  const others = document.found.filter((f) => inPart(part, f) && !mine.some((m) => overlap(m, f)));
  const valuesOf = (trait: Trait) => [
    ...new Set(
      others.filter((f) => f.trait === trait).map((f) => document.text.slice(f.start, f.end).trim()),
    ),
  ];
  const knows = (trait: Trait) => values.some((v) => v.trait === trait);
  const row = part.record !== null;
  const born = valuesOf('birth date');
  const mails = valuesOf('e-mail');
  const bearer = has('birth date')
    ? subject.born
    : (born.length === 1 ? traitKey('birth date', born[0] ?? '') : '') || (row ? (mails[0] ?? '') : '');
  if (has('number') || has('e-mail')) {
    const name = row && !has('name') && knows('name') ? valuesOf('name')[0] : undefined;
    if (has('e-mail') && !has('number') && name !== undefined)
      return { by, bearer: name, sure: 'ask', why: `the address is theirs, and the name another: ${name}` };
    return { by, bearer, sure: 'certain', why: `by ${listed(by)}` };
  }
  if (has('name')) {
    if (['birth date', 'phone', 'address'].some((t) => has(t as Trait)))
      return { by, bearer, sure: 'certain', why: `by ${listed(by)}` };
    if (row || born.length === 1) {
      if (knows('birth date') && born.length > 0)
        return {
          by,
          bearer,
          sure: 'namesake',
          why: `the name is theirs, and the birth date another: ${born[0]}`,
        };
      if (row && knows('e-mail') && mails.length > 0)
        return { by, bearer, sure: 'ask', why: `the name is theirs, and the address another: ${mails[0]}` };
    }
    return { by, bearer, sure: 'ask', why: 'by the name alone' };
  }
  if (has('phone')) return { by, bearer, sure: 'ask', why: 'by the phone alone' };
  if (has('birth date') && has('address'))
    return { by, bearer, sure: 'ask', why: `by ${listed(by)}, without a name` };
  return undefined;
}

export function listed(words: readonly string[]): string {
  return words.length < 2 ? words.join('') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`;
}

export function overlap(a: { start: number; end: number }, b: { start: number; end: number }): boolean {
  return a.start < b.end && b.start < a.end;
}

/** Where values of the subject stand: what detectors found and is theirs, and what is written as they are besides. */
function ownSpans(
  values: readonly SubjectValue[],
  { text, segments, found }: ReadDocument,
): readonly TraitSpan[] {
  const keys = new Map<Trait, Set<string>>();
  for (const v of values) keys.set(v.trait, (keys.get(v.trait) ?? new Set()).add(v.key));
  const spans: TraitSpan[] = found.filter((f) => {
    const given = text.slice(f.start, f.end);
    const of = keys.get(f.trait);
    if (of?.has(traitKey(f.trait, given))) return true;
    return (
      f.trait === 'address' && [...(of ?? [])].some((k) => isPartOfAddress(k, traitKey('address', given)))
    );
  });
  for (const v of values) {
    const pattern = writtenAs(v);
    if (pattern)
      for (const m of text.matchAll(pattern))
        spans.push({ trait: v.trait, start: m.index, end: m.index + m[0].length });
  }
  return withoutInner([...spans, ...namesInCells(keys.get('name') ?? new Set(), text, segments)]);
}

/** Names whose parts stand in cells of their own beside each other. */
function namesInCells(names: ReadonlySet<string>, text: string, segments: readonly Segment[]): TraitSpan[] {
  const spans: TraitSpan[] = [];
  for (const [i, s] of segments.entries()) {
    let name = text.slice(s.start, s.end);
    for (let n = i + 1; n < i + LONGEST_NAME; n++) {
      const next = segments[n];
      if (!next || s.record === undefined || next.record !== s.record) break;
      name += ` ${text.slice(next.start, next.end)}`;
      if (name.length > 200) break;
      if (names.has(nameKey(name))) spans.push({ trait: 'name', start: s.start, end: next.end });
    }
  }
  return spans;
}

/** Given, middle and family name. */
const LONGEST_NAME = 3;

const SHORTEST_ADDRESS = 8;

/** One in a line, the other in several cells: street, town. */
function isPartOfAddress(a: string, b: string): boolean {
  return a.length >= SHORTEST_ADDRESS && b.length >= SHORTEST_ADDRESS && (a.includes(b) || b.includes(a));
}

/** How a value may be written in a text; `undefined` for one that detectors alone can tell. */
function writtenAs({ trait, given, key }: SubjectValue): RegExp | undefined {
  const plain = (t: string) => t.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
  switch (trait) {
    case 'e-mail':
      return new RegExp(`(?<![\\w.+-])${plain(key)}(?![\\w-]|\\.\\w)`, 'giu');
    case 'number':
      return new RegExp(
        `(?<![\\p{L}\\p{N}])${[...key].map(plain).join('[\\s./-]?')}(?![\\p{L}\\p{N}])`,
        'giu',
      );
    case 'phone':
      return new RegExp(`(?<!\\d)(?:\\+?\\d[\\s()/.-]*){0,6}${[...key].join('[\\s()/.-]*')}(?!\\d)`, 'gu');
    case 'name': {
      const words = given.split(/\s+/).filter(Boolean).map(plain);
      if (words.length < 2) return undefined;
      const [last = '', ...first] = [words.at(-1) ?? '', ...words.slice(0, -1)];
      const forms = [words.join('[\\s\\u00a0]+'), `${last},\\s*${first.join('\\s+')}`];
      return new RegExp(`(?<![\\p{L}\\p{N}])(?:${forms.join('|')})(?![\\p{L}\\p{N}])`, 'giu');
    }
    case 'address':
      return given.length < SHORTEST_ADDRESS
        ? undefined
        : new RegExp(
            given
              .split(/[\s,]+/)
              .filter(Boolean)
              .map(plain)
              .join('[\\s,]+'),
            'giu',
          );
    case 'birth date':
      return new RegExp(`(?<!\\d)${plain(given)}(?!\\d)`, 'gu');
  }
}

function withoutInner(spans: readonly TraitSpan[]): readonly TraitSpan[] {
  const out: TraitSpan[] = [];
  for (const s of spans.toSorted((a, b) => a.start - b.start || b.end - a.end)) {
    const last = out.at(-1);
    if (last && s.end <= last.end) continue;
    out.push(s);
  }
  return out;
}
