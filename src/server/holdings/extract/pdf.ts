import { extractText, getDocumentProxy } from 'unpdf';
import { TextBuilder, UnreadableError, type Extracted, type Limits } from './extracted.ts';

/** ISO 32000: the text of each page. */
export async function extractPdf(bytes: Buffer, limits: Limits): Promise<Extracted> {
  const out = new TextBuilder(limits);
  try {
    const document = await getDocumentProxy(new Uint8Array(bytes), {
      verbosity: 0,
      isEvalSupported: false,
      stopAtErrors: false,
    });
    const { text } = await extractText(document, { mergePages: false });
    for (const [i, page] of text.entries()) {
      out.add(page, { page: i + 1 });
      out.gap('\n\n');
    }
    await document.destroy();
    if (out.length <= 2 * text.length)
      out.problems.push({ part: '', kind: 'cut short', words: 'Its pages hold pictures without text' });
    return out.done('PDF');
  } catch (error) {
    if (error instanceof UnreadableError) throw error;
    const words = (error as Error).message;
    throw new UnreadableError(
      /password/i.test(words) ? 'encrypted' : 'damaged',
      /password/i.test(words) ? 'It is encrypted' : `It is no sound PDF: ${words}`,
    );
  }
}
