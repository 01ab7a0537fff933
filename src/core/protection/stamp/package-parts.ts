import {
  elementsOf,
  escapeXml,
  everyElement,
  putInto,
  settled,
  spliced,
  unescaped,
  type Element,
} from './xml-text.ts';
import type { CarriedLevel } from './marking.ts';

/** The parts of a package by their names (ISO/IEC 29500-2), as they are. */
export type Parts = ReadonlyMap<string, Uint8Array>;

const CONTENT_TYPES = '[Content_Types].xml';
const CUSTOM = 'docProps/custom.xml';
const CUSTOM_TYPE = 'application/vnd.openxmlformats-officedocument.custom-properties+xml';
const CUSTOM_RELATION =
  'http://schemas.openxmlformats.org/officeDocument/2006/relationships/custom-properties';
/** User defined properties. */
const FMTID = '{D5CDD505-2E9C-101B-9397-08002B2CF9AE}';
const LEVEL_ID = 'LevelId';
const LEVEL_NAME = 'Level';
/** Relations of ours begin with this. */
export const OURS = 'yare';

/** A package under change: parts that nobody touches stay as they are, byte for byte. */
export class Package {
  readonly #parts: Map<string, Uint8Array>;
  readonly #texts = new Map<string, string>();

  constructor(parts: Parts) {
    this.#parts = new Map(parts);
  }

  get names(): readonly string[] {
    return [...this.#parts.keys()];
  }

  has(name: string): boolean {
    return this.#parts.has(name);
  }

  /** Of a part of XML; UTF-16 is read by its mark. Throws an UnstampableError where it is no text. */
  text(name: string): string {
    const known = this.#texts.get(name);
    if (known !== undefined) return known;
    const bytes = this.#parts.get(name) ?? new Uint8Array();
    const encoding = bytes[0] === 0xff && bytes[1] === 0xfe ? 'utf-16le' : 'utf-8';
    const text = new TextDecoder(encoding, { ignoreBOM: true }).decode(bytes);
    this.#texts.set(name, text);
    return text;
  }

  /** Writes a part anew; one whose text is as it was stays as it is. */
  write(name: string, text: string): void {
    if (this.#parts.has(name) && this.text(name) === text) return;
    this.#texts.set(name, text);
    const wide = text.startsWith('\ufeff') && /^\ufeff?<\?xml[^>]*encoding=["']utf-16/i.test(text);
    this.#parts.set(name, wide ? utf16(text) : new TextEncoder().encode(text));
  }

  remove(name: string): void {
    this.#parts.delete(name);
    this.#texts.delete(name);
  }

  done(): Parts {
    return this.#parts;
  }
}

function utf16(text: string): Uint8Array {
  const units = new Uint16Array(text.length);
  for (let i = 0; i < text.length; i++) units[i] = text.charCodeAt(i);
  return new Uint8Array(units.buffer);
}

/** Puts something in before the end of the root of a part. */
export function append(pack: Package, name: string, put: string): void {
  const text = pack.text(name);
  pack.write(name, spliced(text, [putInto(text, elementsOf(text), put, 'last')]));
}

/** Takes out of a part every element for which this holds. */
export function takeOut(pack: Package, name: string, which: (e: Element) => boolean): number {
  if (!pack.has(name)) return 0;
  const text = pack.text(name);
  const found = [...everyElement(elementsOf(text))].filter((e) => e.parent && which(e));
  if (found.length > 0)
    pack.write(
      name,
      settled(
        spliced(
          text,
          found.map((e) => ({ from: e.from, to: e.to, put: '' })),
        ),
      ),
    );
  return found.length;
}

export function addType(pack: Package, part: string, type: string): void {
  append(pack, CONTENT_TYPES, `<Override PartName="/${part}" ContentType="${type}"/>`);
}

export function removeType(pack: Package, part: string): void {
  takeOut(pack, CONTENT_TYPES, (e) => e.name === 'Override' && e.attributes.get('PartName') === `/${part}`);
}

/** Where the relations of a part are: `word/document.xml` has `word/_rels/document.xml.rels`; the package itself ''. */
export function relationsOf(part: string): string {
  const at = part.lastIndexOf('/') + 1;
  return `${part.slice(0, at)}_rels/${part.slice(at)}.rels`;
}

export interface Relation {
  readonly id: string;
  readonly type: string;
  /** The part it leads to; of those that lead out of the package, their address. */
  readonly target: string;
}

export function readRelations(pack: Package, part: string): readonly Relation[] {
  const name = relationsOf(part);
  if (!pack.has(name)) return [];
  const folder = part.slice(0, part.lastIndexOf('/') + 1);
  return elementsOf(pack.text(name))
    .children.filter((e) => e.name === 'Relationship')
    .map((e) => ({
      id: e.attributes.get('Id') ?? '',
      type: e.attributes.get('Type') ?? '',
      target: resolved(folder, e.attributes.get('Target') ?? ''),
    }));
}

function resolved(folder: string, target: string): string {
  if (target.startsWith('/')) return target.slice(1);
  const steps = `${folder}${target}`.split('/');
  const way: string[] = [];
  for (const step of steps)
    if (step === '..') way.pop();
    else if (step !== '.') way.push(step);
  return way.join('/');
}

export function addRelation(pack: Package, part: string, { id, type, target }: Relation): void {
  const name = relationsOf(part);
  const put = `<Relationship Id="${id}" Type="${type}" Target="/${target}"/>`;
  if (pack.has(name)) append(pack, name, put);
  else
    pack.write(
      name,
      `<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">${put}</Relationships>`,
    );
}

/** Takes out relations of ours, and what holds none any more. */
export function removeRelation(pack: Package, part: string, id: string): void {
  const name = relationsOf(part);
  const n = takeOut(pack, name, (e) => e.name === 'Relationship' && e.attributes.get('Id') === id);
  if (n > 0 && elementsOf(pack.text(name)).children.length === 0) pack.remove(name);
}

/** Writes the level as custom properties of the document (ISO/IEC 29500-1, 22.3), so that any program can read it. */
export function writeLevel(pack: Package, { id, name }: CarriedLevel): void {
  const property = (pid: number, key: string, value: string) =>
    `<property xmlns="http://schemas.openxmlformats.org/officeDocument/2006/custom-properties" xmlns:vt="http://schemas.openxmlformats.org/officeDocument/2006/docPropsVTypes" fmtid="${FMTID}" pid="${pid}" name="${key}"><vt:lpwstr>${escapeXml(value)}</vt:lpwstr></property>`;
  if (!pack.has(CUSTOM)) {
    pack.write(
      CUSTOM,
      '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n<Properties xmlns="http://schemas.openxmlformats.org/officeDocument/2006/custom-properties" xmlns:vt="http://schemas.openxmlformats.org/officeDocument/2006/docPropsVTypes"></Properties>',
    );
    addType(pack, CUSTOM, CUSTOM_TYPE);
    addRelation(pack, '', { id: `${OURS}Properties`, type: CUSTOM_RELATION, target: CUSTOM });
  }
  const used = elementsOf(pack.text(CUSTOM)).children.map((e) => Number(e.attributes.get('pid') ?? 0));
  // From 2 on, each once.
  const pid = Math.max(1, ...used) + 1;
  append(pack, CUSTOM, property(pid, LEVEL_ID, id) + property(pid + 1, LEVEL_NAME, name));
}

export function removeLevel(pack: Package): void {
  const ours = (e: Element) =>
    e.name === 'property' && [LEVEL_ID, LEVEL_NAME].includes(e.attributes.get('name') ?? '');
  if (takeOut(pack, CUSTOM, ours) === 0) return;
  const made = readRelations(pack, '').some((r) => r.id === `${OURS}Properties`);
  if (!made || elementsOf(pack.text(CUSTOM)).children.length > 0) return;
  pack.remove(CUSTOM);
  removeType(pack, CUSTOM);
  removeRelation(pack, '', `${OURS}Properties`);
}

/** The level that a document says it has. */
export function readLevel(pack: Package): CarriedLevel | undefined {
  if (!pack.has(CUSTOM)) return undefined;
  const text = pack.text(CUSTOM);
  const value = (key: string) => {
    const property = elementsOf(text).children.find((e) => e.attributes.get('name') === key);
    const held = property?.children[0];
    return held && unescaped(text.slice(held.inner, held.innerEnd));
  };
  const id = value(LEVEL_ID);
  return id === undefined ? undefined : { id, name: value(LEVEL_NAME) ?? '' };
}
