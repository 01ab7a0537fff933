import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex } from '@noble/hashes/utils.js';
import { parse, type DefaultTreeAdapterTypes } from 'parse5';
import { z } from 'zod';
import { binaryOf, bytesOf, decodedFrom, encodedIn } from './binary-text.ts';
import { calendarPuts } from './calendar-puts.ts';
import { UnstampableError, type CarriedLevel, type Marking } from './marking.ts';
import {
  decodedBody,
  isDecoded,
  standing,
  toQuoted,
  withoutPuts,
  withPuts,
  type Put,
  type Stands,
} from './mime-body.ts';
import { everyPart, fieldOf, isMessage, mimePart, type MimeField, type MimePart } from './mime-part.ts';

const LEVEL = 'Yare-Level';
const MARKING = 'Yare-Marking';
/** RFC 5322, 2.1.1: longer lines are not sent. */
const MOST_LETTERS = 800;

/** What was put into one part, so that it can be taken out to the byte. */
const Marked = z.strictObject({
  path: z.string().max(80),
  /** Place, length and digest of each text. */
  puts: z.array(z.tuple([z.int().min(0), z.int().min(1), z.string()])).max(1000),
  /** Header fields that were changed, as they were; null for those that were added. */
  fields: z.array(z.tuple([z.string(), z.string().nullable()])).max(3),
  /** As it was sent, and its set of characters, where those were changed. */
  encoding: z.string().nullable(),
  charset: z.string().nullable(),
});
type Marked = z.infer<typeof Marked>;
const Marks = z.strictObject({
  parts: z.array(Marked).max(1000),
  /** What the lines say, by which they are known where the message was sent anew on its way. */
  header: z.string().nullable(),
  footer: z.string().nullable(),
});
type Marks = z.infer<typeof Marks>;

/** Whether bytes are a mail message (RFC 5322). */
export { isMessage as isMail } from './mime-part.ts';

/** Whether a message is an invitation, or an answer to one: a calendar is in it (RFC 6047). */
export function isInvitation(bytes: Uint8Array): boolean {
  return everyPart(mimePart(binaryOf(bytes))).some(isCalendar);
}

/**
 * Stamps a message: header and footer stand above and below its text, in each form it has, and around the description of
 * what it invites to; its level in a header field. Never a watermark. What was stamped before goes; all else stays byte for
 * byte. Throws an UnstampableError.
 */
export function stampMail(bytes: Uint8Array, marking: Marking, level: CarriedLevel): Uint8Array {
  const message = unstamped(binaryOf(bytes));
  const newline = newlineOf(message);
  const root = mimePart(message);
  refuseSealed(message, root);
  const cut = (line: Marking['header']) => line && { ...line, text: line.text.slice(0, MOST_LETTERS) };
  const lines: Marking = { header: cut(marking.header), footer: cut(marking.footer), watermark: null };
  const marked: Marked[] = [];
  const splices: Splice[] = [];
  for (const part of [...new Set([...bodiesOf(root), ...everyPart(root).filter(isCalendar)])]) {
    const done = markPart(message, part, lines, level, newline);
    if (!done) continue;
    marked.push(done.marked);
    splices.push(...done.splices);
  }
  const marks: Marks = {
    parts: marked,
    header: lines.header?.text ?? null,
    footer: lines.footer?.text ?? null,
  };
  return bytesOf(levelField(level, newline) + marksField(marks, newline) + spliced(message, splices));
}

/** Takes off exactly what was stamped; of a message without it nothing. */
export function unstampMail(bytes: Uint8Array): Uint8Array {
  const message = binaryOf(bytes);
  const bare = unstamped(message);
  return bare === message ? bytes : bytesOf(bare);
}

export function readMailLevel(bytes: Uint8Array): CarriedLevel | undefined {
  const field = fieldOf(mimePart(binaryOf(bytes)), LEVEL.toLowerCase());
  const [, id, name = ''] =
    /^([a-z][a-z0-9-]{0,62})\s*(?:;\s*name\*=utf-8''([^\s;]*))?/i.exec(field?.value ?? '') ?? [];
  if (id === undefined) return undefined;
  try {
    return { id, name: decodeURIComponent(name) };
  } catch {
    return { id, name: '' };
  }
}

interface Splice {
  readonly from: number;
  readonly to: number;
  readonly put: string;
}

function spliced(text: string, splices: readonly Splice[]): string {
  let out = text;
  for (const { from, to, put } of splices.toSorted((a, b) => b.from - a.from || b.to - a.to))
    out = out.slice(0, from) + put + out.slice(to);
  return out;
}

function newlineOf(text: string): string {
  const at = text.indexOf('\n');
  return at > 0 && text[at - 1] === '\r' ? '\r\n' : at >= 0 ? '\n' : '\r\n';
}

function isCalendar({ type }: MimePart): boolean {
  return type === 'text/calendar' || type === 'application/ics';
}

/** The parts that are read as the message itself, in each form it has. */
function bodiesOf(part: MimePart): readonly MimePart[] {
  if (part.isAttached) return [];
  if (part.type === 'text/plain' || part.type === 'text/html') return [part];
  if (part.type === 'multipart/alternative') return part.children.flatMap(bodiesOf);
  if (!part.type.startsWith('multipart/')) return [];
  for (const child of part.children) {
    const found = bodiesOf(child);
    if (found.length > 0) return found;
  }
  return [];
}

function refuseSealed(message: string, root: MimePart): void {
  for (const { type, parameters, body, encoding, children } of everyPart(root)) {
    const isSealed = /^application\/(?:x-)?pkcs7-mime$/.test(type);
    if (type === 'multipart/encrypted' || (isSealed && parameters.get('smime-type') !== 'signed-data'))
      throw new UnstampableError('encrypted', 'It is encrypted.');
    if (type === 'multipart/signed' || isSealed)
      throw new UnstampableError('signed', 'It is signed: a mark would break the signature.');
    if (children.length > 0 || !type.startsWith('text/')) continue;
    const start = decodedBody(message.slice(body.from, Math.min(body.to, body.from + 4000)), encoding);
    if (/^\s*-----BEGIN PGP SIGNED MESSAGE-----/.test(start))
      throw new UnstampableError('signed', 'It is signed: a mark would break the signature.');
    if (/^\s*-----BEGIN PGP MESSAGE-----/.test(start))
      throw new UnstampableError('encrypted', 'It is encrypted.');
  }
}

/** A text that is put into the content of a part. */
interface Text {
  readonly at: number;
  readonly text: string;
}

function markPart(
  message: string,
  part: MimePart,
  marking: Marking,
  level: CarriedLevel,
  newline: string,
): { readonly marked: Marked; readonly splices: readonly Splice[] } | undefined {
  const wire = message.slice(part.body.from, part.body.to);
  const charset = charsetOf(part);
  if (/^utf-?(?:16|32)/i.test(charset))
    throw new UnstampableError('no room', `Its text is in ${charset}, in which nothing is put.`);
  const content = decodedBody(wire, part.encoding);
  const inner = content.includes('\r\n') || !content.includes('\n') ? '\r\n' : '\n';
  const texts = textsFor(
    part,
    content,
    marking,
    level,
    isDecoded(part.encoding) ? inner : newlineOfWire(wire, newline),
  );
  if (texts.length === 0) return undefined;
  const room = roomFor({ message, part, wire, content, charset }, texts, newline);
  const puts = texts.map(({ at, text }): Put => ({
    at: room.place(at),
    put: encodedIn(text, room.charset) ?? '',
  }));
  const edited = withPuts(room.wire, room.encoding, puts, newlineOfWire(room.wire, newline));
  return {
    marked: {
      path: part.path,
      puts: edited.stands.map((s) => [s.at, s.length, digest(standing(edited.wire, room.encoding, s))]),
      fields: room.fields.map(({ name, had }) => [name, had]),
      encoding: room.encoding === part.encoding ? null : part.encoding,
      charset: room.charset === charset || !room.isRecoded ? null : charset,
    },
    splices: [{ ...part.body, put: edited.wire }, ...room.fields.map((f) => f.splice)],
  };
}

function newlineOfWire(wire: string, usual: string): string {
  return wire.includes('\n') ? newlineOf(wire) : usual;
}

const digest = (binary: string) => bytesToHex(sha256(bytesOf(binary))).slice(0, 12);

function charsetOf(part: MimePart): string {
  return (part.parameters.get('charset') ?? (isCalendar(part) ? 'utf-8' : 'us-ascii')).toLowerCase();
}

function textsFor(
  part: MimePart,
  content: string,
  marking: Marking,
  level: CarriedLevel,
  newline: string,
): readonly Text[] {
  const { header, footer } = marking;
  if (isCalendar(part)) return calendarPuts(content, marking, level, newline);
  if (part.type === 'text/html') {
    const { first, last } = bodyOf(content);
    return [
      ...(header ? [{ at: first, text: htmlLine('header', header) }] : []),
      ...(footer ? [{ at: last, text: htmlLine('footer', footer) }] : []),
    ];
  }
  // RFC 3676, 4.4: what would be read as a quotation.
  const isFlowed = part.parameters.get('format')?.toLowerCase() === 'flowed';
  const said = (text: string) => (isFlowed && /^(?: |>|From )/.test(text) ? ` ${text}` : text);
  return [
    ...(header ? [{ at: 0, text: `${said(header.text)}${newline}${newline}` }] : []),
    ...(footer ? [{ at: content.length, text: `${newline}${newline}${said(footer.text)}` }] : []),
  ];
}

const ALIGN = { left: 'start', centre: 'center', right: 'end' } as const;

function htmlLine(where: 'header' | 'footer', line: NonNullable<Marking['header']>): string {
  const text = line.text.replace(/[&<>"]|[^\x20-\x7e]/gu, (c) => `&#${c.codePointAt(0) ?? 32};`);
  const side = where === 'header' ? '0 0 12pt' : '12pt 0 0';
  return `<div data-yare-marking="${where}" dir="auto" style="color:${line.colour};font-size:${line.size}pt;text-align:${ALIGN[line.align]};margin:${side}">${text}</div>`;
}

/** Where what a page shows begins and ends. */
function bodyOf(html: string): { readonly first: number; readonly last: number } {
  const document = parse(html, { sourceCodeLocationInfo: true });
  const root = document.childNodes.find((n): n is DefaultTreeAdapterTypes.Element => n.nodeName === 'html');
  const body = root?.childNodes.find((n): n is DefaultTreeAdapterTypes.Element => n.nodeName === 'body');
  const at = body?.sourceCodeLocation;
  const child = body?.childNodes.find((n) => n.sourceCodeLocation)?.sourceCodeLocation;
  const first = at?.startTag?.endOffset ?? child?.startOffset ?? html.length;
  return {
    first,
    last: Math.max(
      first,
      at?.endTag?.startOffset ?? root?.sourceCodeLocation?.endTag?.startOffset ?? html.length,
    ),
  };
}

interface Room {
  readonly wire: string;
  readonly encoding: string;
  readonly charset: string;
  readonly isRecoded: boolean;
  readonly fields: readonly { readonly name: string; readonly had: string | null; readonly splice: Splice }[];
  /** Where a place of the content is now. */
  place(at: number): number;
}

/** A part without parts, with what is in it. */
interface Leaf {
  readonly message: string;
  readonly part: MimePart;
  readonly wire: string;
  readonly content: string;
  readonly charset: string;
}

/** A part in whose characters the texts can be written: as it is, or sent another way. */
function roomFor(of: Leaf, texts: readonly Text[], newline: string): Room {
  const { part, wire, content, charset } = of;
  const isPlain = (text: string) => /^[\t\n\r\x20-\x7e]*$/.test(text);
  const has8 = !isPlain(content);
  const needs8 = !texts.every((t) => isPlain(t.text));
  const isNarrow = part.encoding === '7bit' && !has8;
  const fits = texts.every((t) => encodedIn(t.text, charset) !== undefined);
  const same = {
    wire,
    encoding: part.encoding,
    charset,
    fields: [],
    isRecoded: false,
    place: (at: number) => at,
  };
  if (fits && !(needs8 && isNarrow)) return same;
  if (!has8) {
    const isSame = !isNarrow && part.encoding !== '8bit' && part.encoding !== 'binary';
    if (isSame) return { ...same, charset: 'utf-8', fields: fieldsFor(of, null, newline) };
    const quoted = toQuoted(wire, newlineOfWire(wire, newline));
    // Line breaks of two kinds would be of one.
    const encoding = decodedBody(quoted, 'quoted-printable') === wire ? 'quoted-printable' : 'base64';
    return {
      ...same,
      wire: encoding === 'base64' ? base64Lines(wire, newline, undefined) : quoted,
      encoding,
      charset: 'utf-8',
      fields: fieldsFor(of, encoding, newline),
    };
  }
  const text = part.encoding === 'quoted-printable' ? undefined : decodedFrom(content, charset);
  const again = text === undefined ? undefined : encodedIn(text, charset);
  if (text === undefined || again !== content)
    throw new UnstampableError(
      'no room',
      `Its text is in ${charset}, which has no letters for this marking.`,
    );
  const encoded = binaryOf(new TextEncoder().encode(text));
  return {
    wire: base64Lines(encoded, newlineOfWire(wire, newline), part.encoding === 'base64' ? wire : undefined),
    encoding: 'base64',
    charset: 'utf-8',
    isRecoded: true,
    fields: fieldsFor(of, part.encoding === 'base64' ? null : 'base64', newline),
    place: (at) =>
      binaryOf(new TextEncoder().encode(decodedFrom(content.slice(0, at), charset) ?? '')).length,
  };
}

function base64Lines(content: string, newline: string, like: string | undefined): string {
  const width = like?.includes('\n') ? (like.split(/\r?\n/, 1)[0]?.length ?? 76) : 76;
  const end = like === undefined ? newline : (/\r?\n$/.exec(like)?.[0] ?? '');
  return (btoa(content).match(new RegExp(`.{1,${Math.max(4, width)}}`, 'g')) ?? []).join(newline) + end;
}

/** Has a part say that it is UTF-8, and how it is sent. */
function fieldsFor({ message, part }: Leaf, encoding: string | null, newline: string): Room['fields'] {
  const type = fieldOf(part, 'content-type');
  const sent = fieldOf(part, 'content-transfer-encoding');
  const version = fieldOf(part, 'mime-version');
  const end = { from: part.head.to, to: part.head.to };
  const said = type?.value ?? 'text/plain';
  const value = /;\s*charset\s*=/i.test(said)
    ? said.replace(/(;\s*charset\s*=\s*)(?:"[^"]*"|[^\s;]*)/i, '$1utf-8')
    : `${said}; charset=utf-8`;
  const put = (name: string, is: MimeField | undefined, to: string) => ({
    name: name.toLowerCase(),
    had: is ? message.slice(is.from, is.to) : null,
    splice: { ...(is ?? end), put: `${name}: ${to}${newline}` },
  });
  return [
    ...(part.path === '' && !version ? [put('MIME-Version', version, '1.0')] : []),
    put('Content-Type', type, value),
    ...(encoding === null ? [] : [put('Content-Transfer-Encoding', sent, encoding)]),
  ];
}

function levelField({ id, name }: CarriedLevel, newline: string): string {
  return `${LEVEL}: ${id};${newline} name*=utf-8''${encodeURIComponent(name)}${newline}`;
}

function marksField(marks: Marks, newline: string): string {
  const letters = btoa(binaryOf(new TextEncoder().encode(JSON.stringify(marks))));
  return `${MARKING}: ${(letters.match(/.{1,72}/g) ?? []).join(`${newline} `)}${newline}`;
}

function readMarks(root: MimePart): Marks | undefined {
  const field = fieldOf(root, MARKING.toLowerCase());
  if (!field) return undefined;
  try {
    const letters = field.value.replace(/\s+/g, '');
    const read = Marks.safeParse(JSON.parse(new TextDecoder().decode(bytesOf(atob(letters)))));
    return read.success ? read.data : undefined;
  } catch {
    return undefined;
  }
}

function unstamped(message: string): string {
  if (!isMessage(bytesOf(message.slice(0, 16_384))))
    throw new UnstampableError('another kind', 'It is no mail message.');
  const root = mimePart(message);
  const ours = root.fields.filter((f) => f.name === LEVEL.toLowerCase() || f.name === MARKING.toLowerCase());
  if (ours.length === 0) return message;
  const marks = readMarks(root);
  const parts = new Map(everyPart(root).map((p) => [p.path, p]));
  const splices: Splice[] = ours.map(({ from, to }) => ({ from, to, put: '' }));
  const exact = new Set<MimePart>();
  for (const marked of marks?.parts ?? []) {
    const part = parts.get(marked.path);
    const undone = part && unmarked(message, part, marked);
    if (!undone) continue;
    exact.add(part);
    splices.push(...undone);
  }
  // It was sent anew on its way, or somebody wrote in it: what says our lines goes.
  if (marks && exact.size < marks.parts.length)
    for (const part of [...bodiesOf(root), ...everyPart(root).filter(isCalendar)])
      if (!exact.has(part)) splices.push(...loosely(message, part, marks));
  return spliced(message, splices);
}

/** Takes out exactly what was put in; `undefined` where that does not stand there as it was put. */
function unmarked(message: string, part: MimePart, marked: Marked): readonly Splice[] | undefined {
  const wire = message.slice(part.body.from, part.body.to);
  const newline = newlineOfWire(wire, newlineOf(message));
  const stands = marked.puts.map(([at, length]): Stands => ({ at, length }));
  const isWhole = marked.puts.every(
    ([at, length, sum]) => digest(standing(wire, part.encoding, { at, length })) === sum,
  );
  if (!isWhole) return undefined;
  const bare = withoutPuts(wire, part.encoding, stands, newline);
  return [
    { ...part.body, put: restored(bare, part.encoding, marked, newline) },
    ...marked.fields.flatMap(([name, had]): readonly Splice[] => {
      const field = fieldOf(part, name);
      return field ? [{ from: field.from, to: field.to, put: had ?? '' }] : [];
    }),
  ];
}

/** As it was sent before. */
function restored(
  bare: string,
  encoding: string,
  { encoding: was, charset }: Marked,
  newline: string,
): string {
  if (was === null && charset === null) return bare;
  const content = decodedBody(bare, encoding);
  const text =
    charset === null ? content : (encodedIn(decodedFrom(content, 'utf-8') ?? '', charset) ?? content);
  if (was === null) return base64Lines(text, newline, bare);
  return text;
}

function loosely(message: string, part: MimePart, marks: Marks): readonly Splice[] {
  const wire = message.slice(part.body.from, part.body.to);
  const newline = newlineOfWire(wire, newlineOf(message));
  const content = decodedBody(wire, part.encoding);
  const charset = charsetOf(part);
  let left = content;
  if (part.type === 'text/html')
    left = left.replace(/<div data-yare-marking="(?:header|footer)"[^>]*>[^<]*<\/div>/g, '');
  else if (part.type === 'text/plain') {
    const [top, foot] = [marks.header, marks.footer].map((t) =>
      t === null ? null : (encodedIn(t, charset) ?? null),
    );
    if (top != null && left.trimStart().startsWith(top))
      left = left
        .trimStart()
        .slice(top.length)
        .replace(/^[ \t]*(?:\r?\n){0,2}/, '');
    if (foot != null && left.trimEnd().endsWith(foot))
      left = left
        .trimEnd()
        .slice(0, -foot.length)
        .replace(/(?:\r?\n){0,2}[ \t]*$/, '');
  } else left = left.replace(/^X-YARE-LEVEL(?:-NAME)?:[^\n]*\n(?:[ \t][^\n]*\n)*/gm, '');
  if (left === content) return [];
  const put =
    part.encoding === 'base64'
      ? base64Lines(left, newline, wire)
      : part.encoding === 'quoted-printable'
        ? toQuoted(left, newline)
        : left;
  return [{ ...part.body, put }];
}
