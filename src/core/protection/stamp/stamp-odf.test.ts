import { strToU8, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { Marking } from './marking.ts';
import type { Parts } from './package-parts.ts';
import { readFileLevel, stampFile, unstampFile } from './stamp-file.ts';
import { odfKind, readOdfLevel, stampOdf, unstampOdf } from './stamp-odf.ts';

const STRICT = { id: 'strict', name: 'Streng vertraulich & mehr' };
const OPEN = { id: 'open', name: 'Open' };
const FULL = Marking.parse({
  header: { text: 'Streng  vertraulich <x>', colour: '#7a1431', size: 12, align: 'right' },
  footer: { text: 'سري · 29 Nov 2026', size: 9 },
  watermark: { text: 'VERTRAULICH', size: 60, angle: 40 },
});
const FOOT = Marking.parse({ footer: { text: 'For everybody' } });

const ROOT =
  'xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" xmlns:style="urn:oasis:names:tc:opendocument:xmlns:style:1.0" xmlns:t="urn:oasis:names:tc:opendocument:xmlns:text:1.0" xmlns:draw="urn:oasis:names:tc:opendocument:xmlns:drawing:1.0" xmlns:fo="urn:oasis:names:tc:opendocument:xmlns:xsl-fo-compatible:1.0" xmlns:presentation="urn:oasis:names:tc:opendocument:xmlns:presentation:1.0"';
const MANIFEST =
  '<manifest:manifest xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0"><manifest:file-entry manifest:full-path="/" manifest:media-type="x"/></manifest:manifest>';
const META = `<office:document-meta ${ROOT} xmlns:meta="urn:oasis:names:tc:opendocument:xmlns:meta:1.0"><office:meta><meta:user-defined meta:name="Ship">MS Hale</meta:user-defined></office:meta></office:document-meta>`;
const stylesOf = (masters: string, automatic = '<office:automatic-styles/>') =>
  `<office:document-styles ${ROOT}>${automatic}<office:master-styles>${masters}</office:master-styles></office:document-styles>`;
const contentOf = (body: string) =>
  `<office:document-content ${ROOT}><office:automatic-styles><style:style style:name="P1" style:family="paragraph"/></office:automatic-styles><office:body>${body}</office:body></office:document-content>`;

function odf(kind: 'text' | 'spreadsheet' | 'presentation', more: Readonly<Record<string, string>>): Parts {
  return new Map(
    Object.entries({
      mimetype: `application/vnd.oasis.opendocument.${kind}`,
      'content.xml': contentOf('<office:text><t:p>Hello</t:p></office:text>'),
      'styles.xml': stylesOf('<style:master-page style:name="Standard"/>'),
      'meta.xml': META,
      'META-INF/manifest.xml': MANIFEST,
      ...more,
    }).map(([name, text]) => [name, strToU8(text)]),
  );
}
const master = (inner: string) =>
  stylesOf(`<style:master-page style:name="Default">${inner}</style:master-page>`);
const text = (parts: Parts, name: string) => new TextDecoder().decode(parts.get(name));
const plain = (parts: Parts) => Object.fromEntries([...parts.keys()].map((n) => [n, text(parts, n)]));

const slides = contentOf(
  '<office:presentation><draw:page draw:name="One"><draw:frame draw:name="Title"><draw:text-box><t:p>Season</t:p></draw:text-box></draw:frame><presentation:notes><t:p>n</t:p></presentation:notes></draw:page><draw:page draw:name="Two"/></office:presentation>',
);
const PAGED: readonly (readonly [string, Parts])[] = [
  ['a text', odf('text', {})],
  [
    'one of several kinds of page',
    odf('text', {
      'styles.xml': stylesOf(
        '<style:master-page style:name="A"/><style:master-page style:name="B"><style:footer><t:p>f</t:p></style:footer></style:master-page>',
      ),
    }),
  ],
  [
    'one with a header',
    odf('text', {
      'styles.xml': master(
        '<style:header><t:p>Their own</t:p></style:header><style:header-left><t:p>Left</t:p></style:header-left>',
      ),
    }),
  ],
  [
    'a sheet whose header is turned off',
    odf('spreadsheet', {
      'styles.xml': master(
        '<style:header style:display="false"/><style:footer style:display="false"><t:p>x</t:p></style:footer>',
      ),
    }),
  ],
  [
    'a sheet in regions',
    odf('spreadsheet', {
      'styles.xml': master(
        '<style:header><style:region-left><t:p>l</t:p></style:region-left></style:header><style:footer style:display="false"><style:region-center/></style:footer>',
      ),
    }),
  ],
  [
    'without automatic styles',
    odf('text', { 'styles.xml': stylesOf('<style:master-page style:name="S"/>', '') }),
  ],
];
const ALL: readonly (readonly [string, Parts])[] = [
  ...PAGED,
  ['slides', odf('presentation', { 'content.xml': slides })],
];

describe('an OpenDocument', () => {
  it.each(ALL)('%s is stamped, told, and as it was once that is taken off', (_, parts) => {
    const stamped = stampOdf(parts, FULL, STRICT);
    expect(readOdfLevel(stamped)).toEqual(STRICT);
    expect(readOdfLevel(parts)).toBeUndefined();
    expect(plain(unstampOdf(stamped))).toEqual(plain(parts));
    expect(plain(stampOdf(stamped, FULL, STRICT))).toEqual(plain(stamped));
    expect(plain(stampOdf(stamped, FOOT, OPEN))).toEqual(plain(stampOdf(parts, FOOT, OPEN)));
    for (const [name, bytes] of parts)
      if (!['styles.xml', 'content.xml', 'meta.xml'].includes(name)) expect(stamped.get(name)).toBe(bytes);
  });

  it.each(PAGED)('%s has the marking in the header and footer of every kind of page', (_, parts) => {
    const shown = text(stampOdf(parts, FULL, STRICT), 'styles.xml');
    const pages = shown.match(/<style:master-page[\s\S]*?<\/style:master-page>/g) ?? [];
    expect(pages.length).toBe((text(parts, 'styles.xml').match(/<style:master-page/g) ?? []).length);
    for (const page of pages) {
      expect(page).toMatch(
        /<style:header[\s\S]*Streng <text:s text:c="1"\/>vertraulich &#60;x&#62;[\s\S]*<\/style:header>/,
      );
      expect(page).toMatch(/<style:footer[\s\S]*سري · 29 Nov 2026[\s\S]*<\/style:footer>/);
      expect(page).not.toMatch(/<style:(?:header|footer)[^>]*display="false"/);
      // OpenDocument 1.3, part 3, 16.9: headers come before footers.
      expect(page.indexOf('<style:header')).toBeLessThan(page.indexOf('<style:footer'));
    }
    expect(shown).toMatch(/name="YareMarking-header"[^>]*><style:paragraph-properties fo:text-align="end"/);
  });

  it('that is in regions has the marking in the one on its side', () => {
    const shown = text(stampOdf(PAGED[4]![1], FULL, STRICT), 'styles.xml');
    expect(shown).toMatch(/<style:region-right[^>]*><!--yare: made--><text:p/);
    expect(shown).toMatch(/<style:region-center><!--yare: opened--><text:p/);
  });

  it('of slides has frames on each: the watermark first, the lines before notes', () => {
    const shown = text(stampOdf(odf('presentation', { 'content.xml': slides }), FULL, STRICT), 'content.xml');
    const pages = shown.match(/<draw:page [\s\S]*?<\/draw:page>/g) ?? [];
    expect(pages).toHaveLength(2);
    for (const page of pages)
      expect(
        page
          .match(/draw:name="[^"]*"/g)
          ?.slice(1)
          .filter((n) => n.includes('Yare')),
      ).toEqual([
        'draw:name="YareMarking-across"',
        'draw:name="YareMarking-header"',
        'draw:name="YareMarking-footer"',
      ]);
    expect(pages[0]!.indexOf('YareMarking-across')).toBeLessThan(pages[0]!.indexOf('Title'));
    expect(pages[0]!.indexOf('YareMarking-footer')).toBeLessThan(pages[0]!.indexOf('<presentation:notes'));
    expect(pages[0]).toMatch(/draw:transform="rotate \(0\.69813\) translate/);
  });

  it('of slides is placed by the size that their master has', () => {
    const layouts =
      '<office:automatic-styles><style:page-layout style:name="notes"><style:page-layout-properties fo:page-width="21cm" fo:page-height="29.7cm"/></style:page-layout><style:page-layout style:name="wide"><style:page-layout-properties fo:page-width="400mm" fo:page-height="10in"/></style:page-layout></office:automatic-styles>';
    const masters =
      '<style:master-page style:name="N" style:page-layout-name="notes"/><style:master-page style:name="W" style:page-layout-name="wide"/>';
    const parts = odf('presentation', {
      'styles.xml': stylesOf(masters, layouts),
      'content.xml': contentOf(
        '<office:presentation><draw:page draw:master-page-name="W"/></office:presentation>',
      ),
    });
    const frames = text(stampOdf(parts, FULL, STRICT), 'content.xml').match(/<draw:frame[^>]*>/g) ?? [];
    expect(frames.find((f) => f.includes('-header'))).toContain('svg:width="39.000cm"');
    // 10 in, less the line and the edge.
    expect(frames.find((f) => f.includes('-footer'))).toContain('svg:y="24.650cm"');
  });

  it('without metadata gets them, and loses them again', () => {
    const parts = new Map(odf('text', {}));
    parts.delete('meta.xml');
    const stamped = stampOdf(parts, FOOT, OPEN);
    expect(readOdfLevel(stamped)).toEqual(OPEN);
    expect(text(stamped, 'META-INF/manifest.xml')).toContain('full-path="meta.xml"');
    expect(plain(unstampOdf(stamped))).toEqual(plain(parts));
  });

  it.each([
    ['signed', odf('text', { 'META-INF/documentsignatures.xml': '<x/>' })],
    [
      'encrypted',
      odf('text', {
        'META-INF/manifest.xml': MANIFEST.replace(
          '"x"/>',
          '"x"><manifest:encryption-data/></manifest:file-entry>',
        ),
      }),
    ],
    ['no room', odf('spreadsheet', { 'styles.xml': stylesOf('') })],
    ['damaged', odf('text', { 'styles.xml': '<office' })],
  ] as const)('is refused where it is %s', (why, parts) => {
    expect(() => stampOdf(parts, FULL, STRICT)).toThrow(expect.objectContaining({ why }));
  });

  it('is known as a file, and keeps its kind unpacked at its beginning', async () => {
    const bytes = zipSync(
      Object.fromEntries(
        [...odf('text', {})].map(([n, b]) => [n, [b, { level: n === 'mimetype' ? 0 : 6 }] as const]),
      ) as never,
    );
    const stamped = await stampFile(bytes, FULL, STRICT);
    expect(stamped.kind).toBe('ODT');
    expect(Buffer.from(stamped.bytes).subarray(30, 77).toString('latin1')).toBe(
      'mimetypeapplication/vnd.oasis.opendocument.text',
    );
    expect(await readFileLevel(stamped.bytes)).toEqual(STRICT);
    expect(await readFileLevel(unstampFile(stamped.bytes).bytes)).toBeUndefined();
  });

  it.each([
    ['application/vnd.oasis.opendocument.text-template', 'ODT'],
    ['application/vnd.oasis.opendocument.graphics', undefined],
    ['text/plain', undefined],
  ])('of type %s is %s', (mimetype, kind) =>
    expect(odfKind(new Map([['mimetype', strToU8(mimetype)]]))).toBe(kind),
  );
});

describe('A watermark', () => {
  const MARK = Marking.parse({ watermark: { text: 'Across & all', angle: 30 } });
  it('hangs on the header of every kind of page of a text, and goes with the marking', () => {
    for (const [, parts] of PAGED.slice(0, 3)) {
      const stamped = stampOdf(parts, MARK, STRICT);
      const masters = text(stamped, 'styles.xml').match(/<style:master-page /g)?.length ?? 0;
      const shapes = text(stamped, 'styles.xml').match(/<draw:custom-shape [^>]*rotate \(0\.52360\)/g) ?? [];
      expect(shapes.length).toBeGreaterThanOrEqual(masters);
      expect(text(stamped, 'styles.xml')).toContain('Across &#38; all');
      expect(plain(unstampOdf(stamped))).toEqual(plain(parts));
      expect(plain(stampOdf(stamped, MARK, STRICT))).toEqual(plain(stamped));
    }
  });

  it('is none on a sheet', () => {
    for (const [, parts] of PAGED.slice(3, 5))
      expect(text(stampOdf(parts, MARK, STRICT), 'styles.xml')).toBe(text(parts, 'styles.xml'));
  });
});
