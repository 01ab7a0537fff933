import { unzipSync } from 'fflate';

/** What a reader sees of a text document. */
export interface WordPage {
  readonly header: readonly string[];
  readonly paragraphs: readonly string[];
  readonly footer: readonly string[];
  readonly across: readonly string[];
}

/** Reads a text document (WordprocessingML) without knowing anything of markings. */
export function readWordPage(bytes: Uint8Array): WordPage {
  const parts = unzipSync(bytes, {
    filter: (f) => /^word\/(?:document|header\w*|footer\w*|[\w-]+)\.xml$/.test(f.name),
  });
  const text = (name: string) => new TextDecoder().decode(parts[name] ?? new Uint8Array());
  const names = Object.keys(parts).toSorted();
  const holding = (root: string) => names.filter((n) => new RegExp(`<w:${root}[ >]`).test(text(n)));
  const headers = holding('hdr').map(text);
  return {
    header: lines(headers),
    paragraphs: lines([text('word/document.xml')]),
    footer: lines(holding('ftr').map(text)),
    across: [
      ...new Set(
        headers.flatMap((h) =>
          [...h.matchAll(/<v:textpath[^>]* string="([^"]*)"/g)].map((m) => plain(m[1] ?? '')),
        ),
      ),
    ],
  };
}

/** Each once: the same stands on first, even and other pages. */
function lines(texts: readonly string[]): readonly string[] {
  const all = texts.flatMap((t) =>
    [...t.matchAll(/<w:p[ >][\s\S]*?<\/w:p>/g)].map(([p]) =>
      [...p.matchAll(/<w:t(?: [^>]*)?>([^<]*)<\/w:t>/g)].map((m) => plain(m[1] ?? '')).join(''),
    ),
  );
  return texts.length > 1 ? [...new Set(all.filter(Boolean))] : all.filter(Boolean);
}

function plain(xml: string): string {
  return xml
    .replace(/&#x([0-9a-f]+);/gi, (_, n: string) => String.fromCodePoint(parseInt(n, 16)))
    .replace(/&#(\d+);/g, (_, n: string) => String.fromCodePoint(Number(n)))
    .replace(/&lt;/g, '<')
    .replace(/&gt;/g, '>')
    .replace(/&quot;/g, '"')
    .replace(/&apos;/g, "'")
    .replace(/&amp;/g, '&');
}
