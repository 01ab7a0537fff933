import { join } from 'node:path';
import ExcelJS from 'exceljs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { NEW_ACTIVITY, type ActivityContent } from '../../../src/core/holdings/records/activity.ts';
import { dpvDocument } from '../../../src/core/holdings/records/dpv.ts';
import type { Account } from '../../../src/core/accounts/authority.ts';
import { explorerFigures } from '../../../src/server/holdings/items/explorer.ts';
import { closeLensThreads } from '../../../src/server/holdings/items/index/ask-lens.ts';
import {
  ACTIVITY,
  addActivity,
  allActivities,
  listActivities,
  recordNames,
} from '../../../src/server/holdings/records/activities.ts';
import {
  importActivities,
  markedActivities,
  viewActivityTable,
} from '../../../src/server/holdings/records/activity-import.ts';
import { recordFlows } from '../../../src/server/holdings/records/record-flows.ts';
import { recordsPdf } from '../../../src/server/holdings/records/records-pdf.ts';
import { acceptContradiction, checkRecords } from '../../../src/server/holdings/records/record-check.ts';
import { addSystem } from '../../../src/server/holdings/sources/systems.ts';
import { LIMITS } from '../../../src/server/files/extract/extracted.ts';
import { extractPdf } from '../../../src/server/files/extract/pdf.ts';
import { csvLine } from '../../../src/server/http/csv.ts';
import { closeSurveyThreads } from '../../../src/server/holdings/surveys/survey-threads.ts';
import { editObject, readObject } from '../../../src/server/rules/plain-object.ts';
import { readSettings } from '../../../src/server/settings.ts';
import { ownDatabase } from '../../own-database.ts';
import { testAccount, testContext, unique } from '../context.ts';
import { folderSource, newSurvey, survey, tempFolder, writeFiles } from './estate.ts';
import { sendFile } from '../sent-file.ts';

const home = tempFolder();
const ctx = {
  ...testContext(),
  settings: readSettings({
    DATABASE_URL: ownDatabase(),
    SECRET_KEY: 'ab'.repeat(32),
    LOG_LEVEL: 'silent',
    SOURCE_ROOTS: home.path,
  }),
};
let officer: Account;
let system: number;
const name = unique('Care');

beforeAll(async () => {
  officer = await testAccount(ctx);
  writeFiles(join(home.path, 'care'), {
    'request.txt': 'Kim Larsen, kim@ferry.example. The passenger has type 1 diabetes and takes insulin.',
    'plain.txt': 'Nothing.',
  });
  system = await ctx.store.transaction((tx) =>
    addSystem(tx, ctx.now(), officer.id, {
      name,
      about: '',
      owner: '',
      steward: officer.id,
      country: 'DK',
      vendors: [],
      notes: '',
    }),
  );
  const source = await folderSource(ctx, join(home.path, 'care'));
  await ctx.store.run('UPDATE source SET system_id = ? WHERE id = ?', [system, source]);
  await survey(ctx, await newSurvey(ctx, [source]));
});
afterAll(async () => {
  await Promise.all([closeLensThreads(), closeSurveyThreads()]);
  await ctx.store.close();
  home.remove();
});

const add = (more: Partial<ActivityContent>) =>
  ctx.store.transaction((tx) =>
    addActivity(tx, ctx.now(), officer.id, {
      ...NEW_ACTIVITY,
      name: unique('Activity'),
      systems: [String(system)],
      ...more,
    }),
  );
const edit = async (id: number, change: Partial<ActivityContent>) => {
  const { content, revision } = await readObject(ctx.store, ACTIVITY, id);
  return ctx.store.transaction((tx) =>
    editObject(tx, ctx.now(), ACTIVITY, officer.id, id, {
      revision,
      base: content,
      content: { ...content, ...change },
    }),
  );
};
const mine = async () =>
  (await checkRecords(ctx)).filter((c) => c.system === String(system) || c.words.includes(name));

describe('records of processing', () => {
  it('are held against what was found, and each contradiction opens to just those items', async () => {
    expect((await mine()).map((c) => c.kind)).toEqual(['unrecorded']);
    const id = await add({ data: ['email'] });
    const [unnamed] = await mine();
    expect(unnamed).toMatchObject({ kind: 'unnamed', system: String(system), accepted: null });
    const figures = await explorerFigures(ctx, officer, unnamed?.lens ?? '');
    expect(figures.items).toBe(Number(/in (\d+) item/.exec(unnamed?.words ?? '')?.[1]));
    await edit(id, { data: ['email', 'health-condition'] });
    const kinds = (await checkRecords(ctx)).filter((c) => c.activity === String(id)).map((c) => c.kind);
    expect(kinds).toEqual(['basis']);
    await edit(id, { special: 'health care' });
    expect((await checkRecords(ctx)).filter((c) => c.activity === String(id))).toEqual([]);
    expect(await mine()).toEqual([]);
  });

  it('a contradiction is accepted with a reason, and opened again', async () => {
    const id = await add({ data: ['email', 'iban'] });
    const find = async () => (await checkRecords(ctx)).find((c) => c.activity === String(id));
    const key = (await find())?.key ?? '';
    const say = (reason: string | null) =>
      ctx.store.transaction((tx) => acceptContradiction(tx, ctx.now(), officer.id, key, reason));
    await expect(say(' ')).rejects.toMatchObject({ status: 400 });
    await say('Accounts come next month');
    expect((await find())?.accepted).toMatchObject({ reason: 'Accounts come next month', by: 'Test Person' });
    await say(null);
    expect((await find())?.accepted).toBeNull();
  });

  it('keep their names apart, are listed, and told in the terms of the vocabulary', async () => {
    const called = unique('Boarding');
    const id = await add({
      name: called,
      recipients: [{ name: 'Lookwell', country: 'US', safeguard: 'standard clauses' }],
    });
    await expect(add({ name: called })).rejects.toMatchObject({ status: 409 });
    expect((await listActivities(ctx, { text: called }, undefined, 10)).rows.map((r) => r.id)).toEqual([
      String(id),
    ]);
    const { content } = await readObject(ctx.store, ACTIVITY, id);
    expect(JSON.parse(JSON.stringify(dpvDocument([{ id: '1', content }], (d) => d)))).toMatchObject({
      '@graph': [
        {
          '@type': 'dpv:Process',
          'dpv:hasLegalBasis': [{ '@id': 'gdpr:A6-1-b' }],
          'dpv:hasRecipient': [
            { 'dct:title': 'Lookwell', 'dpv:hasDataTransferLegalBasis': { '@id': 'gdpr:A46-2-c' } },
          ],
        },
      ],
    });
  });

  it('go out as a document with what contradicts them, and name who gives what to whom', async () => {
    const called = unique('Cruises');
    await add({
      name: called,
      people: ['travellers'],
      data: ['email'],
      recipients: [{ name: 'Harbourline', country: 'US', safeguard: 'none' }],
    });
    const names = await recordNames(ctx.store);
    const pdf = await recordsPdf(await allActivities(ctx.store), await checkRecords(ctx), names, ctx.now());
    const { text } = await extractPdf(pdf, LIMITS);
    for (const words of [called, 'E-mail address', name, 'Harbourline | US', 'without a safeguard'])
      expect(text.replace(/\s+/g, ' ')).toContain(words);
    const flows = await recordFlows(ctx.store);
    expect(flows.flows).toContainEqual(
      expect.objectContaining({ from: 'recipient Harbourline', to: 'country US', unlawful: true }),
    );
    expect(flows.nodes).toContainEqual({
      id: `system ${name}`,
      kind: 'system',
      name,
      system: String(system),
    });
  });
});

describe('records from a table', () => {
  const send = (rows: readonly (readonly string[])[]) =>
    sendFile(ctx, officer.id, 'records.csv', Buffer.from(rows.map((r) => csvLine(r)).join('')));

  it('are rehearsed, then taken all or none: some added, some changed, none taken out', async () => {
    const [kept, changed, added] = [unique('Kept'), unique('Changed'), unique('Added')];
    await add({ name: kept, purpose: 'stay', owner: 'Kim' });
    const id = await add({ name: changed, purpose: 'move', owner: 'Kim', data: ['email'] });
    const upload = await send([
      ['Activity', 'Purpose', 'Kinds of data'],
      [kept, 'stay', ''],
      [changed, 'move on', 'E-mail address; IBAN'],
      [added, 'begin', 'phone'],
    ]);
    const { matched } = await viewActivityTable(ctx, officer.id, upload);
    expect(matched).toEqual({ name: 'Activity', purpose: 'Purpose', data: 'Kinds of data' });
    const sent = { upload, headings: matched };
    const told = await importActivities(ctx, officer.id, { ...sent, rehearse: true });
    expect(told).toMatchObject({
      added: [added],
      changed: [{ name: changed, words: ['The purpose: move → move on', expect.stringContaining('added')] }],
      same: 1,
    });
    expect((await readObject(ctx.store, ACTIVITY, id)).revision).toBe(0);
    expect(await importActivities(ctx, officer.id, { ...sent, rehearse: false })).toEqual(told);
    expect((await readObject(ctx.store, ACTIVITY, id)).content).toMatchObject({
      purpose: 'move on',
      owner: 'Kim',
      data: ['email', 'iban'],
    });
    const again = await send([
      ['Activity', 'Purpose'],
      [added, 'begin'],
    ]);
    expect(
      await importActivities(ctx, officer.id, {
        upload: again,
        headings: { name: 'Activity', purpose: 'Purpose' },
        rehearse: false,
      }),
    ).toEqual({ added: [], changed: [], same: 1 });
  });

  it('with a fault are not taken at all, and come back with it marked', async () => {
    const added = unique('Never added');
    const upload = await send([
      ['Activity', 'Systems'],
      [added, name],
      ['Other', 'A system that is not there'],
    ]);
    const headings = { name: 'Activity', systems: 'Systems' };
    await expect(
      importActivities(ctx, officer.id, { upload, headings, rehearse: false }),
    ).rejects.toMatchObject({ fields: [{ field: 'row 3, Systems' }] });
    expect((await listActivities(ctx, { text: added }, undefined, 10)).rows).toEqual([]);
    const book = new ExcelJS.Workbook();
    await book.xlsx.load((await markedActivities(ctx, officer.id, upload, headings)).buffer as ArrayBuffer);
    expect(book.worksheets[0]?.getCell('C3').text).toContain('There is no system');
  });
});
