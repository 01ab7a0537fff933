import { degrees, PDFDocument } from '@cantoo/pdf-lib';
import {
  Document,
  Footer,
  Header,
  PageBreak,
  PageOrientation,
  Packer,
  Paragraph,
  SectionType,
  Table,
  TableCell,
  TableRow,
} from 'docx';
import ExcelJS from 'exceljs';
import { strFromU8, strToU8, unzipSync, zipSync, type Zippable } from 'fflate';
import MailComposer from 'nodemailer/lib/mail-composer/index.js';
import PDFKit from 'pdfkit';
import { chanceOf, type Chance } from './chance.ts';

/** A file as nobody would make it on purpose, and as somebody has. */
export interface OddFile {
  readonly name: string;
  readonly bytes: Uint8Array;
  /** Why it carries no marking; absent where it does. */
  readonly refused?: 'signed' | 'encrypted' | 'damaged' | 'another kind';
}

type Make = (chance: Chance) => Promise<Omit<OddFile, 'name'>>;

/** So many odd files of all formats, the same for the same seed. */
export async function* oddFiles(count: number, seed = 1611): AsyncGenerator<OddFile> {
  const kinds = Object.entries(KINDS);
  for (let i = 0; i < count; i++) {
    const [kind = '', make] = kinds[i % kinds.length] ?? [];
    if (make) yield { name: `${kind}, ${i}`, ...(await make(chanceOf(seed + i * 7919))) };
  }
}

const WORDS = [
  'berth',
  'Østervig',
  'καράβι',
  'سفينة',
  '渡し船',
  'a<b&c>"d"',
  '  spaced  ',
  '',
  '🛳️',
  'Fähre',
];
const said = (c: Chance) => Array.from({ length: 1 + c.below(8) }, () => c.pick(WORDS)).join(' ');
const lines = (c: Chance, most: number) =>
  Array.from({ length: c.below(most) }, () => new Paragraph(said(c)));

async function word(c: Chance): Promise<Uint8Array> {
  const maybe = <T>(of: T): T | undefined => (c.below(2) ? of : undefined);
  const header = () => new Header({ children: [new Paragraph(said(c))] });
  const footer = () => new Footer({ children: [new Paragraph(said(c))] });
  const document = new Document({
    ...(c.below(2) ? { evenAndOddHeaderAndFooters: true } : {}),
    ...(c.below(3) === 0 ? { customProperties: [{ name: 'Ship', value: said(c) }] } : {}),
    ...(c.below(3) === 0 ? { features: { trackRevisions: true } } : {}),
    sections: Array.from({ length: 1 + c.below(6) }, () => ({
      properties: {
        type: c.pick([SectionType.CONTINUOUS, SectionType.NEXT_PAGE, SectionType.ODD_PAGE]),
        ...(c.below(2) ? { titlePage: true } : {}),
        ...(c.below(2) ? { page: { size: { orientation: PageOrientation.LANDSCAPE } } } : {}),
      },
      headers: Object.fromEntries(
        (['default', 'first', 'even'] as const).flatMap((k) => (maybe(k) ? [[k, header()]] : [])),
      ),
      footers: Object.fromEntries(
        (['default', 'first', 'even'] as const).flatMap((k) => (maybe(k) ? [[k, footer()]] : [])),
      ),
      children: [
        ...lines(c, 5),
        ...(c.below(3) === 0
          ? [
              new Table({
                rows: [new TableRow({ children: [new TableCell({ children: [new Paragraph(said(c))] })] })],
              }),
            ]
          : []),
        ...(c.below(3) === 0 ? [new Paragraph({ children: [new PageBreak()] })] : []),
      ],
    })),
  });
  return new Uint8Array(await Packer.toBuffer(document));
}

/** The same package with some of its parts changed or added. */
function repacked(
  bytes: Uint8Array,
  change: (name: string, text: string) => string,
  more: Readonly<Record<string, string>> = {},
): Uint8Array {
  const parts = unzipSync(bytes);
  const entries: Zippable = {};
  for (const [name, part] of Object.entries(parts))
    entries[name] = /\.(?:xml|rels)$/.test(name) ? strToU8(change(name, strFromU8(part))) : part;
  for (const [name, text] of Object.entries(more)) entries[name] = strToU8(text);
  return zipSync(entries);
}

const STRICT: readonly (readonly [string, string])[] = [
  [
    'http://schemas.openxmlformats.org/officeDocument/2006/relationships',
    'http://purl.oclc.org/ooxml/officeDocument/relationships',
  ],
  [
    'http://schemas.openxmlformats.org/wordprocessingml/2006/main',
    'http://purl.oclc.org/ooxml/wordprocessingml/main',
  ],
];

async function sheet(c: Chance): Promise<Uint8Array> {
  const book = new ExcelJS.Workbook();
  for (let i = 0, n = 1 + c.below(5); i < n; i++) {
    const made = book.addWorksheet(`${i} ${c.pick(['Læst', 'List', 'Über', 'a&b'])}`, {
      ...(c.below(3) === 0 ? { state: i === 0 ? 'visible' : 'hidden' } : {}),
      ...(c.below(2)
        ? {
            headerFooter: {
              oddHeader: '&L&BBrindle && Co&CPage &P',
              oddFooter: '&R&D',
              differentFirst: c.below(2) === 1,
              firstHeader: '&Cfirst',
            },
          }
        : {}),
      pageSetup: { orientation: c.pick(['portrait', 'landscape']) },
    });
    for (let r = 0, rows = c.below(40); r < rows; r++)
      made.addRow([r, said(c), c.below(2) ? { formula: 'A1+1' } : 7]);
    if (c.below(3) === 0) await made.protect('secret', { spinCount: 10 });
    if (c.below(3) === 0) made.mergeCells('F1:G2');
  }
  return new Uint8Array(await book.xlsx.writeBuffer());
}

const R = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
const P = `xmlns:p="http://schemas.openxmlformats.org/presentationml/2006/main" xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main" xmlns:r="${R}"`;

function slides(c: Chance): Uint8Array {
  const n = c.below(7);
  const relations = (all: readonly (readonly [string, string, string])[]) =>
    `<?xml version="1.0" encoding="UTF-8"?><Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">${all.map(([id, type, to]) => `<Relationship Id="${id}" Type="${R}/${type}" Target="${to}"/>`).join('')}</Relationships>`;
  const [cx, cy] = c.pick([
    [12192000, 6858000],
    [9144000, 6858000],
    [6858000, 9906000],
  ]);
  const files: Record<string, string> = {
    '[Content_Types].xml':
      '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="xml" ContentType="application/xml"/><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/></Types>',
    '_rels/.rels': relations([['rId1', 'officeDocument', 'ppt/presentation.xml']]),
    'ppt/presentation.xml': `<p:presentation ${P}><p:sldSz cx="${cx}" cy="${cy}"/></p:presentation>`,
    'ppt/_rels/presentation.xml.rels': relations(
      Array.from({ length: n }, (_, i) => [`rId${i}`, 'slide', `slides/slide${i}.xml`] as const),
    ),
  };
  for (let i = 0; i < n; i++)
    files[`ppt/slides/slide${i}.xml`] =
      `<p:sld ${P}><p:cSld><p:spTree><p:nvGrpSpPr><p:cNvPr id="1" name=""/><p:cNvGrpSpPr/><p:nvPr/></p:nvGrpSpPr><p:grpSpPr/>${c.below(2) ? '<p:extLst/>' : ''}</p:spTree></p:cSld>${c.below(2) ? '<p:transition/>' : ''}</p:sld>`;
  return zipSync(Object.fromEntries(Object.entries(files).map(([k, v]) => [k, strToU8(v)])));
}

const ODF = ['office', 'style', 'text', 'drawing', 'table', 'presentation']
  .map((n) => `xmlns:${n === 'drawing' ? 'draw' : n}="urn:oasis:names:tc:opendocument:xmlns:${n}:1.0"`)
  .join(' ');

function openDocument(kind: 'text' | 'spreadsheet' | 'presentation', c: Chance): Uint8Array {
  const edge = (of: string) =>
    c.pick([
      '',
      `<style:${of}><text:p>${'Own &amp; old'}</text:p></style:${of}>`,
      `<style:${of} style:display="false"/>`,
      `<style:${of}><style:region-left><text:p>l</text:p></style:region-left></style:${of}>`,
    ]);
  const masters = Array.from(
    { length: 1 + c.below(3) },
    (_, i) =>
      `<style:master-page style:name="M${i}">${kind === 'presentation' ? '' : edge('header') + edge('footer')}</style:master-page>`,
  ).join('');
  const body = {
    text: `<office:text>${'<text:p>x</text:p>'.repeat(c.below(20))}</office:text>`,
    spreadsheet: '<office:spreadsheet><table:table table:name="A"/></office:spreadsheet>',
    presentation: `<office:presentation>${'<draw:page draw:name="a"><presentation:notes/></draw:page><draw:page/>'.repeat(1 + c.below(3))}</office:presentation>`,
  }[kind];
  const files: Record<string, string> = {
    'content.xml': `<?xml version="1.0" encoding="UTF-8"?><office:document-content ${ODF}>${c.below(2) ? '<office:automatic-styles/>' : ''}<office:body>${body}</office:body></office:document-content>`,
    'styles.xml': `<office:document-styles ${ODF}>${c.below(2) ? '<office:automatic-styles/>' : ''}<office:master-styles>${masters}</office:master-styles></office:document-styles>`,
    'META-INF/manifest.xml':
      '<manifest:manifest xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0"><manifest:file-entry manifest:full-path="/" manifest:media-type="x"/></manifest:manifest>',
    ...(c.below(2)
      ? { 'meta.xml': `<office:document-meta ${ODF}><office:meta/></office:document-meta>` }
      : {}),
  };
  return zipSync({
    mimetype: [strToU8(`application/vnd.oasis.opendocument.${kind}`), { level: 0 }],
    ...Object.fromEntries(Object.entries(files).map(([k, v]) => [k, strToU8(v)])),
  });
}

function pdf(c: Chance, options: ConstructorParameters<typeof PDFKit>[0] = {}): Promise<Uint8Array> {
  const made = new PDFKit({
    size: c.pick(['A4', 'LETTER', [200, 900], [2000, 300]]),
    layout: c.pick(['portrait', 'landscape']),
    compress: c.below(2) === 1,
    ...options,
  });
  const chunks: Buffer[] = [];
  made.on('data', (b: Buffer) => chunks.push(b));
  for (let i = 0, n = c.below(6); i < n; i++) {
    made.text(`Page ${i} of a manifest`);
    if (c.below(2)) made.rotate(30).text('turned').addPage();
  }
  made.end();
  return new Promise((done) => made.on('end', () => done(new Uint8Array(Buffer.concat(chunks)))));
}

async function reworkedPdf(c: Chance): Promise<Uint8Array> {
  const made = await PDFDocument.create();
  for (let i = 0, n = 1 + c.below(5); i < n; i++) {
    const page = made.addPage([100 + c.below(1200), 100 + c.below(1200)]);
    page.drawText('Manifest', { x: 10, y: 20 });
    page.setRotation(degrees(c.pick([0, 90, 180, 270, -90])));
    if (c.below(3) === 0) page.setCropBox(10, 10, 60, 70);
    if (c.below(4) === 0) made.getForm().createTextField(`field ${i}`).addToPage(page);
  }
  return new Uint8Array(await made.save({ useObjectStreams: c.below(2) === 1, addDefaultPage: false }));
}

async function mail(c: Chance): Promise<Uint8Array> {
  const composed = await new MailComposer({
    from: `Ida <ida@line.example>`,
    to: 'a@b.example',
    subject: said(c),
    date: new Date(c.below(1e9) * 1000),
    text: said(c).repeat(1 + c.below(30)),
    ...(c.below(2) ? { html: `<p>${c.pick(['plain', 'Grüße', '渡し'])}</p>` } : {}),
    ...(c.below(3) === 0 ? { textEncoding: c.pick(['quoted-printable', 'base64']) } : {}),
    ...(c.below(3) === 0
      ? { attachments: [{ filename: 'a.bin', content: Buffer.from(c.digits(300)) }] }
      : {}),
    ...(c.below(4) === 0
      ? {
          icalEvent: {
            method: 'REQUEST',
            content: 'BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nSUMMARY:x\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n',
          },
        }
      : {}),
  })
    .compile()
    .build();
  return new Uint8Array(composed);
}

const KINDS: Readonly<Record<string, Make>> = {
  'many sections': async (c) => ({ bytes: await word(c) }),
  'strict OOXML': async (c) => ({
    bytes: repacked(await word(c), (_, text) =>
      STRICT.reduce((t, [from, to]) => t.replaceAll(from, to), text),
    ),
  }),
  'protected document': async (c) => ({
    bytes: repacked(await word(c), (name, text) =>
      name === 'word/settings.xml'
        ? text.replace(/(<w:settings[^>]*>)/, '$1<w:documentProtection w:edit="readOnly" w:enforcement="1"/>')
        : text,
    ),
  }),
  'signed document': async (c) => ({
    bytes: repacked(
      await word(c),
      (name, text) =>
        name === '_rels/.rels'
          ? text.replace(
              '</Relationships>',
              '<Relationship Id="rIdSig" Type="http://schemas.openxmlformats.org/package/2006/relationships/digital-signature/origin" Target="_xmlsignatures/origin.sigs"/></Relationships>',
            )
          : text,
      { '_xmlsignatures/origin.sigs': '' },
    ),
    refused: 'signed',
  }),
  'document cut short': async (c) => {
    const bytes = await word(c);
    return { bytes: bytes.slice(0, Math.floor(bytes.length / 2)), refused: 'damaged' };
  },
  'sheets of all kinds': async (c) => ({ bytes: await sheet(c) }),
  'slides of all sizes': (c) => Promise.resolve({ bytes: slides(c) }),
  ODT: (c) => Promise.resolve({ bytes: openDocument('text', c) }),
  ODS: (c) => Promise.resolve({ bytes: openDocument('spreadsheet', c) }),
  ODP: (c) => Promise.resolve({ bytes: openDocument('presentation', c) }),
  PDF: async (c) => ({ bytes: await pdf(c) }),
  'PDF turned, cropped, with forms': async (c) => ({ bytes: await reworkedPdf(c) }),
  'PDF that is encrypted': async (c) => ({
    bytes: await pdf(c, { userPassword: 'secret', ownerPassword: 'other' }),
    refused: 'encrypted',
  }),
  'PDF cut short': async (c) => ({ bytes: (await pdf(c)).slice(0, 60), refused: 'damaged' }),
  mail: async (c) => ({ bytes: await mail(c) }),
  'signed mail': (c) =>
    Promise.resolve({
      bytes: strToU8(
        `From: a@b.example\r\nTo: c@d.example\r\nMIME-Version: 1.0\r\nContent-Type: multipart/signed; boundary=s\r\n\r\n--s\r\n\r\n${c.digits(20)}\r\n--s--\r\n`,
      ),
      refused: 'signed',
    }),
  'encrypted office file': (c) =>
    Promise.resolve({
      bytes: new Uint8Array([0xd0, 0xcf, 0x11, 0xe0, 0xa1, 0xb1, 0x1a, 0xe1, ...strToU8(c.digits(500))]),
      refused: 'encrypted',
    }),
  'nothing at all': () => Promise.resolve({ bytes: new Uint8Array(), refused: 'another kind' }),
  'something else': (c) =>
    Promise.resolve({ bytes: strToU8(`name;card\n${said(c)};${c.digits(16)}\n`), refused: 'another kind' }),
  'an archive of something else': (c) =>
    Promise.resolve({ bytes: zipSync({ 'a.txt': strToU8(said(c)) }), refused: 'another kind' }),
};
