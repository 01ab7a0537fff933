import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import ExcelJS from 'exceljs';
import JSZip from 'jszip';
import PostalMime from 'postal-mime';
import { extractText, getDocumentProxy } from 'unpdf';
import { describe, expect, it } from 'vitest';
import { oddFiles, type OddFile } from '../../../../tests/corpus/odd-files.ts';
import { Marking } from './marking.ts';
import { readFileLevel, stampFile, unstampFile } from './stamp-file.ts';

const STRICT = { id: 'strict', name: 'Strict' };
const FULL = Marking.parse({
  header: { text: 'Strictly kept', colour: '#7a1431', align: 'right' },
  footer: { text: 'By Ida & Co', size: 9 },
  watermark: { text: 'KEPT', size: 40 },
});
const FOOT = Marking.parse({ footer: { text: 'For all' } });
const WIDE = new Uint8Array(
  readFileSync(createRequire(import.meta.url).resolve('dejavu-fonts-ttf/ttf/DejaVuSans.ttf')),
);
const COUNT = 200;

const all: OddFile[] = [];
for await (const file of oddFiles(COUNT)) all.push(file);
const whole = all.filter((f) => f.refused === undefined);

/** What an independent library finds in a file, as text. */
async function seen(kind: string, bytes: Uint8Array): Promise<string> {
  if (kind === 'PDF') {
    const { text } = await extractText(await getDocumentProxy(new Uint8Array(bytes)), { mergePages: true });
    return text;
  }
  if (kind === 'Mail' || kind === 'Invitation') {
    const mail = await PostalMime.parse(Buffer.from(bytes));
    return `${mail.text ?? ''} ${mail.html ?? ''}`;
  }
  if (kind === 'XLSX') {
    const book = new ExcelJS.Workbook();
    await book.xlsx.load(Buffer.from(bytes) as never);
    return book.worksheets
      .map((s) => `${s.headerFooter?.oddHeader ?? ''} ${s.headerFooter?.oddFooter ?? ''}`)
      .join(' ');
  }
  const zip = await JSZip.loadAsync(bytes);
  const parts = await Promise.all(
    Object.keys(zip.files)
      .filter((n) => /\.xml$/.test(n))
      .map((n) => zip.files[n]?.async('string') ?? ''),
  );
  return parts
    .join('\n')
    .replace(/<text:s [^>]*>/g, ' ')
    .replace(/&amp;|&#38;/g, '&');
}

/** The parts of a package, or the whole of what is none. */
async function partsOf(bytes: Uint8Array): Promise<Readonly<Record<string, string>>> {
  if (bytes[0] !== 0x50) return { '': Buffer.from(bytes).toString('latin1') };
  const zip = await JSZip.loadAsync(bytes);
  const names = Object.keys(zip.files).filter((n) => !zip.files[n]?.dir);
  return Object.fromEntries(
    await Promise.all(
      names.map(async (n) => [n, (await zip.files[n]?.async('binarystring')) ?? ''] as const),
    ),
  );
}

/** Parts that a marking may change; all else has to stay. */
const MAY_CHANGE =
  /^$|^\[Content_Types\]\.xml$|\.rels$|^docProps\/custom\.xml$|^word\/(?:document|header\d*|footer\d*)\.xml$|^xl\/worksheets\/sheet\d+\.xml$|^ppt\/slides\/slide\d+\.xml$|^(?:content|styles|meta)\.xml$|^META-INF\/manifest\.xml$/;

describe('two hundred odd files', () => {
  it('are of every format, and some cannot be stamped', () => {
    expect(all).toHaveLength(COUNT);
    expect(whole.length).toBeGreaterThanOrEqual(110);
    expect(new Set(all.map((f) => f.refused)).size).toBe(5);
  });

  it.each(all.filter((f) => f.refused !== undefined))(
    '$name is refused with the reason, and stays',
    async ({ bytes, refused }) => {
      const before = Buffer.from(bytes).toString('hex');
      await expect(stampFile(bytes, FULL, STRICT, WIDE)).rejects.toMatchObject({ why: refused });
      expect(Buffer.from(bytes).toString('hex')).toBe(before);
    },
  );

  it.each(whole)(
    '$name says its level, shows it, and is as it was once that is taken off',
    async ({ bytes }) => {
      const before = await partsOf(bytes);
      const { kind, bytes: stamped } = await stampFile(bytes, FULL, STRICT, WIDE);
      expect(await readFileLevel(stamped)).toEqual(STRICT);
      const shown = await seen(kind, stamped);
      const isEmpty = kind === 'PPTX' && !/<p:spTree>/.test(shown);
      if (!isEmpty) {
        expect(shown).toMatch(/Strictly\s+kept/);
        expect(shown).toContain(
          kind === 'XLSX'
            ? 'By Ida && Co'
            : kind === 'Mail' || kind === 'Invitation'
              ? 'By Ida'
              : 'By Ida & Co',
        );
        expect(shown.includes('KEPT')).toBe(!['XLSX', 'ODS', 'Mail', 'Invitation'].includes(kind));
      }
      const after = await partsOf(stamped);
      for (const [name, part] of Object.entries(before)) {
        if (MAY_CHANGE.test(name)) continue;
        expect(after[name] === part, name).toBe(true);
      }
      // Twice is once; another level takes the first one's place; off is as before.
      expect(await partsOf((await stampFile(stamped, FULL, STRICT, WIDE)).bytes)).toEqual(after);
      const open = { id: 'open', name: 'Open' };
      const changed = (await stampFile(stamped, FOOT, open, WIDE)).bytes;
      expect(await partsOf(changed)).toEqual(await partsOf((await stampFile(bytes, FOOT, open, WIDE)).bytes));
      expect(await partsOf(unstampFile(changed).bytes)).toEqual(before);
    },
  );

  it('of which one is huge, come back all the same', async () => {
    const rows = Array.from({ length: 30_000 }, (_, i) => `Passenger ${i}, cabin ${i % 900}\r\n`).join('');
    const mail = new Uint8Array(
      Buffer.from(`From: a@b.example\r\nTo: c@d.example\r\nSubject: all\r\n\r\n${rows}`),
    );
    const { bytes } = await stampFile(mail, FULL, STRICT);
    expect(Buffer.from(unstampFile(bytes).bytes).equals(Buffer.from(mail))).toBe(true);
  });
});
