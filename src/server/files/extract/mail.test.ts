import { describe, expect, it } from 'vitest';
import { extract } from './extract.ts';

async function read(name: string, source: string | Buffer): Promise<readonly string[]> {
  const { text, segments, problems } = await extract(name, Buffer.from(source));
  expect(problems).toEqual([]);
  return segments.map((s) => {
    const { part, header, role } = s.place;
    const where = [part, header, role].filter((p) => p !== undefined).join(' ');
    return `${where}${s.heading === undefined ? '' : ` <${s.heading}>`}: ${text.slice(s.start, s.end).trim()}`;
  });
}

const mail = (lines: readonly string[]) => lines.join('\r\n');

describe('a mail', () => {
  it('is read with its headers and its body, in whatever encoding they came', async () => {
    expect(
      await read(
        'a.eml',
        mail([
          'From: =?utf-8?q?S=C3=B8ren_Kj=C3=A6r?= <soren@x.example>',
          'To: privacy@x.example, "Tove L." <tove@x.example>',
          'Subject: =?iso-8859-1?q?Indsigt_=E6?=',
          'X-Originating-IP: [203.0.113.7]',
          'MIME-Version: 1.0',
          'Content-Type: text/plain; charset=iso-8859-1',
          'Content-Transfer-Encoding: quoted-printable',
          '',
          'K=E6re Tove',
        ]),
      ),
    ).toEqual([
      'From: Søren Kjær <soren@x.example>',
      'To: privacy@x.example, Tove L. <tove@x.example>',
      'Subject: Indsigt æ',
      'X-Originating-IP: [203.0.113.7]',
      'body: Kære Tove',
    ]);
  });

  it('has the mails and files that are attached to it', async () => {
    const inner = mail(['From: osei@x.example', 'To: a@x.example', 'Subject: inner', '', 'CPR 070761-4285']);
    expect(
      await read(
        'a.eml',
        mail([
          'From: a@x.example',
          'To: b@x.example',
          'Subject: outer',
          'MIME-Version: 1.0',
          'Content-Type: multipart/mixed; boundary=b',
          '',
          '--b',
          'Content-Type: text/html',
          '',
          '<p>See <b>below</b></p>',
          '--b',
          'Content-Type: text/csv; name=list.csv',
          'Content-Disposition: attachment; filename=list.csv',
          '',
          'name,phone',
          'Tove,32145566',
          '--b',
          'Content-Type: message/rfc822',
          'Content-Disposition: attachment; filename=fwd.eml',
          '',
          inner,
          '--b--',
          '',
        ]),
      ),
    ).toEqual(
      expect.arrayContaining([
        'Subject: outer',
        'body: See',
        'list.csv <name>: Tove',
        'list.csv <phone>: 32145566',
        'fwd.eml From: osei@x.example',
        'fwd.eml body: CPR 070761-4285',
      ]),
    );
  });

  it('in a mailbox is one of several', async () => {
    const box = [
      'From tove@x.example Mon Nov 23 10:00:00 2026',
      'From: tove@x.example',
      'To: a@x.example',
      'Subject: one',
      '',
      'first',
      '>From here on quoted',
      '',
      'From osei@x.example Mon Nov 23 11:00:00 2026',
      'From: osei@x.example',
      'To: a@x.example',
      'Subject: two',
      '',
      'second',
      '',
    ].join('\n');
    const told = await read('a.mbox', box);
    expect(told).toContain('message 1 Subject: one');
    expect(told).toContain('message 1 body: first\nFrom here on quoted');
    expect(told).toContain('message 2 body: second');
  });
});

describe('cards and calendars', () => {
  it('tell their properties, folded or escaped', async () => {
    const told = await read(
      'a.vcf',
      'BEGIN:VCARD\r\nVERSION:3.0\r\nN:Lind;Tove;;;\r\nFN:Tove Lind\r\nTEL;TYPE=CELL:+45 32 14\r\n  55 66\r\nNOTE:a\\, b\r\nEND:VCARD\r\n',
    );
    expect(told.join('\n')).toContain('Tove Lind');
    expect(told.join('\n')).toContain('+45 32 14 55 66');
    expect(told.join('\n')).toContain('a, b');
    const events = await read(
      'a.ics',
      'BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\nBEGIN:VEVENT\r\nUID:1\r\nDTSTAMP:20261120T081500Z\r\nSUMMARY:Talk with Tove\r\nATTENDEE;CN=Osei Darko:mailto:osei@x.example\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n',
    );
    expect(events.join('\n')).toContain('Talk with Tove');
    expect(events.join('\n')).toContain('Osei Darko');
  });
});
