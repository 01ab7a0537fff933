import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import type { Account } from '../../../src/core/accounts/authority.ts';
import { readFileLevel } from '../../../src/core/protection/stamp/stamp-file.ts';
import { PublicationContent } from '../../../src/core/protection/publishing/publication.ts';
import {
  addProgram,
  endProgram,
  listPrograms,
  programOf,
} from '../../../src/server/accounts/programs/program.ts';
import {
  everyMember,
  findMember,
  searchStaff,
  staffFigures,
  takeStaffList,
  writeStaff,
} from '../../../src/server/accounts/staff/staff.ts';
import { staffByOwner } from '../../../src/server/accounts/staff/staff-owner.ts';
import type { Context } from '../../../src/server/context.ts';
import { carried, chooseLevel, levelsFor } from '../../../src/server/protection/publishing/choose-level.ts';
import { addPublication, PUBLICATION } from '../../../src/server/protection/publishing/publications.ts';
import {
  explainOffered,
  memberOffered,
  publicationOutlook,
} from '../../../src/server/protection/publishing/published.ts';
import { LEVEL } from '../../../src/server/protection/levels/levels.ts';
import { moveRule } from '../../../src/server/rules/rule-moves.ts';
import { readRule } from '../../../src/server/rules/rule-store.ts';
import { editRule } from '../../../src/server/rules/rule-edits.ts';
import { readSettings } from '../../../src/server/settings.ts';
import { freshDatabase } from '../../fresh-database.ts';
import { testAccount, unique } from '../context.ts';
import { level, sheetFile, wordFile } from './levels.ts';
import { sendFile } from '../sent-file.ts';

let ctx: Context;
let officer: Account;
let [open, internal, strict] = ['', '', ''];

beforeAll(async () => {
  const { url, store } = await freshDatabase('yare_publishing');
  ctx = {
    store,
    settings: readSettings({ DATABASE_URL: url, SECRET_KEY: 'ab'.repeat(32), LOG_LEVEL: 'silent' }),
    now: () => new Date('2026-11-29T10:00:00Z'),
  };
  officer = await testAccount(ctx);
  open = await level(ctx, officer.id, { name: 'Open', lowered: 'freely', goesOn: ['files', 'mail'] });
  internal = await level(ctx, officer.id, { name: 'Internal', goesOn: ['files'] });
  strict = await level(ctx, officer.id, { name: 'Strict', lowered: 'never' });
}, 60_000);
afterAll(() => ctx.store.close());

const CSV = `address;name;unit;groups;left
ida@line.example;Ida Kjær;Terminal;Terminal Halmsund;
gustav@line.example;Gustav Berg;Payroll;Payroll;
gone@line.example;Gone Long;Payroll;Payroll;2026-11-28
guest@other.example;A Guest;;Guests;
;Terminal Halmsund;;Port operations;
;Port operations;;All staff;
;Payroll;;Crew office;
;Crew office;;All staff;
;All staff;;Port operations;
`;
const upload = (text: string | Buffer, name = 'people.csv') =>
  sendFile(ctx, officer.id, name, Buffer.from(text));
const read = async (text: string) => takeStaffList(ctx, officer.id, await upload(text));

describe('the list of people', () => {
  it('is taken whole, with groups that stand in each other, also in circles', async () => {
    expect(await read(CSV)).toEqual({ people: 4, groups: 6 });
    expect(await staffFigures(ctx.store)).toEqual({
      people: 4,
      groups: 6,
      readAt: '2026-11-29T10:00:00.000Z',
    });
    const ida = await findMember(ctx, ' IDA@line.example');
    expect(ida?.name).toBe('Ida Kjær');
    expect([...(ida?.groups ?? [])]).toEqual([
      ['Terminal Halmsund', 1],
      ['Port operations', 2],
      ['All staff', 3],
    ]);
    expect(await findMember(ctx, 'gone@line.example')).toBeUndefined();
    expect((await searchStaff(ctx, 'berg')).map((s) => s.address)).toEqual(['gustav@line.example']);
    expect(await searchStaff(ctx, '%')).toEqual([]);
  });

  it('keeps the number of who stays, and forgets who is not in it', async () => {
    const before = await findMember(ctx, 'ida@line.example');
    await read(CSV.replace('Ida Kjær', 'Ida Holm').replace(/guest.*\n/, ''));
    expect(await findMember(ctx, 'ida@line.example')).toMatchObject({ id: before?.id, name: 'Ida Holm' });
    expect(await findMember(ctx, 'guest@other.example')).toBeUndefined();
    await read(CSV);
  });

  it.each([
    ['address;name\nida;Ida', 'row 2, address'],
    ['address;name\na@b.example;A\na@b.example;B', 'row 3, address'],
    ['address;name;left\na@b.example;A;2026-02-30', 'row 2, left'],
    ['mail;name\na@b.example;A', 'row 1, address'],
    ['address;name\na@b.example;', 'row 2, name'],
  ])('takes nothing of one with a wrong cell: %s', async (text, field) => {
    await expect(read(text)).rejects.toMatchObject({ fields: [expect.objectContaining({ field })] });
    expect((await staffFigures(ctx.store)).people).toBe(4);
  });

  it('is no list in another shape', async () => {
    await expect(read('only one line')).rejects.toThrow('no list in CSV');
  });

  it('knows who is meant by what sources call owners', async () => {
    const ida = await findMember(ctx, 'ida@line.example');
    const found = await staffByOwner(ctx.store, ctx.now(), [
      'ida',
      'Ida Kjær',
      'ida@line.example',
      'nobody',
      'gone',
      '',
    ]);
    expect([...found]).toEqual([
      ['ida', ida?.id],
      ['Ida Kjær', ida?.id],
      ['ida@line.example', ida?.id],
    ]);
  });

  it('is read in pages', async () => {
    const many = Array.from({ length: 2300 }, (_, i) => ({
      address: `p${i}@line.example`,
      name: `P ${i}`,
      unit: '',
      groups: ['All'],
      left: null,
    }));
    await ctx.store.transaction((tx) =>
      writeStaff(tx, ctx.now(), null, { members: many, groups: [{ name: 'All', within: [] }] }),
    );
    let n = 0;
    for await (const m of everyMember(ctx)) n += m.groups.has('All') ? 1 : 0;
    expect(n).toBe(2300);
    await read(CSV);
  });
});

const publication = async (more: Partial<PublicationContent>, force = true) =>
  ctx.store.transaction(async (tx) => {
    const id = await addPublication(
      tx,
      ctx.now(),
      officer.id,
      PublicationContent.parse({
        name: unique('To '),
        levels: [open, internal],
        to: ['everyone'],
        not: [],
        first: 'weakest',
        start: internal,
        because: '',
        ...more,
      }),
    );
    if (force) await moveRule(tx, ctx.now(), PUBLICATION, officer.id, id, 'put in force', 1);
    return id;
  });

describe('publishing', () => {
  it('offers levels to those it is for, and says why', async () => {
    expect((await memberOffered(ctx, 'ida@line.example')).offered.levels).toEqual([]);
    await publication({ not: ['group:Guests'] });
    const crew = await publication({
      levels: [strict],
      to: ['group:Crew office'],
      first: 'strongest',
      start: strict,
    });
    expect((await levelsFor(ctx, 'ida@line.example')).levels.map((l) => l.name)).toEqual([
      'Open',
      'Internal',
    ]);
    const gustav = await explainOffered(ctx, 'gustav@line.example');
    expect(gustav.levels.map((l) => [l.name, l.isStart])).toEqual([
      ['Strict', true],
      ['Internal', false],
      ['Open', false],
    ]);
    expect(gustav.words[1]).toMatch(
      /^Something new begins with Strict, by “To .*”, which is nearest to them\.$/,
    );
    const guest = await explainOffered(ctx, 'guest@other.example');
    expect(guest.words).toEqual([
      'They are offered no level: no publication is for them.',
      expect.stringMatching(/leaves them out\.$/),
    ]);
    await expect(levelsFor(ctx, 'gone@line.example')).rejects.toMatchObject({ status: 404 });
    await ctx.store.transaction((tx) => moveRule(tx, ctx.now(), PUBLICATION, officer.id, crew, 'pause', 0));
    expect((await levelsFor(ctx, 'gustav@line.example')).start).toBe(internal);
    await ctx.store.transaction((tx) => moveRule(tx, ctx.now(), PUBLICATION, officer.id, crew, 'resume', 0));
  });

  it('tells before what a draft would change for people', async () => {
    const draft = await publication(
      { levels: [strict], to: ['group:All staff', 'guest@other.example'], start: open },
      false,
    );
    expect(await publicationOutlook(ctx, draft)).toMatchObject({
      people: 3,
      covered: 3,
      decides: 2,
      gain: 2,
      lose: 0,
      begins: 1,
      changes: [{ level: 'Strict', gained: 2, lost: 0 }],
    });
  });

  it.each([
    [{ to: ['group:Nobody'] }, 'to'],
    [{ to: ['not an address'] }, 'to'],
    [{ not: ['everyone'] }, 'not'],
    [{ levels: ['gone'] }, 'levels'],
    [{ start: 'gone' }, 'start'],
  ])('is not put in force as %j', async (more, field) => {
    await expect(publication(more)).rejects.toMatchObject({ fields: [expect.objectContaining({ field })] });
  });

  it('keeps addresses out of the ledger', async () => {
    const id = await publication({}, false);
    const { content: base, revision } = await readRule(ctx.store, PUBLICATION, id);
    await editRule(ctx, PUBLICATION, officer.id, id, {
      base,
      revision,
      content: { ...base, to: ['ida@line.example'], not: ['person:gustav@line.example'] },
    });
    const rows = await ctx.store.all(
      z.object({ detail: z.string() }),
      "SELECT CAST(detail AS CHAR) AS detail FROM ledger_entry WHERE object IN ('publication', 'staff list', 'level')",
    );
    expect(rows.length).toBeGreaterThan(0);
    expect(rows.filter((r) => r.detail.includes('line.example'))).toEqual([]);
  });
});

describe('a program', () => {
  it('asks with its token as long as that is in force, and for what it is for', async () => {
    const { id, token } = await ctx.store.transaction((tx) =>
      addProgram(tx, ctx.now(), officer.id, { name: 'Editor', scope: 'levels' }),
    );
    const of = (header: string | null) => programOf(ctx.store, ctx.now(), header, 'levels');
    expect(await of(`Bearer ${token}`)).toEqual({ id, name: 'Editor', scope: 'levels' });
    for (const wrong of [null, '', token, `Bearer ${token}x`, 'Bearer ', `Basic ${token}`])
      await expect(of(wrong)).rejects.toMatchObject({ status: 401 });
    expect(await listPrograms(ctx.store)).toMatchObject([
      { name: 'Editor', usedAt: '2026-11-29T10:00:00.000Z', endedAt: null },
    ]);
    await ctx.store.run("UPDATE program SET scope = 'else' WHERE id = ?", [id]);
    await expect(of(`Bearer ${token}`)).rejects.toMatchObject({ status: 403 });
    await ctx.store.transaction((tx) => endProgram(tx, ctx.now(), officer.id, id));
    await expect(of(`Bearer ${token}`)).rejects.toMatchObject({ status: 401 });
    await expect(
      ctx.store.transaction((tx) => endProgram(tx, ctx.now(), officer.id, id)),
    ).rejects.toMatchObject({ status: 409 });
    const kept = await ctx.store.all(
      z.object({ detail: z.string() }),
      'SELECT CAST(detail AS CHAR) AS detail FROM ledger_entry',
    );
    expect(kept.some((r) => r.detail.includes(token))).toBe(false);
  });
});

describe('a level that somebody chooses in their program', () => {
  const PROGRAM = { id: 7, name: 'Editor', scope: 'levels' };
  const choose = (person: string, chosen: string, bytes: Uint8Array, reason = '') =>
    chooseLevel(ctx, PROGRAM, { person, level: chosen, reason, name: 'a.docx' }, bytes);
  const MAIL = new Uint8Array(
    Buffer.from('From: a@b.example\r\nTo: c@d.example\r\nSubject: x\r\n\r\nHello\r\n'),
  );

  it('stands on what they have before them, which comes back to them', async () => {
    const document = new Uint8Array(await wordFile('Berth 4'));
    const { bytes, before } = await choose('ida@line.example', internal, document);
    expect(before).toBeNull();
    expect((await readFileLevel(bytes))?.id).toBe(internal);
    const mail = await choose('ida@line.example', open, MAIL);
    expect((await readFileLevel(mail.bytes))?.id).toBe(open);
    expect(Buffer.from(mail.bytes).toString()).toContain('Hello\r\n');
  });

  it('is lowered as that level says: freely, with a reason, or by nobody but an officer', async () => {
    const sheet = new Uint8Array(await sheetFile(['a']));
    const { bytes } = await choose('ida@line.example', internal, sheet);
    await expect(choose('ida@line.example', open, bytes)).rejects.toMatchObject({
      fields: [expect.objectContaining({ field: 'reason' })],
    });
    expect((await choose('ida@line.example', open, bytes, 'The fares are out')).before).toBe(internal);
    const top = (await choose('gustav@line.example', strict, bytes)).bytes;
    await expect(choose('gustav@line.example', internal, top, 'please')).rejects.toMatchObject({
      status: 403,
    });
  });

  it.each([
    ['one that they are not offered', () => strict, MAIL, 'is not offered Strict'],
    ['one that does not go there', () => internal, MAIL, 'does not go on mail'],
    ['one that there is not', () => 'none', MAIL, 'no such level'],
    ['what carries none', () => open, new Uint8Array(Buffer.from('plain text')), 'cannot be stamped'],
    ['nothing', () => open, new Uint8Array(), 'cannot be stamped'],
  ])('is refused for %s', async (_, chosen, bytes, words) => {
    await expect(choose('ida@line.example', chosen(), bytes)).rejects.toThrow(words);
  });

  it('is on record without what it was chosen for', async () => {
    const [last] = await ctx.store.all(
      z.object({ object_id: z.string(), detail: z.string() }),
      "SELECT object_id, CAST(detail AS CHAR) AS detail FROM ledger_entry WHERE action = 'level.choose' ORDER BY id DESC LIMIT 1",
    );
    expect(JSON.parse(last?.detail ?? '{}')).toMatchObject({ program: 7, before: internal });
    expect(last?.detail).not.toContain('a.docx');
  });

  it('is read from what carries one, and nothing is said of what cannot', async () => {
    const { bytes } = await choose('ida@line.example', internal, new Uint8Array(await sheetFile(['b'])));
    expect((await carried(PROGRAM, bytes))?.id).toBe(internal);
    expect(await carried(PROGRAM, MAIL)).toBeUndefined();
    await expect(carried(PROGRAM, new Uint8Array(Buffer.from('%PDF-1.7 cut')))).rejects.toThrow('cannot be');
  });

  it('is not offered any more once the level is paused', async () => {
    await ctx.store.transaction((tx) => moveRule(tx, ctx.now(), LEVEL, officer.id, open, 'pause', 0));
    await expect(choose('ida@line.example', open, MAIL)).rejects.toThrow('no such level');
    expect((await levelsFor(ctx, 'ida@line.example')).levels.map((l) => l.id)).toEqual([internal]);
  });
});
