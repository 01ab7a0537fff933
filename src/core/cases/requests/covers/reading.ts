import { z } from 'zod';
import { isCell, type Segment } from '../../../text/segment.ts';
import { headRecords, type ReadDocument, type Recognised, type TraitSpan } from '../person/recognise.ts';
import { Cover } from './cover.ts';

const Offset = z.int().min(0);

/** What of an item is about the person: its text without the rows and messages of others, and what is covered in that. */
export const Reading = z.strictObject({
  text: z.string(),
  segments: z.array(
    z.strictObject({
      start: Offset,
      end: Offset,
      heading: z.string().optional(),
      record: z.int().optional(),
      page: z.int().optional(),
      part: z.string().optional(),
      sheet: z.string().optional(),
    }),
  ),
  own: z.array(z.strictObject({ start: Offset, end: Offset })),
  covers: z.array(Cover),
  doubts: z.array(z.strictObject({ start: Offset, end: Offset, why: z.string() })),
  bearer: z.string(),
  why: z.string(),
});
export type Reading = z.infer<typeof Reading>;

/** A document without what is not the person’s, and where each offset of it came from. */
export interface Reduced extends ReadDocument {
  readonly rowsTheirs: number;
  readonly rowsLeft: number;
  /** The new offset of an old one; `undefined` for what was left out. */
  readonly at: (offset: number) => number | undefined;
}

/**
 * Only what is theirs of a document: of tables the headings and their rows, of a file of many messages those that tell of
 * them, of anything else all of it. What is not theirs never gets into the case.
 */
export function reduceDocument(document: ReadDocument, recognised: Recognised): Reduced {
  const hers = recognised.parts.filter((p) => p.sure !== 'namesake');
  const mine = new Set(hers.flatMap((p) => (p.record === null ? [] : [p.record])));
  const cuts: { start: number; end: number }[] = [];
  const left = new Set<number>();
  const heads = headRecords(document.segments);
  for (const s of document.segments) {
    if (s.record === undefined || !isCell(s) || mine.has(s.record) || heads.has(s.record)) continue;
    left.add(s.record);
    const last = cuts.at(-1);
    // With the blank between cells and rows.
    if (last && /^\s*$/.test(document.text.slice(last.end, s.start))) last.end = s.end;
    else cuts.push({ start: s.start, end: s.end });
  }
  // Who wrote a file, and with which program, is no part of what it says.
  for (const s of document.segments)
    if (s.place.role === 'properties') cuts.push({ start: s.start, end: s.end });
  if (document.splits)
    for (const message of messagesOf(document))
      if (!hers.some((p) => p.start < message.end && message.start < p.end)) cuts.push(message);
  const sorted = joined(cuts).map(({ start, end }) => ({
    start,
    end: /^\s*\n/.test(document.text.slice(end))
      ? end + (/^\s*?\n/.exec(document.text.slice(end))?.[0].length ?? 0)
      : end,
  }));
  const at = (offset: number): number | undefined => {
    let gone = 0;
    for (const c of sorted) {
      if (c.start > offset) break;
      if (offset < c.end) return undefined;
      gone += c.end - c.start;
    }
    return offset - gone;
  };
  const pieces: string[] = [];
  let from = 0;
  for (const c of sorted) {
    pieces.push(document.text.slice(from, c.start));
    from = c.end;
  }
  pieces.push(document.text.slice(from));
  const moved = <T extends { readonly start: number; readonly end: number }>(all: readonly T[]): T[] =>
    all.flatMap((s) => {
      const [start, last] = [at(s.start), at(s.end - 1)];
      return start === undefined || last === undefined ? [] : [{ ...s, start, end: last + 1 }];
    });
  return {
    ...{ text: pieces.join(''), rowsTheirs: mine.size, rowsLeft: left.size, at },
    ...(document.splits ? { splits: true } : {}),
    segments: moved(document.segments as readonly Segment[]),
    found: moved(document.found as readonly TraitSpan[]),
  };
}

/** Messages of a file of many, by the first step of their part. */
export function messagesOf({ text, segments }: ReadDocument): readonly { start: number; end: number }[] {
  const messages: { part: string; start: number; end: number }[] = [];
  for (const s of segments) {
    const part = s.place.part?.split('/')[0] ?? '';
    const last = messages.at(-1);
    if (last?.part === part) last.end = s.end;
    else messages.push({ part, start: s.start, end: s.end });
  }
  return messages.map(({ start }, i) => ({ start, end: messages[i + 1]?.start ?? text.length }));
}

function joined(cuts: readonly { start: number; end: number }[]): { start: number; end: number }[] {
  const out: { start: number; end: number }[] = [];
  for (const c of cuts.toSorted((a, b) => a.start - b.start)) {
    const last = out.at(-1);
    if (last && c.start <= last.end) last.end = Math.max(last.end, c.end);
    else out.push({ ...c });
  }
  return out;
}
