import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { NEW_ACTIVITY, type ActivityContent } from '../../../src/core/holdings/records/activity.ts';
import { dpvDocument } from '../../../src/core/holdings/records/dpv.ts';
import type { Account } from '../../../src/core/accounts/authority.ts';
import { explorerFigures } from '../../../src/server/holdings/items/explorer.ts';
import { closeLensThreads } from '../../../src/server/holdings/items/index/ask-lens.ts';
import { ACTIVITY, addActivity, listActivities } from '../../../src/server/holdings/records/activities.ts';
import { acceptContradiction, checkRecords } from '../../../src/server/holdings/records/record-check.ts';
import { addSystem } from '../../../src/server/holdings/sources/systems.ts';
import { closeSurveyThreads } from '../../../src/server/holdings/surveys/survey-threads.ts';
import { editObject, readObject } from '../../../src/server/rules/plain-object.ts';
import { readSettings } from '../../../src/server/settings.ts';
import { ownDatabase } from '../../own-database.ts';
import { testAccount, testContext, unique } from '../context.ts';
import { folderSource, newSurvey, survey, tempFolder, writeFiles } from './estate.ts';

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
});
