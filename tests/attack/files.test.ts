import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import JSZip from 'jszip';
import { deflateRawSync } from 'node:zlib';
import { testAccount, testContext } from '../integration/context.ts';
import { detectorPool } from '../../src/server/holdings/detection/threads/shared-threads.ts';
import { extract } from '../../src/server/files/extract/extract.ts';
import { importDetectors } from '../../src/server/holdings/detection/detectors/import-detectors.ts';
import { saveDetectorDraft } from '../integration/detector.ts';
import { addDetector } from '../../src/server/holdings/detection/detectors/new-detector.ts';
import { openDetector } from '../../src/server/holdings/detection/detectors/open-detector.ts';
import { readTable } from '../../src/server/files/table-file.ts';
import { tryDetectors } from '../../src/server/holdings/detection/detectors/trial.ts';
import { readSentLibrary } from '../../src/server/websites/library/known-tracker-file.ts';
import { Share } from '../../src/server/http/share.ts';

const ctx = testContext();
let by = 0;
beforeAll(async () => {
  by = (await testAccount(ctx)).id;
});
afterAll(async () => {
  await detectorPool().close();
  await ctx.store.close();
});

/** The longest that this thread, the desk's own, stood still while `work` went on. */
async function standstill<T>(work: () => Promise<T>): Promise<{ ms: number; result: T | Error }> {
  let last = performance.now();
  let ms = 0;
  const beat = setInterval(() => {
    ms = Math.max(ms, performance.now() - last);
    last = performance.now();
  }, 10);
  const result = await work().catch((e: Error) => e);
  ms = Math.max(ms, performance.now() - last);
  clearInterval(beat);
  return { ms, result };
}

async function workbook(cells: string, sheets = 1): Promise<Buffer> {
  const zip = new JSZip();
  const names = Array.from(
    { length: sheets },
    (_, i) => `<sheet name="s${i}" sheetId="${i + 1}" r:id="r1"/>`,
  );
  zip.file('xl/workbook.xml', `<workbook><sheets>${names.join('')}</sheets></workbook>`);
  zip.file(
    'xl/_rels/workbook.xml.rels',
    '<Relationships><Relationship Id="r1" Target="worksheets/sheet1.xml"/></Relationships>',
  );
  zip.file('xl/worksheets/sheet1.xml', `<worksheet><sheetData>${cells}</sheetData></worksheet>`);
  return zip.generateAsync({ type: 'nodebuffer', compression: 'DEFLATE' });
}
const cell = (ref: string, text: string) => `<c r="${ref}" t="inlineStr"><is><t>${text}</t></is></c>`;
const far = (n: number) =>
  Array.from({ length: n }, (_, i) => {
    const row = 1 + i * Math.floor(1_000_000 / n);
    return `<row r="${row}">${cell(`XF${'ABCD'[i % 4]}${row}`, `ada${i}@company.example`)}</row>`;
  }).join('');

describe('a workbook of a few kilobytes', () => {
  it.each([
    ['with cells at its far ends', () => workbook(far(600)), 600],
    [
      'with a cell in its last place',
      () =>
        workbook(
          `<row r="1">${cell('A1', 'bo@company.example')}</row><row r="1048576">${cell('XFD1048576', 'eve@company.example')}</row>`,
        ),
      2,
    ],
    [
      'that names its one sheet ten thousand times',
      () => workbook(`<row r="1">${cell('A1', 'bo@company.example')}</row>`, 10_000),
      1,
    ],
    [
      'with places that are none',
      () =>
        workbook(
          `<row r="99999999999">${cell('AAAAAAAAAA99999999999', 'x')}${cell('A0', 'y')}${cell('bo', 'bo@company.example')}</row>`,
        ),
      0,
    ],
  ])('%s is read in its time, and every cell is found', async (_, make, most) => {
    const bytes = await make();
    const before = process.memoryUsage().rss;
    const begun = performance.now();
    const { text, segments } = await extract('x.xlsx', bytes);
    expect(performance.now() - begun).toBeLessThan(5000);
    expect(process.memoryUsage().rss - before).toBeLessThan(400e6);
    expect((text.match(/@company\.example/g) ?? []).length).toBeGreaterThanOrEqual(most);
    if (most === 2) {
      const last = segments.find((s) => text.slice(s.start, s.end) === 'eve@company.example');
      expect(last?.place).toMatchObject({ cell: 'XFD1048576', row: 1048576 });
    }
  });
});

/** A ZIP of stored and damaged parts with names as they are. */
function zipOf(parts: readonly { name: string; body: string; broken?: boolean }[]): Buffer {
  const local: Buffer[] = [];
  const central: Buffer[] = [];
  let offset = 0;
  for (const { name, body, broken } of parts) {
    const raw = Buffer.from(body);
    const packed = broken ? Buffer.from('this is no deflate stream at all') : deflateRawSync(raw);
    const label = Buffer.from(name, 'latin1');
    const crc = Buffer.alloc(4);
    crc.writeUInt32LE(crc32(raw));
    const sizes = Buffer.alloc(8);
    sizes.writeUInt32LE(packed.length, 0);
    sizes.writeUInt32LE(raw.length, 4);
    const lengths = Buffer.alloc(4);
    lengths.writeUInt16LE(label.length, 0);
    const common = Buffer.concat([Buffer.from([20, 0, 0, 0, 8, 0, 0, 0, 0, 0]), crc, sizes, lengths]);
    const here = Buffer.concat([Buffer.from('PK\x03\x04', 'latin1'), common, label, packed]);
    const at = Buffer.alloc(4);
    at.writeUInt32LE(offset);
    central.push(
      Buffer.concat([
        Buffer.from('PK\x01\x02', 'latin1'),
        Buffer.from([20, 0]),
        common,
        Buffer.alloc(10),
        at,
        label,
      ]),
    );
    local.push(here);
    offset += here.length;
  }
  const directory = Buffer.concat(central);
  const end = Buffer.alloc(22);
  end.write('PK\x05\x06', 'latin1');
  end.writeUInt16LE(parts.length, 8);
  end.writeUInt16LE(parts.length, 10);
  end.writeUInt32LE(directory.length, 12);
  end.writeUInt32LE(offset, 16);
  return Buffer.concat([...local, directory, end]);
}

function crc32(bytes: Buffer): number {
  let crc = ~0;
  for (const b of bytes) {
    crc ^= b;
    for (let i = 0; i < 8; i++) crc = (crc >>> 1) ^ (crc & 1 ? 0xedb88320 : 0);
  }
  return ~crc >>> 0;
}

describe('an archive', () => {
  it('with a bad name or a damaged part is read but for that', async () => {
    const zip = zipOf([
      { name: 'a.txt', body: 'one ada@company.example' },
      { name: '../../etc/passwd.txt', body: 'two bo@company.example' },
      { name: '/root/x.txt', body: 'three cy@company.example' },
      { name: 'c:\\windows\\y.txt', body: 'four di@company.example' },
      { name: 'bad\x00\x07name.txt', body: 'five' },
      { name: 'broken.txt', body: 'six', broken: true },
      { name: 'z.txt', body: 'seven ed@company.example' },
    ]);
    const { text, problems } = await extract('x.zip', zip);
    for (const name of ['ada', 'bo', 'cy', 'di', 'ed']) expect(text).toContain(`${name}@company.example`);
    expect(problems.map((p) => [p.kind, p.part])).toEqual([
      ['misnamed', '../../etc/passwd.txt'],
      ['misnamed', '/root/x.txt'],
      ['misnamed', 'c:/windows/y.txt'],
      ['damaged', 'broken.txt'],
    ]);
  });

  it.each([
    ['its header', Buffer.from('PK\x03\x04', 'latin1')],
    ['its stream', deflateRawSync(Buffer.from('<workbook></workbook>'))],
  ])('whose needed part is damaged in %s is told of, and ends nothing', async (_, good) => {
    const zip = zipOf([
      { name: 'a.xml', body: '<a/>' },
      { name: 'xl/workbook.xml', body: '<workbook></workbook>' },
    ]);
    const at = zip.indexOf(good, 4);
    zip.fill(0xee, at, at + 3);
    const { problems } = await extract('x.xlsx', zip);
    expect(problems.map((p) => p.kind)).toEqual(['damaged']);
    expect(problems[0]?.words).toContain('xl/workbook.xml');
  });
});

describe('the desk’s own thread', () => {
  const wide = (n: number) =>
    `${Array.from({ length: n }, (_, i) => `c${i}`).join(',')}\n${'1,'.repeat(n)}\n`;

  it('does not stand still over a table of a million columns that is tried', async () => {
    const bytes = Buffer.from(wide(1_000_000));
    await tryDetectors(ctx, { text: 'warm' }, undefined);
    const { ms } = await standstill(() => tryDetectors(ctx, { name: 'x.csv', bytes }, undefined));
    expect(ms).toBeLessThan(1500);
  });

  it('nor over a library of a million columns, or of rows without end', async () => {
    for (const text of [wide(1_000_000), `name,purpose\n${'"'.repeat(3_000_000)}`, '['.repeat(1_000_000)]) {
      const { ms, result } = await standstill(() =>
        readSentLibrary({ fileName: 'x.csv', content: Buffer.from(text) }),
      );
      expect(ms).toBeLessThan(1500);
      expect(result).toMatchObject({ fields: [{ field: 'file' }] });
    }
  });

  it('nor over a detector that takes for ever to make ready', async () => {
    const nested = '(?:'.repeat(200) + 'a' + '|b){1,9}'.repeat(200);
    const { ms, result } = await standstill(() =>
      importDetectors(
        ctx,
        by,
        JSON.stringify({
          format: 'yare-warden/detectors',
          version: 1,
          detectors: [
            { kind: 'pattern', id: 'deep', name: 'Deep', anchor: { by: 'pattern', pattern: nested } },
          ],
        }),
      ),
    );
    expect(ms).toBeLessThan(1500);
    expect(result).toBeInstanceOf(Error);
  });

  it('refuses a table of records that is no table', () => {
    expect(() => readTable(Buffer.from(wide(5000)))).toThrow(/more than 1000 columns/);
  });
});

describe('a pattern', () => {
  const words = Array.from({ length: 400 }, (_, i) => `w${i}x`).join('|');
  it.each([
    ['a long list that repeats', `(?:${words})+!`, /list of 400/],
    ['one that looks back', '(\\w+)-\\1', /looks back/],
    [
      'one whose check does not end',
      `^(?:${Array.from({ length: 18 }, (_, i) => `(?:a{0,${i + 9}}[a-${'bcdefghijklmnopqrstuvwxyz'[i]}]*)?`).join('')})*z`,
      /for ever|found out/,
    ],
  ])('with %s is refused', async (_, pattern, why) => {
    const { id } = await addDetector(ctx, by, { name: `tried ${pattern.length}`, kind: 'pattern' });
    const { content, revision } = (await openDetector(ctx, id)) as never as {
      content: object;
      revision: number;
    };
    const refused = await saveDetectorDraft(ctx, by, id, {
      revision,
      base: content as never,
      content: { ...content, anchor: { by: 'pattern', pattern, ignoreCase: false } } as never,
    }).catch((e: { fields: unknown }) => e);
    expect(refused).toMatchObject({
      fields: [{ field: 'anchor.pattern', message: expect.stringMatching(why) }],
    });
  });
});

describe('a share', () => {
  it('gives each so much, all so much, the rest in turn, and no more than will be answered', async () => {
    const share = new Share('things run', { each: 2, all: 3, waiting: 4, waitMs: 300 });
    const open: (() => void)[] = [];
    const begun: string[] = [];
    const use = (who: string) =>
      share
        .use(who, () => {
          begun.push(who);
          return new Promise<void>((done) => open.push(done));
        })
        .then(
          () => 'done',
          (e: { status: number }) => e.status,
        );
    const all = [use('a'), use('a'), use('a'), use('b'), use('b'), use('a'), use('a')];
    await new Promise((done) => setTimeout(done, 20));
    expect(begun).toEqual(['a', 'a', 'b']);
    open.shift()!();
    await new Promise((done) => setTimeout(done, 20));
    // The third of a, who waited longest and has room again.
    expect(begun).toEqual(['a', 'a', 'b', 'a']);
    expect(await all[6]).toBe(429);
    expect(await all[5]).toBe(429);
    for (const end of open) end();
    await new Promise((done) => setTimeout(done, 20));
    for (const end of open) end();
    expect(await Promise.all(all.slice(0, 4))).toEqual(['done', 'done', 'done', 'done']);
  });
});
