import PDFDocument from 'pdfkit';
import { expect, it } from 'vitest';
import { extract } from './extract.ts';

type Pdf = InstanceType<typeof PDFDocument>;

async function pdf(draw: (document: Pdf) => void, options: object = {}): Promise<Buffer> {
  const document = new PDFDocument(options);
  const chunks: Buffer[] = [];
  document.on('data', (c: Buffer) => chunks.push(c));
  draw(document);
  document.end();
  await new Promise((done) => document.on('end', done));
  return Buffer.concat(chunks);
}

it('is read page by page, with its form, comments, links and properties', async () => {
  const bytes = await pdf(
    (d) => {
      d.text('Dear Tove');
      d.addPage().text('Page two');
      d.initForm();
      d.formText('cpr', 10, 200, 200, 20, { value: '070761-4285' });
      d.note(10, 300, 20, 20, 'Call Osei');
      d.link(10, 400, 50, 20, 'mailto:tove@x.example');
    },
    { info: { Author: 'Tove Lindqvist', Title: 'Letter' } },
  );
  const { text, segments, problems } = await extract('a.pdf', bytes);
  expect(problems).toEqual([]);
  const told = segments.map((s) => [
    s.place.page,
    s.place.role,
    s.heading,
    text.slice(s.start, s.end).trim(),
  ]);
  expect(told.slice(0, 2).map((s) => [s[0], s[3]])).toEqual([
    [1, 'Dear Tove'],
    [2, 'Page two'],
  ]);
  expect(told).toContainEqual([2, 'field', 'cpr', '070761-4285']);
  expect(told).toContainEqual([2, 'comment', undefined, 'Call Osei']);
  expect(told).toContainEqual([2, 'link', undefined, 'tove@x.example']);
  expect(told).toContainEqual([undefined, 'properties', 'author', 'Tove Lindqvist']);
});

it('of pictures alone says that it holds no text', async () => {
  const bytes = await pdf((d) => d.rect(10, 10, 100, 100).fill('#223344'), { info: { Title: 'Scan' } });
  const { problems } = await extract('scan.pdf', bytes);
  expect(problems.map((p) => p.kind)).toEqual(['cut short']);
});

it('that is none, or is locked, says so', async () => {
  expect((await extract('a.pdf', Buffer.from('%PDF-1.7 and no more'))).problems.map((p) => p.kind)).toEqual([
    'damaged',
  ]);
  const locked = await pdf((d) => d.text('x'), { userPassword: 'secret' });
  expect((await extract('a.pdf', locked)).problems.map((p) => p.kind)).toEqual(['encrypted']);
});
