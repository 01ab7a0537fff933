import { describe, expect, it } from 'vitest';
import { Marking, UnstampableError } from './marking.ts';
import type { Parts } from './package-parts.ts';
import { readPptxLevel, stampPptx, unstampPptx } from './stamp-pptx.ts';
import { elementsOf, everyElement } from './xml-text.ts';

const LEVEL = { id: 'internal', name: 'Internal' };
const FULL = Marking.parse({
  header: { text: 'Internal & <only>', colour: '#a5106b', align: 'right' },
  footer: { text: 'Keep it here' },
  watermark: { text: 'INTERNAL', angle: 45 },
});
const R = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
const NS = `xmlns:p="http://schemas.openxmlformats.org/presentationml/2006/main" xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main" xmlns:r="${R}"`;
const GROUP = '<p:nvGrpSpPr><p:cNvPr id="1" name=""/><p:cNvGrpSpPr/><p:nvPr/></p:nvGrpSpPr><p:grpSpPr/>';
const shape = (id: number, text: string) =>
  `<p:sp><p:nvSpPr><p:cNvPr id="${id}" name="Title"/><p:cNvSpPr/><p:nvPr/></p:nvSpPr><p:spPr/><p:txBody><a:bodyPr/><a:p><a:r><a:t>${text}</a:t></a:r></a:p></p:txBody></p:sp>`;

function pptx(slides: readonly string[], more: Readonly<Record<string, string>> = {}): Parts {
  const relations = (all: readonly (readonly [string, string, string])[]) =>
    `<?xml version="1.0"?><Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">${all.map(([id, type, target]) => `<Relationship Id="${id}" Type="${R}/${type}" Target="${target}"/>`).join('')}</Relationships>`;
  const files: Record<string, string> = {
    '[Content_Types].xml':
      '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="xml" ContentType="application/xml"/></Types>',
    '_rels/.rels': relations([['rId1', 'officeDocument', 'ppt/presentation.xml']]),
    'ppt/presentation.xml': `<p:presentation ${NS}><p:sldSz cx="12192000" cy="6858000"/></p:presentation>`,
    'ppt/_rels/presentation.xml.rels': relations([
      ['rId9', 'slideMaster', 'slideMasters/slideMaster1.xml'],
      ...slides.map((_, i) => [`rId${i}`, 'slide', `slides/slide${i}.xml`] as const),
    ]),
    'ppt/slideMasters/slideMaster1.xml': `<p:sldMaster ${NS}/>`,
    ...Object.fromEntries(
      slides.map((tree, i) => [
        `ppt/slides/slide${i}.xml`,
        `<p:sld ${NS}><p:cSld><p:spTree>${tree}</p:spTree></p:cSld></p:sld>`,
      ]),
    ),
    ...more,
  };
  return new Map(Object.entries(files).map(([n, t]) => [n, new TextEncoder().encode(t)]));
}
const text = (parts: Parts, name: string) => new TextDecoder().decode(parts.get(name));
const plain = (parts: Parts) => Object.fromEntries([...parts.keys()].map((n) => [n, text(parts, n)]));
const shapes = (parts: Parts, slide: number) =>
  [...everyElement(elementsOf(text(parts, `ppt/slides/slide${slide}.xml`)))].filter((e) => e.name === 'sp');
const nameOf = (sp: ReturnType<typeof elementsOf>) =>
  sp.children.find((c) => c.name === 'nvSpPr')?.children.find((c) => c.name === 'cNvPr')?.attributes;

const SAMPLES: readonly (readonly [string, Parts])[] = [
  ['three slides', pptx([GROUP + shape(2, 'One'), GROUP, GROUP + shape(40, 'Three')])],
  ['something that extends it', pptx([`${GROUP}${shape(7, 'x')}<p:extLst><p:ext uri="{1}"/></p:extLst>`])],
  ['no slide', pptx([])],
];

describe.each(SAMPLES)('a presentation with %s', (_, sample) => {
  it('shows the marking on every slide: lines before everything, the watermark behind it, ids of their own', () => {
    const stamped = stampPptx(sample, FULL, LEVEL);
    expect(readPptxLevel(stamped)).toEqual(LEVEL);
    for (const [i] of [...sample.keys()].filter((n) => /slides\/slide\d+\.xml$/.test(n)).entries()) {
      const all = shapes(stamped, i);
      const names = all.map((s) => nameOf(s)?.get('name') ?? '');
      expect(names[0]).toBe('yare-marking watermark');
      expect(names.slice(-2)).toEqual(['yare-marking header', 'yare-marking footer']);
      expect(all.length).toBe(shapes(sample, i).length + 3);
      const ids = [...everyElement(elementsOf(text(stamped, `ppt/slides/slide${i}.xml`)))].flatMap((e) =>
        e.name === 'cNvPr' ? [e.attributes.get('id')] : [],
      );
      expect(new Set(ids).size).toBe(ids.length);
      const tree = all[0]?.parent;
      const last = tree?.children.at(-1)?.name;
      expect(tree?.children.some((c) => c.name === 'extLst') ? last : 'extLst').toBe('extLst');
    }
  });

  it('comes back whole, is the same when stamped twice, and has the new marking alone when it is changed', () => {
    const stamped = stampPptx(sample, FULL, LEVEL);
    expect(stamped.get('ppt/slideMasters/slideMaster1.xml')).toBe(
      sample.get('ppt/slideMasters/slideMaster1.xml'),
    );
    expect(plain(unstampPptx(stamped))).toEqual(plain(sample));
    expect(plain(stampPptx(stamped, FULL, LEVEL))).toEqual(plain(stamped));
    const lowered = stampPptx(stamped, Marking.parse({ footer: { text: 'Open' } }), {
      id: 'open',
      name: 'Open',
    });
    expect(JSON.stringify(plain(lowered))).not.toMatch(/Internal|INTERNAL/);
    expect(plain(stampPptx(lowered, FULL, LEVEL))).toEqual(plain(stamped));
  });
});

it('keeps lines and watermark on the slide, as it is turned', () => {
  const [watermark, header] = shapes(stampPptx(pptx([GROUP]), FULL, LEVEL), 0);
  const box = (sp: ReturnType<typeof elementsOf> | undefined) => {
    const xfrm = [...everyElement(sp as ReturnType<typeof elementsOf>)].find((e) => e.name === 'xfrm');
    const [off, ext] = xfrm?.children ?? [];
    const n = (e: typeof off, name: string) => Number(e?.attributes.get(name));
    return {
      turn: xfrm?.attributes.get('rot'),
      x: n(off, 'x'),
      y: n(off, 'y'),
      cx: n(ext, 'cx'),
      cy: n(ext, 'cy'),
    };
  };
  const [w, h] = [box(watermark), box(header)];
  expect(w.turn).toBe(String(315 * 60_000));
  // About the middle.
  expect(w.x + w.cx / 2).toBeCloseTo(12_192_000 / 2, -1);
  expect(w.y + w.cy / 2).toBeCloseTo(6_858_000 / 2, -1);
  expect([h.turn, h.x > 0, h.y > 0, h.x + h.cx < 12_192_000]).toEqual([undefined, true, true, true]);
});

it.each([
  ['signed', pptx([GROUP], { '_xmlsignatures/origin.sigs': '' })],
  ['damaged', pptx([''])],
  ['another kind', pptx([], { 'ppt/presentation.xml': '<w xmlns="urn:x"/>' })],
])('one that is %s is refused', (why, parts) => {
  expect(() => stampPptx(parts, FULL, LEVEL)).toThrow(UnstampableError);
  expect(() => stampPptx(parts, FULL, LEVEL)).toThrow(expect.objectContaining({ why }));
});
