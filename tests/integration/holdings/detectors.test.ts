import { afterAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import type {
  LearnedDetector,
  OwnDetector,
  RosterDetector,
} from '../../../src/core/holdings/detection/detector/own-detector.ts';
import { PatternDetector } from '../../../src/core/holdings/detection/detector/detector.ts';
import type { Json } from '../../../src/core/rules/change.ts';
import { RefusedError } from '../../../src/core/refusal.ts';
import { claimJob, type Job } from '../../../src/server/jobs/job.ts';
import {
  addLabelledText,
  addSet,
  overviewOfSet,
  readSet,
  scoreOnSet,
  setMarks,
} from '../../../src/server/holdings/detection/labelled/labelled-sets.ts';
import {
  addDetectorText,
  openDetector,
  sightTable,
  type OpenedDetector,
} from '../../../src/server/holdings/detection/detectors/open-detector.ts';
import { addDetector } from '../../../src/server/holdings/detection/detectors/new-detector.ts';
import { DETECTOR } from '../../../src/server/holdings/detection/detectors/own-detectors.ts';
import { removeDraft } from '../../../src/server/rules/rule-remove.ts';
import {
  importDetectors,
  patternDetectorsToExport,
} from '../../../src/server/holdings/detection/detectors/import-detectors.ts';
import { writeDetectorFile } from '../../../src/server/holdings/detection/detectors/detector-file.ts';
import { buildRosterJob, queueBuild } from '../../../src/server/holdings/detection/roster/roster-builds.ts';
import { queueTraining, trainJob } from '../../../src/server/holdings/detection/learned/trainings.ts';
import { tryDetectors } from '../../../src/server/holdings/detection/detectors/trial.ts';
import { takeRuleBack } from '../../../src/server/rules/rule-edits.ts';
import { moveDetector, saveDetectorDraft } from '../detector.ts';
import { beginUpload, readUpload, takePart } from '../../../src/server/files/uploads.ts';
import { endJob, type JobKind } from '../../../src/server/jobs/runner.ts';
import { testAccount, testContext, unique } from '../context.ts';
import { sendFile } from '../sent-file.ts';

const ctx = testContext();
afterAll(() => ctx.store.close());
const { id: by } = await testAccount(ctx);

type Own = Extract<OpenedDetector, { origin: 'own' }>;

async function open(id: string): Promise<Own> {
  const found = await openDetector(ctx, id);
  if (found.origin !== 'own') throw new Error(`${id} is built in`);
  return found;
}

async function save(id: string, change: Partial<OwnDetector>): Promise<void> {
  const { revision, content } = await open(id);
  await saveDetectorDraft(ctx, by, id, {
    revision,
    base: content,
    content: { ...content, ...change } as OwnDetector,
  });
}

async function put(id: string): Promise<void> {
  await moveDetector(ctx, by, id, 'put in force', (await open(id)).revision);
}

const upload = (name: string, body: string) => sendFile(ctx, by, name, Buffer.from(body));

/** Runs the job that was queued last, as a worker would. */
async function work(kind: JobKind): Promise<Json> {
  const job = (await claimJob(ctx, 'test', [kind.kind]))?.claimed as Job;
  const result = await kind.work(ctx, {
    job,
    owner: 'test',
    signal: new AbortController().signal,
    progress: () => {},
  });
  await ctx.store.transaction((tx) => endJob(tx, ctx, kind, job, { how: 'done', result }));
  return result;
}

const newPattern = (example = 'QX-1234') =>
  addDetector(ctx, by, { kind: 'pattern', name: unique('Locker number '), from: { format: [example] } });

describe('a pattern detector', () => {
  it('goes from an example to force, and tells its versions apart in words', async () => {
    const { id } = await newPattern();
    expect(
      (await tryDetectors(ctx, { text: 'locker QX-7788' }, (await open(id)).content)).findings,
    ).toHaveLength(1);
    expect((await tryDetectors(ctx, { text: 'locker QX-7788' }, undefined)).findings).toEqual([]);
    await put(id);
    const all = await tryDetectors(ctx, { text: 'locker QX-7788' }, undefined);
    expect(all.findings).toMatchObject([{ detector: id, version: 1, masked: expect.stringContaining('•') }]);
    await save(id, { keepFrom: 0.9 } as never);
    expect((await open(id)).changes).toEqual(['Counts from: 75% → 90%']);
    await moveDetector(ctx, by, id, 'rehearse', (await open(id)).revision);
    expect((await open(id)).stage).toMatchObject({ state: 'rehearsing', version: 2, over: { version: 1 } });
    const { revision } = await open(id);
    await ctx.store.transaction((tx) => takeRuleBack(tx, ctx.now(), DETECTOR, by, id, 1, revision));
    expect((await open(id)).content).toMatchObject({ keepFrom: 0.75 });
    const [action] = await ctx.store.all(
      z.object({ action: z.string() }),
      "SELECT action FROM ledger_entry WHERE object = 'detector' AND object_id = ? ORDER BY id DESC LIMIT 1",
      [id],
    );
    expect(action?.action).toBe('detector.edit');
  });

  it('that is rehearsed is read with, told apart, and counts for nothing', async () => {
    const { id } = await newPattern('ZK-1234-AB');
    await moveDetector(ctx, by, id, 'rehearse', 1);
    const { findings } = await tryDetectors(ctx, { text: 'see ZK-7788-AB' }, undefined);
    expect(findings).toMatchObject([{ detector: id, rehearsed: true }]);
  });

  it.each([
    ['(a+)+$', 'exponential'],
    ['(\\w+\\s?)*@', 'exponential'],
    ['x.*y.*z.*w', 'degree polynomial'.replace('degree ', '4th degree ')],
  ])('is refused the pattern %s, with the input that hurts', async (pattern, growth) => {
    const { id } = await newPattern();
    const refused = (await save(id, { anchor: { by: 'pattern', pattern, ignoreCase: false } } as never).catch(
      (e: unknown) => e,
    )) as RefusedError;
    expect(refused).toBeInstanceOf(RefusedError);
    expect(refused.fields).toMatchObject([{ field: 'anchor.pattern' }]);
    expect(refused.fields[0]?.message).toContain(growth);
    expect(refused.fields[0]?.message).toMatch(/for example on "/);
    expect((await open(id)).revision).toBe(1);
  });

  it('is refused what hurts in the pattern of a field, too', async () => {
    const { id } = await newPattern();
    const field = { headings: ['crew code'], pattern: '(?:a+)+b' };
    const anchor = { by: 'pattern', pattern: 'CR-\\d{4}', ignoreCase: false, field };
    const refused = (await save(id, { anchor } as never).catch((e: unknown) => e)) as RefusedError;
    expect(refused.fields).toMatchObject([{ field: 'anchor.field.pattern' }]);
    await save(id, { anchor: { ...anchor, field: { ...field, pattern: '[A-Z]{2}\\d{2}' } } } as never);
    expect((await open(id)).revision).toBe(2);
  });

  it('is refused a pattern that is none, by its field, and keeps one whose repeats are bounded', async () => {
    const { id } = await newPattern();
    const refused = (await save(id, { exclude: { values: [], patterns: ['['] } } as never).catch(
      (e: unknown) => e,
    )) as RefusedError;
    expect(refused.fields).toMatchObject([{ field: 'exclude.patterns.0' }]);
    await save(id, {
      anchor: { by: 'pattern', pattern: '(?:\\d{2,6}[- ]?){2,4}[A-Z]?', ignoreCase: false },
    } as never);
    expect((await open(id)).revision).toBe(2);
  });

  it('that never had a version can be removed, and one that had cannot', async () => {
    const { id } = await newPattern();
    await expect(removeDraft(ctx, DETECTOR, by, id, 7)).rejects.toMatchObject({ status: 409 });
    await removeDraft(ctx, DETECTOR, by, id, 1);
    await expect(openDetector(ctx, id)).rejects.toThrow('no detector');
    const kept = await newPattern();
    await put(kept.id);
    await expect(removeDraft(ctx, DETECTOR, by, kept.id, 1)).rejects.toThrow('stays on record');
  });

  it('leaves no clear value in the ledger', async () => {
    const { id } = await newPattern();
    await save(id, { exclude: { values: ['010180-1234'], patterns: [] } } as never);
    const [entry] = await ctx.store.all(
      z.object({ detail: z.unknown().transform((d) => JSON.stringify(d)) }),
      "SELECT detail FROM ledger_entry WHERE object = 'detector' AND object_id = ? AND action = 'detector.edit'",
      [id],
    );
    expect(entry?.detail).toContain('Values that never count');
    expect(entry?.detail).not.toContain('010180');
  });

  it('of two people at once loses nothing', async () => {
    const { id } = await newPattern();
    const { content, revision } = await open(id);
    await saveDetectorDraft(ctx, by, id, {
      revision,
      base: content,
      content: { ...content, name: 'One' } as OwnDetector,
    });
    const conflict = (await saveDetectorDraft(ctx, by, id, {
      revision,
      base: content,
      content: { ...content, keepFrom: 0.8 } as OwnDetector,
    }).catch((e: unknown) => e)) as RefusedError;
    expect(conflict.status).toBe(409);
    expect(conflict.detail).toMatchObject({ merged: { name: 'One', keepFrom: 0.8 }, collisions: [] });
  });

  it('cannot go in force unfinished, nor be retired while another asks for what it finds', async () => {
    const { id } = await addDetector(ctx, by, { kind: 'pattern', name: unique('Empty ') });
    await expect(put(id)).rejects.toThrow('not ready');
    const asked = await newPattern();
    await put(asked.id);
    const asking = await newPattern('WW-1234');
    await save(asking.id, {
      context: [{ where: 'line', within: 60, detector: asked.id, steps: 3 }],
    } as never);
    await put(asking.id);
    expect((await open(asked.id)).usedBy).toMatchObject([
      { what: 'detector', id: asking.id, how: 'in force' },
    ]);
    await expect(moveDetector(ctx, by, asked.id, 'retire', 1)).rejects.toThrow('asks for what it finds');
  });

  it('copies one that ships, and both leave and come back as a file', async () => {
    const name = unique('Our cards ');
    const { id } = await addDetector(ctx, by, { kind: 'pattern', name, copyOf: 'payment-card' });
    const copy = await open(id);
    expect(copy.copiedFrom).toBe('payment-card');
    expect((await openDetector(ctx, 'payment-card')).origin).toBe('built-in');
    const file = writeDetectorFile(await patternDetectorsToExport(ctx.store, id));
    expect(await importDetectors(ctx, by, file)).toMatchObject({ same: [id], added: [] });
    const changed = file.replace('"keepFrom": 0.75', '"keepFrom": 0.8');
    expect(await importDetectors(ctx, by, changed)).toMatchObject({ changed: [id] });
    expect((await open(id)).content).toMatchObject({ keepFrom: 0.8 });
    const builtIn = writeDetectorFile(await patternDetectorsToExport(ctx.store, 'iban'));
    const taken = await importDetectors(ctx, by, builtIn);
    expect(taken.renamed).toMatchObject([{ from: 'iban' }]);
    expect(taken.added).toEqual(taken.renamed.map((r) => r.to));
  });

  it('is taken in with all of its file or not at all', async () => {
    const good = PatternDetector.parse({
      kind: 'pattern',
      id: unique('good-'),
      name: 'Good',
      anchor: { by: 'pattern', pattern: 'G\\d{4}' },
    });
    const bad = {
      ...good,
      id: unique('bad-'),
      anchor: { by: 'pattern' as const, pattern: '(b+)+$', ignoreCase: false },
    };
    await expect(importDetectors(ctx, by, writeDetectorFile([good, bad]))).rejects.toThrow(
      'cannot be taken in',
    );
    await expect(openDetector(ctx, good.id)).rejects.toThrow('no detector');
  });
});

describe('a labelled set', () => {
  it('scores a draft, and tells what its last change gained and lost', async () => {
    const { id } = await newPattern('12345');
    const { id: set } = await addSet(ctx, by, unique('Papers '));
    const text = 'crew number 20417 and order no. 30418';
    await addLabelledText(ctx, by, set, { name: 'Note', text, marks: [{ start: 12, end: 17, label: id }] });
    const before = { ...(await open(id)).content, start: 2 } as PatternDetector;
    const after: PatternDetector = {
      ...before,
      context: [{ where: 'before', within: 20, words: ['order no'], steps: -4 }],
    };
    const figures = await scoreOnSet(ctx, set, id, after, [before]);
    expect(figures.score).toMatchObject({ right: 1, falseAlarms: 0, missed: 0 });
    expect(figures.changes).toMatchObject([
      { falseAlarms: 1, alarmsGone: [{ value: '30418' }], gained: [], lost: [], newAlarms: [] },
    ]);
    await save(id, after);
    await put(id);
    expect((await overviewOfSet(ctx, set)).find((s) => s.label === id)).toMatchObject({
      right: 1,
      used: true,
    });
  });

  it('keeps its texts encrypted, and the marks of two people apart', async () => {
    const { id: set } = await addSet(ctx, by, unique('Papers '));
    const { id } = await addLabelledText(ctx, by, set, { name: 'T', text: 'my secret value', marks: [] });
    const [row] = await ctx.store.all(
      z.object({ body: z.string() }),
      'SELECT body FROM labelled_text WHERE id = ?',
      [id],
    );
    expect(row?.body).toMatch(/^sealed:/);
    expect((await readSet(ctx, set)).texts[0]?.text).toBe('my secret value');
    await setMarks(ctx, by, set, id, 0, [{ start: 3, end: 9, label: 'x' }]);
    await expect(setMarks(ctx, by, set, id, 0, [])).rejects.toThrow('a moment ago');
    await expect(setMarks(ctx, by, set, id, 1, [{ start: 3, end: 99, label: 'x' }])).rejects.toThrow(
      'outside its text',
    );
  });
});

describe('a roster', () => {
  const table = (n: number) =>
    ['Member;Name', ...Array.from({ length: n }, (_, i) => `MEM-${700_000 + i};Person ${i}`)].join('\n');

  it('is built from a table, kept as hashes alone, and refreshed without a gap', async () => {
    const { id } = await addDetector(ctx, by, { kind: 'roster', name: unique('Members ') });
    const first = await upload('members.csv', table(50));
    const sight = await sightTable(ctx, by, first);
    expect(sight).toMatchObject({
      rows: 50,
      columns: [{ heading: 'Member', fit: 'key' }, { heading: 'Name' }],
    });
    expect(sight.columns[0]?.examples[0]).not.toContain('700000');
    await save(id, { keys: ['Member'], beside: ['Name'] } as never);
    await expect(put(id)).rejects.toThrow('not ready');
    await queueBuild(ctx, by, id, first);
    await work(buildRosterJob);
    await put(id);
    const found = await tryDetectors(ctx, { text: 'card mem 700 012 lost' }, (await open(id)).content);
    expect(found.findings).toMatchObject([{ detector: id }]);
    await expect(readUpload(ctx, by, first)).rejects.toThrow('no such file');
    const parts = await ctx.store.all(
      z.object({ body: z.instanceof(Buffer) }),
      'SELECT body FROM roster_part WHERE detector_id = ?',
      [id],
    );
    expect(Buffer.concat(parts.map((p) => p.body)).includes('700012')).toBe(false);

    expect((await tryDetectors(ctx, { text: 'member MEM-700060' }, undefined)).findings).toEqual([]);
    await queueBuild(ctx, by, id, await upload('members.csv', table(80)));
    expect((await tryDetectors(ctx, { text: 'member MEM-700012' }, undefined)).findings).toHaveLength(1);
    await work(buildRosterJob);
    expect((await tryDetectors(ctx, { text: 'member MEM-700060' }, undefined)).findings).toMatchObject([
      { detector: id },
    ]);
    const { builds, versions } = await open(id);
    expect(builds.map((b) => b.coverage.rows)).toEqual([80, 50]);
    expect(versions).toHaveLength(1);
  });

  it('says which column is missing, and what is no table', async () => {
    const { id } = await addDetector(ctx, by, { kind: 'roster', name: unique('Members ') });
    await save(id, { keys: ['No such'] } satisfies Partial<RosterDetector> as never);
    await queueBuild(ctx, by, id, await upload('members.csv', table(3)));
    await expect(work(buildRosterJob)).rejects.toThrow(
      'There is no column “No such”. There are: Member, Name.',
    );
    await expect(sightTable(ctx, by, await upload('x.csv', 'only a heading'))).rejects.toThrow('no table');
  });

  it('takes a file in parts, and refuses what does not belong to it', async () => {
    const { id } = await beginUpload(ctx, by, 'a.csv', 5);
    await expect(takePart(ctx, by, id, 0, Buffer.from('too long').toString('base64'))).rejects.toThrow(
      'does not belong',
    );
    await expect(readUpload(ctx, by, id)).rejects.toThrow('not arrived whole');
    const other = await testAccount(ctx);
    await expect(readUpload(ctx, other.id, id)).rejects.toThrow('no such file');
  });
});

describe('a likeness detector', () => {
  it('recognises a filled-in copy side by side, and refuses what is too short', async () => {
    const { id } = await addDetector(ctx, by, { kind: 'likeness', name: unique('Form ') });
    const form =
      'Application for a locker in the crew quarters. Name: Ship: Cabin: I shall hand back the key when I leave the ship and pay for it if it is lost.';
    const template = await addDetectorText(ctx, by, id, 'template', {
      upload: await upload('form.txt', form),
    });
    await save(id, { templates: [{ name: template.name, digest: template.digest }] } as never);
    await put(id);
    const filled = form.replace('Name:', 'Name: Bo Falk').replace('Cabin:', 'Cabin: 204');
    const { verdicts, likeness } = await tryDetectors(ctx, { text: filled }, (await open(id)).content);
    expect(verdicts).toMatchObject([{ detector: id, found: true }]);
    expect(likeness?.measure).toBeGreaterThan(0.75);
    expect(likeness?.inTemplate.length).toBeGreaterThan(0);
    await expect(
      addDetectorText(ctx, by, id, 'template', { upload: await upload('short.txt', 'Name and cabin') }),
    ).rejects.toThrow('too few words');
  });
});

describe('a learned detector', () => {
  it('is trained by a worker, told from its older version, and taught by verdicts', async () => {
    const { id } = await addDetector(ctx, by, { kind: 'learned', name: unique('Certificate ') });
    await expect(queueTraining(ctx, by, id)).rejects.toThrow('0 examples');
    const say = (i: number, words: string) => ({
      name: `text ${i} ${words}`,
      text: `${words} number ${i}: the ${['doctor', 'mate', 'cook'][i % 3]} saw it on day ${i % 7}`,
      origin: 'file' as const,
    });
    for (let i = 0; i < 8; i++) {
      await addDetectorText(ctx, by, id, 'example', say(i, 'sick leave certificate for illness'));
      await addDetectorText(ctx, by, id, 'counter-example', say(i, 'shift plan and overtime'));
    }
    // A text that was taught is shown to nobody by way of a trial.
    const [taught] = (await open(id)).texts;
    const asForm: OwnDetector = {
      kind: 'likeness',
      id,
      name: 'x',
      about: '',
      from: 0.05,
      templates: [{ name: 'x', digest: taught?.digest ?? '' }],
    };
    expect(
      (await tryDetectors(ctx, { text: 'sick leave certificate for illness' }, asForm)).likeness,
    ).toBeNull();
    await queueTraining(ctx, by, id);
    expect(await work(trainJob)).toEqual({ number: 1 });
    const trained = await open(id);
    expect(trained.content).toMatchObject({ training: 1 } satisfies Partial<LearnedDetector>);
    expect(trained.trainings[0]?.figures.warnings.map((w) => w.what)).toContain('too few');
    expect(trained.texts.every((t) => t.score !== null)).toBe(true);
    await put(id);
    const sick = 'sick leave certificate of the purser';
    expect((await tryDetectors(ctx, { text: sick }, trained.content)).verdicts).toMatchObject([
      { found: true },
    ]);
    expect(
      (await tryDetectors(ctx, { text: 'overtime and shift plan' }, trained.content)).verdicts,
    ).toMatchObject([{ found: false }]);
    await addDetectorText(ctx, by, id, 'counter-example', { name: 'Verdict', text: sick, origin: 'verdict' });
    await queueTraining(ctx, by, id);
    await work(trainJob);
    const again = await open(id);
    expect(again.trainings.map((t) => t.number)).toEqual([2, 1]);
    expect(again.comparison).toMatchObject({ texts: 16, inForce: { version: 1 } });
    expect(again.changes).toEqual(['Training: 1 → 2']);
  });
});
