import { UnstampableError, type CarriedLevel, type Marking } from './marking.ts';
import { append, Package, takeOut, type Parts } from './package-parts.ts';
import {
  elementsOf,
  escapeXml,
  everyElement,
  MADE,
  putInto,
  settled,
  spliced,
  unescaped,
  type Element,
  type Splice,
} from './xml-text.ts';

/** OASIS OpenDocument 1.3, part 3, 19: everything that is put in names its own namespaces, whatever prefixes a document has. */
const NS = {
  style: 'urn:oasis:names:tc:opendocument:xmlns:style:1.0',
  text: 'urn:oasis:names:tc:opendocument:xmlns:text:1.0',
  draw: 'urn:oasis:names:tc:opendocument:xmlns:drawing:1.0',
  svg: 'urn:oasis:names:tc:opendocument:xmlns:svg-compatible:1.0',
  fo: 'urn:oasis:names:tc:opendocument:xmlns:xsl-fo-compatible:1.0',
  meta: 'urn:oasis:names:tc:opendocument:xmlns:meta:1.0',
  office: 'urn:oasis:names:tc:opendocument:xmlns:office:1.0',
};
const declared = (...of: readonly (keyof typeof NS)[]) => of.map((n) => ` xmlns:${n}="${NS[n]}"`).join('');

const KINDS: Readonly<Record<string, OdfKind>> = { text: 'ODT', spreadsheet: 'ODS', presentation: 'ODP' };
export type OdfKind = 'ODT' | 'ODS' | 'ODP';
const OURS = 'YareMarking';
/** Stands in a header that was turned on for the marking. */
const SHOWN = '<!--yare: shown-->';
/** Of a slide where its layout does not say, in centimetres (16 to 9). */
const SLIDE = { width: 28, height: 15.75 };
const LEVEL_ID = 'LevelId';
const LEVEL_NAME = 'Level';

/** The kind of an OpenDocument package; `undefined` for none that is known here. */
export function odfKind(parts: Parts): OdfKind | undefined {
  const mime = new TextDecoder().decode(parts.get('mimetype') ?? new Uint8Array());
  const [, kind = ''] = /^application\/vnd\.oasis\.opendocument\.([a-z]+)(?:-template)?\s*$/.exec(mime) ?? [];
  return KINDS[kind];
}

/**
 * Stamps an OpenDocument text, spreadsheet or presentation: header and footer of every kind of page, or of every slide with
 * a watermark; the level in its metadata. What was stamped before goes. Every other part stays byte for byte. Throws an
 * UnstampableError.
 */
export function stampOdf(parts: Parts, marking: Marking, level: CarriedLevel): Parts {
  const kind = odfKind(parts);
  const pack = new Package(unstampOdf(parts));
  if (kind === 'ODP') stampSlides(pack, marking);
  else stampPages(pack, kind === 'ODT' ? marking : { ...marking, watermark: null });
  writeLevel(pack, level);
  return pack.done();
}

/** Takes off exactly what was stamped. Throws an UnstampableError. */
export function unstampOdf(parts: Parts): Parts {
  const pack = new Package(parts);
  requireOpen(pack);
  for (const part of ['styles.xml', 'content.xml']) {
    if (!pack.has(part)) continue;
    const n = takeOut(pack, part, isOurs);
    if (n > 0) hideAgain(pack, part);
  }
  removeLevel(pack);
  return pack.done();
}

export function readOdfLevel(parts: Parts): CarriedLevel | undefined {
  const pack = new Package(parts);
  if (!pack.has('meta.xml')) return undefined;
  const text = pack.text('meta.xml');
  const value = (key: string) => {
    const found = [...everyElement(elementsOf(text))].find((e) => isProperty(e, key));
    return found && unescaped(text.slice(found.inner, found.innerEnd));
  };
  const id = value(LEVEL_ID);
  return id === undefined ? undefined : { id, name: value(LEVEL_NAME) ?? '' };
}

function requireOpen(pack: Package): void {
  if (pack.names.includes('META-INF/documentsignatures.xml'))
    throw new UnstampableError('signed', 'It is signed: a mark would break the signature.');
  if (pack.has('META-INF/manifest.xml') && pack.text('META-INF/manifest.xml').includes('encryption-data'))
    throw new UnstampableError('encrypted', 'It is encrypted.');
}

const named = (e: Element, namespace: keyof typeof NS, name: string) =>
  e.namespace === NS[namespace] && e.name === name;

function isOurs(e: Element): boolean {
  const name = e.attributes.get(named(e, 'text', 'p') ? 'style-name' : 'name') ?? '';
  if (!name.startsWith(OURS)) return false;
  if (named(e, 'style', 'style') || named(e, 'draw', 'frame')) return true;
  // What stands in a frame or a shape goes with that.
  return (
    named(e, 'text', 'p') &&
    !(e.parent && (named(e.parent, 'draw', 'text-box') || named(e.parent, 'draw', 'custom-shape')))
  );
}

function childOf(root: Element, namespace: keyof typeof NS, name: string): Element | undefined {
  return root.children.find((c) => named(c, namespace, name));
}

type Line = NonNullable<Marking['header']>;

/** Header and footer of every master page; a watermark hangs on the header. */
function stampPages(pack: Package, marking: Marking): void {
  const { watermark } = marking;
  if (!marking.header && !marking.footer && !watermark) return;
  const text = styles(pack);
  const root = elementsOf(text);
  const masters = childOf(root, 'office', 'master-styles')?.children.filter((c) =>
    named(c, 'style', 'master-page'),
  );
  if (!masters?.length) throw new UnstampableError('no room', 'It has no kind of page to be marked.');
  const splices: Splice[] = [];
  for (const master of masters) {
    const made: string[] = [];
    for (const where of ['header', 'footer'] as const) {
      const across = where === 'header' ? watermark : null;
      const line = marking[where] ?? (across ? NO_LINE : null);
      if (!line) continue;
      const paragraph = paragraphOf(where, line, across ? shapeOf(across) : '');
      const there = master.children.filter(
        (c) => c.namespace === NS.style && [where, `${where}-left`, `${where}-first`].includes(c.name),
      );
      const main = there.find((c) => c.name === where);
      if (!main) {
        made.push(`<style:${where}${declared('style')}>${MADE}${paragraph}</style:${where}>`);
        continue;
      }
      for (const c of there) {
        const isOff = c.attributes.get('display') === 'false';
        // Other pages that are turned off show what the main one shows.
        if (isOff && c !== main) continue;
        splices.push(...putLine(text, c, line, paragraph, isOff));
      }
    }
    if (made.length > 0) {
      const header = master.children.findLast((c) => c.namespace === NS.style && c.name.startsWith('header'));
      const [first, second] = [
        made.find((m) => m.includes('<style:header')),
        made.find((m) => m.includes('<style:footer')),
      ];
      if (first) splices.push(putInto(text, master, first + (second ?? ''), 'first'));
      else if (second && header) splices.push({ from: header.to, to: header.to, put: second });
      else if (second) splices.push(putInto(text, master, second, 'first'));
    }
  }
  pack.write('styles.xml', spliced(text, splices));
  addStyles(pack, 'styles.xml', [
    ...(marking.header || watermark ? textStyles('header', marking.header ?? NO_LINE) : []),
    ...(marking.footer ? textStyles('footer', marking.footer) : []),
    ...(watermark ? [SHAPE_STYLE, ...textStyles('across', watermark)] : []),
  ]);
}

function styles(pack: Package): string {
  if (!pack.has('styles.xml')) throw new UnstampableError('no room', 'It has no kind of page to be marked.');
  return pack.text('styles.xml');
}

/** Into a header or footer that is there; of one in three regions, into the one on that side. */
function putLine(
  text: string,
  of: Element,
  line: Line,
  paragraph: string,
  isOff: boolean,
): readonly Splice[] {
  const shown = isOff ? SHOWN : '';
  const side = { left: 'region-left', centre: 'region-center', right: 'region-right' }[line.align];
  const regions = of.children.filter((c) => c.namespace === NS.style && c.name.startsWith('region-'));
  const region = regions.find((c) => c.name === side);
  const put = region
    ? [putInto(text, region, paragraph, 'last')]
    : regions.length > 0
      ? [putInto(text, of, `<style:${side}${declared('style')}>${MADE}${paragraph}</style:${side}>`, 'last')]
      : [putInto(text, of, shown + paragraph, 'last')];
  if (!isOff) return put;
  const tag = text.slice(of.from, of.inner);
  const on = tag.replace(/(\sstyle:display=["'])false(["'])/, '$1true$2');
  // One without content is written anew as a whole.
  if (of.to === of.inner) {
    const [only] = put as [Splice];
    return [{ ...only, put: only.put.replace(/(\sstyle:display=["'])false(["'])/, '$1true$2') }];
  }
  return [{ from: of.from, to: of.inner, put: on + (region || regions.length > 0 ? SHOWN : '') }, ...put];
}

/** Turns off again what was turned on. */
function hideAgain(pack: Package, part: string): void {
  const text = pack.text(part);
  if (!text.includes(SHOWN)) return;
  const splices: Splice[] = [];
  for (const e of everyElement(elementsOf(text))) {
    if (e.namespace !== NS.style || !/^(?:header|footer)/.test(e.name)) continue;
    const inside = text.slice(e.inner, e.innerEnd);
    const at = inside.indexOf(SHOWN);
    if (at < 0) continue;
    splices.push({
      from: e.from,
      to: e.inner,
      put: text.slice(e.from, e.inner).replace(/(\sstyle:display=["'])true(["'])/, '$1false$2'),
    });
    splices.push({ from: e.inner + at, to: e.inner + at + SHOWN.length, put: '' });
  }
  pack.write(part, settled(spliced(text, splices)));
}

function paragraphOf(where: string, { text }: Pick<Line, 'text'>, before = ''): string {
  return `<text:p${declared('text')} text:style-name="${OURS}-${where}">${before}<text:span text:style-name="${OURS}-${where}-text">${spaced(text)}</text:span></text:p>`;
}

/** Where a watermark hangs on a header that says nothing. */
const NO_LINE: Line = { text: '', size: 4, colour: '#000000', align: 'centre' };

/** Behind the text, in the middle of the page whatever that measures. */
const SHAPE_STYLE = `<style:style${declared('style', 'draw', 'fo')} style:name="${OURS}-shape" style:family="graphic"><style:graphic-properties draw:stroke="none" draw:fill="none" draw:textarea-horizontal-align="center" draw:textarea-vertical-align="middle" draw:auto-grow-width="false" draw:auto-grow-height="false" fo:wrap-option="no-wrap" fo:padding="0cm" style:run-through="background" style:wrap="run-through" style:number-wrapped-paragraphs="no-limit" style:horizontal-pos="center" style:horizontal-rel="page" style:vertical-pos="middle" style:vertical-rel="page" style:flow-with-text="false"/></style:style>`;

/** A plain shape without lines whose text is turned with it: frames of text are not turned in texts. */
function shapeOf({ text, size, angle }: NonNullable<Marking['watermark']>): string {
  const [width, height] = [Math.max(1, (text.length * size * 0.62 * 2.54) / 72), (size * 1.3 * 2.54) / 72];
  const a = (angle * Math.PI) / 180;
  return `<draw:custom-shape${declared('draw', 'svg', 'text')} text:anchor-type="char" draw:z-index="0" draw:name="${OURS}-across" draw:style-name="${OURS}-shape" svg:width="${width.toFixed(3)}cm" svg:height="${height.toFixed(3)}cm" draw:transform="rotate (${a.toFixed(5)}) translate (0cm 0cm)">${paragraphOf('across', { text })}<draw:enhanced-geometry svg:viewBox="0 0 21600 21600" draw:type="rectangle" draw:enhanced-path="M 0 0 L 21600 0 21600 21600 0 21600 0 0 Z N"/></draw:custom-shape>`;
}

/** Several spaces would be one (OpenDocument 1.3, part 3, 6.1.2). */
function spaced(text: string): string {
  return escapeXml(text).replace(/ {2,}/g, (s) => ` <text:s text:c="${s.length - 1}"/>`);
}

function textStyles(
  where: string,
  { size, colour, ...rest }: { size: number; colour: string; align?: Line['align'] },
): readonly string[] {
  const align = { left: 'start', centre: 'center', right: 'end' }[rest.align ?? 'centre'];
  const properties = `<style:text-properties fo:font-size="${size}pt" fo:color="${colour}"/>`;
  return [
    `<style:style${declared('style', 'fo')} style:name="${OURS}-${where}" style:family="paragraph"><style:paragraph-properties fo:text-align="${align}"/>${properties}</style:style>`,
    `<style:style${declared('style', 'fo')} style:name="${OURS}-${where}-text" style:family="text">${properties}</style:style>`,
  ];
}

function addStyles(pack: Package, part: string, all: readonly string[]): void {
  if (all.length === 0) return;
  const text = pack.text(part);
  const root = elementsOf(text);
  const automatic = childOf(root, 'office', 'automatic-styles');
  const put = all.join('');
  const before = root.children.find((c) => named(c, 'office', 'master-styles') || named(c, 'office', 'body'));
  const splice = automatic
    ? putInto(text, automatic, put, 'last')
    : {
        from: before?.from ?? root.innerEnd,
        to: before?.from ?? root.innerEnd,
        put: `<office:automatic-styles${declared('office')}>${MADE}${put}</office:automatic-styles>`,
      };
  pack.write(part, spliced(text, [splice]));
}

/** Frames on every slide: the watermark behind all else, header and footer before it. */
function stampSlides(pack: Package, marking: Marking): void {
  if (!pack.has('content.xml')) throw new UnstampableError('damaged', 'It has no slides in it.');
  const text = pack.text('content.xml');
  const slides = [...everyElement(elementsOf(text))].filter((e) => named(e, 'draw', 'page'));
  const { width, height } = slideSize(pack, slides);
  const cm = (n: number) => `${n.toFixed(3)}cm`;
  const frame = (where: string, of: { text: string; size: number }, place: string, wide: number) =>
    `<draw:frame${declared('draw', 'svg')} draw:name="${OURS}-${where}" draw:style-name="${OURS}-frame" svg:width="${cm(wide)}" svg:height="${cm(of.size / 20)}" ${place}><draw:text-box>${paragraphOf(where, of)}</draw:text-box></draw:frame>`;
  const at = (x: number, y: number) => `svg:x="${cm(x)}" svg:y="${cm(y)}"`;
  const across = marking.watermark;
  const behind = across
    ? frame('across', across, turned(across, width, height), Math.hypot(width, height) * 0.9)
    : '';
  const before = [
    marking.header ? frame('header', marking.header, at(0.5, 0.2), width - 1) : '',
    marking.footer
      ? frame('footer', marking.footer, at(0.5, height - 0.3 - marking.footer.size / 20), width - 1)
      : '',
  ].join('');
  pack.write(
    'content.xml',
    spliced(
      text,
      slides.flatMap((s) => {
        if (s.to === s.inner)
          return behind + before === '' ? [] : [putInto(text, s, behind + before, 'last')];
        // Notes and animations come last.
        const end = s.children.find((c) => c.name === 'notes' || c.name === 'par' || c.name === 'seq');
        return [
          ...(behind === '' ? [] : [putInto(text, s, behind, 'first')]),
          ...(before === ''
            ? []
            : [end ? { from: end.from, to: end.from, put: before } : putInto(text, s, before, 'last')]),
        ];
      }),
    ),
  );
  addStyles(pack, 'content.xml', [
    `<style:style${declared('style', 'draw', 'fo')} style:name="${OURS}-frame" style:family="graphic"><style:graphic-properties draw:stroke="none" draw:fill="none" draw:auto-grow-height="true" fo:padding="0cm"/></style:style>`,
    ...(['header', 'footer'] as const).flatMap((w) => (marking[w] ? textStyles(w, marking[w]) : [])),
    ...(across ? textStyles('across', across) : []),
  ]);
}

/** A frame in the middle of a slide, turned against the clock: turned about its corner, then moved there. */
function turned({ size, angle }: { size: number; angle: number }, width: number, height: number): string {
  const a = (angle * Math.PI) / 180;
  const [halfWidth, halfHeight] = [(Math.hypot(width, height) * 0.9) / 2, size / 40];
  const x = width / 2 - halfWidth * Math.cos(a) - halfHeight * Math.sin(a);
  const y = height / 2 + halfWidth * Math.sin(a) - halfHeight * Math.cos(a);
  return `draw:transform="rotate (${a.toFixed(5)}) translate (${x.toFixed(3)}cm ${y.toFixed(3)}cm)"`;
}

/** In centimetres, as the layout of the first slide's master says. */
function slideSize(
  pack: Package,
  slides: readonly Element[],
): { readonly width: number; readonly height: number } {
  if (!pack.has('styles.xml')) return SLIDE;
  const all = [...everyElement(elementsOf(pack.text('styles.xml')))];
  const wanted = slides[0]?.attributes.get('master-page-name');
  const masters = all.filter((e) => named(e, 'style', 'master-page'));
  const master = masters.find((m) => m.attributes.get('name') === wanted) ?? masters[0];
  const layout = all
    .find(
      (e) =>
        named(e, 'style', 'page-layout') &&
        e.attributes.get('name') === master?.attributes.get('page-layout-name'),
    )
    ?.children.find((c) => named(c, 'style', 'page-layout-properties'));
  const side = (name: string, usual: number) => centimetres(layout?.attributes.get(name)) ?? usual;
  return { width: side('page-width', SLIDE.width), height: side('page-height', SLIDE.height) };
}

const UNITS: Readonly<Record<string, number>> = { cm: 1, mm: 0.1, in: 2.54, pt: 2.54 / 72, pc: 2.54 / 6 };

function centimetres(length: string | undefined): number | undefined {
  const [, n, unit = ''] = /^([\d.]+)(cm|mm|in|pt|pc)$/.exec(length ?? '') ?? [];
  const found = Number(n) * (UNITS[unit] ?? NaN);
  return found > 0 ? found : undefined;
}

function isProperty(e: Element, key: string): boolean {
  return named(e, 'meta', 'user-defined') && e.attributes.get('name') === key;
}

function writeLevel(pack: Package, { id, name }: CarriedLevel): void {
  const property = (key: string, value: string) =>
    `<meta:user-defined${declared('meta')} meta:name="${key}" meta:value-type="string">${escapeXml(value)}</meta:user-defined>`;
  const put = property(LEVEL_ID, id) + property(LEVEL_NAME, name);
  if (!pack.has('meta.xml')) {
    pack.write(
      'meta.xml',
      `<?xml version="1.0" encoding="UTF-8"?>\n<office:document-meta${declared('office')} office:version="1.3">${MADE}<office:meta>${put}</office:meta></office:document-meta>`,
    );
    append(
      pack,
      'META-INF/manifest.xml',
      '<manifest:file-entry xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0" manifest:full-path="meta.xml" manifest:media-type="text/xml"/>',
    );
    return;
  }
  const text = pack.text('meta.xml');
  const meta = childOf(elementsOf(text), 'office', 'meta');
  if (!meta) throw new UnstampableError('damaged', 'Its metadata are none.');
  pack.write('meta.xml', spliced(text, [putInto(text, meta, put, 'last')]));
}

function removeLevel(pack: Package): void {
  takeOut(pack, 'meta.xml', (e) => isProperty(e, LEVEL_ID) || isProperty(e, LEVEL_NAME));
  if (!pack.has('meta.xml') || !pack.text('meta.xml').includes(MADE)) return;
  pack.remove('meta.xml');
  takeOut(
    pack,
    'META-INF/manifest.xml',
    (e) => e.name === 'file-entry' && e.attributes.get('full-path') === 'meta.xml',
  );
}
