import { z } from 'zod';
import { Touched } from './incident.ts';
import { TELL } from './incident-progress.ts';
import { SeverityInput } from './severity.ts';

const Reason = z.string().trim().min(3, 'Say why').max(1000, 'At most 1,000 characters');

/** What letters are made from, as somebody wrote it. */
export const IncidentWords = z.strictObject({
  happened: z.string().trim().max(4000),
  consequences: z.string().trim().max(2000),
  contact: z.string().trim().max(200),
  late: z.string().trim().max(1000).default(''),
});
export type IncidentWords = z.infer<typeof IncidentWords>;

/** What somebody does about an incident. */
export const IncidentAct = z.discriminatedUnion('act', [
  z.strictObject({ act: z.literal('assign'), to: z.int().min(1).nullable() }),
  z.strictObject({ act: z.literal('note'), words: Reason }),
  z.strictObject({
    act: z.literal('touch'),
    touched: z.array(Touched).max(50),
    regions: z.array(z.string().max(6)).max(40),
    nis2: z.boolean(),
    hipaa: z.boolean(),
  }),
  z.strictObject({ act: z.literal('reckon') }),
  z.strictObject({ act: z.literal('weigh'), severity: SeverityInput }),
  z.strictObject({ act: z.literal('decide'), authority: z.enum(TELL), people: z.enum(TELL), reason: Reason }),
  /** The second person says yes; or no, and it is decided anew. */
  z.strictObject({
    act: z.literal('agree'),
    agrees: z.boolean(),
    words: z.string().trim().max(500).default(''),
  }),
  z.strictObject({ act: z.literal('words'), words: IncidentWords }),
  /** Somebody was told, at a time. */
  z.strictObject({ act: z.literal('told'), deadline: z.string().max(40), at: z.iso.datetime() }),
  z.strictObject({
    act: z.literal('measure'),
    what: Reason.max(300),
    owner: z.int().min(1).nullable(),
    due: z.iso.date(),
  }),
  z.strictObject({ act: z.literal('measure done'), measure: z.int().min(1) }),
  /** It was looked into, and is no breach of personal data. */
  z.strictObject({ act: z.literal('no breach'), words: Reason }),
  z.strictObject({ act: z.literal('open again'), words: Reason }),
  z.strictObject({ act: z.literal('close'), words: z.string().trim().max(500).default('') }),
]);
export type IncidentAct = z.infer<typeof IncidentAct>;

export const INCIDENT_STEPS = [
  'taken in',
  'assign',
  'note',
  'touch',
  'reckon',
  'weigh',
  'decide',
  'agree',
  'disagree',
  'words',
  'told',
  'measure',
  'measure done',
  'close',
  'no breach',
  'open again',
] as const;
