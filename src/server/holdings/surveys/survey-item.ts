import { createHash } from 'node:crypto';
import { statSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import type { DetectOptions } from '../../../core/holdings/detection/engine/search.ts';
import { documentOf, gatherFindings, type GatheredFinding } from '../../../core/holdings/items/gathered.ts';
import { peopleOf } from '../../../core/holdings/items/people.ts';
import { extract, type SeePart } from '../../files/extract/extract.ts';
import type { Limits, Problem } from '../../files/extract/extracted.ts';
import {
  blocksOf,
  examineExtracted,
  examineFile,
  type Examined,
  type Examiners,
} from '../detection/threads/examine.ts';

export interface SurveyInput {
  readonly content:
    | { readonly file: string | Uint8Array; readonly name: string }
    | { readonly bytes: Uint8Array; readonly name: string };
  /** SHA-256 of what it was when it was read last with the same detectors. */
  readonly known: Uint8Array | null;
}

/** What reading an item came to. */
export type SurveyedItem =
  | { readonly unchanged: true; readonly hash: Uint8Array }
  | {
      readonly unchanged: false;
      /** SHA-256 of its bytes. */
      readonly hash: Uint8Array;
      readonly format: string;
      readonly findings: readonly GatheredFinding[];
      /** Of versions that are only rehearsed. */
      readonly rehearsed: readonly GatheredFinding[];
      readonly document: { readonly detector: string; readonly confidence: number } | undefined;
      /** See `peopleOf`. */
      readonly people: Uint8Array;
      readonly problems: readonly Problem[];
      /** Files within it, by the SHA-256 of their bytes. */
      readonly parts: readonly ItemPart[];
      /** Detectors that went over their time. */
      readonly stopped: readonly string[];
      /** UTF-16 units of text. */
      readonly length: number;
    };

/** A file within an item: an attachment, a member of an archive. */
export interface ItemPart {
  readonly name: string;
  readonly hash: Uint8Array;
}

/** Of one item, no more are noted. */
const MOST_PARTS = 5000;

/** Beyond it a file is hashed and read as a stream. */
const WHOLE = 24e6;

/** Reads an item once, and looks at it with the detectors in force and with those in rehearsal. */
export async function surveyItem(
  { content, known }: SurveyInput,
  examiners: Examiners,
  rehearsed: Examiners | undefined,
  options: DetectOptions,
  limits: Limits | undefined,
): Promise<SurveyedItem> {
  const large =
    'file' in content && statSync(pathOf(content.file)).size > WHOLE ? pathOf(content.file) : undefined;
  const bytes = large ? undefined : await bytesOf(content);
  const hash = large
    ? hashFile(large)
    : createHash('sha256')
        .update(bytes as Buffer)
        .digest();
  if (known && hash.equals(known)) return { unchanged: true, hash };
  const parts = new Map<string, ItemPart>();
  const examine = await examinerOf(content.name, large, bytes, options, limits, (name, part) => {
    if (part.length === 0 || parts.size >= MOST_PARTS) return;
    const of = createHash('sha256').update(part).digest();
    parts.set(of.toString('hex'), { name, hash: of });
  });
  const examined = await examine(examiners);
  const inRehearsal = rehearsed && (await examine(rehearsed));
  const kinds = new Set([...examiners.likeness, ...examiners.learned].map((e) => e.id));
  return {
    unchanged: false,
    hash,
    format: examined.kind,
    findings: gatherFindings(examined.findings),
    rehearsed: gatherFindings(inRehearsal?.findings ?? []),
    document: documentOf(examined.verdicts, kinds),
    people: peopleOf(examined.findings),
    parts: [...parts.values()],
    problems: examined.problems.slice(0, 50),
    stopped: examined.stopped.map((s) => s.detector),
    length: examined.length,
  };
}

function pathOf(file: string | Uint8Array): string | Buffer {
  return typeof file === 'string' ? file : Buffer.from(file);
}

async function bytesOf(content: SurveyInput['content']): Promise<Buffer> {
  return 'file' in content ? readFile(pathOf(content.file)) : Buffer.from(content.bytes);
}

function hashFile(path: string | Buffer): Buffer {
  const hash = createHash('sha256');
  for (const block of blocksOf(path, 1 << 20)) hash.update(block);
  return hash.digest();
}

/** Looks at the same text with one set of detectors or another. */
async function examinerOf(
  name: string,
  large: string | Buffer | undefined,
  bytes: Buffer | undefined,
  options: DetectOptions,
  limits: Limits | undefined,
  seen: SeePart,
): Promise<(examiners: Examiners) => Promise<Examined>> {
  if (large) return (examiners) => examineFile(large, name, examiners, options, limits);
  const extracted = await extract(name, bytes as Buffer, limits, seen);
  return (examiners) => Promise.resolve(examineExtracted(extracted, examiners, options));
}
