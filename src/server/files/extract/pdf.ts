import { extractText, getDocumentProxy } from 'unpdf';
import type { Place } from '../../../core/text/segment.ts';
import { linkText } from './link-text.ts';
import { TextBuilder, UnreadableError, type Extracted, type Limits } from './extracted.ts';

/** ISO 32000-2, 12.5 and 12.7, as the reader tells them. */
interface Annotation {
  readonly fieldName?: string;
  readonly alternativeText?: string;
  readonly fieldValue?: string | readonly string[];
  readonly contentsObj?: { readonly str: string };
  readonly titleObj?: { readonly str: string };
  readonly url?: string;
}

function add(out: TextBuilder, text: unknown, place: Place, heading?: string): void {
  if (typeof text !== 'string' || text.trim() === '' || text === 'Off') return;
  out.add(text, place, { heading });
  out.gap('\n');
}

/** ISO 32000: the text of each page, what its form holds, comments and links, and its properties. */
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
    const hasNoText = out.length <= 2 * text.length;
    for (let page = 1; page <= text.length; page++)
      for (const a of (await (await document.getPage(page)).getAnnotations()) as Annotation[]) {
        const filled = Array.isArray(a.fieldValue) ? a.fieldValue.join(', ') : a.fieldValue;
        add(out, filled, { page, role: 'field' }, a.alternativeText || a.fieldName);
        add(out, a.contentsObj?.str, { page, role: 'comment' });
        add(out, a.titleObj?.str, { page, role: 'author' }, 'author');
        add(out, a.url && linkText(a.url), { page, role: 'link' });
      }
    const info = (await document.getMetadata()).info as Readonly<Record<string, unknown>>;
    for (const name of ['Author', 'Title', 'Subject', 'Keywords'])
      add(out, info[name], { role: 'properties' }, name.toLowerCase());
    await document.destroy();
    if (hasNoText)
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
