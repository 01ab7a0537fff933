import { Document, Footer, Header, Packer, Paragraph, SectionType } from 'docx';
import fc from 'fast-check';
import { unzipSync } from 'fflate';
import { beforeAll, describe, expect, it } from 'vitest';
import { filled, Marking, UnstampableError, type MarkingInput } from './marking.ts';
import { readDocxLevel, stampDocx, unstampDocx } from './stamp-docx.ts';
import type { Parts } from './package-parts.ts';
import { elementsOf, everyElement, spliced } from './xml-text.ts';

const LEVEL = { id: 'internal', name: 'Internal & "more"' };
const FULL = Marking.parse({
  header: { text: 'Internal <only>', colour: '#a5106b' },
  footer: { text: 'Keep it here', align: 'right' },
  watermark: { text: 'INTERNAL' },
});
const marking = (more: MarkingInput) => Marking.parse(more);

async function docx(options: ConstructorParameters<typeof Document>[0]): Promise<Parts> {
  return new Map(Object.entries(unzipSync(new Uint8Array(await Packer.toBuffer(new Document(options))))));
}
const text = (parts: Parts, name: string) => new TextDecoder().decode(parts.get(name));
/** What a reader of one section's header or footer finds, part by part. */
const words = (parts: Parts, part: RegExp) =>
  [...parts.keys()]
    .filter((n) => part.test(n))
    .sort()
    .map((n) =>
      [...text(parts, n).matchAll(/<w:t[ >][^<]*<\/w:t>|<w:t>[^<]*/g)].map((m) =>
        m[0].replace(/<[^>]*>/g, ''),
      ),
    );

/** Made by hand, for what a library does not write. */
function raw(body: string, more: Readonly<Record<string, string>> = {}): Parts {
  const w = 'xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"';
  const files: Record<string, string> = {
    '[Content_Types].xml':
      '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="xml" ContentType="application/xml"/></Types>',
    '_rels/.rels':
      '<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/officeDocument" Target="word/document.xml"/></Relationships>',
    'word/document.xml': `<?xml version="1.0"?>\r\n<w:document ${w}><w:body>${body}</w:body></w:document>`,
    ...more,
  };
  return new Map(Object.entries(files).map(([n, t]) => [n, new TextEncoder().encode(t)]));
}

/** Every odd one: sections, pages of two kinds, headers there are, none, and a strict document. */
let samples: ReadonlyMap<string, Parts>;
beforeAll(async () => {
  const line = (words_: string) => [new Paragraph(words_)];
  samples = new Map<string, Parts>([
    ['plain', await docx({ sections: [{ children: line('Hello') }] })],
    [
      'with a header of its own',
      await docx({
        sections: [
          {
            headers: { default: new Header({ children: line('Brindle Strait Ferries') }) },
            children: line('Hello'),
          },
        ],
      }),
    ],
    [
      'first and even pages',
      await docx({
        evenAndOddHeaderAndFooters: true,
        sections: [
          {
            properties: { titlePage: true },
            headers: { first: new Header({ children: line('First') }) },
            footers: { even: new Footer({ children: line('Even') }) },
            children: line('Hello'),
          },
        ],
      }),
    ],
    [
      'many sections',
      await docx({
        sections: Array.from({ length: 5 }, (_, i) => ({
          properties: {
            type: SectionType.NEXT_PAGE,
            ...(i === 2 ? { titlePage: true } : {}),
            page: { size: { orientation: i % 2 ? ('landscape' as const) : ('portrait' as const) } },
          },
          ...(i === 3 ? { headers: { default: new Header({ children: line('Fourth') }) } } : {}),
          children: line(`Section ${i}`),
        })),
      }),
    ],
    ['no section', raw('<w:p/>')],
    ['an empty section', raw('<w:p/><w:sectPr/>')],
    [
      'strict',
      new Map(
        [...raw('<w:p/><w:sectPr/>')].map(([n, b]) => [
          n,
          new TextEncoder().encode(
            new TextDecoder()
              .decode(b)
              .replaceAll(
                'schemas.openxmlformats.org/wordprocessingml/2006',
                'purl.oclc.org/ooxml/wordprocessingml',
              )
              .replace(
                'schemas.openxmlformats.org/officeDocument/2006/relationships/officeDocument',
                'purl.oclc.org/ooxml/officeDocument/relationships/officeDocument',
              ),
          ),
        ]),
      ),
    ],
    [
      'properties of its own',
      raw('<w:p/><w:sectPr/>', {
        'docProps/custom.xml':
          '<Properties xmlns="http://schemas.openxmlformats.org/officeDocument/2006/custom-properties" xmlns:vt="http://schemas.openxmlformats.org/officeDocument/2006/docPropsVTypes"><property fmtid="{D5CDD505-2E9C-101B-9397-08002B2CF9AE}" pid="7" name="Client"><vt:lpwstr>Seatable</vt:lpwstr></property></Properties>',
      }),
    ],
  ]);
});
const NAMES = [
  'plain',
  'with a header of its own',
  'first and even pages',
  'many sections',
  'no section',
  'an empty section',
  'strict',
  'properties of its own',
];
const sample = (name: string) => samples.get(name) as Parts;
const plain = (parts: Parts) =>
  Object.fromEntries([...parts].map(([n, b]) => [n, Buffer.from(b).toString('latin1')]));

describe.each(NAMES)('a text document, %s,', (name) => {
  it('carries the level and shows the marking on every page', () => {
    const stamped = stampDocx(sample(name), FULL, LEVEL);
    expect(readDocxLevel(stamped)).toEqual(LEVEL);
    for (const part of [...stamped.keys()].filter((n) => /\.(?:xml|rels)$/.test(n)))
      expect(() => elementsOf(text(stamped, part)), part).not.toThrow();
    const headers = words(stamped, /^word\/(?:yare-)?header.*\.xml$/);
    const footers = words(stamped, /^word\/(?:yare-)?footer.*\.xml$/);
    expect(headers.length).toBeGreaterThan(0);
    for (const h of headers) expect(h.join('|')).toMatch(/^Internal &#60;only&#62;/);
    for (const f of footers) expect(f.at(-1)).toBe('Keep it here');
    // Each page that is shown has one: of each section, each kind of page that it tells apart.
    const main = elementsOf(text(stamped, 'word/document.xml'));
    const [first] = [...everyElement(main)].filter((e) => e.name === 'sectPr');
    const kinds = (edge: string) =>
      first?.children
        .filter((c) => c.name === `${edge}Reference`)
        .map((c) => c.attributes.get('type') ?? 'default');
    const wanted = name === 'first and even pages' ? ['default', 'even', 'first'] : ['default'];
    expect(kinds('header')?.toSorted()).toEqual(wanted);
    expect(kinds('footer')?.toSorted()).toEqual(wanted);
  });

  it('leaves every other part as it was, and comes back whole when the marking is taken off', () => {
    const stamped = stampDocx(sample(name), FULL, LEVEL);
    const touched =
      /^(?:\[Content_Types\]\.xml|_rels\/\.rels|docProps\/custom\.xml|word\/(?:document|(?:yare-)?(?:header|footer).*)\.xml|word\/_rels\/document\.xml\.rels)$/;
    for (const [part, bytes] of sample(name))
      if (!touched.test(part)) expect(stamped.get(part), part).toBe(bytes);
    expect(plain(unstampDocx(stamped))).toEqual(plain(sample(name)));
  });

  it('is the same when it is stamped twice, and has the new marking alone when it is changed', () => {
    const once = stampDocx(sample(name), FULL, LEVEL);
    expect(plain(stampDocx(once, FULL, LEVEL))).toEqual(plain(once));
    const other = { id: 'strict', name: 'Strictly confidential' };
    const raised = stampDocx(once, marking({ header: { text: 'Strictly confidential' } }), other);
    expect(readDocxLevel(raised)).toEqual(other);
    expect(JSON.stringify(words(raised, /header|footer/))).not.toMatch(/Internal|Keep it here/);
    expect(plain(stampDocx(raised, FULL, LEVEL))).toEqual(plain(once));
  });
});

describe('what somebody wrote beside the marking', () => {
  it('stays when it is taken off', () => {
    const own = new Map(stampDocx(sample('with a header of its own'), FULL, LEVEL));
    const header = [...own.keys()].find((n) => /^word\/header\d+\.xml$/.test(n)) ?? '';
    own.set(
      header,
      new TextEncoder().encode(
        text(own, header).replace('</w:sdt>', '</w:sdt><w:r><w:t>Typed here</w:t></w:r>'),
      ),
    );
    const left = words(unstampDocx(own), /^word\/header/).flat();
    expect(left).toEqual(['Typed here', 'Brindle Strait Ferries']);
    expect(text(unstampDocx(own), header)).not.toMatch(/yare/);
  });

  it('makes a header that was ours theirs', () => {
    const name = 'word/yare-header-default.xml';
    const stamped = new Map(stampDocx(sample('plain'), FULL, LEVEL));
    const typed = text(stamped, name).replace('<w:p/>', '<w:p><w:r><w:t>Typed here</w:t></w:r></w:p>');
    stamped.set(name, new TextEncoder().encode(typed));
    const off = unstampDocx(stamped);
    expect(words(off, /header/)).toEqual([['Typed here']]);
    expect(readDocxLevel(off)).toBeUndefined();
    expect(words(stampDocx(off, FULL, LEVEL), /header/)).toEqual([['Internal &#60;only&#62;', 'Typed here']]);
  });
});

describe('what was in a header', () => {
  it('stays beside the marking', () => {
    const stamped = stampDocx(sample('with a header of its own'), FULL, LEVEL);
    expect(words(stamped, /header/)).toContainEqual(['Internal &#60;only&#62;', 'Brindle Strait Ferries']);
  });
});

it.each([
  ['signed', { '_xmlsignatures/origin.sigs': '' }, 'signed'],
  ['without a document', { '_rels/.rels': '<Relationships xmlns="x"/>' }, 'damaged'],
  ['cut short', { 'word/document.xml': '<w:document xmlns:w="x"><w:body>' }, 'damaged'],
  ['that declares types', { 'word/document.xml': '<!DOCTYPE d [<!ENTITY a "b">]><d>&a;</d>' }, 'damaged'],
  ['of another kind', { 'word/document.xml': '<book xmlns="urn:book"/>' }, 'another kind'],
])('one %s is refused, and says why', (_, more, why) => {
  const refused = () => stampDocx(raw('<w:p/>', more), FULL, LEVEL);
  expect(refused).toThrow(UnstampableError);
  expect(() => {
    try {
      refused();
    } catch (e) {
      expect((e as UnstampableError).why).toBe(why);
      throw e;
    }
  }).toThrow();
});

describe('texts of a marking', () => {
  it('have their values put in, whatever those hold', () => {
    const values = {
      level: 'Internal',
      owner: 'Ida\nBrandt\u0000',
      date: '20 Nov 2026',
      file: '{level}.docx',
    };
    const { header } = filled(marking({ header: { text: '{level} of {owner}, {file}, {when}' } }), values);
    expect(header?.text).toBe('Internal of Ida Brandt , {level}.docx, {when}');
  });

  it('make no document that cannot be read, whatever they hold', () =>
    fc.assert(
      fc.property(fc.string({ unit: 'binary', minLength: 1, maxLength: 40 }), (owner) => {
        const set = filled(marking({ header: { text: 'of {owner}' }, watermark: { text: '{owner}!' } }), {
          level: '',
          owner,
          date: '',
          file: '',
        });
        const stamped = stampDocx(raw('<w:p/><w:sectPr/>'), set, {
          id: 'x',
          name: owner.replace(/[^\x20-\x7e]/g, ''),
        });
        for (const part of stamped.keys()) elementsOf(text(stamped, part));
      }),
    ));
});

describe('places in a text', () => {
  const anyXml = fc.letrec<{ node: string }>((tie) => ({
    node: fc.oneof(
      { depthSize: 'small' },
      fc.constantFrom('<a/>', '<b x="1>2"/>', 'text\r\n', '&amp;', '<!-- <c> -->', '<![CDATA[<d>]]>', 'Ø𝄞'),
      fc
        .tuple(fc.constantFrom('e', 'f'), fc.array(tie('node'), { maxLength: 4 }))
        .map(([n, c]) => `<${n} y='z'>${c.join('')}</${n}>`),
    ),
  })).node;

  it('are those of the elements, whatever stands between them', () =>
    fc.assert(
      fc.property(fc.array(anyXml, { maxLength: 6 }), (inside) => {
        const xml = `<?xml version="1.0"?>\n<root>${inside.join('')}</root>\n`;
        const root = elementsOf(xml);
        expect(xml.slice(root.from, root.to)).toBe(`<root>${inside.join('')}</root>`);
        for (const e of everyElement(root)) {
          const own = xml.slice(e.from, e.to);
          expect(own.startsWith(`<${e.name}`)).toBe(true);
          // Alone it is the same element again.
          expect(elementsOf(own).children.length).toBe(e.children.length);
        }
        const all = [...everyElement(root)].filter((e) => e.name === 'a');
        expect(
          spliced(
            xml,
            all.map((e) => ({ from: e.from, to: e.to, put: '' })),
          ),
        ).toBe(xml.replaceAll(/<a\/>/g, ''));
      }),
      { numRuns: 200 },
    ));
});
