import { gzipSync } from 'node:zlib';
import JSZip from 'jszip';
import PDFDocument from 'pdfkit';

export const LETTER = 'Kære Jens Hansen, dit CPR-nr. er 010180-1234. Skriv til tove@brindlestrait.example.';

export async function pdf(text: string, userPassword?: string): Promise<Buffer> {
  const document = new PDFDocument(userPassword ? { userPassword } : {});
  const chunks: Buffer[] = [];
  document.on('data', (c: Buffer) => chunks.push(c));
  document.text('Side et').addPage().text(text).end();
  await new Promise((done) => document.on('end', done));
  return Buffer.concat(chunks);
}

export const zip = async (files: Readonly<Record<string, string | Buffer>>) => {
  const z = new JSZip();
  for (const [name, content] of Object.entries(files)) z.file(name, content);
  return z.generateAsync({ type: 'nodebuffer', compression: 'DEFLATE' });
};
export const docx = (body: string) =>
  zip({
    'word/document.xml': `<?xml version="1.0"?><w:document xmlns:w="w"><w:body>${body}</w:body></w:document>`,
  });
export const paragraph = (text: string) =>
  `<w:p><w:r><w:t>${text.slice(0, 30)}</w:t></w:r><w:r><w:t>${text.slice(30)}</w:t></w:r></w:p>`;
export const xlsx = (rows: readonly (readonly string[])[]) =>
  zip({
    'xl/workbook.xml':
      '<workbook xmlns:r="r"><sheets><sheet name="Passagerer" sheetId="1" r:id="rId1"/></sheets></workbook>',
    'xl/_rels/workbook.xml.rels':
      '<Relationships><Relationship Id="rId1" Target="worksheets/sheet1.xml"/></Relationships>',
    'xl/sharedStrings.xml': `<sst>${rows
      .flat()
      .map((c) => `<si><t>${c}</t></si>`)
      .join('')}</sst>`,
    'xl/worksheets/sheet1.xml': `<worksheet><sheetData>${rows.map((r, i) => `<row r="${i + 1}">${r.map((_, c) => `<c r="${String.fromCharCode(65 + c)}${i + 1}" t="s"><v>${i * r.length + c}</v></c>`).join('')}</row>`).join('')}</sheetData></worksheet>`,
  });

/** One file of each format that is read, with the same letter in it. */
export async function sampleFiles(): Promise<Readonly<Record<string, string | Buffer>>> {
  const inner = await docx(paragraph(LETTER));
  return {
    'a.txt': LETTER,
    'latin1.txt': Buffer.from(LETTER, 'latin1'),
    'utf16.txt': Buffer.concat([Buffer.from([0xff, 0xfe]), Buffer.from(LETTER, 'utf16le')]),
    'b.csv': 'navn;cpr;ordre\nJens Hansen;010180-1234;2110621234\n',
    'c.json': JSON.stringify({
      person: { cpr: '010180-1234', orderNo: '2110621234', note: 'gr\u00fcn\n"x"' },
    }),
    'd.xml': '<people><person cpr="010180-1234"><email>tove@brindlestrait.example</email></person></people>',
    'e.html': `<html><head><style>.x{}</style></head><body><p>${LETTER}</p><table><tr><th>cpr</th><th>ordre</th></tr><tr><td>010180-1234</td><td>2110621234</td></tr></table><!-- cpr 2110621234 --></body></html>`,
    'f.md': `# Brev\n\n${LETTER}\n`,
    'g.docx': inner,
    'h.xlsx': await xlsx([
      ['Navn', 'CPR', 'Ordre'],
      ['Jens Hansen', '010180-1234', '2110621234'],
    ]),
    'i.pptx': await zip({
      'ppt/presentation.xml': '<p/>',
      'ppt/slides/slide2.xml': `<p:sld xmlns:p="p" xmlns:a="a"><a:p><a:r><a:t>${LETTER}</a:t></a:r></a:p></p:sld>`,
    }),
    'j.odt': await zip({
      mimetype: 'application/vnd.oasis.opendocument.text',
      'content.xml': `<o xmlns:text="t"><text:p>${LETTER}</text:p></o>`,
    }),
    'k.ods': await zip({
      mimetype: 'application/vnd.oasis.opendocument.spreadsheet',
      'content.xml':
        '<o xmlns:text="t" xmlns:table="b"><table:table table:name="Ark"><table:table-row><table:table-cell><text:p>CPR</text:p></table:table-cell><table:table-cell><text:p>Ordre</text:p></table:table-cell></table:table-row><table:table-row><table:table-cell><text:p>010180-1234</text:p></table:table-cell><table:table-cell><text:p>2110621234</text:p></table:table-cell></table:table-row></table:table></o>',
    }),
    'l.rtf': `{\\rtf1\\ansi\\ansicpg1252{\\fonttbl{\\f0 Arial;}}\\f0 ${LETTER.replace('æ', "\\'e6")}\\par}`,
    'm.pdf': await pdf(LETTER),
    'n.eml': `From: Jens Hansen <jens@x.example>\r\nTo: tove@brindlestrait.example\r\nSubject: CPR 010180-1234\r\nMIME-Version: 1.0\r\nContent-Type: multipart/mixed; boundary=b\r\n\r\n--b\r\nContent-Type: text/plain; charset=utf-8\r\n\r\nHej\r\n--b\r\nContent-Type: application/octet-stream; name=g.docx\r\nContent-Disposition: attachment; filename=g.docx\r\nContent-Transfer-Encoding: base64\r\n\r\n${inner.toString('base64')}\r\n--b--\r\n`,
    'o.mbox': `From jens@x.example Mon Nov 23 10:00:00 2026\nFrom: jens@x.example\nTo: a@x.example\nSubject: et\n\n${LETTER}\n\nFrom tove@x.example Mon Nov 23 11:00:00 2026\nFrom: tove@x.example\nTo: a@x.example\nSubject: to\n\nCPR 2110621234\n`,
    'p.vcf':
      'BEGIN:VCARD\r\nVERSION:4.0\r\nFN:Jens Hansen\r\nBDAY:19800101\r\nTEL:+4532145566\r\nNOTE:CPR 010180-1234\r\nEND:VCARD\r\n',
    'q.ics':
      'BEGIN:VCALENDAR\r\nVERSION:2.0\r\nBEGIN:VEVENT\r\nUID:1\r\nSUMMARY:Samtale\r\nDESCRIPTION:CPR 010180-1234\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n',
    'r.zip': await zip({ 'inner.zip': await zip({ 'deep/a.txt': LETTER }) }),
    's.txt.gz': gzipSync(LETTER),
    't.sql':
      "CREATE TABLE person (navn text, cpr text, ordre text);\nINSERT INTO person VALUES\n('Jens Hansen', '010180-1234', '2110621234');\n",
    'u.jsonl': '{"id":1}\n{"person":{"cpr":"010180-1234","ordre":"2110621234"}}\n',
    'v.tsv': 'Passagerer\n\nnavn\tcpr\tordre\nJens Hansen\t010180-1234\t2110621234\n',
  };
}
