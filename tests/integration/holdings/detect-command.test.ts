import { spawn } from 'node:child_process';
import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { buildPrograms } from '../../../launcher/build.ts';
import { PROJECT } from '../../../launcher/project.ts';
import { docx, LETTER, paragraph, pdf, sampleFiles, zip } from './sample-files.ts';

let folder = '';

beforeAll(async () => {
  await buildPrograms(['detect', 'detect-thread']);
  folder = await mkdtemp(join(tmpdir(), 'yare-detect-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

interface Line {
  readonly file: string;
  readonly detector: string;
  readonly start: number;
  readonly end: number;
  readonly value?: string;
  readonly masked: string;
  readonly confidence: number;
  readonly place: Readonly<Record<string, unknown>>;
  readonly near_miss?: string;
}
interface Summary {
  readonly files: number;
  readonly findings: number;
  readonly problems: readonly { readonly file: string; readonly kind: string; readonly part: string }[];
  readonly stopped: readonly { readonly detector: string; readonly file: string }[];
}

function detect(...args: readonly string[]): Promise<{ code: number; out: string; err: string }> {
  const child = spawn(process.execPath, [join(PROJECT, 'dist/detect.mjs'), ...args], { cwd: folder });
  let out = '';
  let err = '';
  child.stdout.on('data', (d) => (out += d));
  child.stderr.on('data', (d) => (err += d));
  return new Promise((done) => child.on('close', (code) => done({ code: code ?? -1, out, err })));
}

async function found(
  ...args: readonly string[]
): Promise<{ lines: Line[]; summary: Summary; all: Record<string, unknown>[] }> {
  const { code, out, err } = await detect(...args, '--json', '--reveal');
  expect(code, err).toBe(0);
  const all = out
    .trim()
    .split('\n')
    .map((l) => JSON.parse(l) as Record<string, unknown>);
  const lines = all.filter((l) => 'detector' in l) as unknown as Line[];
  return { lines, summary: all.at(-1)?.['summary'] as Summary, all };
}

describe('./yare detect', () => {
  it('reads every kind of file, says where each finding stood, and never skips what it cannot read', async () => {
    const at = join(folder, 'share');
    await mkdir(at);
    const files = await sampleFiles();
    for (const [name, content] of Object.entries(files)) await writeFile(join(at, name), content);
    const { lines, summary } = await found(at);
    const where = (name: string) =>
      lines
        .filter((l) => l.file.endsWith(`/${name}`) && l.detector === 'dk-cpr')
        .map((l) => [l.value, l.place]);
    for (const name of Object.keys(files))
      expect(
        where(name).map(([v]) => v),
        name,
      ).toContain('010180-1234');
    expect(summary).toMatchObject({ files: Object.keys(files).length, problems: [], stopped: [] });
    // The same digits under another heading are no CPR number.
    for (const name of ['b.csv', 'c.json', 'h.xlsx', 'k.ods', 't.sql', 'u.jsonl', 'v.tsv'])
      expect(where(name), name).toHaveLength(1);
    const place = (name: string) => where(name)[0]?.[1];
    expect(place('a.txt')).toEqual({ line: 1 });
    expect(place('b.csv')).toEqual({ row: 2, cell: 'B2' });
    expect(place('h.xlsx')).toEqual({ sheet: 'Passagerer', row: 2, cell: 'B2' });
    expect(place('i.pptx')).toEqual({ page: 2 });
    expect(place('m.pdf')).toEqual({ page: 2 });
    expect(where('n.eml').map(([, p]) => p)).toEqual([{ header: 'Subject' }, { part: 'g.docx' }]);
    expect(where('o.mbox').map(([v, p]) => [v, (p as { part: string }).part])).toEqual([
      ['010180-1234', 'message 1'],
      ['2110621234', 'message 2'],
    ]);
    expect(place('p.vcf')).toEqual({ header: 'NOTE' });
    expect(place('c.json')).toEqual({ line: 1, path: '/person/cpr' });
    expect(place('d.xml')).toEqual({ role: 'attribute', line: 1, path: '/people/person/@cpr' });
    expect(place('t.sql')).toEqual({ line: 3, path: 'person[1]' });
    expect(place('u.jsonl')).toEqual({ line: 2, path: '/person/cpr' });
    expect(place('v.tsv')).toEqual({ row: 4, cell: 'B4' });
    expect(place('r.zip')).toEqual({ part: 'inner.zip/deep/a.txt' });
    for (const l of lines.filter((x) => x.file.endsWith('/a.txt')))
      expect(LETTER.slice(l.start, l.end)).toBe(l.value);
  });

  it('tells encrypted, damaged, lying, endless and overlarge files', async () => {
    const at = join(folder, 'bad');
    await mkdir(at);
    let nested = await zip({ 'a.txt': LETTER });
    for (let i = 0; i < 9; i++) nested = await zip({ 'again.zip': nested });
    const files: Record<string, [string | Buffer, string]> = {
      'locked.pdf': [await pdf(LETTER, 'secret'), 'encrypted'],
      'torn.docx': [(await docx(paragraph(LETTER))).subarray(0, 150), 'damaged'],
      'lying.pdf': [await docx(paragraph(LETTER)), 'misnamed'],
      'none.pdf': ['no PDF', 'damaged'],
      'old.doc': [Buffer.from('d0cf11e0a1b11ae1', 'hex'), 'encrypted'],
      'picture.png': [Buffer.from('89504e470d0a1a0a', 'hex'), 'unknown kind'],
      'deep.zip': [nested, 'too deep'],
      'bomb.zip': [await zip({ 'zeros.txt': Buffer.alloc(60e6) }), 'too large'],
      'bomb.txt.gz': [gzipSync(Buffer.alloc(300e6)), 'too large'],
      'laughs.xml': [
        '<?xml version="1.0"?><!DOCTYPE l [<!ENTITY a "ha"><!ENTITY b "&a;&a;">]><l>&b;</l>',
        'damaged',
      ],
    };
    for (const [name, [content]] of Object.entries(files)) await writeFile(join(at, name), content);
    await writeFile(join(at, 'empty.txt'), '');
    const { lines, summary } = await found(at);
    for (const [name, [, kind]] of Object.entries(files))
      expect(
        summary.problems.filter((p) => p.file.endsWith(`/${name}`)).map((p) => p.kind),
        name,
      ).toContain(kind);
    expect(lines.filter((l) => l.file.endsWith('lying.pdf')).map((l) => l.value)).toContain('010180-1234');
    expect(summary.problems.some((p) => p.file.endsWith('empty.txt'))).toBe(false);
  });

  it('masks by default, takes detectors of one’s own, and stops a pattern that does not end', async () => {
    const at = join(folder, 'own');
    await mkdir(at);
    await writeFile(
      join(at, 'a.txt'),
      `Crew number BS-104233 and BS-104234. ${'a'.repeat(40)}! CPR 010180-1234`,
    );
    const detectors = [
      {
        kind: 'pattern',
        id: 'crew-number',
        name: 'Crew number',
        anchor: { by: 'pattern', pattern: 'BS-\\d{6}' },
        start: 3,
      },
      {
        kind: 'pattern',
        id: 'never-ends',
        name: 'Never ends',
        anchor: { by: 'pattern', pattern: '(?:a+)+b' },
        start: 3,
      },
      {
        kind: 'pattern',
        id: 'code',
        name: 'Code',
        anchor: {
          by: 'pattern',
          pattern: 'ZZ\\d{4}',
          field: { headings: ['code'], pattern: '(?:c+)+d' },
        },
        start: 3,
      },
    ];
    await writeFile(join(at, 'b.csv'), `code,cpr\n${'c'.repeat(40)},130579-2342\nccd,\n`);
    await writeFile(
      join(folder, 'own.json'),
      JSON.stringify({ format: 'yare-warden/detectors', version: 1, detectors }),
    );
    const masked = await detect(at, '--json', '--detectors', 'own.json', '--seconds', '8');
    expect(masked.out).not.toContain('104233');
    const { lines, summary } = await found(at, '--detectors', 'own.json', '--seconds', '8');
    expect(lines.map((l) => [l.detector, l.value])).toEqual([
      ['crew-number', 'BS-104233'],
      ['crew-number', 'BS-104234'],
      ['dk-cpr', '010180-1234'],
      ['dk-cpr', '130579-2342'],
    ]);
    expect(summary.stopped).toMatchObject([{ detector: 'never-ends' }, { detector: 'code' }]);
    await writeFile(join(folder, 'wrong.json'), '[{"kind":"pattern","id":"Crew","name":""}]');
    const wrong = await detect(at, '--detectors', 'wrong.json');
    expect(wrong.code).toBe(2);
    expect(wrong.err).toContain('detectors.0.id: Lower-case letters');
    expect((await detect('no-such-file')).err).toContain('There is no file or folder “no-such-file”.');
  });

  it('tells copies of a form, records of a table, and what it learned from examples', async () => {
    const at = join(folder, 'kinds');
    await mkdir(at);
    const form =
      'Request for assistance on board. Name of the passenger: ____. I travel with a wheelchair or another aid and need help from the quay to my cabin. I agree that the crew is told of my needs for this crossing only, and that this form is destroyed when the ship has berthed. Place, date and signature of the passenger: ____.';
    await writeFile(join(folder, 'form.txt'), form);
    await writeFile(
      join(at, 'filled.txt'),
      form.replace('____', 'Anna Sørensen').replace('____', 'Halmsund, 3 May').toUpperCase(),
    );
    await writeFile(
      join(at, 'other.txt'),
      'The ship leaves the quay at noon. Passengers with a reservation board first, and the crew closes the ramp ten minutes before. Bring your own lunch for the crossing if you like, since the kitchen is being rebuilt this month.',
    );
    await writeFile(join(at, 'list.txt'), 'Saltmiles 12 34 56 78, Sørensen. Saltmiles 99887766, nobody.');
    const like = await found(at, '--like', join(folder, 'form.txt'));
    expect(new Set(like.lines.map((l) => l.file.split('/').at(-1)))).toEqual(new Set(['filled.txt']));
    await writeFile(join(folder, 'club.csv'), 'number,surname\n12345678,Sorensen\n99887766,Hansen\n');
    const roster = await found(
      at,
      '--roster',
      join(folder, 'club.csv'),
      '--key',
      'number',
      '--beside',
      'surname',
      '--corroboration',
      '1',
    );
    expect(roster.lines.map((l) => [l.detector, l.value])).toEqual([['club', '12 34 56 78']]);
    for (const [kind, words] of [
      ['examples', 'complaint refund broken angry late'],
      ['counter-examples', 'menu dinner soup dessert kitchen'],
    ] as const) {
      await mkdir(join(folder, 'train', kind), { recursive: true });
      const w = words.split(' ');
      for (let i = 0; i < 12; i++)
        await writeFile(
          join(folder, 'train', kind, `${i}.txt`),
          `Crossing ${i}: ${w[i % 5]} and ${w[(i * 2 + 1) % 5]} with ${w[(i * 3 + 2) % 5]} again ${w[(i + 3) % 5]}`,
        );
    }
    await writeFile(join(at, 'angry.txt'), 'I am angry: the boat was late, a complaint and a refund please');
    const learned = await found(at, '--learn', join(folder, 'train'));
    expect(learned.lines.map((l) => l.file.split('/').at(-1))).toContain('angry.txt');
    expect(learned.all[0]).toMatchObject({
      learned: {
        examples: 24,
        warnings: expect.arrayContaining([expect.objectContaining({ what: 'too few' })]),
      },
    });
  });
});
