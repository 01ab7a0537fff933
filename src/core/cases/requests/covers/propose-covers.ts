import { nameKey } from '../person/subject.ts';
import { overlap, type ReadDocument, type Recognised } from '../person/recognise.ts';
import type { Subject } from '../person/subject.ts';
import type { Cover, CoverProposal, Doubt } from './cover.ts';

/** Something a detector found that may be about somebody. */
export interface PersonalSpan {
  readonly start: number;
  readonly end: number;
  readonly detector: string;
  readonly category: string;
}

/** What tells who somebody is, or is theirs alone. */
const TELLS = new Set(['contact', 'identity', 'travel', 'finance', 'network', 'credential']);
/** Names of organisations and their numbers are no people’s. */
const NOBODYS = new Set([
  'se-organisationsnummer',
  'dk-cvr',
  'us-ein',
  'br-cnpj',
  'au-abn',
  'pl-nip',
  'co-nit',
  'eu-vat',
  'bic',
  'vin',
]);
/** Health, faith and the like: whose it is stands in the words around. */
const TENDER = new Set(['health', 'special category', 'offence', 'child']);

/**
 * What the person must not get of a document that is theirs: every name, address and number that is not, with each other
 * mention of those people by one of their names. What could be either’s, and
 * anything tender in a text that tells of others too, is for a person to look at.
 */
export function proposeCovers(
  subject: Subject,
  document: ReadDocument,
  recognised: Recognised,
  personal: readonly PersonalSpan[],
): CoverProposal {
  const { text } = document;
  const own = recognised.own;
  const open = (s: { start: number; end: number }) => !own.some((o) => overlap(o, s));
  const covers: Cover[] = [];
  const doubts: Doubt[] = [];
  const mine = new Set(
    [subject.name, ...subject.otherNames].flatMap((n) => nameKey(n).split(' ')).filter(Boolean),
  );
  const names = new Map<string, string>();
  // “Ms Holmqvist” alone is the person, or one of their family: the letter is theirs.
  const isMine = (name: string) =>
    nameKey(name)
      .split(' ')
      .every((w) => mine.has(w));
  const rowOf = rowsOf(recognised, (row) =>
    personal.some(
      (p) => p.detector === 'person-name' && inside(row, p) && open(p) && !isMine(text.slice(p.start, p.end)),
    ),
  );
  for (const p of personal) {
    if (!TELLS.has(p.category) || NOBODYS.has(p.detector) || !open(p)) continue;
    const given = text.slice(p.start, p.end);
    if (p.detector === 'person-name') {
      if (isMine(given)) continue;
      names.set(nameKey(given), given);
    } else {
      // What else stands in a row of theirs is theirs, unless the row names another: then a person has to see whose.
      const row = rowOf(p);
      if (row === 'theirs') continue;
      if (row === 'shared') {
        doubts.push({ start: p.start, end: p.end, why: 'the row names another too: whose is it?' });
        continue;
      }
    }
    covers.push({ start: p.start, end: p.end, what: p.detector, ground: 'another person', by: 'engine' });
  }
  for (const { key, word, ...span } of mentionsOf(names.values(), text)) {
    if (!open(span) || covers.some((c) => overlap(c, span))) continue;
    if (mine.has(key))
      doubts.push({ ...span, why: `“${word}” is a name of theirs, and of somebody else here` });
    else if (word.length <= SHORT) doubts.push({ ...span, why: `“${word}” is a name of somebody else here` });
    else covers.push({ ...span, what: 'person-name', ground: 'another person', by: 'engine' });
  }
  const others =
    names.size ||
    new Set(covers.filter((c) => c.what === 'email').map((c) => text.slice(c.start, c.end))).size;
  if (others > 0)
    for (const p of personal)
      if (TENDER.has(p.category) && open(p) && !covers.some((c) => overlap(c, p)))
        doubts.push({ start: p.start, end: p.end, why: 'others are told of here: whose is it?' });
  return {
    covers: merged(covers),
    doubts: doubts.toSorted((a, b) => a.start - b.start),
    others,
  };
}

const inside = (a: { start: number; end: number }, b: { start: number; end: number }) =>
  b.start >= a.start && b.end <= a.end;

/** Tells of a span whether it stands in a row of a table that is surely theirs, alone or with another. */
function rowsOf(recognised: Recognised, namesAnother: (row: { start: number; end: number }) => boolean) {
  const rows = recognised.parts
    .filter((p) => p.record !== null && p.sure === 'certain')
    .map((row) => ({ row, is: namesAnother(row) ? ('shared' as const) : ('theirs' as const) }));
  return (span: { start: number; end: number }) => rows.find((r) => inside(r.row, span))?.is;
}

/** Parts of names that are words as well: alone they name nobody. */
const PARTICLES = new Set(
  'af al av bin da das de del della den der di do dos du el la las le les los nic och og op san st ten ter und van vom von y zu zum zur'.split(
    ' ',
  ),
);
/** As long a name may be a word of its own at the beginning of a sentence. */
const SHORT = 2;

interface Mention {
  readonly start: number;
  readonly end: number;
  readonly word: string;
  readonly key: string;
}

/** Of words that are joined: the whole, what an apostrophe joins, and each by itself. */
const PARTS = [/^.*$/gu, /[\p{L}\p{N}\p{M}]+['’][\p{L}\p{N}\p{M}]{2,}/gu, /[\p{L}\p{N}\p{M}]+/gu];

/** Every mention of people by one of their names, as it is written or in capitals, in one pass over the text. */
function mentionsOf(names: Iterable<string>, text: string): readonly Mention[] {
  const known = new Map<string, string>();
  for (const given of names)
    for (const word of given.split(/[\s,.]+/u))
      for (const part of new Set([word, ...word.split('-').filter((w) => w.length > SHORT)])) {
        const key = nameKey(part);
        if (!/^\p{Lu}/u.test(part) || part.length < SHORT || key === '' || PARTICLES.has(key)) continue;
        known.set(written(part), key);
        known.set(written(part).toUpperCase(), key);
      }
  const mentions: Mention[] = [];
  for (const joined of text.matchAll(/[\p{L}\p{N}\p{M}]+(?:['’‑-][\p{L}\p{N}\p{M}]+)*/gu)) {
    let after = 0;
    for (const { 0: word, index } of PARTS.flatMap((p) => [...joined[0].matchAll(p)])) {
      const key = index < after ? undefined : known.get(written(word));
      if (key === undefined) continue;
      const start = joined.index + index;
      mentions.push({ start, end: start + word.length, word, key });
      after = index + word.length;
    }
  }
  return mentions;
}

const written = (word: string) => word.normalize('NFC').replaceAll('’', "'").replaceAll('‑', '-');

/** In order; what touches or overlaps goes as one, under the ground of what began first. */
export function merged(covers: readonly Cover[]): readonly Cover[] {
  const out: Cover[] = [];
  for (const c of covers.toSorted((a, b) => a.start - b.start || b.end - a.end)) {
    const last = out.at(-1);
    if (last && c.start < last.end) {
      if (c.end > last.end) out[out.length - 1] = { ...last, end: c.end };
    } else out.push(c);
  }
  return out;
}
