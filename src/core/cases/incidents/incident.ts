import { z } from 'zod';
import { RequestRegion } from '../requests/request.ts';

/** What happened, in plain words. */
export const INCIDENT_KINDS = {
  'lost device': 'a device was lost',
  'stolen device': 'a device was stolen',
  'sent wrongly': 'something went to the wrong person',
  'open to many': 'something was open to too many',
  'taken from outside': 'somebody got in from outside',
  changed: 'data was changed or spoilt',
  'not to be had': 'data could not be had',
  other: 'something else',
} as const;
export type IncidentKind = keyof typeof INCIDENT_KINDS;
export const KIND_OF_INCIDENT = Object.keys(INCIDENT_KINDS) as [IncidentKind, ...IncidentKind[]];

const Moment = z.iso.datetime({ message: 'A time such as 2026-11-30T14:05:00Z' });

/** What of the estate it is about: who and how many are reckoned from it. */
export const Touched = z.discriminatedUnion('what', [
  z.strictObject({ what: z.literal('device'), id: z.int().min(1) }),
  z.strictObject({ what: z.literal('place'), source: z.int().min(1), path: z.string().max(2000) }),
  z.strictObject({ what: z.literal('item'), id: z.int().min(1) }),
]);
export type Touched = z.infer<typeof Touched>;

/** An incident as it is taken in. */
export const NewIncident = z.strictObject({
  kind: z.enum(KIND_OF_INCIDENT),
  title: z.string().trim().min(3, 'A few words').max(160),
  words: z.string().trim().max(4000).default(''),
  /** When it began, where that is known. */
  happenedAt: Moment.nullable().default(null),
  /** When the organisation knew of it: from then on times run. */
  knownAt: Moment,
  /** Where the people live whom it may be about. */
  regions: z.array(RequestRegion).max(40).default([]),
  /** Who told of it. */
  reporter: z.string().trim().max(200).default(''),
  touched: z.array(Touched).max(50).default([]),
});
export type NewIncident = z.infer<typeof NewIncident>;

/** `I-12` */
export function incidentNumber(id: number): string {
  return `I-${id}`;
}
