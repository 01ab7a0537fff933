import { UnstampableError } from './marking.ts';

/** A stretch of a message. */
export interface Range {
  readonly from: number;
  readonly to: number;
}

export interface MimeField extends Range {
  /** Lower-case. */
  readonly name: string;
  /** Unfolded, without what stands around it. */
  readonly value: string;
}

/** A part of a message, with where it stands in it (RFC 5322, RFC 2045 and 2046). */
export interface MimePart {
  /** Counted from 1 at each depth: `1.2`; '' for the message itself. */
  readonly path: string;
  readonly fields: readonly MimeField[];
  /** Up to the empty line, which belongs to neither. */
  readonly head: Range;
  readonly body: Range;
  /** Lower-case, such as `text/plain`. */
  readonly type: string;
  readonly parameters: ReadonlyMap<string, string>;
  /** Lower-case; `7bit` where nothing is said. */
  readonly encoding: string;
  readonly isAttached: boolean;
  /** Of a `multipart/…`. */
  readonly children: readonly MimePart[];
}

const MOST_DEPTH = 20;
const MOST_PARTS = 2000;

/** The parts of a message, given one character a byte. Throws an UnstampableError where it falls apart. */
export function mimePart(message: string): MimePart {
  const count = { parts: 0 };
  return partOf(message, { from: 0, to: message.length }, '', 0, count);
}

/** Whether it begins as a message does: with header fields, of which two or more are those of a message. */
export function isMessage(bytes: Uint8Array): boolean {
  const start = String.fromCharCode(...bytes.subarray(0, 16_384));
  if (!/^[!-9;-~]+[ \t]*:/.test(start)) return false;
  const { fields } = headOf(start, { from: 0, to: start.length });
  const known = /^(?:from|to|cc|date|subject|message-id|received|return-path|mime-version|delivered-to)$/;
  return new Set(fields.map((f) => f.name).filter((n) => known.test(n))).size >= 2;
}

export function everyPart(part: MimePart): readonly MimePart[] {
  return [part, ...part.children.flatMap(everyPart)];
}

export function fieldOf(part: Pick<MimePart, 'fields'>, name: string): MimeField | undefined {
  return part.fields.find((f) => f.name === name);
}

function partOf(text: string, range: Range, path: string, depth: number, count: { parts: number }): MimePart {
  if (++count.parts > MOST_PARTS || depth > MOST_DEPTH)
    throw new UnstampableError('damaged', 'It has more parts in it than a message has.');
  const { fields, head, body } = headOf(text, range);
  const said = fieldOf({ fields }, 'content-type')?.value ?? 'text/plain';
  const type = (/^\s*([^\s;]+\/[^\s;]+)/.exec(said)?.[1] ?? 'text/plain').toLowerCase();
  const parameters = parametersOf(said);
  return {
    path,
    fields,
    head,
    body,
    type,
    parameters,
    encoding: (fieldOf({ fields }, 'content-transfer-encoding')?.value ?? '7bit').trim().toLowerCase(),
    isAttached: /^\s*attachment\b/i.test(fieldOf({ fields }, 'content-disposition')?.value ?? ''),
    children: type.startsWith('multipart/')
      ? rangesOf(text, body, parameters.get('boundary')).map((r, i) =>
          partOf(text, r, path === '' ? `${i + 1}` : `${path}.${i + 1}`, depth + 1, count),
        )
      : [],
  };
}

function headOf(
  text: string,
  { from, to }: Range,
): { readonly fields: readonly MimeField[]; readonly head: Range; readonly body: Range } {
  const fields: MimeField[] = [];
  let at = from;
  while (at < to) {
    const line = lineEnd(text, at, to);
    if (/^\r?\n?$/.test(text.slice(at, line)))
      return { fields, head: { from, to: at }, body: { from: line, to } };
    let end = line;
    while (end < to && (text[end] === ' ' || text[end] === '\t')) end = lineEnd(text, end, to);
    const raw = text.slice(at, end);
    const colon = raw.indexOf(':');
    if (colon > 0)
      fields.push({
        name: raw.slice(0, colon).trim().toLowerCase(),
        value: raw
          .slice(colon + 1)
          .replace(/\r?\n(?=[ \t])/g, '')
          .trim(),
        from: at,
        to: end,
      });
    at = end;
  }
  return { fields, head: { from, to }, body: { from: to, to } };
}

function lineEnd(text: string, from: number, to: number): number {
  const at = text.indexOf('\n', from);
  return at < 0 || at >= to ? to : at + 1;
}

function parametersOf(value: string): ReadonlyMap<string, string> {
  const found = new Map<string, string>();
  for (const [, name = '', raw = ''] of value.matchAll(/;\s*([^\s=;]+)\s*=\s*("(?:[^"\\]|\\.)*"|[^\s;]*)/g)) {
    const plain = raw.startsWith('"') ? raw.slice(1, -1).replace(/\\(.)/g, '$1') : raw;
    if (!found.has(name.toLowerCase())) found.set(name.toLowerCase(), plain);
  }
  return found;
}

/** Between the delimiters; the line break before one belongs to it (RFC 2046, 5.1.1). */
function rangesOf(text: string, body: Range, boundary: string | undefined): readonly Range[] {
  if (!boundary) throw new UnstampableError('damaged', 'It does not say what parts its parts.');
  const mark = `--${boundary}`;
  const ranges: Range[] = [];
  let begun: number | undefined;
  for (let at = body.from; at < body.to;) {
    const found = text.indexOf(mark, at);
    if (found < 0 || found >= body.to) break;
    const end = lineEnd(text, found, body.to);
    const rest = text.slice(found + mark.length, end);
    at = end;
    if ((found > body.from && text[found - 1] !== '\n') || !/^(?:--)?[ \t]*(?:\r?\n)?$/.test(rest)) continue;
    if (begun !== undefined) {
      const before = text[found - 1] === '\n' ? (text[found - 2] === '\r' ? 2 : 1) : 0;
      ranges.push({ from: begun, to: Math.max(begun, found - before) });
    }
    begun = rest.startsWith('--') ? undefined : end;
    if (begun === undefined) return ranges;
  }
  if (begun !== undefined) ranges.push({ from: begun, to: body.to });
  if (ranges.length === 0) throw new UnstampableError('damaged', 'Its parts are not in it.');
  return ranges;
}
