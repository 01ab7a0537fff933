import { z } from 'zod';
import { GATE_MODES } from './gate-plan.ts';

/** How the gate of a site works. */
export const GateSettings = z.strictObject({
  mode: z.enum(GATE_MODES),
  /** Parameters of an address that tell of a campaign, carried along the visit while nothing may be stored. */
  campaign: z
    .array(z.string().regex(/^[\w.-]{1,40}$/, 'A parameter has letters, digits, . _ and - only'))
    .max(12, 'At most 12 parameters'),
  /** The domain whose hosts share an answer; empty for the host alone. */
  domain: z
    .string()
    .regex(/^([a-z0-9-]+\.)+[a-z0-9-]+$|^$/, 'Give a domain such as example.com, or leave it empty')
    .max(200, 'At most 200 characters'),
});
export type GateSettings = z.infer<typeof GateSettings>;

export const FIRST_GATE: GateSettings = {
  mode: 'marked',
  campaign: [],
  domain: '',
};

/** Whether an answer given on a host is one for a site: it is its own, or both are of the domain that shares answers. */
export function sharesAnswers(siteHost: string, domain: string, host: string): boolean {
  const within = (h: string) => h === domain || h.endsWith(`.${domain}`);
  const bare = (h: string) => h.replace(/:\d+$/, '');
  return host === siteHost || (domain !== '' && within(bare(host)) && within(bare(siteHost)));
}
