import fc from 'fast-check';
import ICAL from 'ical.js';
import MailComposer from 'nodemailer/lib/mail-composer/index.js';
import PostalMime from 'postal-mime';
import { describe, expect, it } from 'vitest';
import { Marking } from './marking.ts';
import { isMail, readMailLevel, stampMail, unstampMail } from './stamp-mail.ts';
import { carrierOf, readFileLevel, stampFile, unstampFile } from './stamp-file.ts';

const LEVEL = { id: 'confidential', name: 'Confidential' };
const marking = (header: string, footer = '') =>
  Marking.parse({
    header: { text: header, colour: '#8a4b00', align: 'right' },
    ...(footer ? { footer: { text: footer } } : {}),
    watermark: { text: 'across' },
  });
const PLAIN = marking('Confidential', 'Confidential - Ines');
const WIDE = marking('Confidentiel · 機密', 'سري');

const raw = (...lines: readonly string[]) => new Uint8Array(Buffer.from(lines.join('\r\n'), 'latin1'));
const text = (bytes: Uint8Array) => Buffer.from(bytes).toString('latin1');
const HEAD = [
  'From: Ines <ines@line.example>',
  'To: a@b.example',
  'Subject: Berth 4',
  'Date: Mon, 1 Jun 2026 08:00:00 +0200',
];
const base64 = (content: string | Buffer, width = 76) =>
  (
    Buffer.from(content)
      .toString('base64')
      .match(new RegExp(`.{1,${width}}`, 'g')) ?? []
  ).join('\r\n');

const EVENT = [
  'BEGIN:VCALENDAR',
  'VERSION:2.0',
  'PRODID:-//Line//EN',
  'METHOD:REQUEST',
  'BEGIN:VEVENT',
  'UID:1@line.example',
  'DTSTAMP:20260601T080000Z',
  'DTSTART:20260602T080000Z',
  'SUMMARY:Berth 4',
  'DESCRIPTION;LANGUAGE=en:About the collision\\, with all that was said and a line that is folded in t',
  ' he middle',
  'BEGIN:VALARM',
  'ACTION:DISPLAY',
  'TRIGGER:-PT15M',
  'DESCRIPTION:Reminder',
  'END:VALARM',
  'END:VEVENT',
  'END:VCALENDAR',
  '',
];

/** Messages as different programs send them. */
const MESSAGES: Readonly<Record<string, Uint8Array>> = {
  'without MIME': raw(...HEAD, '', 'The ramp at berth 4 is bent.', ''),
  'without a body': raw(...HEAD, '', ''),
  '7bit': raw(...HEAD, 'MIME-Version: 1.0', 'Content-Type: text/plain', '', 'One', '.', 'From here', ''),
  'latin-1 in 8bit': raw(
    ...HEAD,
    'MIME-Version: 1.0',
    'Content-Type: text/plain; charset=iso-8859-1; format=flowed',
    'Content-Transfer-Encoding: 8bit',
    '',
    'Fahrpl\xe4ne und Gr\xfc\xdfe',
  ),
  'utf-8 in 8bit': raw(
    ...HEAD,
    'MIME-Version: 1.0',
    'Content-Type: text/plain; charset="UTF-8"',
    'Content-Transfer-Encoding: 8bit',
    '',
    Buffer.from('Østervig, 機密\r\n').toString('latin1'),
  ),
  'quoted-printable': raw(
    ...HEAD,
    'MIME-Version: 1.0',
    'Content-Type: text/plain; charset=utf-8',
    'Content-Transfer-Encoding: quoted-printable',
    '',
    'Halmsund to =C3=98stervig, a line that goes on and on =',
    'until it ends =3D here',
    'and again=20',
    '',
  ),
  'quoted ascii': raw(
    ...HEAD,
    'MIME-Version: 1.0',
    'Content-Type: text/plain; charset=us-ascii',
    'Content-Transfer-Encoding: quoted-printable',
    '',
    'a=',
    'b',
  ),
  'base64, latin-1': raw(
    ...HEAD,
    'MIME-Version: 1.0',
    'Content-Type: text/plain; charset=windows-1252',
    'Content-Transfer-Encoding: base64',
    '',
    base64(Buffer.from('Gr\xfc\xdfe aus Kaltenhagen '.repeat(20), 'latin1'), 60),
    '',
  ),
  'page alone': raw(
    ...HEAD,
    'MIME-Version: 1.0',
    'Content-Type: text/html; charset=utf-8',
    'Content-Transfer-Encoding: quoted-printable',
    '',
    '<!DOCTYPE html><html><head><title>x</title></head><body style=3D"margin:0">=',
    '<p>Berth 4</p></body></html>',
    '',
  ),
  'page without a body element': raw(
    ...HEAD,
    'MIME-Version: 1.0',
    'Content-Type: text/html; charset=us-ascii',
    '',
    '<p>Berth',
    '4</p>',
  ),
  'both forms, related and attached': raw(
    ...HEAD,
    'MIME-Version: 1.0',
    'Content-Type: multipart/mixed;',
    '\tboundary="out er"',
    '',
    'This is a message in parts.',
    '--out er',
    'Content-Type: multipart/alternative; boundary=in',
    '',
    '--in',
    'Content-Type: text/plain; charset=utf-8',
    '',
    'Berth 4',
    '--in',
    'Content-Type: multipart/related; boundary=rel',
    '',
    '--rel',
    'Content-Type: text/html; charset=utf-8',
    'Content-Transfer-Encoding: base64',
    '',
    base64('<html><body><p>Berth 4</p></body></html>'),
    '--rel',
    'Content-Type: image/png',
    'Content-Transfer-Encoding: base64',
    '',
    base64('no picture'),
    '--rel--',
    '--in--',
    '',
    '--out er',
    'Content-Type: text/plain; name=notes.txt',
    'Content-Disposition: attachment; filename=notes.txt',
    '',
    'Notes',
    '--out er',
    'Content-Type: message/rfc822',
    '',
    'From: x@y.example',
    'Subject: forwarded',
    '',
    'Forwarded text',
    '--out er--',
    'after the end',
  ),
  invitation: raw(
    ...HEAD,
    'MIME-Version: 1.0',
    'Content-Type: multipart/alternative; boundary=in',
    '',
    '--in',
    'Content-Type: text/plain; charset=utf-8',
    '',
    'You are invited.',
    '--in',
    'Content-Type: text/calendar; charset=utf-8; method=REQUEST',
    'Content-Transfer-Encoding: 8bit',
    '',
    ...EVENT,
    '--in--',
    '',
  ),
  'invitation in base64 without a description': raw(
    ...HEAD,
    'MIME-Version: 1.0',
    'Content-Type: text/calendar; charset=utf-8; method=REQUEST',
    'Content-Transfer-Encoding: base64',
    '',
    base64(EVENT.filter((l) => !/^DESC.*LANG|^ he/.test(l)).join('\r\n')),
    '',
  ),
  'line feeds alone': new Uint8Array(
    Buffer.from(text(raw(...HEAD, '', 'The ramp', 'at berth 4', '')).replaceAll('\r\n', '\n')),
  ),
};

const read = (bytes: Uint8Array) => PostalMime.parse(Buffer.from(bytes), { forceRfc822Attachments: true });

describe.each(Object.entries(MESSAGES))('A message: %s', (name, message) => {
  it.each([
    ['plain letters', PLAIN],
    ['letters of other scripts', WIDE],
  ])('says its level in %s, and comes back to the byte', async (_, lines) => {
    const stamped = stampMail(message, lines, LEVEL);
    expect(readMailLevel(stamped)).toEqual(LEVEL);
    expect(text(unstampMail(stamped))).toBe(text(message));
    expect(text(stampMail(stamped, lines, LEVEL))).toBe(text(stamped));
    const other = stampMail(stamped, marking('Open'), { id: 'open', name: 'Open' });
    expect(text(other)).toBe(text(stampMail(message, marking('Open'), { id: 'open', name: 'Open' })));
    const [was, is] = [await read(message), await read(stamped)];
    expect(is.subject).toBe(was.subject);
    expect(is.attachments.length).toBe(was.attachments.length);
    if (is.text !== undefined) {
      expect(is.text.trim().startsWith(lines.header?.text ?? '')).toBe(true);
      expect(is.text.trim().endsWith(lines.footer?.text ?? '')).toBe(true);
      expect(is.text).toContain(was.text?.trim() ?? '');
    }
    if (is.html !== undefined && was.html !== undefined) {
      expect(is.html).toMatch(/<div data-yare-marking="header"/);
      expect(is.html.indexOf('data-yare-marking="header"')).toBeLessThan(is.html.indexOf('Berth'));
      expect(is.html.indexOf('data-yare-marking="footer"')).toBeGreaterThan(is.html.indexOf('Berth'));
    }
    expect(text(stamped)).not.toContain('across');
    if (!name.startsWith('invitation')) expect(carrierOf(stamped)).toBe('mail');
  });

  it('keeps lines short enough to be sent', () => {
    const long = marking('Confidential '.repeat(40).slice(0, 300), 'x'.repeat(300));
    for (const line of text(stampMail(message, long, LEVEL)).split(/\r?\n/))
      expect(line.length).toBeLessThan(999);
  });
});

describe('An invitation', () => {
  const events = async (bytes: Uint8Array) => {
    const mail = await read(bytes);
    const part = mail.attachments.find((a) => a.mimeType === 'text/calendar');
    const said = new TextDecoder().decode(part?.content as ArrayBuffer);
    return { said, event: new ICAL.Component(ICAL.parse(said) as never).getFirstSubcomponent('vevent') };
  };
  const invitation = MESSAGES['invitation'] as Uint8Array;

  it('has its marking around what it says, and its level as a property', async () => {
    const { event, said } = await events(stampMail(invitation, WIDE, LEVEL));
    expect(event?.getFirstPropertyValue('description')).toBe(
      'Confidentiel · 機密\n\nAbout the collision, with all that was said and a line that is folded in the middle\n\nسري',
    );
    expect(event?.getFirstPropertyValue('x-yare-level')).toBe('confidential');
    expect(event?.getFirstSubcomponent('valarm')?.getFirstPropertyValue('description')).toBe('Reminder');
    for (const line of said.split(/\r?\n/)) expect(Buffer.byteLength(line)).toBeLessThanOrEqual(76);
    expect(carrierOf(invitation)).toBe('invitations');
  });

  it('gets a description where it has none', async () => {
    const bare = MESSAGES['invitation in base64 without a description'] as Uint8Array;
    const { event } = await events(stampMail(bare, PLAIN, LEVEL));
    expect(event?.getFirstPropertyValue('description')).toBe('Confidential\n\nConfidential - Ines');
  });

  it('escapes what would end its lines', async () => {
    const { event } = await events(stampMail(invitation, marking('a;b,c\\d'), LEVEL));
    expect(String(event?.getFirstPropertyValue('description')).split('\n')[0]).toBe('a;b,c\\d');
  });
});

describe('What was sent anew on its way', () => {
  it('loses its lines all the same, and keeps what it says', async () => {
    const message = MESSAGES['both forms, related and attached'] as Uint8Array;
    const stamped = await read(stampMail(message, PLAIN, LEVEL));
    const composed = await new MailComposer({
      headers: Object.fromEntries(
        stamped.headers.filter((h) => h.key.startsWith('yare-')).map((h) => [h.key, h.value]),
      ),
      from: 'a@b.example',
      subject: stamped.subject ?? '',
      text: stamped.text ?? '',
      html: stamped.html ?? '',
    })
      .compile()
      .build();
    const bare = await read(unstampMail(new Uint8Array(composed)));
    expect(bare.text?.trim()).toBe('Berth 4');
    expect(bare.html).toContain('<p>Berth 4</p>');
    expect(bare.html).not.toContain('yare-marking');
    expect(bare.headers.some((h) => h.key.startsWith('yare-'))).toBe(false);
  });

  it('leaves what somebody wrote into it', () => {
    const stamped = text(stampMail(MESSAGES['7bit'] as Uint8Array, PLAIN, LEVEL));
    const edited = stamped.replace('One', 'Two, and more');
    expect(text(unstampMail(raw(edited)))).toBe(
      text(MESSAGES['7bit'] as Uint8Array).replace('One', 'Two, and more'),
    );
  });

  it.each([
    '',
    'AAAA',
    btoa('{}'),
    btoa(JSON.stringify({ parts: [{ path: '9' }], header: 'x', footer: null })),
  ])('takes no orders from a record that is none: “%s”', (record) => {
    const forged = raw(
      'Yare-Level: open;',
      ` name*=utf-8''Open`,
      `Yare-Marking: ${record}`,
      ...HEAD,
      '',
      'Text',
    );
    expect(text(unstampMail(forged))).toBe(text(raw(...HEAD, '', 'Text')));
  });
});

describe('Refused', () => {
  const of = (...more: readonly string[]) => raw(...HEAD, 'MIME-Version: 1.0', ...more);
  it.each([
    [
      'signed',
      of(
        'Content-Type: multipart/signed; boundary=s; protocol="application/pkcs7-signature"',
        '',
        '--s',
        '',
        'x',
        '--s--',
      ),
    ],
    ['signed', of('Content-Type: application/pkcs7-mime; smime-type=signed-data', '', 'x')],
    ['signed', of('', '-----BEGIN PGP SIGNED MESSAGE-----', 'x')],
    ['encrypted', of('Content-Type: multipart/encrypted; boundary=s', '', '--s', '', 'x', '--s--')],
    ['encrypted', of('Content-Type: application/x-pkcs7-mime; smime-type=enveloped-data', '', 'x')],
    ['encrypted', of('', '-----BEGIN PGP MESSAGE-----', 'x')],
    ['damaged', of('Content-Type: multipart/mixed; boundary=none', '', 'nothing')],
    ['damaged', of('Content-Type: multipart/mixed', '', 'nothing')],
    ['no room', of('Content-Type: text/plain; charset=utf-16', '', 'x')],
  ])('%s, and says why', (why, message) => {
    expect(() => stampMail(message, PLAIN, LEVEL)).toThrow(expect.objectContaining({ why }));
  });

  it('a marking that its letters cannot write, in a text that is quoted', () => {
    const message = of(
      'Content-Type: text/plain; charset=iso-8859-1',
      'Content-Transfer-Encoding: quoted-printable',
      '',
      'Gr=FC=DFe',
    );
    expect(() => stampMail(message, WIDE, LEVEL)).toThrow(/iso-8859-1/);
    expect(text(unstampMail(stampMail(message, marking('Fährplan'), LEVEL)))).toBe(text(message));
  });

  it('is no mail: a list, a letter, source code', () => {
    for (const words of ['name: value\r\n\r\nx', 'Dear Ines,\r\nSubject: none', 'from x import y', ''])
      expect(isMail(raw(words))).toBe(false);
  });
});

describe('Any message that a composer makes', () => {
  it('comes back to the byte, and is one way whatever was on it before', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.record({
          text: fc.string({ unit: 'binary', maxLength: 300 }),
          html: fc.option(fc.string({ unit: 'grapheme', maxLength: 200 }), { nil: undefined }),
          attached: fc.boolean(),
          textEncoding: fc.constantFrom('quoted-printable' as const, 'base64' as const),
          header: fc.string({ unit: 'grapheme', minLength: 1, maxLength: 60 }),
          footer: fc.string({ unit: 'grapheme-ascii', maxLength: 60 }),
        }),
        async ({ text: plain, html, attached, textEncoding, header, footer }) => {
          fc.pre(header.trim() !== '');
          const message = new Uint8Array(
            await new MailComposer({
              from: 'ines@line.example',
              to: 'a@b.example',
              subject: 'Any',
              date: new Date(0),
              text: plain,
              ...(html === undefined ? {} : { html }),
              textEncoding,
              ...(attached ? { attachments: [{ filename: 'a.txt', content: 'attached' }] } : {}),
            })
              .compile()
              .build(),
          );
          const lines = marking(header, footer.trim());
          const { bytes: stamped } = await stampFile(message, lines, LEVEL);
          expect(await readFileLevel(stamped)).toEqual(LEVEL);
          expect(text(unstampFile(stamped).bytes)).toBe(text(message));
          const twice = await stampFile(stamped, PLAIN, { id: 'open', name: 'Öffen' });
          expect(text(twice.bytes)).toBe(text(stampMail(message, PLAIN, { id: 'open', name: 'Öffen' })));
        },
      ),
      { numRuns: 60 },
    );
  });
});
