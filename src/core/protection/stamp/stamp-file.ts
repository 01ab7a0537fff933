import { unzipSync, zipSync, type Zippable } from 'fflate';
import { UnstampableError, type CarriedLevel, type Marking } from './marking.ts';
import { findMainPart } from './main-part.ts';
import { Package, readLevel, type Parts } from './package-parts.ts';
import { stampDocx, unstampDocx } from './stamp-docx.ts';
import { isInvitation, isMail, readMailLevel, stampMail, unstampMail } from './stamp-mail.ts';
import { isPdf, readPdfLevel, stampPdf, unstampPdf, type WideFont } from './stamp-pdf.ts';
import { odfKind, readOdfLevel, stampOdf, unstampOdf, type OdfKind } from './stamp-odf.ts';
import { stampPptx, unstampPptx } from './stamp-pptx.ts';
import { stampXlsx, unstampXlsx } from './stamp-xlsx.ts';

/** A kind of document that can be stamped. */
interface Stamp {
  readonly kind: string;
  /** Of the root of its main part; '' where it has none. */
  readonly root: string;
  stamp(parts: Parts, marking: Marking, level: CarriedLevel): Parts;
  unstamp(parts: Parts): Parts;
}

const STAMPS: readonly Stamp[] = [
  { kind: 'DOCX', root: 'document', stamp: stampDocx, unstamp: unstampDocx },
  { kind: 'XLSX', root: 'workbook', stamp: stampXlsx, unstamp: unstampXlsx },
  { kind: 'PPTX', root: 'presentation', stamp: stampPptx, unstamp: unstampPptx },
];
const odf = (kind: OdfKind): Stamp => ({ kind, root: '', stamp: stampOdf, unstamp: unstampOdf });

/** Bytes of all parts together, and parts, beyond which a file is none that an office made. */
const MOST_BYTES = 1_000_000_000;
const MOST_PARTS = 20_000;
/** So that the same file comes out of the same file: the first day that an archive can tell. */
const MTIME = new Date(1980, 0, 1, 0, 0, 0);

export interface StampedFile {
  readonly kind: string;
  readonly bytes: Uint8Array;
}

/**
 * Stamps a file with a marking and a level; what was stamped before goes. `wide` is a font for letters that the fonts of a
 * PDF do not have. Throws an UnstampableError, and changes nothing then.
 */
export async function stampFile(
  bytes: Uint8Array,
  marking: Marking,
  level: CarriedLevel,
  wide?: WideFont,
): Promise<StampedFile> {
  if (isPdf(bytes)) return { kind: 'PDF', bytes: await stampPdf(bytes, marking, level, wide) };
  if (isMail(bytes)) return { kind: mailKind(bytes), bytes: stampMail(bytes, marking, level) };
  const { parts, stamp } = open(bytes);
  return { kind: stamp.kind, bytes: packed(stamp.stamp(parts, marking, level)) };
}

/** Takes off what was stamped; a file without it comes back as it is. Throws an UnstampableError. */
export function unstampFile(bytes: Uint8Array): StampedFile {
  if (isPdf(bytes)) return { kind: 'PDF', bytes: unstampPdf(bytes) };
  if (isMail(bytes)) return { kind: mailKind(bytes), bytes: unstampMail(bytes) };
  const { parts, stamp } = open(bytes);
  const bare = stamp.unstamp(parts);
  const same = bare.size === parts.size && [...bare].every(([name, part]) => parts.get(name) === part);
  return { kind: stamp.kind, bytes: same ? bytes : packed(bare) };
}

/** The level that a file says it has; `undefined` for none. Throws an UnstampableError for what cannot carry one. */
export async function readFileLevel(bytes: Uint8Array): Promise<CarriedLevel | undefined> {
  if (isPdf(bytes)) return readPdfLevel(bytes);
  if (isMail(bytes)) return readMailLevel(bytes);
  const { parts, stamp } = open(bytes);
  return stamp.root === '' ? readOdfLevel(parts) : readLevel(new Package(parts));
}

/** What a level has to go on to stand on a file: an invitation is a message with a calendar in it. */
export function carrierOf(bytes: Uint8Array): 'files' | 'mail' | 'invitations' {
  return isMail(bytes) ? (isInvitation(bytes) ? 'invitations' : 'mail') : 'files';
}

function mailKind(bytes: Uint8Array): string {
  return isInvitation(bytes) ? 'Invitation' : 'Mail';
}

function open(bytes: Uint8Array): { readonly parts: Parts; readonly stamp: Stamp } {
  const parts = unpacked(bytes);
  const kind = odfKind(parts);
  if (kind) return { parts, stamp: odf(kind) };
  const main = findMainPart(new Package(parts));
  if (!main) throw new UnstampableError('another kind', 'It is no document that carries a marking.');
  const stamp = STAMPS.find((s) => s.root === main.root.name);
  if (!stamp) throw new UnstampableError('another kind', 'It is an office document of another kind.');
  return { parts, stamp };
}

function unpacked(bytes: Uint8Array): Parts {
  const [a, b, c, d] = bytes;
  if (a === 0xd0 && b === 0xcf && c === 0x11 && d === 0xe0)
    throw new UnstampableError('encrypted', 'It is encrypted, or older than such documents are.');
  if (a !== 0x50 || b !== 0x4b)
    throw new UnstampableError('another kind', 'It is no document that carries a marking.');
  // General purpose bit 0 of its first entry (ISO/IEC 21320-1).
  if (((bytes[6] ?? 0) & 1) === 1) throw new UnstampableError('encrypted', 'It is encrypted.');
  const parts = new Map<string, Uint8Array>();
  const names = new Set<string>();
  let total = 0;
  try {
    const all = unzipSync(bytes, {
      filter: ({ name, originalSize }) => {
        total += originalSize;
        if (total > MOST_BYTES || names.size >= MOST_PARTS)
          throw new UnstampableError('damaged', 'It unpacks to more than a document has.');
        if (names.has(name) || name === '__proto__')
          throw new UnstampableError(
            'damaged',
            `It has two parts called ${name}, or one that none is called.`,
          );
        names.add(name);
        return true;
      },
    });
    // In the order in which they stand.
    for (const name of names) parts.set(name, all[name] as Uint8Array);
  } catch (error) {
    if (error instanceof UnstampableError) throw error;
    throw new UnstampableError('damaged', `It cannot be unpacked: ${(error as Error).message}.`);
  }
  return parts;
}

function packed(parts: Parts): Uint8Array {
  const entries: Zippable = {};
  // OpenDocument 1.3, part 2, 3.3: what says its kind is never packed.
  for (const [name, part] of parts)
    entries[name] = [part, { level: name === 'mimetype' ? 0 : 6, mtime: MTIME }];
  return zipSync(entries);
}
