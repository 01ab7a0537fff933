import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { createHash } from 'node:crypto';
import ExcelJS from 'exceljs';
import { z } from 'zod';
import type { Account } from '../../../src/core/accounts/authority.ts';
import {
  AssessmentFile,
  assessedOf,
  assessmentFaults,
} from '../../../src/core/obligations/assessment-file.ts';
import { assess, readinessOf, wholePoints } from '../../../src/core/obligations/readiness/readiness.ts';
import { versionDifferences } from '../../../src/core/obligations/framework/version-differences.ts';
import type { MeasureWork } from '../../../src/core/obligations/work/measure-work.ts';
import { todayItems } from '../../../src/server/desk/today.ts';
import { allAssessments, ASSESSMENT } from '../../../src/server/obligations/assessments/assessment-object.ts';
import {
  listAssessments,
  viewAssessment,
} from '../../../src/server/obligations/assessments/assessment-view.ts';
import {
  previewStart,
  startAssessment,
} from '../../../src/server/obligations/assessments/start-assessment.ts';
import { exportAssessment } from '../../../src/server/obligations/assessments/export-assessment.ts';
import { takeVersion } from '../../../src/server/obligations/assessments/take-version.ts';
import { shippedLibrary } from '../../../src/server/obligations/library/shipped-library.ts';
import { viewFramework } from '../../../src/server/obligations/library/library-view.ts';
import {
  addEvidence,
  evidenceFile,
  evidenceOf,
  removeEvidence,
} from '../../../src/server/obligations/work/evidence.ts';
import { MEASURE_WORK, workKey } from '../../../src/server/obligations/work/measure-work-object.ts';
import { viewMeasure } from '../../../src/server/obligations/work/measure-view.ts';
import { runTests, tellDueMeasures } from '../../../src/server/obligations/work/run-tests.ts';
import { READINESS_WEIGHTS } from '../../../src/server/obligations/readiness-weights.ts';
import { editObject, readObject, undoEdit } from '../../../src/server/rules/plain-object.ts';
import { testAccount, testContext, unique } from '../context.ts';
import { sendFile } from '../sent-file.ts';

const ctx = testContext();
let [officer, doer, tester]: Account[] = [];
let cycle = '';
let gdpr = 0;
let inCycle = 0;

beforeAll(async () => {
  ctx.at('2026-11-30T10:00:00Z');
  await ctx.store.run('DELETE FROM figure_value');
  [officer, doer, tester] = await Promise.all([
    testAccount(ctx),
    testAccount(ctx, 'records manager'),
    testAccount(ctx, 'data steward'),
  ]);
  cycle = unique('group ');
  gdpr = await startAssessment(ctx, officer?.id ?? null, {
    framework: 'gdpr',
    cycle,
    lead: null,
    due: '2026-12-31',
  });
  inCycle = (await viewAssessment(ctx, gdpr)).cycleId;
});
afterAll(() => ctx.store.close());

const given = async (id = gdpr) => (await viewAssessment(ctx, id)).tally.given;
async function say(by: Account | undefined, measure: string, change: Partial<MeasureWork>, of = inCycle) {
  const key = workKey(of, measure);
  return ctx.store.transaction(async (tx) => {
    const { content, revision } = await readObject(tx, MEASURE_WORK, key);
    return editObject(tx, ctx.now(), MEASURE_WORK, by?.id ?? 0, key, {
      ...{ revision, base: content, content: { ...content, ...change } },
    });
  });
}
const work = (measure: string, of = inCycle) => MEASURE_WORK.read(ctx.store, workKey(of, measure));

describe('a measure', () => {
  it('counts once somebody else tested it, everywhere in its cycle, and not before', async () => {
    const eprivacy = await startAssessment(ctx, 1, {
      framework: 'eprivacy',
      cycle: inCycle,
      lead: null,
      due: null,
    });
    const before = [await given(), await given(eprivacy)];
    await say(doer, 'keep-consent-wordings', { state: 'done', how: 'Sampled.' });
    expect([await given(), await given(eprivacy)]).toEqual(before);
    await expect(say(doer, 'keep-consent-wordings', { test: 'passed' })).rejects.toThrow(
      'Somebody else tests',
    );
    await say(tester, 'keep-consent-wordings', { test: 'passed', tested: 'Ten proofs.' });
    expect(await work('keep-consent-wordings')).toMatchObject({
      ...{ doneBy: doer?.id, testedBy: tester?.id, testedOn: '2026-11-30', test: 'passed' },
    });
    const after = [await given(), await given(eprivacy)];
    expect(after.every((g, i) => g > (before[i] ?? 0))).toBe(true);
    const { next } = await viewAssessment(ctx, gdpr);
    expect(next.some((n) => n.id === 'keep-consent-wordings')).toBe(false);
  });

  it('is not tested before it is done, and loses its test when it is worked on again', async () => {
    await expect(say(tester, 'train-staff', { test: 'passed' })).rejects.toThrow('It is not done yet.');
    await say(doer, 'train-staff', { state: 'done' });
    await say(tester, 'train-staff', { test: 'passed' });
    const full = await given();
    await say(doer, 'train-staff', { state: 'in work' });
    expect(await work('train-staff')).toMatchObject({ test: null, testedBy: null, doneBy: null });
    expect(await given()).toBeLessThan(full);
  });

  it('cannot be passed by undoing what somebody else took back', async () => {
    await say(doer, 'write-clearly', { state: 'done' });
    await say(tester, 'write-clearly', { test: 'passed' });
    const { revision } = await say(tester, 'write-clearly', { test: null });
    const key = workKey(inCycle, 'write-clearly');
    await expect(
      ctx.store.transaction((tx) => undoEdit(tx, ctx.now(), MEASURE_WORK, doer?.id ?? 0, key, revision)),
    ).rejects.toThrow('Somebody else tests');
    expect((await work('write-clearly')).test).toBeNull();
  });

  it('names who did and tested it by who said so, whatever is sent', async () => {
    await say(doer, 'bind-staff', {
      state: 'done',
      doneBy: officer?.id ?? null,
      testedBy: officer?.id ?? null,
    });
    expect(await work('bind-staff')).toMatchObject({ doneBy: doer?.id });
    await say(tester, 'bind-staff', { test: 'failed', testedBy: officer?.id ?? null });
    expect(await work('bind-staff')).toMatchObject({ testedBy: tester?.id, test: 'failed' });
    await say(doer, 'bind-staff', {
      how: 'By letter.',
      testedBy: officer?.id ?? null,
      testedOn: '2020-01-01',
    });
    expect(await work('bind-staff')).toMatchObject({
      ...{ how: 'By letter.', testedBy: tester?.id, testedOn: '2026-11-30' },
    });
  });

  it('does not apply only with a reason, and one that is none is not there', async () => {
    await expect(say(doer, 'name-representative', { state: 'not applicable' })).rejects.toMatchObject({
      fields: [{ field: 'reason' }],
    });
    await say(doer, 'name-representative', { state: 'not applicable', reason: 'We sit in the Union.' });
    await expect(say(doer, 'no-such-measure', { state: 'done' })).rejects.toMatchObject({ status: 404 });
    await expect(say(doer, 'train-staff', { state: 'done' }, 999_999)).rejects.toMatchObject({ status: 404 });
  });

  it('tells what it counts for, and every word of it is in the ledger', async () => {
    const view = await viewMeasure(ctx, workKey(inCycle, 'keep-consent-wordings'));
    expect(view.serves.map((s) => s.framework)).toEqual(expect.arrayContaining(['GDPR', 'ePrivacy']));
    expect(view.also).toContain('LGPD');
    const entry = await ctx.store.one(
      z.object({ detail: z.json() }),
      "SELECT detail FROM ledger_entry WHERE object = 'measure work' AND object_id = ? ORDER BY id DESC LIMIT 1",
      [workKey(inCycle, 'keep-consent-wordings')],
    );
    expect(JSON.stringify(entry?.detail)).toContain('passed');
  });
});

describe('evidence', () => {
  const send = (text: string) => sendFile(ctx, doer?.id ?? 0, 'proof.txt', Buffer.from(text));

  it('is kept as it was sent, counts until its day, and is known by its digest once it is out', async () => {
    const key = workKey(inCycle, 'keep-consent-wordings');
    const id = await addEvidence(ctx, doer?.id ?? 0, key, {
      upload: await send('ten proofs'),
      until: '2026-12-01',
    });
    const [listed] = await evidenceOf(ctx.store, inCycle, 'keep-consent-wordings');
    expect(listed).toMatchObject({ id, name: 'proof.txt', size: 10, until: '2026-12-01' });
    expect((await evidenceFile(ctx, key, id)).body.toString()).toBe('ten proofs');
    const raw = await ctx.store.one(
      z.object({ body: z.string() }),
      'SELECT body FROM measure_evidence WHERE id = ?',
      [id],
    );
    expect(raw?.body).not.toContain(Buffer.from('ten proofs').toString('base64'));
    const counted = await given();
    ctx.at('2026-12-02T10:00:00Z');
    expect(await given()).toBeLessThan(counted);
    const control = (await viewAssessment(ctx, gdpr)).controls.find((c) => c.id === '7-1');
    expect(control?.measures.find((m) => m.id === 'keep-consent-wordings')?.why).toBe(
      'evidence past its date',
    );
    await removeEvidence(ctx, doer?.id ?? 0, key, id);
    expect(await given()).toBe(counted);
    await expect(evidenceFile(ctx, key, id)).rejects.toMatchObject({ status: 404 });
    // Of another measure it is none.
    await expect(removeEvidence(ctx, 1, workKey(inCycle, 'train-staff'), id)).rejects.toMatchObject({
      status: 404,
    });
    ctx.at('2026-11-30T10:00:00Z');
  });
});

describe('what the program tests', () => {
  const count = (figure: string, value: number | null, of = 14) =>
    ctx.store.run(
      'REPLACE INTO figure_value (figure, day, value, out_of, counted_at) VALUES (?, ?, ?, ?, UTC_TIMESTAMP(3))',
      [...[figure, ctx.now().toISOString().slice(0, 10), value, of]],
    );
  const item = async (who: Account | undefined) =>
    (await todayItems(ctx, who as Account)).find(
      (i) => i.kind === 'measure failed' && i.key === 'name-stewards',
    );

  it('counts by itself, is opened again and told to its owner when it fails, and counts again once it is right', async () => {
    await count('holdings.systems-without-steward', 0);
    await runTests(ctx);
    const right = await given();
    await expect(say(tester, 'name-stewards', { state: 'done', test: 'passed' })).rejects.toThrow(
      'The program tests this',
    );
    await say(doer, 'name-stewards', { state: 'done', owner: doer?.id ?? null });
    await count('holdings.systems-without-steward', 3);
    await runTests(ctx);
    expect(await given()).toBeLessThan(right);
    expect(await work('name-stewards')).toMatchObject({ state: 'in work', doneBy: null });
    expect(await item(doer)).toMatchObject({ detail: 'The program counts 3 of 14.' });
    expect(await item(tester)).toBeUndefined();
    const view = await viewMeasure(ctx, workKey(inCycle, 'name-stewards'));
    expect(view).toMatchObject({ test: 'failed', testedBy: 'program', live: { value: 3, of: 14 } });
    await runTests(ctx);
    await count('holdings.systems-without-steward', 0);
    await runTests(ctx);
    expect(await item(doer)).toBeUndefined();
    expect(await given()).toBe(right);
  });

  it('says nothing where there is nothing to count, or nobody counted lately', async () => {
    for (const [value, of] of [
      [null, 14],
      [0, 0],
    ] as const) {
      await count('holdings.systems-without-steward', 0);
      await runTests(ctx);
      await count('holdings.systems-without-steward', value, of);
      await runTests(ctx);
      expect((await viewMeasure(ctx, workKey(inCycle, 'name-stewards'))).test).toBeNull();
    }
    expect((await viewMeasure(ctx, workKey(inCycle, 'name-stewards'))).test).toBeNull();
    await count('holdings.systems-without-steward', 0);
    ctx.at('2026-12-05T10:00:00Z');
    await runTests(ctx);
    expect((await viewMeasure(ctx, workKey(inCycle, 'name-stewards'))).test).toBeNull();
    ctx.at('2026-11-30T10:00:00Z');
    await runTests(ctx);
  });

  it('is told once, however many workers look at the same moment', async () => {
    const failures = async () =>
      (
        await ctx.store.all(
          z.object({ n: z.number() }),
          "SELECT 1 AS n FROM ledger_entry WHERE action = 'measure.failed' AND object_id = 'name-stewards'",
        )
      ).length;
    await count('holdings.systems-without-steward', 0);
    await runTests(ctx);
    const before = await failures();
    await count('holdings.systems-without-steward', 2);
    await Promise.all(Array.from({ length: 6 }, () => runTests(ctx)));
    expect(await failures()).toBe(before + 1);
    await count('holdings.systems-without-steward', 0);
    await runTests(ctx);
  });

  it('stands on Today of who owns it now, and falls to all where nobody does', async () => {
    await count('holdings.systems-without-steward', 5);
    await runTests(ctx);
    expect(await item(doer)).toBeDefined();
    await say(officer, 'name-stewards', { owner: tester?.id ?? null });
    await runTests(ctx);
    expect([await item(doer), await item(tester)]).toEqual([undefined, expect.anything()]);
    await say(officer, 'name-stewards', { owner: null });
    await runTests(ctx);
    expect(await item(doer)).toBeDefined();
    await count('holdings.systems-without-steward', 0);
    await runTests(ctx);
    expect(await item(doer)).toBeUndefined();
  });

  it('that fails since before is told once an assessment asks for it', async () => {
    const asked = new Set(
      (await allAssessments(ctx.store, shippedLibrary())).flatMap((a) =>
        a.framework.controls.flatMap((c) => c.measures),
      ),
    );
    const { shipped: library } = shippedLibrary();
    const found = library.measures.find((m) => m.test?.atMost !== undefined && !asked.has(m.id));
    const framework = library.frameworks.find((f) =>
      f.controls.some((c) => c.measures.includes(found?.id ?? '')),
    );
    const told = async () =>
      (await todayItems(ctx, officer as Account)).filter((i) => i.key === found?.id).map((i) => i.since);
    ctx.at('2026-11-29T10:00:00Z');
    await count(found?.test?.figure ?? '', 9, 9);
    await runTests(ctx);
    expect(await told()).toEqual([]);
    ctx.at('2026-11-30T10:00:00Z');
    await count(found?.test?.figure ?? '', 9, 9);
    await startAssessment(ctx, 1, {
      framework: framework?.id ?? '',
      cycle: unique('told '),
      ...{ lead: null, due: null },
    });
    await runTests(ctx);
    expect(await told()).toEqual(['2026-11-29T10:00:00.000Z']);
  });

  it('keeps how far each assessment is, once a day', async () => {
    const { days, tally } = await viewAssessment(ctx, gdpr);
    expect(days.find((d) => d.day === '2026-11-30')).toMatchObject({
      given: tally.given,
      applicable: tally.applicable,
    });
  });
});

describe('an assessment', () => {
  it('brings along from another cycle what still holds there, with its evidence, and is told before', async () => {
    const name = unique('crew ');
    const told = await previewStart(ctx, 'iso-27701', null);
    expect(told.comesAlong.map((c) => c.measure)).toContain('keep-consent-wordings');
    expect(told.comesAlong.map((c) => c.measure)).not.toContain('bind-staff');
    const id = await startAssessment(ctx, officer?.id ?? null, {
      framework: 'iso-27701',
      cycle: name,
      lead: null,
      due: null,
    });
    const view = await viewAssessment(ctx, id);
    expect(view.tally).toEqual(told.tally);
    expect(await work('keep-consent-wordings', view.cycleId)).toMatchObject({
      test: 'passed',
      doneBy: doer?.id,
    });
    // From there on each cycle has its own.
    await say(doer, 'keep-consent-wordings', { state: 'in work' }, view.cycleId);
    expect((await work('keep-consent-wordings')).test).toBe('passed');
  });

  it('is one of its framework in a cycle, of one that ships, to a day to come', async () => {
    const again = (more: object) =>
      startAssessment(ctx, 1, { ...{ framework: 'gdpr', cycle: inCycle, lead: null, due: null }, ...more });
    await expect(again({})).rejects.toMatchObject({ status: 409 });
    await expect(again({ framework: 'moon-law' })).rejects.toMatchObject({ status: 404 });
    await expect(again({ cycle })).rejects.toThrow('There is a cycle of this name.');
    await expect(again({ framework: 'lgpd', due: '2026-11-29' })).rejects.toThrow('That day is over.');
    const ids = (await listAssessments(ctx)).filter((a) => a.cycleId === inCycle).map((a) => a.name);
    expect(ids.toSorted()).toEqual(['GDPR', 'ePrivacy']);
  });

  it('leaves out a control with a reason, and takes it in again', async () => {
    const edit = async (notApplicable: Record<string, string>) =>
      ctx.store.transaction(async (tx) => {
        const { content, revision } = await readObject(tx, ASSESSMENT, gdpr);
        return editObject(tx, ctx.now(), ASSESSMENT, officer?.id ?? 0, gdpr, {
          ...{ revision, base: content, content: { ...content, notApplicable } },
        });
      });
    const before = (await viewAssessment(ctx, gdpr)).tally.applicable;
    await edit({ '40': 'No code fits.' });
    expect(wholePoints(before - (await viewAssessment(ctx, gdpr)).tally.applicable)).toBe(3);
    await expect(edit({ '40': ' ' })).rejects.toThrow();
    await expect(edit({ 'no-such': 'x' })).rejects.toThrow('has no control no-such');
    await edit({});
    expect((await viewAssessment(ctx, gdpr)).tally.applicable).toBe(before);
  });

  it('weighs its controls as the organisation says, everywhere, and back', async () => {
    const before = await viewAssessment(ctx, gdpr);
    const set = async (prevents: number) =>
      ctx.store.transaction(async (tx) => {
        const { content, revision } = await readObject(tx, READINESS_WEIGHTS, 1);
        return editObject(tx, ctx.now(), READINESS_WEIGHTS, officer?.id ?? 0, 1, {
          ...{ revision, base: content, content: { ...content, kind: { ...content.kind, prevents } } },
        });
      });
    await set(6);
    const after = await viewAssessment(ctx, gdpr);
    const pointsOf = (of: typeof after, id: string) => of.controls.find((c) => c.id === id)?.points;
    expect([pointsOf(before, '6-1'), pointsOf(after, '6-1')]).toEqual([45, 90]);
    expect([pointsOf(before, '7-1'), pointsOf(after, '7-1')]).toEqual([24, 24]);
    const file = AssessmentFile.parse(await (await exportAssessment(ctx, gdpr, 'json')).json());
    expect(file.weights.kind.prevents).toBe(6);
    await expect(set(11)).rejects.toThrow();
    await set(3);
    expect((await viewAssessment(ctx, gdpr)).tally).toEqual(before.tally);
  });

  it('tells what it is made of so that it can be counted by hand', async () => {
    const view = await viewAssessment(ctx, gdpr);
    expect(view.families.reduce((n, f) => n + f.tally.given, 0)).toBe(view.tally.given);
    expect(view.controls.reduce((n, c) => n + c.given, 0)).toBe(view.tally.given);
    expect(readinessOf(view.tally)).toBeGreaterThan(0);
  });
});

it('measures that are due stand on Today of who owns them, until they are done', async () => {
  await say(doer, 'ask-parents', { owner: doer?.id ?? null, due: '2026-12-03' });
  const item = async () => (await todayItems(ctx, doer as Account)).find((i) => i.kind === 'measure due');
  await tellDueMeasures(ctx);
  expect(await item()).toMatchObject({ words: shippedLibrary().measures.get('ask-parents')?.name });
  await say(doer, 'ask-parents', { state: 'done' });
  await tellDueMeasures(ctx);
  expect(await item()).toBeUndefined();
});

describe('a newer version of a framework', () => {
  it('is told with its numbers before, taken once, and keeps what does not apply', async () => {
    const id = await startAssessment(ctx, 1, {
      framework: 'ccpa',
      cycle: unique('us '),
      lead: null,
      due: null,
    });
    await ctx.store.run("UPDATE assessment SET version = '2023-03-29', content = ? WHERE id = ?", [
      ...[JSON.stringify({ lead: null, due: null, notApplicable: { '7016': 'No incentives.' } }), id],
    ]);
    const before = await viewAssessment(ctx, id);
    expect(before.newer).toBe('2026-01-01');
    await takeVersion(ctx, officer?.id ?? 0, id);
    const after = await viewAssessment(ctx, id);
    expect(after.tally).toEqual(before.newerTally);
    expect(after).toMatchObject({ newer: null, newerTally: null });
    expect(after.controls.find((c) => c.id === '7016')?.applies).toBe(false);
    await expect(takeVersion(ctx, officer?.id ?? 0, id)).rejects.toMatchObject({ status: 409 });
  });
});

describe('the proof of an assessment', () => {
  it('is a file that the command line counts to the same number', async () => {
    const response = await exportAssessment(ctx, gdpr, 'json');
    const file = AssessmentFile.parse(await response.json());
    const { framework, tally } = await viewAssessment(ctx, gdpr);
    const whose = new Map(file.measures.map((m) => [m.id, m.whose]));
    const whole = shippedLibrary().framework(framework.id)!;
    expect(assessmentFaults(file, whole)).toEqual([]);
    expect(assess(assessedOf(file, whole), whose, file.weights, '2026-11-30').tally).toEqual(tally);
  });

  it('is a workbook with who did and tested what, and the digests of evidence', async () => {
    const key = workKey(inCycle, 'write-privacy-notice');
    await say(doer, 'write-privacy-notice', { state: 'done', how: 'On all pages.' });
    await say(tester, 'write-privacy-notice', { test: 'passed', tested: 'Read by two.' });
    const bytes = Buffer.from('the notice');
    const id = await sendFile(ctx, doer?.id ?? 0, 'notice.txt', bytes);
    await addEvidence(ctx, doer?.id ?? 0, key, { upload: id, until: null });
    // What nobody worked on yet may have a proof from before.
    const policy = await sendFile(ctx, doer?.id ?? 0, 'policy.txt', Buffer.from('ok'));
    const untouched = (await viewAssessment(ctx, gdpr)).controls
      .flatMap((c) => c.measures)
      .find((m) => m.state === 'planned' && m.testedBy === 'person');
    await addEvidence(ctx, doer?.id ?? 0, untouched?.key ?? '', { upload: policy, until: null });
    const book = new ExcelJS.Workbook();
    await book.xlsx.load((await (await exportAssessment(ctx, gdpr, 'xlsx')).arrayBuffer()) as never);
    const rows = (of: string) =>
      book
        .getWorksheet(of)
        ?.getSheetValues()
        .map((r) => JSON.stringify(r)) ?? [];
    expect(rows('Measures').find((r) => r?.includes('On all pages.'))).toContain('Read by two.');
    expect(rows('Evidence').find((r) => r?.includes('notice.txt'))).toContain(
      createHash('sha256').update(bytes).digest('hex'),
    );
    expect(rows('Evidence').find((r) => r?.includes('policy.txt'))).toContain(untouched?.name);
    expect(rows('Controls').length).toBeGreaterThan(100);
  });
});

describe('the library', () => {
  it('tells what a newer version says otherwise, control by control', () => {
    const [newer, older] = shippedLibrary().versions('ccpa');
    const found = versionDifferences(older!, newer!);
    expect(found.filter((d) => d.is === 'new').map((d) => d.control)).toEqual(['7150', '7120', '7200']);
    expect(found.filter((d) => d.is === 'changed').flatMap((d) => d.fields.map((f) => f.field))).toEqual([
      ...['guidance', 'guidance'],
    ]);
    expect(versionDifferences(newer!, newer!)).toEqual([]);
  });

  it('says what two frameworks share', async () => {
    const { beside } = await viewFramework(ctx, 'eprivacy');
    expect(beside.find((b) => b.id === 'gdpr')?.covered).toBeGreaterThan(3);
    await expect(viewFramework(ctx, 'moon-law')).rejects.toThrow();
  });
});
