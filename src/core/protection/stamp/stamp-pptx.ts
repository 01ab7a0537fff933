import { mainPart } from './main-part.ts';
import { UnstampableError, type CarriedLevel, type Marking } from './marking.ts';
import {
  Package,
  readLevel,
  readRelations,
  removeLevel,
  takeOut,
  writeLevel,
  type Parts,
} from './package-parts.ts';
import { elementsOf, escapeXml, everyElement, putInto, spliced, type Element } from './xml-text.ts';

/** Transitional and strict (ISO/IEC 29500-1 and -4). */
const P = [
  'http://schemas.openxmlformats.org/presentationml/2006/main',
  'http://purl.oclc.org/ooxml/presentationml/main',
];
const A: Readonly<Record<string, string>> = {
  [P[0] as string]: 'http://schemas.openxmlformats.org/drawingml/2006/main',
  [P[1] as string]: 'http://purl.oclc.org/ooxml/drawingml/main',
};
const NAME = 'yare-marking';
/** English Metric Units of a point. */
const POINT = 12_700;
/** From the edge of a slide, in points. */
const MARGIN = 14;

interface Slides {
  readonly names: readonly string[];
  /** In EMU. */
  readonly width: number;
  readonly height: number;
}

/**
 * Stamps a presentation (PresentationML): the marking stands on every slide, header and footer before everything else and a
 * watermark behind it; the level in its custom properties. What was stamped before goes. Every other part stays byte for byte.
 * Throws an UnstampableError.
 */
export function stampPptx(parts: Parts, marking: Marking, level: CarriedLevel): Parts {
  const pack = new Package(unstampPptx(parts));
  const slides = slidesOf(pack);
  for (const name of slides.names) stampSlide(pack, name, slides, marking);
  writeLevel(pack, level);
  return pack.done();
}

/** Takes off exactly what was stamped. Throws an UnstampableError. */
export function unstampPptx(parts: Parts): Parts {
  const pack = new Package(parts);
  for (const name of slidesOf(pack).names) takeOut(pack, name, isOurs);
  removeLevel(pack);
  return pack.done();
}

export function readPptxLevel(parts: Parts): CarriedLevel | undefined {
  return readLevel(new Package(parts));
}

function isOurs(e: Element): boolean {
  return (
    e.name === 'sp' &&
    e.children.some(
      (n) =>
        n.name === 'nvSpPr' &&
        n.children.some((c) => c.name === 'cNvPr' && c.attributes.get('name')?.startsWith(NAME)),
    )
  );
}

function slidesOf(pack: Package): Slides {
  const { name: main, root } = mainPart(pack, { root: 'presentation', namespaces: P, words: 'presentation' });
  const size = root.children.find((c) => c.name === 'sldSz');
  const side = (name: string, usual: number) => {
    const n = Number(size?.attributes.get(name));
    return n > 0 ? n : usual;
  };
  const slides = readRelations(pack, main).filter((r) => /\/slide$/.test(r.type) && pack.has(r.target));
  return {
    names: [...new Set(slides.map((s) => s.target))],
    width: side('cx', 9_144_000),
    height: side('cy', 6_858_000),
  };
}

function stampSlide(pack: Package, name: string, { width, height }: Slides, marking: Marking): void {
  const text = pack.text(name);
  const root = elementsOf(text);
  const tree = root.children.find((c) => c.name === 'cSld')?.children.find((c) => c.name === 'spTree');
  const group = tree?.children.find((c) => c.name === 'grpSpPr');
  if (!tree || !group) throw new UnstampableError('damaged', `The slide ${name} has no shapes.`);
  const ids = [...everyElement(root)].map((e) => (e.name === 'cNvPr' ? Number(e.attributes.get('id')) : 0));
  let id = Math.max(1, ...ids.filter(Number.isFinite));
  const shape = (what: string, box: Box, words: Words) =>
    writtenShape(root.namespace, ++id, what, box, words);
  const margin = MARGIN * POINT;
  const { header, footer, watermark } = marking;
  const line = (of: NonNullable<Marking['header']>, what: 'header' | 'footer') => {
    const high = Math.round(of.size * 1.6 * POINT);
    const y = what === 'header' ? margin / 2 : height - high - margin / 2;
    return shape(what, { x: margin, y, width: width - 2 * margin, height: high, turn: 0 }, of);
  };
  const front = (header ? line(header, 'header') : '') + (footer ? line(footer, 'footer') : '');
  const across = Math.round(Math.hypot(width, height) * 0.8);
  const high = Math.round((watermark?.size ?? 0) * 1.4 * POINT);
  const behind = watermark
    ? shape(
        'watermark',
        {
          x: Math.round((width - across) / 2),
          y: Math.round((height - high) / 2),
          width: across,
          height: high,
          turn: (360 - watermark.angle) % 360,
        },
        { ...watermark, align: 'centre', faint: true },
      )
    : '';
  // What extends the tree stands at its end.
  const end = tree.children.find((c) => c.name === 'extLst');
  pack.write(
    name,
    spliced(text, [
      { from: group.to, to: group.to, put: behind },
      end ? { from: end.from, to: end.from, put: front } : putInto(text, tree, front, 'last'),
    ]),
  );
}

/** In EMU; turned in degrees with the clock. */
interface Box {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  readonly turn: number;
}

interface Words {
  readonly text: string;
  /** Points. */
  readonly size: number;
  readonly colour: string;
  readonly align: 'left' | 'centre' | 'right';
  readonly faint?: boolean;
}

const ALIGN = { left: 'l', centre: 'ctr', right: 'r' } as const;

function writtenShape(namespace: string, id: number, what: string, box: Box, words: Words): string {
  const turn = box.turn === 0 ? '' : ` rot="${Math.round(box.turn * 60_000)}"`;
  const colour = `<a:solidFill><a:srgbClr val="${words.colour.slice(1).toUpperCase()}">${words.faint ? '<a:alpha val="50000"/>' : ''}</a:srgbClr></a:solidFill>`;
  return `<p:sp xmlns:p="${namespace}" xmlns:a="${A[namespace]}"><p:nvSpPr><p:cNvPr id="${id}" name="${NAME} ${what}" descr="${escapeXml(words.text)}"/><p:cNvSpPr txBox="1"><a:spLocks noGrp="1" noRot="1" noMove="1" noResize="1" noEditPoints="1" noTextEdit="1"/></p:cNvSpPr><p:nvPr userDrawn="1"/></p:nvSpPr><p:spPr><a:xfrm${turn}><a:off x="${Math.round(box.x)}" y="${Math.round(box.y)}"/><a:ext cx="${Math.round(box.width)}" cy="${Math.round(box.height)}"/></a:xfrm><a:prstGeom prst="rect"><a:avLst/></a:prstGeom><a:noFill/></p:spPr><p:txBody><a:bodyPr wrap="square" lIns="0" tIns="0" rIns="0" bIns="0" anchor="ctr"><a:noAutofit/></a:bodyPr><a:lstStyle/><a:p><a:pPr algn="${ALIGN[words.align]}"/><a:r><a:rPr lang="en" sz="${Math.round(words.size * 100)}" dirty="0">${colour}</a:rPr><a:t>${escapeXml(words.text)}</a:t></a:r></a:p></p:txBody></p:sp>`;
}
