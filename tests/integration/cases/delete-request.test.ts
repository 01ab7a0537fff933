import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { agree } from '../../../src/server/cases/requests/act-on-request.ts';
import { draftLetter } from '../../../src/server/cases/requests/letters/draft-letter.ts';
import { watchForgotten } from '../../../src/server/cases/requests/request-upkeep.ts';
import { actOnTask } from '../../../src/server/cases/requests/tasks/tasks.ts';
import { bound, hold } from '../retention/retention.ts';
import { newSurvey, survey } from '../holdings/estate.ts';
import { act, casesTest, request, surveyed, view, workOff, type CasesTest } from './requesting.ts';

const JONAS = { name: 'Jonas Feldkamp', emails: ['jonas.feldkamp@mail.example'], born: '1991-11-02' };
const LIST = [
  'Name;E-mail;Born',
  'Per Alm;per.alm@post.example;1980-01-02',
  'Jonas Feldkamp;jonas.feldkamp@mail.example;1991-11-02',
  'Åsa Berg;asa.berg@post.example;1975-05-05',
  '',
].join('\n');

let test: CasesTest;
let source: number;
let id: number;
const path = (name: string) => join(test.root, name);
const fates = async () =>
  Object.fromEntries(
    (await view(test, id)).items.map((i) => [i.path === '' ? i.name : `${i.path}/${i.name}`, i]),
  );

beforeAll(async () => {
  test = await casesTest('yare_requests_delete');
  source = await surveyed(test, {
    'letter.txt': 'From Jonas Feldkamp, jonas.feldkamp@mail.example: my jacket is lost.\n',
    'list.csv': LIST,
    'berth/list.csv': LIST,
    'books/invoice.txt': 'Invoice to Jonas Feldkamp, jonas.feldkamp@mail.example: 12.00\n',
    'note.txt': 'Call Per Alm, per.alm@post.example, about jonas.feldkamp@mail.example.\n',
  });
  const shared = { ctx: test.ctx, officer: test.officer } as Parameters<typeof hold>[0];
  await hold(
    shared,
    { name: 'Collision at berth 4', places: [`${source}/berth`], matter: 'case 26-114' },
    'put in force',
  );
  await bound(
    shared,
    {
      name: 'Bookkeeping Act',
      places: [`${source}/books`],
      keep: { count: 5, unit: 'years' },
      article: '§ 12',
    },
    'put in force',
  );
  id = await request(test, { kind: 'delete', region: 'DE', language: 'de', subject: JONAS });
  await act(test, id, { act: 'known', by: 'hand', words: 'came with a passport' });
  await workOff(test);
});
afterAll(() => test.close());

describe('a request to be deleted', { timeout: 120_000 }, () => {
  it('weighs what goes and what stays, and why, and changes nothing by it', async () => {
    const all = await fates();
    expect(Object.keys(all).toSorted()).toEqual([
      'berth/list.csv',
      'books/invoice.txt',
      'letter.txt',
      'list.csv',
      'note.txt',
    ]);
    expect(all['letter.txt']).toMatchObject({ fate: 'removed' });
    expect(all['list.csv']).toMatchObject({ fate: 'taken out', rowsTheirs: 1, rowsLeft: 2 });
    expect(all['note.txt']).toMatchObject({ fate: 'taken out' });
    expect(all['berth/list.csv']).toMatchObject({ fate: 'kept', fateArticle: 'Art. 17(3)(e)' });
    expect(all['berth/list.csv']?.fateWhy).toMatch(/case 26-114/);
    expect(all['books/invoice.txt']).toMatchObject({ fate: 'kept', fateArticle: 'Art. 17(3)(b)' });
    expect(readFileSync(path('list.csv'), 'utf8')).toBe(LIST);
    expect((await view(test, id)).needs.map((n) => n.step)).toContain('carried out');
  });

  it('carries out what was agreed to, looks again, and leaves what is kept as it is', async () => {
    await agree(test.ctx, test.officer, id);
    await workOff(test);
    const all = await fates();
    expect(
      Object.values(all)
        .map((i) => i.changeState)
        .toSorted(),
    ).toEqual(['done', 'done', 'done', 'kept', 'kept']);
    expect(existsSync(path('letter.txt'))).toBe(false);
    expect(readFileSync(path('list.csv'), 'utf8')).toBe(
      LIST.replace('Jonas Feldkamp;jonas.feldkamp@mail.example;1991-11-02\n', ''),
    );
    expect(readFileSync(path('note.txt'), 'utf8')).toBe(
      'Call Per Alm, per.alm@post.example, about [removed].\n',
    );
    expect(readFileSync(path('berth/list.csv'), 'utf8')).toBe(LIST);
    expect(readFileSync(path('books/invoice.txt'), 'utf8')).toMatch(/Jonas/);
  });

  it('tells the person what went, and which law keeps the rest', async () => {
    for (const t of (await view(test, id)).tasks.filter((x) => x.doneAt === null))
      await actOnTask(test.ctx, test.officer, t.id, { act: 'done', outcome: 'looked' });
    const { paragraphs } = await draftLetter(test.ctx, id, 'deleted', '');
    const text = paragraphs.join('\n');
    expect(text).toMatch(/an 3 Stellen gelöscht/);
    expect(text).toMatch(/Collision at berth 4 \(case 26-114\) \(Art\. 17\(3\)\(e\)\)/);
    expect(text).toMatch(/Bookkeeping Act, § 12/);
    await act(test, id, {
      act: 'write',
      letter: 'deleted',
      subject: 'x',
      paragraphs: [...paragraphs],
      reason: '',
    });
    await act(test, id, { act: 'close', outcome: 'answered', words: '' });
  });

  it('sees when a backup brings them back, and not what is kept knowingly', async () => {
    const back = async () =>
      test.ctx.store.all(
        z.object({ words: z.string(), detail: z.string() }),
        "SELECT words, detail FROM today_item WHERE kind = 'came back'",
      );
    test.at('2026-11-06T10:00:00Z');
    await watchForgotten(test.ctx);
    expect(await back()).toEqual([]);
    writeFileSync(path('restored.csv'), LIST);
    test.at('2026-11-07T10:00:00Z');
    await survey(test.ctx, await newSurvey(test.ctx, [source]));
    await watchForgotten(test.ctx);
    const found = await back();
    expect(found.length).toBe(1);
    expect(found[0]?.detail).toContain(`R-${id}`);
    expect(JSON.stringify(found)).not.toMatch(/Jonas|Feldkamp/);
    const kept = await test.ctx.store.all(
      z.object({ person: z.instanceof(Buffer) }),
      'SELECT person FROM forgotten_person',
    );
    expect(kept.length).toBeGreaterThan(0);
    for (const { person } of kept) expect(person.length).toBe(8);
  });
});

describe('what is agreed to, and came otherwise meanwhile', { timeout: 120_000 }, () => {
  it('is not deleted where it was changed since it was looked at, or a hold came', async () => {
    const who = { name: 'Maja Vinter', emails: ['maja.vinter@mail.example'] };
    const more = await surveyed(test, {
      'late/changed.txt': 'To maja.vinter@mail.example\n',
      'late/held.txt': 'For maja.vinter@mail.example\n',
    });
    const other = await request(test, { kind: 'delete', region: 'DE', subject: who });
    await act(test, other, { act: 'known', by: 'hand', words: 'known for years' });
    await workOff(test);
    writeFileSync(path('late/changed.txt'), 'To maja.vinter@mail.example, and a line that nobody saw\n');
    await agree(test.ctx, test.officer, other);
    const shared = { ctx: test.ctx, officer: test.officer } as Parameters<typeof hold>[0];
    await hold(shared, { name: 'Late', places: [`${more}/late`, `${source}/late`] }, 'put in force');
    await workOff(test);
    const items = (await view(test, other)).items;
    expect(items.length).toBeGreaterThan(0);
    for (const i of items) expect(['failed', 'kept']).toContain(i.changeState);
    expect(existsSync(path('late/held.txt'))).toBe(true);
    expect(readFileSync(path('late/changed.txt'), 'utf8')).toMatch(/nobody saw/);
  });
});
