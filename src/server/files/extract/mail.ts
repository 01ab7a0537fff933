import ICAL from 'ical.js';
import PostalMime, { type Address } from 'postal-mime';
import { TextBuilder, UnreadableError, type Extracted, type Limits } from './extracted.ts';
import { extractHtml } from './html.ts';

/** RFC 5322 and 2045: headers, body and attachments, which `inner` reads. */
export async function extractMail(
  bytes: Buffer,
  limits: Limits,
  inner: (name: string, bytes: Buffer) => Promise<Extracted>,
): Promise<Extracted> {
  const out = new TextBuilder(limits);
  const mail = await new PostalMime({
    forceRfc822Attachments: true,
    attachmentEncoding: 'arraybuffer',
  }).parse(bytes);
  const header = (name: string, text: string) => {
    if (text === '') return;
    out.gap(`${name}: `);
    out.add(text, { header: name });
    out.gap('\n');
  };
  const list = (all: readonly Address[] | undefined) =>
    (all ?? []).map((a) => (a.name ? `${a.name} <${a.address ?? ''}>` : (a.address ?? ''))).join(', ');
  header('From', list(mail.from ? [mail.from] : []));
  header('To', list(mail.to));
  header('Cc', list(mail.cc));
  header('Bcc', list(mail.bcc));
  header('Reply-To', list(mail.replyTo));
  header('Subject', mail.subject ?? '');
  header('Date', mail.date ?? '');
  for (const { key, value } of mail.headers)
    if (key === 'x-originating-ip') header('X-Originating-IP', value);
  out.gap('\n');
  if (mail.text) {
    out.add(mail.text, { role: 'body' });
    out.gap('\n');
  } else if (mail.html) out.part('body', extractHtml(mail.html, limits));
  for (const [i, a] of mail.attachments.entries()) {
    const name = a.filename ?? `attachment ${i + 1}`;
    const content =
      typeof a.content === 'string' ? Buffer.from(a.content) : Buffer.from(a.content as ArrayBuffer);
    out.part(name, await inner(name, content));
  }
  return out.done('mail');
}

/** RFC 4155: one mail after the other. */
export async function extractMbox(
  bytes: Buffer,
  limits: Limits,
  inner: (name: string, bytes: Buffer) => Promise<Extracted>,
): Promise<Extracted> {
  const out = new TextBuilder(limits);
  const source = bytes.toString('latin1');
  const starts = [...source.matchAll(/^From [^\n]*\d{4}\r?$/gm)].map((m) => m.index);
  for (const [i, start] of starts.entries()) {
    const body = source.indexOf('\n', start) + 1;
    const one = source.slice(body, starts[i + 1] ?? source.length).replace(/^>(>*From )/gm, '$1');
    out.part(`message ${i + 1}`, await extractMail(Buffer.from(one, 'latin1'), limits, inner));
  }
  return out.done('mailbox');
}

/** What the properties of cards and calendars are to a reader. */
const NAMES: Readonly<Record<string, string>> = {
  fn: 'full name',
  n: 'name',
  bday: 'birth date',
  tel: 'phone',
  email: 'email',
  adr: 'address',
  note: 'note',
  org: 'organisation',
  attendee: 'attendee',
  organizer: 'organizer',
  summary: 'subject',
  description: 'description',
  location: 'location',
  nickname: 'nickname',
  uid: 'uid',
  url: 'url',
  title: 'job title',
};
const NOISE = new Set([
  'version',
  'prodid',
  'dtstamp',
  'uid',
  'rev',
  'sequence',
  'calscale',
  'method',
  'status',
  'transp',
]);

/** RFC 6350 and 5545: every property under its name, a card or event a record. */
export function extractCards(text: string, limits: Limits, kind: string): Extracted {
  const out = new TextBuilder(limits);
  const walk = (component: ICAL.Component) => {
    const record = out.records++;
    for (const property of component.getAllProperties()) {
      if (NOISE.has(property.name)) continue;
      const value = property
        .getValues()
        .flat(2)
        .map(String)
        .filter((v) => v !== '')
        .join(property.name === 'n' || property.name === 'adr' ? ', ' : ' ');
      out.add(
        value.replace(/^(?:mailto|tel):/i, ''),
        { header: property.name.toUpperCase() },
        { heading: NAMES[property.name] ?? property.name, record },
      );
      const name = property.getParameter('cn');
      if (typeof name === 'string') {
        out.gap(' ');
        out.add(name, { header: property.name.toUpperCase() }, { heading: 'name', record });
      }
      out.gap('\n');
    }
    for (const sub of component.getAllSubcomponents()) walk(sub);
  };
  try {
    const parsed = ICAL.parse(text);
    for (const one of Array.isArray(parsed[0]) ? parsed : [parsed]) walk(new ICAL.Component(one));
  } catch (error) {
    throw new UnreadableError('damaged', `It is no sound ${kind} file: ${(error as Error).message}`);
  }
  return out.done(kind);
}
