import {
  BlendMode,
  decodePDFRawStream,
  degrees,
  PDFDict,
  PDFDocument,
  PDFName,
  PDFNumber,
  PDFRawStream,
  PDFStream,
  rgb,
  StandardFonts,
  type PDFFont,
  type PDFPage,
} from '@cantoo/pdf-lib';
import fontkit from '@cantoo/fontkit';
import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex } from '@noble/hashes/utils.js';
import { UnstampableError, type CarriedLevel, type Marking } from './marking.ts';
import { escapeXml, unescaped } from './xml-text.ts';

/** A font that has the letters of most scripts (TrueType), for what a PDF's own fonts cannot write. */
export type WideFont = Uint8Array;

const NAMESPACE = 'http://ns.yare-warden.example/level/1.0/';
/** Points from the edges of a page. */
const [SIDE, TOP, FOOT] = [36, 26, 22];
const SMALLEST = 4;
/** Stands behind the end of a file that was stamped: how long it was before, and its digest. */
const MARKER = /\n%YareMarking 1 (\d{1,15}) ([0-9a-f]{64})\n$/;
const MARKER_BYTES = 120;

export function isPdf(bytes: Uint8Array): boolean {
  // ISO 32000-2, 7.5.2: within the first 1024 bytes.
  return latin1(bytes.subarray(0, 1024)).includes('%PDF-');
}

/**
 * Stamps every page of a PDF and writes the level into its XMP metadata, as an incremental update (ISO 32000-2, 7.5.6): what
 * was there stays byte for byte. What was stamped before goes. Throws an UnstampableError.
 */
export async function stampPdf(
  bytes: Uint8Array,
  marking: Marking,
  level: CarriedLevel,
  wide?: WideFont,
): Promise<Uint8Array> {
  const bare = unstampPdf(bytes);
  const pdf = await load(bare);
  if (readXmp(pdf)) throw changedSince();
  try {
    const snapshot = pdf.takeSnapshot();
    const fonts = new Fonts(pdf, wide);
    const pages = pdf.getPages();
    for (const page of pages) {
      snapshot.markObjForSave(page.node);
      await stampPage(page, marking, fonts);
    }
    snapshot.markObjForSave(pdf.catalog);
    writeXmp(pdf, level);
    const update = await pdf.saveIncremental(snapshot, { useObjectStreams: false });
    const marker = `\n%YareMarking 1 ${bare.length} ${bytesToHex(sha256(bare))}\n`;
    return joined(bare, update, new TextEncoder().encode(marker));
  } catch (error) {
    if (error instanceof UnstampableError) throw error;
    throw new UnstampableError('damaged', `Its pages cannot be written on: ${(error as Error).message}.`);
  }
}

/** A PDF as it was before it was stamped; one that was not stays as it is. Throws an UnstampableError where something came after. */
export function unstampPdf(bytes: Uint8Array): Uint8Array {
  const [, length, digest] = MARKER.exec(latin1(bytes.subarray(-MARKER_BYTES))) ?? [];
  if (length === undefined) {
    if (holds(bytes, '\n%YareMarking 1 ')) throw changedSince();
    return bytes;
  }
  const before = bytes.subarray(0, Number(length));
  if (before.length !== Number(length) || bytesToHex(sha256(before)) !== digest) throw changedSince();
  return before;
}

/** Throws an UnstampableError for what is no whole PDF. */
export async function readPdfLevel(bytes: Uint8Array): Promise<CarriedLevel | undefined> {
  const pdf = await load(bytes, true);
  // Without a catalog the library fails as it is looked into.
  try {
    return readXmp(pdf);
  } catch (error) {
    if (error instanceof UnstampableError) throw error;
    throw new UnstampableError('damaged', `It is no whole PDF: ${(error as Error).message}.`);
  }
}

function changedSince(): UnstampableError {
  return new UnstampableError(
    'changed',
    'Another program wrote to it since it was stamped, so that its marking cannot be taken off exactly.',
  );
}

async function load(bytes: Uint8Array, toRead = false): Promise<PDFDocument> {
  let pdf: PDFDocument;
  try {
    pdf = await PDFDocument.load(bytes, {
      updateMetadata: false,
      forIncrementalUpdate: !toRead,
      parseSpeed: Infinity,
    });
  } catch (error) {
    const { name, message } = error as Error;
    if (/encrypt|password/i.test(`${name} ${message}`))
      throw new UnstampableError('encrypted', 'It is encrypted.');
    throw new UnstampableError('damaged', `It is no whole PDF: ${message}.`);
  }
  // One that was cut short is loaded without its root.
  if (!(pdf.context.lookup(pdf.context.trailerInfo.Root) instanceof PDFDict))
    throw new UnstampableError('damaged', 'It is no whole PDF: it has no root.');
  if (pdf.isEncrypted) throw new UnstampableError('encrypted', 'It is encrypted.');
  if (toRead) return pdf;
  const form = pdf.catalog.lookup(PDFName.of('AcroForm'));
  const flags = form instanceof PDFDict ? form.lookup(PDFName.of('SigFlags')) : undefined;
  if ((flags instanceof PDFNumber && (flags.asNumber() & 1) === 1) || holds(bytes, '/ByteRange'))
    throw new UnstampableError('signed', 'It is signed, and the signature would not hold any more.');
  if (pdf.getPageCount() === 0) throw new UnstampableError('no room', 'It has no page.');
  return pdf;
}

class Fonts {
  #plain: PDFFont | undefined;
  #wide: PDFFont | undefined;

  constructor(
    readonly pdf: PDFDocument,
    readonly font: WideFont | undefined,
  ) {}

  /** One that has every letter of a text. Throws an UnstampableError where there is none. */
  async of(text: string): Promise<PDFFont> {
    this.#plain ??= await this.pdf.embedFont(StandardFonts.Helvetica);
    const letters = new Set(this.#plain.getCharacterSet());
    if ([...text].every((c) => letters.has(c.codePointAt(0) ?? 0))) return this.#plain;
    if (!this.font)
      throw new UnstampableError('no room', 'Its marking has letters that no font at hand can write.');
    if (!this.#wide) {
      this.pdf.registerFontkit(fontkit);
      this.#wide = await this.pdf.embedFont(this.font, { subset: true, customName: 'YareMarking' });
    }
    return this.#wide;
  }
}

async function stampPage(page: PDFPage, marking: Marking, fonts: Fonts): Promise<void> {
  const seen = asSeen(page);
  const line = async (of: NonNullable<Marking['header']>, at: (size: number) => number) => {
    const font = await fonts.of(of.text);
    const most = Math.max(20, seen.width - 2 * SIDE);
    const size = fitting(font, of.text, of.size, most);
    const free = most - font.widthOfTextAtSize(of.text, size);
    const shift = { left: 0, centre: free / 2, right: free }[of.align];
    draw(page, font, of, size, seen.to(SIDE + shift, at(size)), seen.turn);
  };
  if (marking.watermark) {
    const of = marking.watermark;
    const font = await fonts.of(of.text);
    const size = fitting(font, of.text, of.size, Math.hypot(seen.width, seen.height) * 0.8);
    const [half, middle] = [font.widthOfTextAtSize(of.text, size) / 2, size * 0.35];
    const a = (of.angle * Math.PI) / 180;
    const u = seen.width / 2 - half * Math.cos(a) + middle * Math.sin(a);
    const v = seen.height / 2 - half * Math.sin(a) - middle * Math.cos(a);
    draw(page, font, of, size, seen.to(u, v), seen.turn + of.angle, BlendMode.Multiply);
  }
  if (marking.header) await line(marking.header, (size) => seen.height - TOP - size);
  if (marking.footer) await line(marking.footer, () => FOOT);
}

function draw(
  page: PDFPage,
  font: PDFFont,
  { text, colour }: { readonly text: string; readonly colour: string },
  size: number,
  [x, y]: readonly [number, number],
  angle: number,
  blendMode?: BlendMode,
): void {
  const part = (at: number) => Number.parseInt(colour.slice(at, at + 2), 16) / 255;
  page.drawText(text, {
    x,
    y,
    size,
    font,
    color: rgb(part(1), part(3), part(5)),
    rotate: degrees(angle),
    ...(blendMode === undefined ? {} : { blendMode }),
  });
}

function fitting(font: PDFFont, text: string, size: number, most: number): number {
  const width = font.widthOfTextAtSize(text, size);
  return width <= most ? size : Math.max(SMALLEST, (size * most) / width);
}

/** A page as a reader shows it, turned and cropped: from its lower left corner as seen to where that lies. */
function asSeen(page: PDFPage): {
  readonly width: number;
  readonly height: number;
  /** Degrees against the clock that make text upright. */
  readonly turn: number;
  to(u: number, v: number): readonly [number, number];
} {
  const { x, y, width: w, height: h } = page.getCropBox();
  const turn = ((page.getRotation().angle % 360) + 360) % 360;
  switch (turn) {
    case 90:
      return { width: h, height: w, turn, to: (u, v) => [x + w - v, y + u] };
    case 180:
      return { width: w, height: h, turn, to: (u, v) => [x + w - u, y + h - v] };
    case 270:
      return { width: h, height: w, turn, to: (u, v) => [x + v, y + h - u] };
    default:
      return { width: w, height: h, turn: 0, to: (u, v) => [x + u, y + v] };
  }
}

/** ISO 16684-1. */
function writeXmp(pdf: PDFDocument, { id, name }: CarriedLevel): void {
  const ours = `<rdf:Description rdf:about="" xmlns:yare="${NAMESPACE}"><yare:LevelId>${escapeXml(id)}</yare:LevelId><yare:Level>${escapeXml(name)}</yare:Level></rdf:Description>`;
  const known = xmpOf(pdf);
  const end = known?.lastIndexOf('</rdf:RDF>') ?? -1;
  const packet =
    known !== undefined && end >= 0
      ? known.slice(0, end) + ours + known.slice(end)
      : `<?xpacket begin="\ufeff" id="W5M0MpCehiHzreSzNTczkc9d"?><x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">${ours}</rdf:RDF></x:xmpmeta><?xpacket end="w"?>`;
  const bytes = new TextEncoder().encode(packet);
  const stream = pdf.context.stream(bytes, { Type: 'Metadata', Subtype: 'XML' });
  pdf.catalog.set(PDFName.of('Metadata'), pdf.context.register(stream));
}

function xmpOf(pdf: PDFDocument): string | undefined {
  const stream = pdf.catalog.lookup(PDFName.of('Metadata'));
  if (!(stream instanceof PDFStream)) return undefined;
  try {
    const bytes = stream instanceof PDFRawStream ? decodePDFRawStream(stream).decode() : stream.getContents();
    return new TextDecoder('utf-8', { fatal: true, ignoreBOM: true }).decode(bytes);
  } catch {
    return undefined;
  }
}

function readXmp(pdf: PDFDocument): CarriedLevel | undefined {
  const text = xmpOf(pdf);
  if (!text?.includes(NAMESPACE)) return undefined;
  const value = (name: string) => {
    const found = new RegExp(`<yare:${name}>([^<]*)</yare:${name}>|yare:${name}="([^"]*)"`).exec(text);
    return found ? unescaped(found[1] ?? found[2] ?? '') : undefined;
  };
  const id = value('LevelId');
  return id === undefined ? undefined : { id, name: value('Level') ?? id };
}

function latin1(bytes: Uint8Array): string {
  return new TextDecoder('latin1').decode(bytes);
}

function holds(bytes: Uint8Array, text: string): boolean {
  const wanted = new TextEncoder().encode(text);
  const first = wanted[0] as number;
  for (let at = bytes.indexOf(first); at >= 0; at = bytes.indexOf(first, at + 1))
    if (wanted.every((b, i) => bytes[at + i] === b)) return true;
  return false;
}

function joined(...parts: readonly Uint8Array[]): Uint8Array {
  const whole = new Uint8Array(parts.reduce((n, p) => n + p.length, 0));
  let at = 0;
  for (const p of parts) {
    whole.set(p, at);
    at += p.length;
  }
  return whole;
}
