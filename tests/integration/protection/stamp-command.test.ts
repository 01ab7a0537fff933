import { Document, Packer, Paragraph } from 'docx';
import ExcelJS from 'exceljs';
import { spawn } from 'node:child_process';
import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { buildPrograms } from '../../../launcher/build.ts';
import { PROJECT } from '../../../launcher/project.ts';

let folder = '';
beforeAll(async () => {
  await buildPrograms(['stamp']);
  folder = await mkdtemp(join(tmpdir(), 'yare-stamp-'));
  const letter = new Document({ sections: [{ children: [new Paragraph('Hello')] }] });
  await writeFile(join(folder, 'letter.docx'), await Packer.toBuffer(letter));
  const book = new ExcelJS.Workbook();
  book.addWorksheet('List').addRow(['Kim']);
  await book.xlsx.writeFile(join(folder, 'list.xlsx'));
  await writeFile(join(folder, 'notes.txt'), 'no document');
});
afterAll(() => rm(folder, { recursive: true, force: true }));

function stamp(...args: readonly string[]): Promise<{ code: number; out: string; err: string }> {
  const child = spawn(process.execPath, [join(PROJECT, 'dist/stamp.mjs'), ...args], { cwd: folder });
  const told = { out: '', err: '' };
  child.stdout.on('data', (d: Buffer) => (told.out += d.toString()));
  child.stderr.on('data', (d: Buffer) => (told.err += d.toString()));
  return new Promise((ended) => child.on('close', (code) => ended({ code: code ?? -1, ...told })));
}
const lines = (out: string) =>
  out
    .trim()
    .split('\n')
    .map((l) => JSON.parse(l) as Record<string, unknown>);

describe('./yare stamp', () => {
  it('does what the desk does to messages, and takes it off to the byte', async () => {
    const message = Buffer.from('From: a@b.example\r\nTo: c@d.example\r\nSubject: Berth 4\r\n\r\nBent.\r\n');
    await writeFile(join(folder, 'berth.eml'), message);
    const on = ['berth.eml', '--level', 'internal', '--out', 'mail', '--json'];
    expect(lines((await stamp(...on)).out)).toMatchObject([
      { done: 'stamped', kind: 'Mail', level: 'Internal' },
    ]);
    expect(lines((await stamp('mail/berth.eml', '--read', '--json')).out)).toMatchObject([
      { level: 'Internal' },
    ]);
    await stamp('mail/berth.eml', '--remove', '--out', 'bare');
    expect((await readFile(join(folder, 'bare/berth.eml'))).equals(message)).toBe(true);
  });

  it('stamps copies, tells what it refuses, and leaves the files as they were', async () => {
    const before = await readFile(join(folder, 'letter.docx'));
    const { code, out } = await stamp(
      ...['letter.docx', 'list.xlsx', 'notes.txt', 'gone.docx'],
      ...['--level', 'strictly confidential', '--owner', 'Ines Abara', '--out', 'done', '--json'],
    );
    expect(code).toBe(1);
    expect(lines(out)).toMatchObject([
      {
        file: 'letter.docx',
        done: 'stamped',
        kind: 'DOCX',
        level: 'Strictly confidential',
        out: 'done/letter.docx',
      },
      { file: 'list.xlsx', done: 'stamped', kind: 'XLSX' },
      { file: 'notes.txt', done: 'refused', why: 'another kind' },
      { file: 'gone.docx', done: 'refused', why: 'not there' },
    ]);
    expect((await readFile(join(folder, 'letter.docx'))).equals(before)).toBe(true);
    expect((await readdir(join(folder, 'done'))).sort()).toEqual(['letter.docx', 'list.xlsx']);
  });

  it('reads the level back, changes nothing when it stamps again, and takes it off', async () => {
    expect((await stamp('done/letter.docx', 'letter.docx', '--read')).out).toBe(
      'done/letter.docx: Strictly confidential\nletter.docx: no level\n',
    );
    const same = ['--level', 'strictly-confidential', '--owner', 'Ines Abara', '--out', 'again'];
    expect((await stamp('done/letter.docx', ...same)).code).toBe(0);
    const [one, two] = await Promise.all(
      ['done', 'again'].map((f) => readFile(join(folder, f, 'letter.docx'))),
    );
    expect(two?.equals(one ?? Buffer.alloc(0))).toBe(true);
    expect((await stamp('done/letter.docx', '--remove', '--out', 'off', '--json')).out).toContain(
      '"taken off"',
    );
    expect((await stamp('off/letter.docx', '--read')).out).toBe('off/letter.docx: no level\n');
  });

  it('takes levels of one’s own, and says what is wrong with them', async () => {
    await writeFile(
      join(folder, 'levels.json'),
      JSON.stringify({
        levels: [{ id: 'crew', name: 'Crew only', marking: { header: { text: '{level}: {file}' } } }],
      }),
    );
    expect(
      (await stamp('letter.docx', '--levels', 'levels.json', '--level', 'Crew only', '--out', 'crew')).code,
    ).toBe(0);
    expect((await stamp('crew/letter.docx', '--read')).out).toContain('Crew only');
    await writeFile(join(folder, 'bad.json'), JSON.stringify({ levels: [{ id: 'A B', name: '' }] }));
    const { code, err } = await stamp('letter.docx', '--levels', 'bad.json', '--level', 'x', '--out', 'x');
    expect([code, err]).toEqual([2, expect.stringContaining('levels.0.id')]);
    await writeFile(join(folder, 'cut.json'), '{"levels": [');
    const cut = await stamp('letter.docx', '--levels', 'cut.json', '--level', 'x', '--out', 'x');
    expect([cut.code, cut.err]).toEqual([2, expect.stringContaining('cut.json: it is no JSON')]);
  });

  it.each([
    [['letter.docx'], 'Say --level NAME'],
    [['--level', 'open', '--out', 'x'], 'Name at least one file'],
    [['letter.docx', '--level', 'secret', '--out', 'x'], 'There is no level “secret”'],
    [['letter.docx', '--level', 'open'], 'Say where the copies go'],
    [['letter.docx', '--nonsense'], 'nonsense'],
  ])('%j is not begun', async (args, words) => {
    const { code, err } = await stamp(...args);
    expect(code).toBe(2);
    expect(err).toContain(words);
  });

  it('never writes a file over where it lies', async () => {
    const { code, out } = await stamp('letter.docx', '--level', 'open', '--out', '.', '--json');
    expect([code, lines(out)[0]]).toEqual([1, expect.objectContaining({ done: 'refused', why: 'in place' })]);
  });
});
