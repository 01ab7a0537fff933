import { describe, expect, it } from 'vitest';
import { extractText, getDocumentProxy } from 'unpdf';
import { code, figures, heading, makeDocument, paragraph, picture, table, title } from './document.ts';

async function read(pdf: Buffer): Promise<{ pages: number; text: string }> {
  const document = await getDocumentProxy(new Uint8Array(pdf));
  const { totalPages, text } = await extractText(document, { mergePages: true });
  return { pages: totalPages, text };
}

describe('a document', () => {
  it('holds what it is given, with its pages numbered and its head on each', async () => {
    const rows = Array.from({ length: 200 }, (_, i) => [code(`name-${i}`), paragraph(`kind ${i}`)]);
    const pdf = await makeDocument({
      title: 'Sweep of harbour.example',
      foot: 'harbour.example, 20 Nov 2026',
      content: [
        title('Sweep of harbour.example'),
        figures([{ value: 8, words: 'leaks', mark: true }]),
        heading('All trackers'),
        table([200, 200], ['Name', 'Kind'], rows),
        heading('Proof'),
        code('ab'.repeat(32)),
      ],
    });
    const { pages, text } = await read(pdf);
    expect(pages).toBeGreaterThan(3);
    for (const words of ['Sweep of harbour.example', 'leaks', 'name-0', 'name-199', 'ab'.repeat(32)])
      expect(text).toContain(words);
    expect(text).toContain(`1 of ${pages}`);
    expect(text).toContain(`${pages} of ${pages}`);
    expect(text.match(/Kind/g)?.length).toBeGreaterThan(3);
  });

  it('shows what its fonts lack as such, and runs nothing of it', async () => {
    const pdf = await makeDocument({
      title: 'x',
      foot: '',
      content: [title('“Smit” 船 \u0000\u202e'), paragraph('a'.repeat(5000)), code('<script>')],
    });
    const { text } = await read(pdf);
    expect(text).toContain('"Smit" ? ??');
    expect(text).toContain('<script>');
    expect(text).not.toContain('a'.repeat(2001));
  });

  it.each([
    ['none', undefined, 'No picture was taken.'],
    ['no picture', Buffer.from('not a picture'), 'The picture cannot be shown.'],
    ['one cut short', Buffer.from([0xff, 0xd8, 0xff, 0xe0, 0, 4, 0, 0]), 'The picture cannot be shown.'],
  ])('says where there is %s to show', async (_, jpeg, words) => {
    const pdf = await makeDocument({ title: 'x', foot: '', content: [picture(jpeg, 100, 50)] });
    expect((await read(pdf)).text).toContain(words);
  });

  it('fetches nothing and reads no other file', async () => {
    for (const image of ['http://127.0.0.1:1/x.jpg', '/etc/hostname'])
      await expect(makeDocument({ title: 'x', foot: '', content: [{ image }] })).rejects.toThrow();
  });
});
