import { mainPart } from './main-part.ts';
import { UnstampableError, type CarriedLevel, type Marking } from './marking.ts';
import {
  addRelation,
  addType,
  OURS,
  Package,
  readLevel,
  readRelations,
  removeLevel,
  removeRelation,
  removeType,
  takeOut,
  writeLevel,
  type Parts,
} from './package-parts.ts';
import {
  elementsOf,
  escapeXml,
  everyElement,
  MADE,
  putInto,
  spliced,
  type Element,
  type Splice,
} from './xml-text.ts';

/** Transitional and strict (ISO/IEC 29500-1 and -4). */
const W = [
  'http://schemas.openxmlformats.org/wordprocessingml/2006/main',
  'http://purl.oclc.org/ooxml/wordprocessingml/main',
];
const RELATIONS = {
  [W[0] as string]: 'http://schemas.openxmlformats.org/officeDocument/2006/relationships',
  [W[1] as string]: 'http://purl.oclc.org/ooxml/officeDocument/relationships',
};
const TAG = 'yare-marking';
const SHAPE = 'yareWatermark';

type Edge = 'header' | 'footer';
type PageKind = 'default' | 'first' | 'even';
const ROOT: Readonly<Record<Edge, string>> = { header: 'hdr', footer: 'ftr' };

/**
 * Stamps a text document (WordprocessingML): the marking stands in every header and footer there is, and in new ones where a
 * section shows none, beside what stood there; the level in its custom properties. What was stamped before goes. Every
 * other part stays byte for byte. Throws an UnstampableError.
 */
export function stampDocx(parts: Parts, marking: Marking, level: CarriedLevel): Parts {
  const pack = new Package(unstampDocx(parts));
  const main = documentOf(pack);
  const found = readEdges(pack, main);
  for (const edge of ['header', 'footer'] as const) {
    const block = markingBlock(edge, marking, found.namespace);
    if (block === '') continue;
    for (const part of found.parts[edge]) putIn(pack, part, edge, block);
    addMissing(pack, main, edge, block, found.namespace);
  }
  writeLevel(pack, level);
  return pack.done();
}

/** Takes off exactly what was stamped; of a document without it nothing. Throws an UnstampableError. */
export function unstampDocx(parts: Parts): Parts {
  const pack = new Package(parts);
  const main = documentOf(pack);
  const { parts: edges, namespace } = readEdges(pack, main);
  for (const part of [...edges.header, ...edges.footer]) takeOut(pack, part, isOurs);
  const bare = new Set((['header', 'footer'] as const).map((edge) => ownEdge(edge, namespace, '')));
  for (const { id, target } of readRelations(pack, main)) {
    // One in which somebody has written since is theirs by now.
    if (!id.startsWith(OURS) || (pack.has(target) && !bare.has(pack.text(target)))) continue;
    takeOut(
      pack,
      main,
      (e) => (e.name === 'headerReference' || e.name === 'footerReference') && e.attributes.get('id') === id,
    );
    removeRelation(pack, main, id);
    removeType(pack, target);
    pack.remove(target);
  }
  removeLevel(pack);
  return pack.done();
}

/** Our paragraph; of one in which somebody has written since, only what is ours. */
function isOurs(e: Element): boolean {
  const whole = (p: Element | undefined) =>
    p?.name === 'p' && p.children.some(isControl) && p.children.every((c) => c.name === 'pPr' || isMark(c));
  return whole(e) || (isMark(e) && !whole(e.parent));
}

function isMark(e: Element): boolean {
  return isControl(e) || isWatermark(e);
}

function isControl(e: Element): boolean {
  return (
    e.name === 'sdt' &&
    e.children.some(
      (p) =>
        p.name === 'sdtPr' && p.children.some((t) => t.name === 'tag' && t.attributes.get('val') === TAG),
    )
  );
}

function isWatermark(e: Element): boolean {
  return (
    e.name === 'r' &&
    e.children.some(
      (p) =>
        p.name === 'pict' && p.children.some((v) => v.name === 'shape' && v.attributes.get('id') === SHAPE),
    )
  );
}

export function readDocxLevel(parts: Parts): CarriedLevel | undefined {
  return readLevel(new Package(parts));
}

function documentOf(pack: Package): string {
  return mainPart(pack, { root: 'document', namespaces: W, words: 'text document' }).name;
}

interface Edges {
  readonly namespace: string;
  /** Parts that are headers or footers of this document, each once. */
  readonly parts: Readonly<Record<Edge, readonly string[]>>;
}

function readEdges(pack: Package, main: string): Edges {
  const root = elementsOf(pack.text(main));
  const targets = new Map(readRelations(pack, main).map((r) => [r.id, r.target]));
  const parts = { header: new Set<string>(), footer: new Set<string>() };
  for (const e of everyElement(root))
    for (const edge of ['header', 'footer'] as const) {
      if (e.name !== `${edge}Reference`) continue;
      const target = targets.get(e.attributes.get('id') ?? '');
      if (target !== undefined && pack.has(target)) parts[edge].add(target);
    }
  return { namespace: root.namespace, parts: { header: [...parts.header], footer: [...parts.footer] } };
}

/** A header has the marking above what stands in it, a footer below. */
function putIn(pack: Package, part: string, edge: Edge, block: string): void {
  const text = pack.text(part);
  const root = elementsOf(text);
  if (root.name !== ROOT[edge]) throw new UnstampableError('damaged', `Its ${edge} “${part}” is none.`);
  pack.write(part, spliced(text, [putInto(text, root, block, edge === 'header' ? 'first' : 'last')]));
}

/**
 * A section that shows no header of a kind, neither its own nor that of the one before, gets one. Those behind it name it
 * again, as some programs lose a first page's across a section that has none.
 */
function addMissing(pack: Package, main: string, edge: Edge, block: string, namespace: string): void {
  const text = pack.text(main);
  const sections = [...everyElement(elementsOf(text))].filter(
    (e) => e.name === 'sectPr' && e.parent?.name !== 'sectPrChange',
  );
  const even = evenAndOdd(pack, main);
  const theirs = new Set<PageKind>();
  const splices: Splice[] = [];
  const made = new Map<PageKind, string>();
  for (const section of sections) {
    const own = section.children.filter((c) => c.name === `${edge}Reference`);
    const kinds = new Set(own.map((c) => (c.attributes.get('type') ?? 'default') as PageKind));
    for (const kind of kinds) theirs.add(kind);
    const wanted: PageKind[] = [
      'default',
      ...(isOn(section, 'titlePg') ? (['first'] as const) : []),
      ...(even ? (['even'] as const) : []),
    ];
    const missing = wanted.filter((k) => !theirs.has(k));
    const put = missing
      .map((kind) => {
        const id = `${OURS}${edge === 'header' ? 'Header' : 'Footer'}${kind}`;
        made.set(kind, id);
        return `<w:${edge}Reference xmlns:w="${namespace}" xmlns:r="${RELATIONS[namespace]}" w:type="${kind}" r:id="${id}"/>`;
      })
      .join('');
    if (put === '') continue;
    splices.push(putInto(text, section, put, 'first'));
  }
  if (sections.length === 0) addSection(pack, main, edge, namespace, made);
  else pack.write(main, spliced(text, splices));
  const folder = main.slice(0, main.lastIndexOf('/') + 1);
  for (const [kind, id] of made) {
    const target = `${folder}${OURS}-${edge}-${kind}.xml`;
    addRelation(pack, main, { id, type: `${RELATIONS[namespace]}/${edge}`, target });
    addType(pack, target, `application/vnd.openxmlformats-officedocument.wordprocessingml.${edge}+xml`);
    pack.write(target, ownEdge(edge, namespace, block));
  }
}

/** A header or footer that is there for the marking alone. */
function ownEdge(edge: Edge, namespace: string, block: string): string {
  return `<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n<w:${ROOT[edge]} xmlns:w="${namespace}">${block}<w:p/></w:${ROOT[edge]}>`;
}

/** A document without any section gets one at its end; it goes with the marking, as its references are all it has. */
function addSection(
  pack: Package,
  main: string,
  edge: Edge,
  namespace: string,
  made: Map<PageKind, string>,
): void {
  const text = pack.text(main);
  const body = elementsOf(text).children.find((c) => c.name === 'body');
  if (!body || body.to === body.inner) throw new UnstampableError('damaged', 'It has nothing in it.');
  const id = `${OURS}${edge === 'header' ? 'Header' : 'Footer'}default`;
  made.set('default', id);
  const put = `<w:sectPr xmlns:w="${namespace}">${MADE}<w:${edge}Reference xmlns:w="${namespace}" xmlns:r="${RELATIONS[namespace]}" w:type="default" r:id="${id}"/></w:sectPr>`;
  pack.write(main, spliced(text, [{ from: body.innerEnd, to: body.innerEnd, put }]));
}

function evenAndOdd(pack: Package, main: string): boolean {
  const settings = readRelations(pack, main).find((r) => /\/settings$/.test(r.type))?.target;
  if (settings === undefined || !pack.has(settings)) return false;
  return isOn(elementsOf(pack.text(settings)), 'evenAndOddHeaders');
}

/** A switch is on where it stands, and is not said to be off. */
function isOn(of: Element, name: string): boolean {
  const found = of.children.find((c) => c.name === name);
  return found !== undefined && !/^(?:0|false|off)$/.test(found.attributes.get('val') ?? '');
}

const ALIGN = { left: 'left', centre: 'center', right: 'right' } as const;

/** What is put into a header or footer, as one block that says what it is; '' where there is nothing to put. */
function markingBlock(edge: Edge, marking: Marking, namespace: string): string {
  const line = marking[edge];
  const mark = edge === 'header' ? marking.watermark : null;
  if (!line && !mark) return '';
  const align = line ? `<w:jc w:val="${ALIGN[line.align]}"/>` : '';
  const run = line
    ? `<w:r><w:rPr><w:color w:val="${line.colour.slice(1)}"/><w:sz w:val="${Math.round(line.size * 2)}"/></w:rPr><w:t xml:space="preserve">${escapeXml(line.text)}</w:t></w:r>`
    : '';
  // The control is inside the paragraph: around it, some programs lose how the text looks.
  return `<w:p xmlns:w="${namespace}"><w:pPr>${align}</w:pPr><w:sdt><w:sdtPr><w:alias w:val="Marking"/><w:tag w:val="${TAG}"/><w:lock w:val="sdtContentLocked"/></w:sdtPr><w:sdtContent>${run || '<w:r/>'}</w:sdtContent></w:sdt>${mark ? watermark(mark) : ''}</w:p>`;
}

/** Plain text along a line, as a preset of VML (ISO/IEC 29500-4, 19.1.2.20 and 20.5). */
const TEXT_SHAPE =
  '<v:shapetype id="_x0000_t136" coordsize="21600,21600" o:spt="136" adj="10800" path="m@7,l@8,m@5,21600l@6,21600e"><v:formulas>' +
  [
    ...['sum #0 0 10800', 'prod #0 2 1', 'sum 21600 0 @1', 'sum 0 0 @2', 'sum 21600 0 @3', 'if @0 @3 0'],
    ...['if @0 21600 @1', 'if @0 0 @2', 'if @0 @4 21600', 'mid @5 @6', 'mid @8 @5', 'mid @7 @8', 'mid @6 @7'],
    'sum @6 0 @5',
  ]
    .map((eqn) => `<v:f eqn="${eqn}"/>`)
    .join('') +
  '</v:formulas><v:path textpathok="t" o:connecttype="custom" o:connectlocs="@9,0;@10,10800;@11,21600;@12,10800" o:connectangles="270,180,90,0"/><v:textpath on="t" fitshape="t"/><v:handles><v:h position="#0,bottomRight" xrange="6629,14971"/></v:handles></v:shapetype>';

/** Text across the page, behind what stands on it (VML, as word processors draw it). */
function watermark({ text, size, colour, angle }: NonNullable<Marking['watermark']>): string {
  const width = Math.min(520, Math.max(120, text.length * size * 0.6));
  const style = `position:absolute;margin-left:0;margin-top:0;width:${Math.round(width)}pt;height:${Math.round(size * 1.2)}pt;rotation:${(360 - angle) % 360};z-index:-251658240;mso-position-horizontal:center;mso-position-horizontal-relative:margin;mso-position-vertical:center;mso-position-vertical-relative:margin`;
  return `<w:r><w:rPr><w:noProof/></w:rPr><w:pict xmlns:v="urn:schemas-microsoft-com:vml" xmlns:o="urn:schemas-microsoft-com:office:office">${TEXT_SHAPE}<v:shape id="${SHAPE}" o:spid="_x0000_s2049" type="#_x0000_t136" style="${style}" fillcolor="${colour}" stroked="f" o:allowincell="f"><v:fill opacity=".5"/><v:textpath style="font-family:sans-serif;font-size:1pt" string="${escapeXml(text)}"/></v:shape></w:pict></w:r>`;
}
