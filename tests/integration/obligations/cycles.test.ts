import { createHash } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { shippedLibrary } from '../../../src/server/obligations/library/shipped-library.ts';
import type { Account } from '../../../src/core/accounts/authority.ts';
import { OscalDocument } from '../../../src/core/obligations/oscal/oscal-shape.fixture.ts';
import type { AssessmentContent } from '../../../src/core/obligations/work/assessment-content.ts';
import type { MeasureWork } from '../../../src/core/obligations/work/measure-work.ts';
import { readSheets } from '../../../src/server/files/workbook-sheets.ts';
import { ASSESSMENT } from '../../../src/server/obligations/assessments/assessment-object.ts';
import {
  listAssessments,
  viewAssessment,
} from '../../../src/server/obligations/assessments/assessment-view.ts';
import { copyCycle } from '../../../src/server/obligations/assessments/copy-cycle.ts';
import { exportAssessment } from '../../../src/server/obligations/assessments/export-assessment.ts';
import { proofOf } from '../../../src/server/obligations/assessments/proof.ts';
import { startAssessment } from '../../../src/server/obligations/assessments/start-assessment.ts';
import { takeDueVersions } from '../../../src/server/obligations/assessments/take-version.ts';
import {
  addEvidence,
  evidenceFile,
  evidenceOf,
  removeEvidence,
} from '../../../src/server/obligations/work/evidence.ts';
import { freezeFigure } from '../../../src/server/obligations/work/frozen-figure.ts';
import { addComment } from '../../../src/server/obligations/work/measure-comments.ts';
import { MEASURE_WORK, workKey } from '../../../src/server/obligations/work/measure-work-object.ts';
import { viewMeasure } from '../../../src/server/obligations/work/measure-view.ts';
import { takeProviderFile } from '../../../src/server/obligations/work/provider-answers.ts';
import { tellDueMeasures } from '../../../src/server/obligations/work/run-tests.ts';
import { seal } from '../../../src/server/evidence/ledger.ts';
import { editObject, readObject } from '../../../src/server/rules/plain-object.ts';
import { testAccount, testContext, unique } from '../context.ts';
import { sendFile } from '../sent-file.ts';

const ctx = testContext();
let [officer, doer, tester]: Account[] = [];
let [assessment, cycle] = [0, 0];
const id = (a: Account | undefined) => a?.id ?? 0;

beforeAll(async () => {
  ctx.at('2026-11-30T10:00:00Z');
  [officer, doer, tester] = await Promise.all([
    testAccount(ctx),
    testAccount(ctx, 'records manager'),
    testAccount(ctx, 'data steward'),
  ]);
  assessment = await startAssessment(ctx, id(officer), {
    ...{ framework: 'lgpd', cycle: unique('cycle '), lead: id(officer), due: '2026-12-31' },
  });
  cycle = (await viewAssessment(ctx, assessment)).cycleId;
});
afterAll(async () => {
  await ctx.store.close();
});

async function edit(of: number, change: Partial<AssessmentContent>) {
  return ctx.store.transaction(async (tx) => {
    const { content, revision } = await readObject(tx, ASSESSMENT, of);
    await editObject(tx, ctx.now(), ASSESSMENT, id(officer), of, {
      ...{ revision, base: content, content: { ...content, ...change } },
    });
  });
}
async function say(by: Account | undefined, measure: string, change: Partial<MeasureWork>) {
  return ctx.store.transaction(async (tx) => {
    const { content, revision } = await readObject(tx, MEASURE_WORK, workKey(cycle, measure));
    await editObject(tx, ctx.now(), MEASURE_WORK, id(by), workKey(cycle, measure), {
      ...{ revision, base: content, content: { ...content, ...change } },
    });
  });
}
/** A measure of the assessment by whose it is, that no program tests. */
async function measureOf(whose: 'ours' | 'provider', nth = 0): Promise<string> {
  const { controls } = await viewAssessment(ctx, assessment);
  const found = [
    ...new Set(
      controls
        .flatMap((c) => c.measures)
        .filter((m) => m.whose === whose && m.testedBy !== 'program')
        .map((m) => m.id),
    ),
  ];
  return found[nth] ?? '';
}
const file = (bytes: object | string, by = officer) =>
  sendFile(ctx, id(by), 'file.json', Buffer.from(typeof bytes === 'string' ? bytes : JSON.stringify(bytes)));

describe('a provider’s file', () => {
  const said = (provider: string, measure: string, more: object = {}) => ({
    ...{ format: 'yare-provider-1', provider, issued: '2026-11-01', until: '2027-06-30' },
    measures: [{ measure, test: 'passed', how: 'Audited by others.', ...more }],
  });
  const take = async (content: object) =>
    takeProviderFile(ctx, id(officer), { cycle, upload: await file(content) });
  const given = async (at = '2026-11-30T10:00:00Z') => {
    ctx.at(at);
    const { tally } = await viewAssessment(ctx, assessment);
    ctx.at('2026-11-30T10:00:00Z');
    return tally.provider.given;
  };

  it('makes its measures count, with itself as evidence, until its day', async () => {
    const measure = await measureOf('provider');
    expect(await given()).toBe(0);
    expect(await take(said('Streamhull', measure))).toEqual({ provider: 'Streamhull', passed: 1, failed: 0 });
    const now = await given();
    expect(now).toBeGreaterThan(0);
    expect(await given('2027-06-30T23:00:00Z')).toBe(now);
    expect(await given('2027-07-01T01:00:00Z')).toBe(0);
    const [evidence] = await evidenceOf(ctx.store, cycle, measure);
    expect(evidence).toMatchObject({ name: 'file.json', until: '2027-06-30' });
  });

  it('takes the place of what the same provider said, and stands beside what others say', async () => {
    const measure = await measureOf('provider');
    await take(said('streamhull', measure, { until: '2027-03-31' }));
    expect(await evidenceOf(ctx.store, cycle, measure)).toHaveLength(1);
    await take(said('Paylock', measure, { test: 'failed' }));
    expect(await given()).toBe(0);
    const view = await viewMeasure(ctx, workKey(cycle, measure));
    expect(view.providers.map((p) => [p.provider, p.test, p.until])).toEqual([
      ['Paylock', 'failed', '2027-06-30'],
      ['streamhull', 'passed', '2027-03-31'],
    ]);
    const paylock = (await evidenceOf(ctx.store, cycle, measure)).at(-1);
    await removeEvidence(ctx, id(officer), workKey(cycle, measure), paylock?.id ?? 0);
    expect(await given()).toBeGreaterThan(0);
  });

  it('that says anything wrong is not taken, not even in part', async () => {
    const [theirs, ours] = [await measureOf('provider', 1), await measureOf('ours')];
    const both = {
      ...said('Wavemeter', theirs),
      measures: [...said('', theirs).measures, ...said('', ours).measures],
    };
    await expect(take(both)).rejects.toMatchObject({ fields: [{ field: 'measures.1.measure' }] });
    expect(await evidenceOf(ctx.store, cycle, theirs)).toEqual([]);
    await expect(takeProviderFile(ctx, id(officer), { cycle, upload: await file('{') })).rejects.toThrow(
      /JSON/,
    );
    await expect(take({ format: 'other' })).rejects.toThrow(/no file of a provider/);
    const large = { ...said('Wavemeter', theirs, { how: 'x' }), padding: 'x'.repeat(600_000) };
    await expect(take(large)).rejects.toThrow(/larger than 500 kB/);
  });
});

describe('a measure', () => {
  it('has what people say about it, by whom and when', async () => {
    const key = workKey(cycle, await measureOf('ours'));
    await addComment(ctx, id(doer), key, 'The list lies with payroll.');
    await addComment(ctx, id(tester), key, '<b>Seen</b>');
    const { comments } = await viewMeasure(ctx, key);
    expect(comments.map((c) => [c.by, c.said])).toEqual([
      [doer?.name, 'The list lies with payroll.'],
      [tester?.name, '<b>Seen</b>'],
    ]);
    await expect(addComment(ctx, id(doer), workKey(cycle, 'no-such'), 'x')).rejects.toThrow();
  });

  it('keeps a figure of the program as it showed, whatever it shows later', async () => {
    const key = workKey(cycle, await measureOf('ours'));
    const figure = {
      ...{ id: 'websites.leaks', name: 'Leaks', definition: 'Trackers before consent.', unit: 'tracker' },
      ...{ good: 'less' as const, link: '/websites' },
      days: [{ day: '2026-11-30', value: 3, of: 14, countedAt: '2026-11-30T09:00:00Z' }],
    };
    const evidence = await freezeFigure(ctx, id(doer), key, figure, '2027-01-31');
    const { body, name } = await evidenceFile(ctx, key, evidence);
    expect(name).toBe('Leaks, 2026-11-30.json');
    expect(JSON.parse(body.toString())).toMatchObject({
      format: 'yare-figure-1',
      days: [{ value: 3, of: 14 }],
    });
    const listed = (await viewMeasure(ctx, key)).evidence.find((e) => e.id === evidence);
    expect(listed).toMatchObject({
      link: '/websites',
      hash: createHash('sha256').update(body).digest('hex'),
    });
    await expect(freezeFigure(ctx, id(doer), key, { ...figure, days: [] }, null)).rejects.toThrow(
      /not counted/,
    );
  });

  it('whose day comes near is told by mail once, to who owns it', async () => {
    const measure = await measureOf('ours', 1);
    await say(officer, measure, { owner: id(doer), due: '2026-12-03', state: 'in work' });
    const letters = () =>
      ctx.store.all(
        z.object({ message_key: z.string() }),
        'SELECT message_key FROM outgoing_message WHERE message_key LIKE ?',
        [`measure due ${workKey(cycle, measure)}%`],
      );
    await tellDueMeasures(ctx);
    await tellDueMeasures(ctx);
    expect(await letters()).toHaveLength(ctx.settings.SMTP_URL ? 1 : 0);
  });
});

describe('a newer version of a framework', () => {
  it('is taken on its day, or never, with the reason', async () => {
    const [newest, older] = shippedLibrary().versions('lgpd');
    await ctx.store.run('UPDATE assessment SET version = ? WHERE id = ?', [older?.version ?? '', assessment]);
    const { newer } = (await listAssessments(ctx)).find((a) => a.id === assessment) ?? {};
    expect(newer).toBe(newest?.version);
    const versionNow = async () => (await viewAssessment(ctx, assessment)).framework.version;
    await edit(assessment, { newer: { take: 'never', version: newer ?? '', reason: 'It ends this year.' } });
    expect((await listAssessments(ctx)).find((a) => a.id === assessment)?.newer).toBeNull();
    await takeDueVersions(ctx);
    expect(await versionNow()).not.toBe(newer);
    await edit(assessment, { newer: { take: 'on a day', version: newer ?? '', on: '2026-12-02' } });
    await takeDueVersions(ctx);
    expect(await versionNow()).not.toBe(newer);
    ctx.at('2026-12-02T01:00:00Z');
    await Promise.all([takeDueVersions(ctx), takeDueVersions(ctx)]);
    expect(await versionNow()).toBe(newer);
    ctx.at('2026-11-30T10:00:00Z');
  });

  it('is not taken never without a reason', async () => {
    await expect(
      edit(assessment, { newer: { take: 'never', version: '2026-01-01', reason: ' ' } }),
    ).rejects.toThrow();
  });
});

describe('the next cycle', () => {
  it('begins with what still holds: scope, what does not apply, work and evidence', async () => {
    const measure = await measureOf('ours', 2);
    await say(doer, measure, { state: 'done', how: 'So.' });
    await say(tester, measure, { test: 'passed' });
    const upload = await file('{}', doer);
    await addEvidence(ctx, id(doer), workKey(cycle, measure), { upload, until: '2027-12-31' });
    const { controls } = await viewAssessment(ctx, assessment);
    const notApplicable = { [controls[0]?.id ?? '']: 'We do not do this.' };
    await edit(assessment, { notApplicable, scope: { units: 'offices', systems: [], providers: 'Paylock' } });
    const name = unique('next ');
    const { id: next } = await copyCycle(ctx, id(officer), cycle, { name, due: '2027-12-31' });
    const copied = (await listAssessments(ctx)).filter((a) => a.cycleId === next);
    expect(copied.map((a) => [a.name, a.cycle])).toEqual([['LGPD', name]]);
    const { content } = await ctx.store.transaction((tx) => readObject(tx, ASSESSMENT, copied[0]?.id ?? 0));
    expect(content).toMatchObject({
      notApplicable,
      due: '2027-12-31',
      scope: { units: 'offices' },
      newer: null,
    });
    const view = await viewMeasure(ctx, workKey(next, measure));
    expect([view.state, view.test, view.evidence.map((e) => e.name)]).toEqual([
      'done',
      'passed',
      ['file.json'],
    ]);
    await expect(copyCycle(ctx, id(officer), cycle, { name, due: null })).rejects.toThrow(/of this name/);
    await expect(copyCycle(ctx, id(officer), 4_000_000, { name: unique('x'), due: null })).rejects.toThrow();
  });
});

describe('the proof', () => {
  it('tells what was done, tested, left out, and the head of the ledger', async () => {
    await seal(ctx.store, ctx.now());
    const proof = await proofOf(ctx, assessment);
    expect(proof.controls[0]).toMatchObject({ applies: false, reason: 'We do not do this.' });
    const done = proof.measures.get(await measureOf('ours', 2));
    expect(done).toMatchObject({ doneBy: doer?.name, testedBy: tester?.name, by: 'person', test: 'passed' });
    expect(proof.measures.get(await measureOf('provider'))).toMatchObject({
      by: 'provider',
      testedBy: 'streamhull',
    });
    expect(proof.ledger?.head).toMatch(/^[0-9a-f]{64}$/);
    expect(proof.scope.map((s) => s.what)).toEqual(['Units', 'Providers']);
  });

  it('goes out as OSCAL of the shape that the standard gives', async () => {
    const made = await (await exportAssessment(ctx, assessment, 'oscal')).json();
    expect(OscalDocument.safeParse(made).error?.issues).toBeUndefined();
    const text = JSON.stringify(made);
    for (const words of ['not-satisfied', 'Not applicable: We do not do this.', 'SHA-256', 'ledger-head'])
      expect(text).toContain(words);
  });

  it('goes out as a workbook that somebody else can read', async () => {
    const bytes = Buffer.from(await (await exportAssessment(ctx, assessment, 'xlsx')).arrayBuffer());
    const sheets = new Map((await readSheets(bytes)).map((s) => [s.name, s.rows]));
    expect([...sheets.keys()]).toEqual(['About', 'Controls', 'Measures', 'Evidence', 'Left out']);
    expect(sheets.get('Left out')?.[1]?.[1]).toBe('We do not do this.');
    expect(sheets.get('Evidence')?.some((r) => /^[0-9a-f]{64}$/.test(r[2] ?? ''))).toBe(true);
  });

  it('goes out as PDF with its words in it', async () => {
    const bytes = Buffer.from(await (await exportAssessment(ctx, assessment, 'pdf')).arrayBuffer());
    expect(bytes.subarray(0, 5).toString()).toBe('%PDF-');
    const { extract } = await import('../../../src/server/files/extract/extract.ts');
    const { text } = await extract('proof.pdf', bytes);
    for (const words of ['how far we are', 'What is left out', 'We do not do this.', 'SHA-256'])
      expect(text).toContain(words);
  });

  it('is told as missing of what is not there', async () => {
    await expect(exportAssessment(ctx, 4_000_000, 'pdf')).rejects.toThrow();
  });
});
