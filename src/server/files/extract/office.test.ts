import JSZip from 'jszip';
import { describe, expect, it } from 'vitest';
import { extract } from './extract.ts';

async function packed(files: Readonly<Record<string, string>>): Promise<Buffer> {
  const zip = new JSZip();
  for (const [name, content] of Object.entries(files)) zip.file(name, content);
  return zip.generateAsync({ type: 'nodebuffer' });
}

/** What a file holds: its text with where it stood, and what it is called. */
async function read(name: string, files: Readonly<Record<string, string>>): Promise<readonly string[]> {
  const { text, segments, problems } = await extract(name, await packed(files));
  expect(problems).toEqual([]);
  return segments.map((s) => {
    const { role, sheet, cell, page } = s.place;
    const where = [role, sheet, cell, page].filter((p) => p !== undefined).join(' ');
    return `${where}${s.heading === undefined ? '' : ` <${s.heading}>`}: ${text.slice(s.start, s.end)}`;
  });
}

const p = (...runs: readonly string[]) => `<w:p>${runs.map((r) => `<w:r>${r}</w:r>`).join('')}</w:p>`;
const t = (text: string) => `<w:t>${text}</w:t>`;
const tc = (text: string) => `<w:tc>${p(t(text))}</w:tc>`;
const document = (body: string) =>
  `<w:document xmlns:w="w" xmlns:mc="mc"><w:body>${body}</w:body></w:document>`;

describe('DOCX', () => {
  it('is read with its tables, notes, headers and comments', async () => {
    expect(
      await read('a.docx', {
        'word/document.xml': document(
          `${p(t('Dear '), t('Tove'))}<w:tbl><w:tr>${tc('Name')}${tc('Phone')}</w:tr><w:tr>${tc('Osei')}${tc('32145566')}</w:tr></w:tbl>${p(t('a'), '<w:br/>', t('b'))}`,
        ),
        'word/header1.xml': document(p(t('Confidential'))),
        'word/footnotes.xml': document(p(t('Seen by nobody'))),
        'word/comments.xml': `<w:comments xmlns:w="w"><w:comment w:author="Ines Abara">${p(t('Is this right?'))}</w:comment></w:comments>`,
      }),
    ).toEqual([
      ': Dear Tove',
      'A1: Name',
      'B1: Phone',
      'A2 <Name>: Osei',
      'B2 <Phone>: 32145566',
      ': a\nb',
      'comment: Is this right?',
      'author <author>: Ines Abara',
      'footnote: Seen by nobody',
      'header: Confidential',
    ]);
  });

  it('keeps what was struck out apart, and reads what is written twice once', async () => {
    const box = `<w:txbxContent>${p(t('In a box'))}</w:txbxContent>`;
    expect(
      await read('a.docx', {
        'word/document.xml': document(
          `${p(t('Call 3214'), '<w:del w:author="Bo"><w:delText>0000</w:delText></w:del>', t('5566'))}<w:p><mc:AlternateContent><mc:Choice>${box}</mc:Choice><mc:Fallback>${box}</mc:Fallback></mc:AlternateContent></w:p>`,
        ),
      }),
    ).toEqual([': Call 32145566', 'deleted: 0000', ': In a box', 'author <author>: Bo']);
  });

  it('tells its properties and the addresses that it links to', async () => {
    expect(
      await read('a.docx', {
        'word/document.xml': document(p(t('x'))),
        'docProps/core.xml':
          '<cp:coreProperties xmlns:cp="cp" xmlns:dc="dc"><dc:title>Letter</dc:title><dc:creator>Tove Lindqvist</dc:creator></cp:coreProperties>',
        'docProps/app.xml': '<Properties><Pages>3</Pages><Manager>Osei Darko</Manager></Properties>',
        'word/_rels/document.xml.rels':
          '<Relationships><Relationship Id="1" Target="mailto:tove%20l@x.example" TargetMode="External"/><Relationship Id="2" Target="styles.xml"/></Relationships>',
      }),
    ).toEqual([
      ': x',
      'properties <title>: Letter',
      'properties <author>: Tove Lindqvist',
      'properties <author>: Osei Darko',
      'link: tove l@x.example',
    ]);
  });
});

const STYLES = `<styleSheet><numFmts><numFmt numFmtId="164" formatCode="000000\\-0000"/><numFmt numFmtId="165" formatCode="#,##0.00"/></numFmts><cellXfs><xf numFmtId="0"/><xf numFmtId="14"/><xf numFmtId="164"/><xf numFmtId="165"/></cellXfs></styleSheet>`;

describe('XLSX', () => {
  const workbook = {
    'xl/workbook.xml': '<workbook xmlns:r="r"><sheets><sheet name="Crew" r:id="a"/></sheets></workbook>',
    'xl/_rels/workbook.xml.rels':
      '<Relationships><Relationship Id="a" Target="worksheets/sheet1.xml"/></Relationships>',
    'xl/styles.xml': STYLES,
  };
  const sheet = (rows: readonly (readonly string[])[]) =>
    `<worksheet><sheetData>${rows.map((r, i) => `<row r="${i + 1}">${r.join('')}</row>`).join('')}</sheetData></worksheet>`;
  const s = (ref: string, text: string) => `<c r="${ref}" t="inlineStr"><is><t>${text}</t></is></c>`;
  const n = (ref: string, value: string, style: number) => `<c r="${ref}" s="${style}"><v>${value}</v></c>`;

  it('shows numbers as its cells do: dates, zeros in front, no exponents', async () => {
    expect(
      await read('a.xlsx', {
        ...workbook,
        'xl/worksheets/sheet1.xml': sheet([
          [s('A1', 'CPR'), s('B1', 'Born'), s('C1', 'Card'), s('D1', 'Pay')],
          [
            n('A2', '707614285', 2),
            n('B2', '25600', 1),
            n('C2', '4.11111111111111E+15', 0),
            n('D2', '1200.5', 3),
          ],
        ]),
      }),
    ).toEqual([
      'Crew A1: CPR',
      'Crew B1: Born',
      'Crew C1: Card',
      'Crew D1: Pay',
      'Crew A2 <CPR>: 070761-4285',
      'Crew B2 <Born>: 1970-02-01',
      'Crew C2 <Card>: 4111111111111110',
      'Crew D2 <Pay>: 1200.5',
    ]);
  });

  it('finds the headings below a title, and reads its comments', async () => {
    expect(
      await read('a.xlsx', {
        ...workbook,
        'xl/worksheets/sheet1.xml': sheet([
          [s('A1', 'Crew, November')],
          [],
          [s('A3', 'Name'), s('B3', 'Phone')],
          [s('A4', 'Tove'), s('B4', '32145566')],
        ]),
        'xl/threadedComments/threadedComment1.xml':
          '<ThreadedComments><threadedComment ref="A4"><text>Call Osei</text></threadedComment></ThreadedComments>',
      }),
    ).toEqual([
      'Crew A1: Crew, November',
      'Crew A3: Name',
      'Crew B3: Phone',
      'Crew A4 <Name>: Tove',
      'Crew B4 <Phone>: 32145566',
      'comment: Call Osei',
    ]);
  });

  it('that is broken says so', async () => {
    const { problems, text } = await extract(
      'a.xlsx',
      await packed({ ...workbook, 'xl/worksheets/sheet1.xml': '<worksheet><row>' }),
    );
    expect(text).toBe('');
    expect(problems.map((x) => x.kind)).toEqual(['damaged']);
  });
});

describe('PPTX', () => {
  it('is read slide by slide, with notes and links', async () => {
    const slide = (text: string) =>
      `<p:sld xmlns:p="p" xmlns:a="a"><a:p><a:r><a:t>${text}</a:t></a:r></a:p></p:sld>`;
    expect(
      await read('a.pptx', {
        'ppt/presentation.xml': '<p/>',
        'ppt/slides/slide2.xml': slide('Two'),
        'ppt/slides/slide10.xml': slide('Ten'),
        'ppt/notesSlides/notesSlide2.xml': slide('Say hello to Tove'),
        'ppt/slides/_rels/slide2.xml.rels':
          '<Relationships><Relationship Id="1" Target="tel:+4532145566" TargetMode="External"/></Relationships>',
      }),
    ).toEqual(['notes 2: Say hello to Tove', '2: Two', '10: Ten', 'link: +4532145566']);
  });
});

describe('OpenDocument', () => {
  it('is read with its tables and properties', async () => {
    const cell = (text: string) => `<table:table-cell><text:p>${text}</text:p></table:table-cell>`;
    expect(
      await read('a.odt', {
        mimetype: 'application/vnd.oasis.opendocument.text',
        'content.xml': `<o xmlns:text="t" xmlns:table="b"><text:p>Dear <text:span>Tove</text:span><text:s text:c="2"/>!</text:p><table:table table:name="T"><table:table-row>${cell('Name')}${cell('Tlf')}</table:table-row><table:table-row>${cell('Osei')}${cell('32145566')}</table:table-row></table:table></o>`,
        'styles.xml': '<o xmlns:text="t"><text:p>Confidential</text:p></o>',
        'meta.xml':
          '<o xmlns:dc="dc" xmlns:meta="m"><meta:generator>x</meta:generator><meta:initial-creator>Tove Lind</meta:initial-creator><dc:subject>Pay</dc:subject></o>',
      }),
    ).toEqual([
      ': Dear Tove  !',
      'T A1: Name',
      'T B1: Tlf',
      'T A2 <Name>: Osei',
      'T B2 <Tlf>: 32145566',
      'header or footer: Confidential',
      'properties <author>: Tove Lind',
      'properties <subject>: Pay',
    ]);
  });
});
