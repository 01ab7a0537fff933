import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { getDocumentProxy } from 'unpdf';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Marking } from '../../src/core/protection/stamp/marking.ts';
import { stampFile } from '../../src/core/protection/stamp/stamp-file.ts';
import { oddFiles } from '../corpus/odd-files.ts';

const OFFICE = '/usr/bin/soffice';
const MARKING = Marking.parse({
  header: { text: 'Strictly kept', colour: '#7a1431' },
  footer: { text: 'By Ida and Co' },
  watermark: { text: 'KEPT', size: 40 },
});
const home = mkdtempSync(join(tmpdir(), 'yare-office-'));
afterAll(() => rmSync(home, { recursive: true, force: true }));

/** Has an office program of its own make other files of files. */
function converted(to: string, files: readonly string[], out: string): void {
  execFileSync(
    OFFICE,
    [
      '--headless',
      `-env:UserInstallation=file://${home}/profile`,
      '--convert-to',
      to,
      '--outdir',
      out,
      ...files,
    ],
    {
      stdio: 'ignore',
      timeout: 300_000,
    },
  );
}

/** Each text of a page with how far down it stands, from 0 to 1. */
async function textsOf(bytes: Uint8Array, page: number) {
  const pdf = await getDocumentProxy(new Uint8Array(bytes));
  const shown = await pdf.getPage(page);
  const { height } = shown.getViewport({ scale: 1 });
  const { items } = await shown.getTextContent();
  // A line comes in several runs, as the letters stand.
  const lines = new Map<number, string>();
  for (const i of items)
    if ('str' in i) {
      const y = Math.round(i.transform[5] as number);
      lines.set(y, `${lines.get(y) ?? ''}${i.str.replace(/[\s\u2063]+/g, '')}`);
    }
  const runs = [...lines].map(([y, text]) => ({ text, down: 1 - y / height }));
  return { runs, pages: pdf.numPages };
}

describe.skipIf(!existsSync(OFFICE))('what an office program makes of stamped files', () => {
  const names: string[] = [];
  beforeAll(async () => {
    const [from, stamped, pages] = ['from', 'stamped', 'pages'].map((n) => join(home, n)) as [
      string,
      string,
      string,
    ];
    for (const folder of [from, stamped, pages]) mkdirSync(folder);
    writeFileSync(join(from, 'plain.txt'), `${'A line about berth 4.\n'.repeat(90)}`);
    writeFileSync(join(from, 'list.csv'), `${'Passenger;Cabin\nIda;7\n'.repeat(20)}`);
    converted('odt', [join(from, 'plain.txt')], from);
    converted('docx:MS Word 2007 XML', [join(from, 'plain.odt')], from);
    converted('ods', [join(from, 'list.csv')], from);
    const sources = ['plain.odt', 'plain.docx', 'list.ods'].map((n) => ({
      name: n,
      bytes: readFileSync(join(from, n)),
    }));
    let i = 0;
    for await (const odd of oddFiles(60))
      if (/^(?:many sections|protected document|sheets)/.test(odd.name) && odd.refused === undefined)
        sources.push({
          name: `odd-${i++}.${odd.name.startsWith('sheets') ? 'xlsx' : 'docx'}`,
          bytes: Buffer.from(odd.bytes),
        });
    const wide = new Uint8Array(
      readFileSync(createRequire(import.meta.url).resolve('dejavu-fonts-ttf/ttf/DejaVuSans.ttf')),
    );
    for (const { name, bytes } of sources) {
      writeFileSync(
        join(stamped, name),
        (await stampFile(new Uint8Array(bytes), MARKING, { id: 'strict', name: 'Strict' }, wide)).bytes,
      );
      names.push(name);
    }
    // One name a page: two kinds of one name would be one file.
    for (const ending of ['odt', 'docx', 'ods', 'xlsx']) {
      const some = names.filter((n) => n.endsWith(ending)).map((n) => join(stamped, n));
      mkdirSync(join(pages, ending));
      if (some.length > 0) converted('pdf', some, join(pages, ending));
    }
  }, 600_000);

  it('shows the lines on top and at the foot of every page, and the watermark between them', async () => {
    expect(names.length).toBeGreaterThan(8);
    for (const name of names) {
      const [base = '', ending = ''] = name.split('.');
      const path = join(home, 'pages', ending, `${base}.pdf`);
      // A workbook whose sheets are empty has no pages.
      if (!existsSync(path) && ending === 'xlsx') continue;
      const bytes = readFileSync(path);
      const { pages } = await textsOf(bytes, 1);
      for (let page = 1; page <= pages; page++) {
        const { runs } = await textsOf(bytes, page);
        const where = (text: string) => runs.find((r) => r.text.includes(text))?.down;
        const [top, foot] = [where('Strictlykept'), where('ByIda')];
        const at = `${name}, page ${page}`;
        // It loses the first page's lines of a section, theirs or ours, where the section before has no first page.
        if (!name.startsWith('odd')) expect([top, foot], at).not.toContain(undefined);
        expect(top ?? foot, at).toBeDefined();
        expect(top ?? 0, `${at}, header`).toBeLessThan(0.3);
        expect(foot ?? 1, `${at}, footer`).toBeGreaterThan(0.7);
        if (ending === 'odt') {
          const across = where('KEPT') ?? 0;
          expect(across).toBeGreaterThan(0.3);
          expect(across).toBeLessThan(0.7);
        }
      }
    }
  });
});
