import { z } from 'zod';
import { keysOf } from '../../keys-of.ts';

/** GDPR Art. 6(1): why an organisation may. */
export const BASES = {
  consent: 'consent, Art. 6(1)(a)',
  contract: 'a contract with them, Art. 6(1)(b)',
  'legal obligation': 'a legal obligation, Art. 6(1)(c)',
  'vital interests': 'vital interests, Art. 6(1)(d)',
  'public task': 'a public task, Art. 6(1)(e)',
  'legitimate interests': 'legitimate interests, Art. 6(1)(f)',
} as const;

/** GDPR Art. 9(2): why it may use special categories. */
export const SPECIAL_BASES = {
  none: 'nothing',
  'explicit consent': 'explicit consent, Art. 9(2)(a)',
  'employment law': 'employment and social law, Art. 9(2)(b)',
  'vital interests': 'vital interests, Art. 9(2)(c)',
  'made public': 'what they made public themselves, Art. 9(2)(e)',
  'legal claims': 'legal claims, Art. 9(2)(f)',
  'substantial public interest': 'substantial public interest, Art. 9(2)(g)',
  'health care': 'health care or occupational medicine, Art. 9(2)(h)',
  'public health': 'public health, Art. 9(2)(i)',
  archiving: 'archiving or research, Art. 9(2)(j)',
} as const;

/** GDPR Art. 45 to 49: what makes a transfer to a third country lawful. */
export const SAFEGUARDS = {
  none: 'no safeguard',
  'standard clauses': 'standard contractual clauses, Art. 46(2)(c)',
  'binding rules': 'binding corporate rules, Art. 47',
  certification: 'a certification there, Art. 46(2)(f), or of its decision on adequacy',
  derogation: 'a derogation, Art. 49',
} as const;

const Line = z.string().trim().min(1).max(200);

export const Recipient = z.strictObject({
  name: Line,
  /** ISO 3166-1; '' for within the organisation. */
  country: z.union([z.literal(''), z.string().regex(/^[A-Z]{2}$/, 'Two letters of ISO 3166-1, such as DK.')]),
  safeguard: z.enum(keysOf(SAFEGUARDS)),
});
export type Recipient = z.infer<typeof Recipient>;

/** A record of processing (GDPR Art. 30): one thing the organisation does with personal data, and why it may. */
export const ActivityContent = z.strictObject({
  name: z.string().trim().min(1, 'Give it a name.').max(160),
  /** Art. 30(1) as controller, 30(2) as processor. */
  role: z.enum(['controller', 'processor']),
  purpose: z.string().max(2000),
  basis: z.enum(keysOf(BASES)),
  special: z.enum(keysOf(SPECIAL_BASES)),
  /** The law that allows data on offences (Art. 10); '' for none. */
  offences: z.string().max(200),
  people: z.array(Line).max(40),
  /** Ids of detectors: the kinds of data. */
  data: z.array(z.string().max(64)).max(200),
  recipients: z.array(Recipient).max(60),
  retention: z.string().max(400),
  measures: z.string().max(2000),
  /** Ids of systems. */
  systems: z.array(z.string().regex(/^\d+$/)).max(100),
  owner: z.string().max(120),
  /** ISO 8601; '' for none. */
  review: z.union([z.literal(''), z.iso.date()]),
});
export type ActivityContent = z.infer<typeof ActivityContent>;

export const NEW_ACTIVITY: Omit<ActivityContent, 'name'> = {
  role: 'controller',
  purpose: '',
  basis: 'contract',
  special: 'none',
  offences: '',
  people: [],
  data: [],
  recipients: [],
  retention: '',
  measures: '',
  systems: [],
  owner: '',
  review: '',
};
