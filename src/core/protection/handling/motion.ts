import { z } from 'zod';
import type { FactValue } from '../../lens/fact.ts';
import { itemFact, type ItemRow } from '../../holdings/offers.ts';
import { Channel, MotionAct } from './channel.ts';

const Name = z.string().max(400);

/** What was recognised in the data, never the data itself. */
export const MotionFinding = z.strictObject({
  detector: z.string().min(1).max(80),
  matches: z.int().min(1).max(10_000_000),
  confidence: z.number().min(0).max(1),
});
export type MotionFinding = z.infer<typeof MotionFinding>;

/** What is put in motion: a file, a message, or a piece of text. */
export const MotionItem = z.strictObject({
  /** Of a piece of text, of which it is; empty where nobody knows. */
  name: Name.default(''),
  /** What its bytes are: `docx`, `text`. */
  format: z.string().max(40).default('text'),
  /** Bytes. */
  size: z
    .int()
    .min(0)
    .max(2 ** 50)
    .default(0),
  /** Id of its level; `null` for none. */
  level: z.string().max(64).nullable().default(null),
  /** Detector of the kind of document. */
  document: z.string().max(80).nullable().default(null),
  /** Different people in it. */
  people: z.int().min(0).max(100_000_000).default(0),
  /** Where it lies. */
  origin: z.string().max(2000).default(''),
});
export type MotionItem = z.infer<typeof MotionItem>;

/** One act by which data would leave where it is. */
export const Motion = z.strictObject({
  act: MotionAct,
  channel: Channel,
  /** Whose account it is, as the directory calls them. */
  person: z.string().min(1).max(254),
  /** Where it goes: a domain, a mail address, a drive, a printer, a share. Empty where the channel says all. */
  towards: z.array(z.string().min(1).max(2000)).max(200).default([]),
  /** The program that does it. */
  program: Name.default(''),
  /** The network the device is on; empty where it is on none. */
  network: Name.default(''),
  item: MotionItem,
  findings: z.array(MotionFinding).max(500),
});
export type Motion = z.infer<typeof Motion>;

/** A fact of what is put in motion, by the ids that lenses on items use. What is not known of it meets no condition. */
export function motionFact({ item, findings }: Pick<Motion, 'item' | 'findings'>, fact: string): FactValue {
  switch (fact) {
    case 'place':
      return item.origin || undefined;
    case 'created':
    case 'changed':
    case 'owner':
    case 'level-by':
    case 'state':
      return undefined;
    default:
      return itemFact(asRow(item, findings), fact);
  }
}

function asRow(item: MotionItem, findings: readonly MotionFinding[]): ItemRow {
  return {
    ...{ id: 0, source: '', place: '', created: null, changed: null, owner: '', state: 'read' },
    ...{
      name: item.name,
      size: item.size,
      format: item.format,
      document: item.document,
      people: item.people,
    },
    ...{ findings, level: item.level === null ? undefined : { id: item.level, by: 'document' } },
  };
}
