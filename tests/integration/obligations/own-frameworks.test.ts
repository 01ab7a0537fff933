import ExcelJS from 'exceljs';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Account } from '../../../src/core/accounts/authority.ts';
import { readinessOf } from '../../../src/core/obligations/readiness/readiness.ts';
import { damagedSheets } from '../../../src/core/obligations/framework/workbook/damaged-sheets.fixture.ts';
import { placeWords, readWorkbook } from '../../../src/core/obligations/framework/workbook/read-workbook.ts';
import { workbookOf } from '../../../src/core/obligations/framework/workbook/write-workbook.ts';
import { AROUND, soundFile } from '../../../src/core/obligations/framework/framework-file.fixture.ts';
import { FrameworkFile } from '../../../src/core/obligations/framework/framework-file.ts';
import { SAMPLE_FRAMEWORK } from '../../../src/core/obligations/framework/sample-framework.ts';
import { figureIds } from '../../../src/server/desk/figures.ts';
import { readSheets, writeSheets } from '../../../src/server/files/workbook-sheets.ts';
import {
  listAssessments,
  viewAssessment,
} from '../../../src/server/obligations/assessments/assessment-view.ts';
import { startAssessment } from '../../../src/server/obligations/assessments/start-assessment.ts';
import {
  exportFramework,
  extendingWorkbook,
  FRAMEWORK_FORMS,
  sampleWorkbook,
} from '../../../src/server/obligations/library/export-framework.ts';
import { viewFramework } from '../../../src/server/obligations/library/library-view.ts';
import { frameworkLibrary } from '../../../src/server/obligations/library/own-frameworks.ts';
import { readFrameworkFile } from '../../../src/server/obligations/library/read-framework.ts';
import {
  markedFramework,
  previewFramework,
  removeFramework,
  takeFramework,
} from '../../../src/server/obligations/library/take-framework.ts';
import { editObject, readObject } from '../../../src/server/rules/plain-object.ts';
import { ASSESSMENT } from '../../../src/server/obligations/assessments/assessment-object.ts';
import { testAccount, testContext, unique } from '../context.ts';
import { sendFile } from '../sent-file.ts';

const ctx = testContext();
let [officer, other]: Account[] = [];
const figures = figureIds();
/** Its own in this run, so that other tests of the database do not meet it. */
const ID = unique('own-')
  .toLowerCase()
  .replace(/[^a-z0-9-]/g, '');

beforeAll(async () => {
  ctx.at('2026-11-30T10:00:00Z');
  [officer, other] = await Promise.all([testAccount(ctx), testAccount(ctx)]);
});
afterAll(async () => {
  await ctx.store.run(
    'DELETE FROM assessment_day WHERE assessment_id IN (SELECT id FROM assessment WHERE framework LIKE ?)',
    [`${ID}%`],
  );
  await ctx.store.run('DELETE FROM assessment WHERE framework LIKE ?', [`${ID}%`]);
  await ctx.store.run('DELETE FROM own_framework WHERE framework LIKE ?', [`${ID}%`]);
  await ctx.store.close();
});

const file = (more: Partial<FrameworkFile> = {}): FrameworkFile => ({
  ...SAMPLE_FRAMEWORK,
  ...{ id: ID, name: ID },
  measures: SAMPLE_FRAMEWORK.measures?.map((m) => ({ ...m, id: `${ID}-shred` })),
  controls: SAMPLE_FRAMEWORK.controls.map((c) => ({
    ...c,
    measures: c.measures.map((m) => (m === 'shred-guest-lists' ? `${ID}-shred` : m)),
  })),
  ...more,
});
const asJson = (f: unknown) => Buffer.from(JSON.stringify(f));
const send = (bytes: Uint8Array, by = officer) => sendFile(ctx, by?.id ?? 0, 'framework.xlsx', bytes);
async function look(bytes: Uint8Array) {
  const upload = await send(bytes);
  return { upload, ...(await previewFramework(ctx, officer?.id ?? 0, { upload, figures })) };
}
async function take(bytes: Uint8Array) {
  const { upload, preview } = await look(bytes);
  if (!preview) throw new Error('It has faults.');
  return takeFramework(ctx, officer?.id ?? 0, { upload, figures, before: preview.before });
}
const bytesOf = async (response: Response) => Buffer.from(await response.arrayBuffer());

describe('a framework of one’s own', () => {
  it('is begun with a sample that has nothing wrong', async () => {
    const { preview, faults } = await look(await bytesOf(await sampleWorkbook()));
    expect(faults).toEqual([]);
    expect(preview).toMatchObject({ is: 'new', before: null, controls: 4, ownMeasures: 1, running: [] });
  });

  it('is taken in, read as others are, and has what it takes', async () => {
    await take(await writeSheets(workbookOf(file())));
    const view = await viewFramework(ctx, ID);
    expect(view.framework.controls.map((c) => c.id)).toEqual([
      ...['baseline.know-systems', 'baseline.know-special', 'guests.lists', 'guests.photos'],
    ]);
    expect(view.measures[`${ID}-shred`]?.name).toBe('Shred guest lists after each voyage');
    expect(view.own).toMatchObject({ takes: [{ controls: 2 }], taken: [{ by: officer?.name }] });
  });

  it.each(FRAMEWORK_FORMS)('goes out as %s and comes back as it was', async (form) => {
    const out = await bytesOf(await exportFramework(ctx, ID, undefined, form));
    const { preview, faults } = await look(out);
    expect(faults).toEqual([]);
    expect(preview).toMatchObject({ is: 'the same version again', differences: [], measures: [] });
  });

  it.each(['gdpr', 'iso-27001', 'nist-pf', 'ccpa'])('as %s that ships does, in every form', async (id) => {
    const library = await frameworkLibrary(ctx.store);
    for (const form of FRAMEWORK_FORMS) {
      const bytes = await bytesOf(await exportFramework(ctx, id, undefined, form));
      const read = await readFrameworkFile(
        bytes,
        (of) => ({ ...library.around(of), ships: () => false }),
        readSheets,
      );
      expect([form, read.faults, read.file]).toEqual([form, [], library.framework(id)]);
    }
  });

  it('taken in again says in words what it changes, there and in what runs, and then does just that', async () => {
    const cycle = unique('own cycle ');
    const assessment = await startAssessment(ctx, officer?.id ?? null, {
      ...{ framework: ID, cycle, lead: null, due: null },
    });
    await ctx.store.transaction(async (tx) => {
      const { content, revision } = await readObject(tx, ASSESSMENT, assessment);
      const notApplicable = { 'guests.photos': 'No photos are taken.', 'guests.lists': 'No lists.' };
      await editObject(tx, ctx.now(), ASSESSMENT, officer?.id ?? 0, assessment, {
        ...{ revision, base: content, content: { ...content, notApplicable } },
      });
    });
    const [lists, photos] = file().controls;
    const changed = file({
      controls: [
        { ...lists!, risk: 5 },
        { ...photos!, id: 'guests.films', measures: ['separate-consents'] },
      ],
      measures: file().measures?.map((m) => ({ ...m, hours: 9 })),
    });
    const { preview, upload } = await look(asJson(changed));
    expect(preview?.differences.map((d) => `${d.is} ${d.control}`).sort()).toEqual([
      ...['changed guests.lists', 'gone guests.photos', 'new guests.films'],
    ]);
    expect(preview?.measures).toMatchObject([
      { is: 'changed', fields: [{ field: 'hours', before: '4', after: '9' }] },
    ]);
    const [told] = preview?.running ?? [];
    expect(told?.id).toBe(assessment);
    // What was looked at is what is taken: another one that came in between is not written over.
    await take(asJson(file({ issuer: 'Somebody else' })));
    await expect(
      takeFramework(ctx, officer?.id ?? 0, { upload, figures, before: preview?.before ?? null }),
    ).rejects.toThrow(/meanwhile/);
    await take(asJson(changed));
    const after = await viewAssessment(ctx, assessment);
    expect(readinessOf(after.tally)).toBe(told?.after);
    expect(after.controls.map((c) => c.id)).toContain('guests.films');
    const { content } = await ctx.store.transaction((tx) => readObject(tx, ASSESSMENT, assessment));
    expect(content.notApplicable).toEqual({ 'guests.lists': 'No lists.' });
  });

  it('in a newer version waits for assessments to take it', async () => {
    await take(asJson(file({ version: '2026-06-01', covers: 'More.' })));
    const found = (await listAssessments(ctx)).find((a) => a.name === ID);
    expect(found?.newer).toBe('2026-06-01');
    await expect(removeFramework(ctx, officer?.id ?? 0, ID, '2026-01-01')).rejects.toThrow(/is assessed/);
    await removeFramework(ctx, officer?.id ?? 0, ID, '2026-06-01');
    expect((await frameworkLibrary(ctx.store)).versions(ID).map((f) => f.version)).toEqual(['2026-01-01']);
  });

  it('is not changed under another that takes parts of it, nor taken out', async () => {
    const child = file({
      ...{
        id: `${ID}-child`,
        name: 'Child',
        measures: [],
        takes: [],
        families: [{ id: 'own', name: 'Own' }],
      },
      extends: { framework: ID, version: '2026-01-01' },
      controls: [{ ...file().controls[0]!, id: 'more', family: 'own', measures: [`${ID}-shred`] }],
    });
    await take(asJson(child));
    expect((await viewFramework(ctx, child.id)).framework.controls.map((c) => c.id)).toContain(
      'guests.films',
    );
    const without = file({ measures: [], controls: [{ ...file().controls[1]!, id: 'guests.films' }] });
    const { faults } = await look(asJson(without));
    expect(faults.map((f) => f.message)).toEqual([`Child: There is no measure ${ID}-shred.`]);
    await expect(removeFramework(ctx, officer?.id ?? 0, ID, '2026-01-01')).rejects.toThrow(
      /is assessed|takes parts/,
    );
    const circle = file({ takes: [], extends: { framework: child.id, version: child.version } });
    expect((await look(asJson(circle))).faults[0]?.message).toMatch(/come to itself/);
    await removeFramework(ctx, officer?.id ?? 0, child.id, child.version);
  });

  it('extends one that ships from a workbook that is prepared, with a control of its own', async () => {
    const sheets = await readSheets(await bytesOf(await extendingWorkbook(ctx, 'eprivacy')));
    const empty = await look(await writeSheets(sheets));
    expect(empty.preview?.controls).toBeGreaterThan(5);
    const filled = sheets.map((s) => {
      if (s.name === 'Families') return { ...s, rows: [...s.rows, ['ours', 'Ours']] };
      if (s.name !== 'Controls') return s;
      return {
        ...s,
        rows: [
          ...s.rows,
          ['o-1', 'ours', 'Rule 1', 'More', 'required', 'prevents', '5', 'Do more.', 'train-staff'],
        ],
      };
    });
    const { preview } = await look(await writeSheets(filled));
    expect(preview?.controls).toBe((empty.preview?.controls ?? 0) + 1);
  });
});

describe('a file with faults', () => {
  it('is not taken: all of them are told, and stand in a copy at their cells', async () => {
    const sheets = workbookOf(file({ id: `${ID}-bad` })).map((s) =>
      s.name === 'Controls'
        ? {
            ...s,
            rows: s.rows.map((r, i) =>
              i === 1 ? r.map((c, j) => (j === 6 ? 'high' : j === 8 ? 'nope' : c)) : r,
            ),
          }
        : s,
    );
    const { faults, upload } = await look(await writeSheets(sheets));
    expect(faults).toEqual([
      expect.objectContaining({ at: 'Controls G2', message: expect.stringContaining('“high”') }),
      { at: 'Controls I2', message: 'There is no measure nope.' },
      ...[expect.objectContaining({ at: 'Measures A2' }), expect.objectContaining({ at: 'Measures A2' })],
    ]);
    await expect(
      takeFramework(ctx, officer?.id ?? 0, { upload, figures, before: null }),
    ).rejects.toMatchObject({ fields: faults.map((f) => ({ field: f.at, message: f.message })) });
    const book = new ExcelJS.Workbook();
    const marked = await markedFramework(ctx, officer?.id ?? 0, { upload, figures });
    await book.xlsx.load(marked as unknown as ExcelJS.Buffer);
    const cell = book.getWorksheet('Controls')?.getCell('G2');
    expect(cell?.text).toBe('high');
    expect(JSON.stringify(cell?.note)).toContain('a whole number from 1');
    expect(cell?.fill).toMatchObject({ fgColor: { argb: 'FFF6C9B8' } });
    expect(book.getWorksheet('Controls')?.getCell('G3').note).toBeUndefined();
  });

  it.each<[string, Buffer, RegExp]>([
    ['half a workbook', Buffer.from('PK\u0003\u0004half'), /cannot be read as a workbook/],
    ['neither workbook nor JSON', Buffer.from('Id;Name'), /cannot be read as JSON/],
    ['a list', asJson([]), /./],
    ['an OSCAL catalog without metadata', asJson({ catalog: {} }), /It is no OSCAL catalog/],
    ['one that ships', asJson({ ...SAMPLE_FRAMEWORK, id: 'gdpr' }), /ships/],
    [
      'a figure that is not there',
      asJson(
        file({
          id: `${ID}-f`,
          measures: file().measures?.map((m) => ({
            ...m,
            id: `${ID}-g`,
            test: { figure: 'no.such', atMost: 0 },
          })),
          controls: file().controls.map((c) => ({ ...c, measures: [`${ID}-g`] })),
        }),
      ),
      /There is no figure no\.such/,
    ],
  ])('such as %s is told', async (_, bytes, words) => {
    const { preview, faults } = await look(bytes);
    expect(preview).toBeNull();
    expect(faults.map((f) => f.message).join('\n')).toMatch(words);
  });

  it('of somebody else is not found', async () => {
    const upload = await send(asJson(file()), other);
    await expect(previewFramework(ctx, officer?.id ?? 0, { upload, figures })).rejects.toThrow();
  });

  it('from OSCAL of others comes out as a workbook to be filled in', async () => {
    const catalog = {
      catalog: {
        uuid: 'x',
        metadata: {
          title: 'Theirs',
          version: '2',
          'last-modified': '2026-01-01T00:00:00Z',
          'oscal-version': '1.1.2',
        },
        controls: [{ id: 'a-1', title: 'One', parts: [{ name: 'statement', prose: 'Do it.' }] }],
      },
    };
    const { faults, upload, preview } = await look(asJson(catalog));
    expect(preview).toBeNull();
    expect(faults).toEqual([{ at: 'theirs a-1', message: 'No measure answers it.' }]);
    const sheets = await readSheets(
      Buffer.from(await markedFramework(ctx, officer?.id ?? 0, { upload, figures })),
    );
    expect(sheets.find((s) => s.name === 'Controls')?.rows[1]?.slice(0, 8)).toEqual([
      ...['a-1', 'all', 'a-1', 'One', 'required', 'prevents', '3', 'Do it.'],
    ]);
  });
});

describe('1,000 damaged workbooks', () => {
  it('tell every fault, through the file itself, and give nothing', async () => {
    // Ten thousand cells of XLSX are slow to write: a thousand are damaged, and every twentieth goes through a file.
    let n = 0;
    await fc.assert(
      fc.asyncProperty(soundFile, fc.infiniteStream(fc.nat(1_000_000)), async (f, dice) => {
        const { sheets, damaged } = damagedSheets(workbookOf(f), (of) => (dice.next().value as number) % of);
        const read = n++ % 20 === 0 ? await readSheets(Buffer.from(await writeSheets(sheets))) : sheets;
        const { faults, file: taken } = readWorkbook(read, AROUND);
        const told = new Set(faults.map(placeWords));
        expect(damaged.filter((d) => !told.has(d.at))).toEqual([]);
        expect(taken).toBeNull();
      }),
      { numRuns: 1000 },
    );
  });

  it('and those whose bytes are cut or changed are read as they were, or not at all', async () => {
    const whole = Buffer.from(await writeSheets(workbookOf(file())));
    const library = await frameworkLibrary(ctx.store);
    const was = (await readFrameworkFile(whole, (id) => library.around(id, figures), readSheets)).file;
    await fc.assert(
      fc.asyncProperty(fc.nat(whole.length - 1), fc.nat(255), fc.boolean(), async (at, byte, cut) => {
        const bytes = cut ? whole.subarray(0, at) : Buffer.from(whole);
        if (!cut) bytes[at] = byte;
        const read = await readFrameworkFile(bytes, (id) => library.around(id, figures), readSheets);
        if (read.file) expect(read.file).toEqual(was);
        else expect(read.faults.length).toBeGreaterThan(0);
      }),
      { numRuns: 200 },
    );
  });
});
