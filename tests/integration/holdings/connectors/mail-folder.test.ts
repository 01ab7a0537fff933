import { spawnSync } from 'node:child_process';
import {
  appendFileSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { hostname, tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { headerField } from '../../../../src/server/holdings/connectors/mail-header.ts';
import { mailFolderConnector } from '../../../../src/server/holdings/connectors/mail-folder.ts';
import {
  FixedItemError,
  ItemError,
  type ListedItem,
} from '../../../../src/server/holdings/connectors/connector.ts';
import { connectorSuite, contentText } from './suite.ts';

const home = mkdtempSync(join(tmpdir(), 'yare-mail-'));
afterAll(() => rmSync(home, { recursive: true, force: true }));

const mail = (subject: string, body: string) =>
  `From: Lotte <lotte@brindle.example>\nTo: desk@brindle.example\nSubject: ${subject}\nMessage-ID: <${subject.replace(/\W/g, '')}@x.example>\n\n${body}\n`;

function maildir(path: string, messages: Readonly<Record<string, string>>): void {
  for (const sub of ['cur', 'new', 'tmp']) mkdirSync(join(path, sub), { recursive: true });
  for (const [name, text] of Object.entries(messages)) writeFileSync(join(path, name), text);
}

const mbox = (messages: readonly string[]) =>
  messages
    .map((m) => `From lotte@brindle.example Mon Nov 23 10:00:00 2026\n${m.replace(/^(>*From )/gm, '>$1')}\n`)
    .join('');

describe('mail folders', () => {
  const root = join(home, 'mail');
  maildir(join(root, 'terminal'), {
    'cur/1.a.host:2,S': mail('List', 'the list for 19:40'),
    'new/2.b.host': mail('New', 'unread'),
    'tmp/3.c.host': mail('Half', 'not delivered'),
  });
  maildir(join(root, 'terminal', '.Archive.2025'), { 'cur/4.d.host:2,': mail('Old', 'old') });
  mkdirSync(join(root, 'exports'));
  writeFileSync(
    join(root, 'exports', 'crew.mbox'),
    mbox([mail('One', 'first\n\nFrom here on quoted 2026'), mail('Two', 'second'), mail('Two', 'second')]),
  );
  writeFileSync(join(root, 'exports', 'notes.txt'), 'no mail');
  connectorSuite(() => ({
    removes: true,
    connector: () => Promise.resolve(mailFolderConnector(root)),
    expected: { terminal: 2, 'terminal/.Archive.2025': 1, 'exports/crew.mbox': 3 },
    sample: { place: 'terminal', text: 'the list for 19:40' },
    remove: () => Promise.resolve(rmSync(join(root, 'terminal', 'cur', '1.a.host:2,S'))),
  }));

  it('quotes nothing that was not quoted, and titles a message by its subject', async () => {
    const connector = mailFolderConnector(root);
    const place = 'exports/crew.mbox';
    const items = await connector.details(place, (await connector.list(place)).items);
    expect(await contentText(connector, place, items[0] as never)).toBe(
      mail('One', 'first\n\nFrom here on quoted 2026') + '\n',
    );
    expect(await connector.read(place, items[1] as never)).toMatchObject({ title: 'Two' });
  });
});

describe('an mbox file', () => {
  const root = join(home, 'boxes');
  mkdirSync(root);
  let n = 0;
  const begin = async (messages: readonly string[]) => {
    const place = `box${n++}.mbox`;
    const file = join(root, place);
    writeFileSync(file, mbox(messages), { mode: 0o640 });
    const connector = mailFolderConnector(root);
    const items = async () => connector.details(place, (await connector.list(place)).items);
    const subjects = async () =>
      Promise.all(
        (await items()).map(async (i) =>
          headerField(Buffer.from(await contentText(connector, place, i)), 'subject'),
        ),
      );
    return {
      place,
      file,
      connector,
      items,
      subjects,
      item: async (at: number) => (await items())[at] as ListedItem,
    };
  };
  const three = ['One', 'Two', 'Three'].map((s) => mail(s, `about ${s}\n\nFrom now on\n>From then on`));

  it('loses the message that goes, and gets it back behind the others', async () => {
    const { place, file, connector, item, subjects } = await begin(three);
    const two = await item(1);
    const bytes = Buffer.from(await contentText(connector, place, two));
    const removed = await connector.remove?.(place, two);
    expect(removed?.method).toBe('taken out of the mailbox file');
    expect(await subjects()).toEqual(['One', 'Three']);
    expect(readFileSync(file, 'utf8')).toBe(mbox([three[0] ?? '', three[2] ?? '']));
    expect(statSync(file).mode & 0o777).toBe(0o640);
    await expect(connector.remove?.(place, two)).rejects.toBeInstanceOf(ItemError);
    const back = await connector.restore?.(place, two, bytes, null);
    expect(await subjects()).toEqual(['One', 'Three', 'Two']);
    expect(back && (await contentText(connector, place, back))).toBe(bytes.toString());
    expect(back?.name).toBe(two.name);
    await expect(connector.restore?.(place, two, bytes, null)).rejects.toThrow('there already');
  });

  it('tells of each message when it was delivered, as its separator says', async () => {
    const { file, connector, place } = await begin(three);
    const dates = ['Mon Jan  4 10:00:00 2021', 'Tue Feb 31 10:00:00 2021', 'Thu Feb 29 23:59:59 GMT 2024'];
    let n = 0;
    writeFileSync(
      file,
      mbox(three).replace(
        /^From lotte@brindle\.example .*$/gm,
        () => `From lotte@brindle.example ${dates[n++]}`,
      ),
    );
    utimesSync(file, new Date('2026-01-01T00:00:00Z'), new Date('2026-01-01T00:00:00Z'));
    const listed = await connector.details(place, (await connector.list(place)).items);
    expect(listed.map((l) => [l.created, l.changed])).toEqual([
      ['2021-01-04T10:00:00.000Z', '2021-01-04T10:00:00.000Z'],
      // What is no day is not told, and the file itself counts.
      [null, '2026-01-01T00:00:00.000Z'],
      ['2024-02-29T23:59:59.000Z', '2024-02-29T23:59:59.000Z'],
    ]);
  });

  it('can lose its first, its last and its only one', async () => {
    const { place, file, connector, item, subjects } = await begin(three);
    await connector.remove?.(place, await item(0));
    await connector.remove?.(place, await item(1));
    expect(await subjects()).toEqual(['Two']);
    await connector.remove?.(place, await item(0));
    expect([await subjects(), readFileSync(file, 'utf8')]).toEqual([[], '']);
  });

  it('keeps what comes in while it is written', async () => {
    const big = Array.from({ length: 400 }, (_, i) => mail(`M${i}`, 'x'.repeat(20_000)));
    const { place, file, connector, item, subjects } = await begin(big);
    const first = await item(0);
    let added = 0;
    const timer = setInterval(() => appendFileSync(file, mbox([mail(`Late ${added++}`, 'came in')])), 1);
    await connector.remove?.(place, first);
    clearInterval(timer);
    const found = await subjects();
    expect(found).not.toContain('M0');
    expect(found.filter((s) => s?.startsWith('M'))).toHaveLength(399);
    expect(found.filter((s) => s?.startsWith('Late'))).toHaveLength(added);
  });

  it('waits for another program, and says so where that takes too long', async () => {
    const { place, file, connector, item, subjects } = await begin(three);
    writeFileSync(`${file}.lock`, 'another');
    const one = await item(0);
    setTimeout(() => rmSync(`${file}.lock`), 400);
    await connector.remove?.(place, one);
    expect(await subjects()).toEqual(['Two', 'Three']);
    writeFileSync(`${file}.lock`, 'another');
    await expect(connector.remove?.(place, await item(0))).rejects.toThrow('locked');
    // One that this program left when it was killed stands in nobody's way.
    writeFileSync(`${file}.lock`, 'yare 1');
    utimesSync(`${file}.lock`, new Date(0), new Date(0));
    await connector.remove?.(place, await item(0));
    expect(await subjects()).toEqual(['Three']);
    // The number of a process that is over.
    writeFileSync(`${file}.lock`, `yare ${spawnSync('true').pid} ${hostname()}\n`);
    await connector.remove?.(place, await item(0));
    expect(await subjects()).toEqual([]);
  }, 20_000);

  it('does not part twins', async () => {
    const { place, connector, item } = await begin([three[0] ?? '', three[0] ?? '']);
    await expect(connector.remove?.(place, await item(0))).rejects.toBeInstanceOf(FixedItemError);
  });
});

describe('a mailbox that is written to while it is read', () => {
  it('finds a message again that was read and marked meanwhile', async () => {
    const root = join(home, 'marked');
    maildir(root, { 'new/1.a.host': mail('Hello', 'body of it') });
    const connector = mailFolderConnector(root);
    const [item] = await connector.details('', (await connector.list('')).items);
    renameSync(join(root, 'new', '1.a.host'), join(root, 'cur', '1.a.host:2,RS'));
    expect(await contentText(connector, '', item as never)).toContain('body of it');
    expect((await connector.list('')).items).toEqual([item?.name]);
  });

  it('reads an mbox file as far as it went, and what was added the next time', async () => {
    const root = join(home, 'growing');
    mkdirSync(root);
    const file = join(root, 'in.mbox');
    writeFileSync(file, mbox([mail('A', 'one'), mail('B', 'two')]));
    const connector = mailFolderConnector(root);
    const before = (await connector.list('in.mbox')).items;
    appendFileSync(file, mbox([mail('C', 'three')]));
    const items = await connector.details('in.mbox', before);
    expect(await contentText(connector, 'in.mbox', items[1] as never)).toContain('two');
    const after = (await connector.list('in.mbox')).items;
    expect(after.slice(0, 2)).toEqual(before);
    expect(after).toHaveLength(3);
    // Taken out at the front, the others are the same ones still.
    writeFileSync(file, readFileSync(file, 'utf8').slice(mbox([mail('A', 'one')]).length));
    expect((await connector.list('in.mbox')).items).toEqual(after.slice(1));
  });

  it('does without a line end, and with lines of megabytes', async () => {
    const root = join(home, 'long');
    mkdirSync(root);
    writeFileSync(join(root, 'in.mbox'), mbox([mail('A', 'x'.repeat(3e6)), mail('B', 'end')]).trimEnd());
    const connector = mailFolderConnector(root);
    const items = await connector.details('in.mbox', (await connector.list('in.mbox')).items);
    expect(items).toHaveLength(2);
    expect(await contentText(connector, 'in.mbox', items[1] as never)).toMatch(/end$/);
  });
});

it.each([
  ['Subject: RE: list for 19:40 sailing\n\nbody', 'RE: list for 19:40 sailing'],
  [
    'Subject: =?utf-8?Q?Bordliste_=C3=98stervig?=\r\n =?utf-8?B?IDMuIG5vdg==?=\r\n\r\nbody',
    'Bordliste Østervig 3. nov',
  ],
  ['X-Subject: no\n\nSubject: in the body', ''],
  ['Subject: =?nonsense?Q?x?=\n\n', '=?nonsense?Q?x?='],
])('the subject of %j is %j', (text, subject) =>
  expect(headerField(Buffer.from(text), 'subject')).toBe(subject),
);

describe('a message that is replaced', () => {
  const root = join(home, 'replaced');
  maildir(join(root, 'box'), {
    'cur/1.a.host:2,S': mail('List', 'old'),
    'cur/2.b.host,S=99:2,S': mail('Sized', 'old'),
  });
  writeFileSync(join(root, 'in.mbox'), mbox([mail('One', 'first')]));
  const connector = mailFolderConnector(root);
  const listed = async (place: string, name: string) => (await connector.details(place, [name]))[0]!;

  it('keeps its name and its flags, and is new to the last byte', async () => {
    const now = await connector.replace!(
      'box',
      await listed('box', '1.a.host'),
      Buffer.from('new, and longer'),
    );
    expect(readFileSync(join(root, 'box/cur/1.a.host:2,S'), 'utf8')).toBe('new, and longer');
    expect(now).toEqual(await listed('box', '1.a.host'));
    expect((await connector.list('box')).items).toHaveLength(2);
  });

  it('is found where a mail program moved it meanwhile', async () => {
    const is = await listed('box', '1.a.host');
    renameSync(join(root, 'box/cur/1.a.host:2,S'), join(root, 'box/cur/1.a.host:2,RS'));
    await connector.replace!('box', is, Buffer.from('newer'));
    expect(readFileSync(join(root, 'box/cur/1.a.host:2,RS'), 'utf8')).toBe('newer');
  });

  it.each([
    ['box', '1.a.host', 'somebody changed it', '7777'],
    ['box', 'gone', 'deleted', '1'],
    ['box', '2.b.host,S=99', 'its name tells its size', undefined],
  ])('stays as it is: %s, %s, since %s', async (place, name, why, version) => {
    const is = (await connector.details(place, [name]))[0] ?? {
      name,
      size: 1,
      created: null,
      changed: null,
      owner: '',
      version: '1',
    };
    await expect(
      connector.replace!(place, { ...is, version: version ?? is.version }, Buffer.from('mine')),
    ).rejects.toThrow(why);
  });

  it('never is one of an mbox file', async () => {
    const [name = ''] = (await connector.list('in.mbox')).items;
    await expect(
      connector.replace!('in.mbox', await listed('in.mbox', name), Buffer.from('mine')),
    ).rejects.toThrow('the mailbox is one file');
  });
});
