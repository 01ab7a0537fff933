import { Marked, type Tokens } from 'marked';
import { linkInGuide, pageOfLink, type GuidePage } from '../../core/desk/guide.ts';

/** The text of a page as HTML: our own text, in which HTML is shown as what it is. */
export async function guideHtml(page: GuidePage, text: string): Promise<string> {
  const marked = new Marked({
    renderer: {
      html: ({ text: raw }: Tokens.HTML | Tokens.Tag) => escaped(raw),
      // Pictures stand in the README.
      image: ({ text: words }: Tokens.Image) => escaped(words),
      heading({ tokens, depth }: Tokens.Heading) {
        const words = this.parser.parseInline(tokens);
        return `<h${depth} id="${anchor(words)}">${words}</h${depth}>\n`;
      },
      link({ href, tokens }: Tokens.Link) {
        const written = this.parser.parseInline(tokens);
        const to = linkInGuide(page, href);
        // A file's name says less than what its page is called.
        const words = /\.md$/.test(written) ? (pageOfLink(page, href)?.name ?? written) : written;
        return to === undefined ? words : `<a href="${escaped(to)}">${words}</a>`;
      },
    },
  });
  return marked.parse(text);
}

function escaped(text: string): string {
  return text.replace(/[&<>"]/g, (c) => `&#${c.charCodeAt(0)};`);
}

/** As other readers of the same files make it. */
function anchor(words: string): string {
  return words
    .toLowerCase()
    .replace(/<[^>]+>|&[^;]+;|[^\p{L}\p{N} -]/gu, '')
    .replaceAll(' ', '-');
}
