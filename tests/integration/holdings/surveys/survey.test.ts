import { chmodSync, mkdirSync, renameSync, rmSync, utimesSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { afterAll, afterEach, beforeEach, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { readSettings } from '../../../../src/server/settings.ts';
import { listEntries } from '../../../../src/server/evidence/ledger.ts';
import { addDetector } from '../../../../src/server/holdings/detection/detectors/new-detector.ts';
import { openDetector } from '../../../../src/server/holdings/detection/detectors/open-detector.ts';
import { closeReadings } from '../../../../src/server/holdings/surveys/open-readings.ts';
import { keepFound } from '../../../../src/server/holdings/surveys/survey-keep.ts';
import { SURVEY_RUN } from '../../../../src/server/holdings/surveys/survey-run.ts';
import { closeSurveyThreads } from '../../../../src/server/holdings/surveys/survey-threads.ts';
import { estimateSurvey, runDueSurveys } from '../../../../src/server/holdings/surveys/surveys.ts';
import type { Stepping } from '../../../../src/server/runs/run-kind.ts';
import { findRun } from '../../../../src/server/runs/run-store.ts';
import { moveRun, viewRun } from '../../../../src/server/runs/runs.ts';
import { ownDatabase } from '../../../own-database.ts';
import { testAccount, testContext, unique } from '../../context.ts';
import { moveDetector, saveDetectorDraft } from '../../detector.ts';
import { docx, paragraph, pdf, xlsx, zip } from '../sample-files.ts';
import {
  folderSource,
  known,
  newSurvey,
  results,
  RUN,
  runUntil,
  survey,
  tempFolder,
  withWorkers,
  writeFiles,
} from '../estate.ts';

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
let root: string;
beforeEach(() => {
  root = join(home.path, unique('root'));
  mkdirSync(root);
});
afterEach(closeReadings);
afterAll(async () => {
  await closeSurveyThreads();
  await ctx.store.close();
  home.remove();
});

const byPath = async (source: number) =>
  new Map((await known(ctx, source)).map((i) => [String(i['path']).replace(/^\//, ''), i]));

describe('a survey', () => {
  it('reads files of every kind, and keeps what was found masked, by item and detector', async () => {
    writeFiles(root, {
      'letter.docx': await docx(paragraph('Write to jens@ferry.example or anna@ferry.example today.')),
      'list.xlsx': await xlsx([
        ['Navn', 'CPR', 'E-mail'],
        ['Jens Hansen', '010180-1234', 'jens@ferry.example'],
        ['Anna Berg', '020281-1238', 'anna@ferry.example'],
      ]),
      'old/note.txt': 'Nothing at all.',
    });
    const source = await folderSource(ctx, root);
    const run = await survey(ctx, await newSurvey(ctx, [source]));
    expect(run.state, run.error ?? '').toBe('done');
    const items = await byPath(source);
    expect([...items.keys()]).toEqual(['letter.docx', 'list.xlsx', 'old/note.txt']);
    expect(items.get('letter.docx')).toMatchObject({ format: 'DOCX', people: 2, state: 'read' });
    expect(items.get('list.xlsx')?.['people']).toBe(2);
    expect(items.get('list.xlsx')?.['findings']).toContain('dk-cpr 0 2 2');
    expect(items.get('list.xlsx')?.['who']).toBeTruthy();
    expect(items.get('old/note.txt')).toMatchObject({ findings: null, people: 0 });
    const clear = await ctx.store.one(
      z.object({ n: z.number() }),
      "SELECT COUNT(*) AS n FROM finding_match WHERE masked LIKE '%jens@ferry%' OR content LIKE '%jens@ferry%'",
    );
    expect(clear?.n).toBe(0);
  });

  it('tells beforehand what there is to read, and leaves out what is known and unchanged', async () => {
    writeFiles(root, { 'a.txt': 'a@b.example', 'b.txt': 'c@d.example' });
    const source = await folderSource(ctx, root);
    const id = await newSurvey(ctx, [source]);
    await survey(ctx, id);
    writeFiles(root, { 'c/new.txt': 'twelve chars' });
    await withWorkers(ctx, 1, async () => {
      const run = await estimateSurvey(ctx, null, id);
      await runUntil(ctx, run, (r) => r.state === 'estimated');
      expect(await viewRun(ctx.store, RUN, run)).toMatchObject({
        amount: { items: 1, bytes: 12 },
        leftOut: { items: 2, bytes: 22 },
      });
    });
  });

  it('reads again what changed, passes over what did not, and notices what is gone and what is back', async () => {
    writeFiles(root, {
      'same.txt': 'a@b.example',
      'touched.txt': 'c@d.example',
      'changed.txt': 'nothing',
      'gone/x.txt': 'e@f.example',
    });
    const source = await folderSource(ctx, root);
    const id = await newSurvey(ctx, [source]);
    await survey(ctx, id);
    const before = await byPath(source);
    utimesSync(join(root, 'touched.txt'), new Date(0), new Date(0));
    writeFiles(root, { 'changed.txt': 'now g@h.example' });
    const aside = join(home.path, unique('aside'));
    renameSync(join(root, 'gone'), aside);
    const run = await survey(ctx, id);
    expect(run.outcome).toMatchObject({ items: 2, gone: 1 });
    const after = await byPath(source);
    expect(after.get('same.txt')).toEqual(before.get('same.txt'));
    expect(after.get('touched.txt')).toEqual(before.get('touched.txt'));
    expect(after.get('changed.txt')?.['findings']).toContain('email 0 1 1');
    expect(after.get('gone/x.txt')?.['state']).toBe('gone');
    renameSync(aside, join(root, 'gone'));
    await survey(ctx, id);
    expect((await byPath(source)).get('gone/x.txt')).toEqual(before.get('gone/x.txt'));
  });

  it('keeps to the places, the age and the share that were asked for, and takes nothing else for gone', async () => {
    writeFiles(root, {
      'Backup/old.txt': 'a@b.example',
      'in/new.txt': 'c@d.example',
      'in/old.txt': 'e@f.example',
      ...Object.fromEntries(Array.from({ length: 15 }, (_, i) => [`many/${i}.txt`, `p${i}@x.example`])),
    });
    utimesSync(join(root, 'in/old.txt'), new Date('2020-01-01'), new Date('2020-01-01'));
    const source = await folderSource(ctx, root);
    await survey(ctx, await newSurvey(ctx, [source], { without: 'Backup', changed: '1 year', share: '10' }));
    const some = [...(await byPath(source)).keys()];
    expect(some.filter((p) => !p.startsWith('many/'))).toEqual(['in/new.txt']);
    expect(some.filter((p) => p.startsWith('many/'))).toHaveLength(10);
    await survey(ctx, await newSurvey(ctx, [source]));
    expect((await byPath(source)).size).toBe(18);
    await survey(ctx, await newSurvey(ctx, [source], { without: 'Backup', share: '10' }));
    expect([...(await byPath(source)).values()].filter((i) => i['state'] === 'gone')).toEqual([]);
  });

  it('is not begun twice at once, and an estimate that nobody started makes room', async () => {
    writeFiles(root, { 'a.txt': 'x' });
    const id = await newSurvey(ctx, [await folderSource(ctx, root)]);
    const first = await estimateSurvey(ctx, null, id);
    await expect(estimateSurvey(ctx, null, id)).rejects.toMatchObject({ status: 409 });
    await withWorkers(ctx, 1, () => runUntil(ctx, first, (r) => r.state === 'estimated'));
    const second = await estimateSurvey(ctx, null, id);
    expect((await findRun(ctx.store, first)).state).toBe('cancelled');
    await ctx.store.transaction((tx) => moveRun(tx, ctx, RUN, null, second, 'cancel'));
  });

  it('runs by itself at its times', async () => {
    writeFiles(root, { 'a.txt': 'a@b.example' });
    const source = await folderSource(ctx, root);
    const id = await newSurvey(ctx, [source], {
      schedule: { every: 'day', weekday: 1, day: 1, at: '03:00', zone: 'Europe/Copenhagen' },
    });
    await ctx.store.run("UPDATE survey SET next_run = '2026-01-01 00:00:00' WHERE id = ?", [id]);
    await Promise.all([runDueSurveys(ctx), runDueSurveys(ctx)]);
    const row = await ctx.store.one(
      z.object({ run_id: z.number(), next_run: z.string() }),
      'SELECT run_id, next_run FROM survey WHERE id = ?',
      [id],
    );
    expect(new Date(`${row?.next_run}Z`).getTime()).toBeGreaterThan(Date.now());
    await withWorkers(ctx, 1, async () => {
      await runUntil(ctx, String(row?.run_id), (r) => r.state === 'estimated');
      await runDueSurveys(ctx);
      expect((await runUntil(ctx, String(row?.run_id), (r) => r.ended_at !== null)).state).toBe('done');
    });
  });
});

describe('a survey for some detectors', () => {
  it('finds those alone in what is new, and leaves what others found in what is known', async () => {
    writeFiles(root, { 'a.txt': 'jens@ferry.example, card 4000 0012 3456 7899' });
    const source = await folderSource(ctx, root);
    const whole = await newSurvey(ctx, [source]);
    await survey(ctx, whole);
    const before = await byPath(source);
    writeFiles(root, { 'b.txt': 'anna@ferry.example, IBAN DK50 0040 0440 1162 43' });
    const some = await newSurvey(ctx, [source], { detectors: ['iban'] });
    await survey(ctx, some);
    expect((await byPath(source)).get('a.txt')).toEqual(before.get('a.txt'));
    expect((await byPath(source)).get('b.txt')?.['findings']).toBe('iban 0 1 1');
    await survey(ctx, whole);
    expect((await byPath(source)).get('b.txt')?.['findings']).toContain('email 0 1 1');
    expect((await byPath(source)).get('a.txt')).toEqual(before.get('a.txt'));
    // And again: nothing is left to read for either.
    expect((await survey(ctx, some)).outcome).toMatchObject({ items: 0 });
    expect((await survey(ctx, whole)).outcome).toMatchObject({ items: 0 });
  });
});

describe('what cannot be read', () => {
  it('stays told, though somebody touched it, and what was found before stays', async () => {
    writeFiles(root, { 'encrypted.pdf': await pdf('secret', 'password'), 'a.txt': 'a@b.example' });
    const source = await folderSource(ctx, root);
    const id = await newSurvey(ctx, [source]);
    await survey(ctx, id);
    const before = await byPath(source);
    utimesSync(join(root, 'encrypted.pdf'), new Date(0), new Date(0));
    await survey(ctx, id);
    expect((await byPath(source)).get('encrypted.pdf')).toEqual(before.get('encrypted.pdf'));
    const [item] = await ctx.store.all(
      z.object({ id: z.number() }),
      'SELECT id FROM item WHERE source_id = ? AND name = ?',
      [source, 'a.txt'],
    );
    const reading = {
      known: undefined,
      by: { read: 'all' as const },
      again: false,
      reading: 1,
      title: undefined,
    };
    await ctx.store.transaction((tx) =>
      keepFound(tx, {
        ...{ source, run: '1', at: new Date(), places: [], dropped: [], back: [], gone: [] },
        read: [
          {
            ...reading,
            place: '',
            item: { name: 'a.txt', size: 11, created: null, changed: null, owner: '', version: 'x' },
            outcome: { unreadable: 'It is locked.' },
          },
        ],
      }),
    );
    expect((await byPath(source)).get('a.txt')).toMatchObject({
      state: 'unreadable',
      problem: 'It is locked.',
      hash: null,
      findings: before.get('a.txt')?.['findings'],
      people: 1,
    });
    expect(item?.id).toBeGreaterThan(0);
    await survey(ctx, id);
    expect((await byPath(source)).get('a.txt')).toEqual(before.get('a.txt'));
  });

  it('a share that is not mounted is told, and nothing in it is taken for gone', async () => {
    writeFiles(root, { 'in/a.txt': 'a@b.example' });
    const source = await folderSource(ctx, root);
    const id = await newSurvey(ctx, [source]);
    await survey(ctx, id);
    rmSync(join(root, 'in'), { recursive: true });
    await survey(ctx, id);
    expect((await byPath(source)).get('in/a.txt')?.['state']).toBe('read');
    const told = await ctx.store.one(
      z.object({ n: z.number() }),
      "SELECT COUNT(*) AS n FROM today_item WHERE kind = 'source failed' AND item_key = ?",
      [String(source)],
    );
    expect(told?.n).toBe(1);
    writeFiles(root, { 'in/b.txt': 'c@d.example' });
    await survey(ctx, id);
    expect((await byPath(source)).get('in/a.txt')?.['state']).toBe('gone');
  });

  it('what another survey saw since is not lost by one that began before', async () => {
    writeFiles(root, { 'in/a.txt': 'a@b.example' });
    const source = await folderSource(ctx, root);
    await survey(ctx, await newSurvey(ctx, [source]));
    await ctx.store.run('UPDATE place SET seen_run = seen_run + 1000 WHERE source_id = ?', [source]);
    await survey(ctx, await newSurvey(ctx, [source]));
    expect((await byPath(source)).get('in/a.txt')?.['state']).toBe('read');
  });

  it('is told with its reason, and the rest is read', async () => {
    writeFiles(root, {
      'encrypted.pdf': await pdf('secret', 'password'),
      'bomb.gz': gzipSync(Buffer.alloc(60e6)),
      'bomb.zip': await zip({ 'zeros.txt': Buffer.alloc(60e6) }),
      'damaged.docx': 'PK\x03\x04 not really',
      'picture.png': Buffer.concat([Buffer.of(0x89), Buffer.from('PNG\r\n')]),
      'empty.txt': '',
      'good.txt': 'a@b.example',
    });
    writeFileSync(
      Buffer.concat([Buffer.from(`${root}/`), Buffer.of(0xff, 0x0a), Buffer.from('.txt')]),
      'odd@name.example',
    );
    const source = await folderSource(ctx, root);
    const run = await survey(ctx, await newSurvey(ctx, [source]));
    expect(run.state).toBe('done');
    const items = await byPath(source);
    expect(items.get('good.txt')?.['findings']).toContain('email');
    expect(items.get('\\xff\\x0a.txt')?.['findings']).toContain('email');
    expect(items.get('empty.txt')?.['state']).toBe('read');
    const told = (await results(ctx, run.id)).map((r) => [r['is'], r['path']]);
    for (const name of ['encrypted.pdf', 'bomb.gz', 'damaged.docx', 'picture.png']) {
      expect(items.get(name), name).toMatchObject({
        state: 'unreadable',
        problem: expect.stringMatching(/\w/) as unknown,
      });
      expect(told).toContainEqual(['unreadable', name]);
    }
  });

  it('is tried again where it may have been another program’s doing', async () => {
    writeFiles(root, { 'a.txt': 'a@b.example' });
    const source = await folderSource(ctx, root);
    const id = await newSurvey(ctx, [source]);
    await survey(ctx, id);
    await ctx.store.run("UPDATE item SET state = 'unreadable', content_hash = NULL WHERE source_id = ?", [
      source,
    ]);
    await survey(ctx, id);
    expect((await byPath(source)).get('a.txt')?.['state']).toBe('read');
  });

  it('a source that vanished is told, its items are not taken for gone, and others are read', async () => {
    const other = join(home.path, unique('other'));
    writeFiles(root, { 'a.txt': 'a@b.example' });
    writeFiles(other, { 'b.txt': 'c@d.example' });
    const [vanished, stays] = [await folderSource(ctx, root), await folderSource(ctx, other)];
    const id = await newSurvey(ctx, [vanished, stays]);
    await survey(ctx, id);
    rmSync(root, { recursive: true });
    writeFiles(other, { 'c.txt': 'e@f.example' });
    const run = await survey(ctx, id);
    expect(run.state).toBe('done');
    expect(run.error).toContain('not there');
    expect((await byPath(vanished)).get('a.txt')?.['state']).toBe('read');
    expect((await byPath(stays)).has('c.txt')).toBe(true);
    const health = await ctx.store.one(
      z.object({ words: z.string() }),
      "SELECT JSON_VALUE(health, '$.words') AS words FROM source WHERE id = ?",
      [vanished],
    );
    expect(health?.words).toContain('not there');
  });

  it('a folder that is shut does not take what lies below it away', async () => {
    if (process.getuid?.() === 0) return;
    writeFiles(root, { 'shut/below/a.txt': 'a@b.example' });
    const source = await folderSource(ctx, root);
    const id = await newSurvey(ctx, [source]);
    await survey(ctx, id);
    chmodSync(join(root, 'shut'), 0);
    await survey(ctx, id);
    chmodSync(join(root, 'shut'), 0o700);
    expect((await byPath(source)).get('shut/below/a.txt')?.['state']).toBe('read');
  });
});

describe('killed workers', () => {
  const files = Object.fromEntries(
    Array.from({ length: 600 }, (_, i) => [
      `f${i % 7}/g${i % 3}/${i}.txt`,
      `Person ${i}: p${i}@x.example, p${i + 1}@x.example`,
    ]),
  );

  it('lead to the same findings as a survey that nobody disturbed, with nothing twice', async () => {
    writeFiles(root, files);
    const calm = await folderSource(ctx, root);
    await survey(ctx, await newSurvey(ctx, [calm]));
    const killed = await folderSource(ctx, root);
    const id = await newSurvey(ctx, [killed]);
    const run = await withWorkers(ctx, 1, async () => {
      const r = await estimateSurvey(ctx, null, id);
      return runUntil(ctx, r, (x) => x.state === 'estimated');
    });
    const plan = SURVEY_RUN.plan.parse(run.plan);
    let place: Stepping<typeof plan>['place'] = null;
    let kills = 0;
    for (let step = 0; ; step++) {
      const abort = new AbortController();
      const stepping = { run, plan, part: String(killed), place, signal: abort.signal };
      // Ends the step after a batch or two, so that there are many.
      if (step === 0) abort.abort();
      else setTimeout(() => abort.abort(), 5);
      const done = await SURVEY_RUN.step(ctx, stepping);
      if (step % 2 === 0 && kills < 10) {
        // Killed before, or in the middle of, writing it down.
        kills++;
        await closeReadings();
        if (step % 4 === 0)
          await ctx.store
            .transaction(async (tx) => {
              await SURVEY_RUN.keep?.(tx, ctx, stepping, done);
              throw new Error('killed');
            })
            .catch(() => {});
        continue;
      }
      await ctx.store.transaction(async (tx) => SURVEY_RUN.keep?.(tx, ctx, stepping, done));
      if (done.place === null) break;
      place = done.place;
    }
    expect(kills).toBeGreaterThan(2);
    expect(await known(ctx, killed)).toEqual(await known(ctx, calm));
  });

  it('several share a survey, paused and gone on with, and read the same', async () => {
    writeFiles(root, files);
    const alone = await folderSource(ctx, root);
    await survey(ctx, await newSurvey(ctx, [alone]));
    const shared = await folderSource(ctx, root);
    const id = await newSurvey(ctx, [shared]);
    await withWorkers(ctx, 2, async () => {
      const run = await estimateSurvey(ctx, null, id);
      await runUntil(ctx, run, (r) => r.state === 'estimated');
      const move = (act: 'start' | 'pause' | 'go on') =>
        ctx.store.transaction((tx) => moveRun(tx, ctx, RUN, null, run, act));
      await move('start');
      await move('pause');
      const paused = await runUntil(ctx, run, (r) => r.state === 'paused' || r.ended_at !== null);
      if (paused.state === 'paused') await move('go on');
      expect((await runUntil(ctx, run, (r) => r.ended_at !== null)).state).toBe('done');
    });
    expect(await known(ctx, shared)).toEqual(await known(ctx, alone));
  });
});

describe('detectors that changed', () => {
  it('read again what did not change with those alone, and say what that gained and lost', async () => {
    const { id: by } = await testAccount(ctx);
    writeFiles(root, { 'a.txt': 'Berth BSF-4471 for a@b.example', 'b.txt': 'no berth here' });
    const source = await folderSource(ctx, root);
    const id = await newSurvey(ctx, [source]);
    const detector = await addDetector(ctx, by, { name: unique('Berth number'), kind: 'pattern' });
    const opened = await openDetector(ctx, detector.id);
    if (opened.origin !== 'own' || opened.content.kind !== 'pattern') throw new Error('not a pattern');
    const { revision } = await saveDetectorDraft(ctx, by, detector.id, {
      revision: opened.revision,
      base: opened.content,
      content: {
        ...opened.content,
        anchor: { by: 'pattern', pattern: String.raw`BSF-\d{4}`, ignoreCase: false },
        start: 4,
        context: [],
      } as typeof opened.content,
    });
    await survey(ctx, id);
    const before = await byPath(source);
    await moveDetector(ctx, by, detector.id, 'rehearse', revision);
    const rehearsed = await survey(ctx, id);
    expect((await results(ctx, rehearsed.id)).filter((r) => r['detector'] === detector.id)).toEqual([
      expect.objectContaining({ is: 'changed', path: 'a.txt', rehearsed: true, was: 0, now: 1 }),
    ]);
    // What is only rehearsed stands apart, and changes nothing that counts.
    expect((await byPath(source)).get('a.txt')?.['findings']).toBe(
      `${String(before.get('a.txt')?.['findings'])},${detector.id} 1 1 1`,
    );
    await moveDetector(ctx, by, detector.id, 'put in force', revision);
    // Touched meanwhile, its bytes the same: it has to be read all the same, since it is read with more.
    utimesSync(join(root, 'b.txt'), new Date(0), new Date(0));
    const forced = await survey(ctx, id);
    expect(forced.outcome).toMatchObject({ items: 2 });
    expect((await results(ctx, forced.id)).filter((r) => r['detector'] === detector.id)).toContainEqual(
      expect.objectContaining({ path: 'a.txt', rehearsed: false, was: 0, now: 1 }),
    );
    await moveDetector(ctx, by, detector.id, 'retire', revision);
    await survey(ctx, id);
    expect(await byPath(source)).toEqual(before);
  });

  it('and since find only less are asked of those items alone in which they found something', async () => {
    const { id: by } = await testAccount(ctx);
    writeFiles(root, { 'a.txt': 'Berth BSF-4471 and BSF-9999', 'b.txt': 'no berth here' });
    const source = await folderSource(ctx, root);
    const id = await newSurvey(ctx, [source]);
    const detector = await addDetector(ctx, by, { name: unique('Berth number'), kind: 'pattern' });
    const change = async (more: object) => {
      const opened = await openDetector(ctx, detector.id);
      if (opened.origin !== 'own' || opened.content.kind !== 'pattern') throw new Error('not a pattern');
      const { revision } = await saveDetectorDraft(ctx, by, detector.id, {
        revision: opened.revision,
        base: opened.content,
        content: { ...opened.content, ...more } as typeof opened.content,
      });
      await moveDetector(ctx, by, detector.id, 'put in force', revision);
      return revision;
    };
    await change({
      anchor: { by: 'pattern', pattern: String.raw`BSF-\d{4}`, ignoreCase: false },
      start: 4,
      context: [],
    });
    expect((await survey(ctx, id)).outcome).toMatchObject({ items: 2 });
    const none = { check: 'is none of', values: ['BSF-9999'], passes: 0, fails: 'drop' };
    const revision = await change({ checks: [none] });
    const narrowed = await survey(ctx, id);
    expect(narrowed.outcome).toMatchObject({ items: 1 });
    expect((await results(ctx, narrowed.id)).filter((r) => r['detector'] === detector.id)).toEqual([
      expect.objectContaining({ path: 'a.txt', was: 2, now: 1 }),
    ]);
    // And the other one counts as read with it: nothing is left to do.
    expect((await survey(ctx, id)).outcome).toMatchObject({ items: 0 });
    await moveDetector(ctx, by, detector.id, 'retire', revision);
  });
});

it('leaves its outcome in the ledger, and nothing of what it read', async () => {
  writeFiles(root, { 'a.txt': 'hidden@person.example' });
  const run = await survey(ctx, await newSurvey(ctx, [await folderSource(ctx, root)]));
  const page = await listEntries(ctx.store, { object: 'run', objectId: run.id } as never, undefined, 50);
  const text = JSON.stringify(page);
  expect(text).toContain('run.end');
  expect(text).not.toContain('hidden');
});
