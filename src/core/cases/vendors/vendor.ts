import { z } from 'zod';
import { keysOf } from '../../keys-of.ts';
import { SAFEGUARDS } from '../../holdings/offers.ts';
import { Links, NO_LINKS } from '../linked/linked.ts';

/** `V-7` */
export const vendorNumber = (id: number | string): string => `V-${id}`;

export const VENDOR_ROLES = {
  processor: 'a processor, Art. 28',
  joint: 'a controller together with us, Art. 26',
  controller: 'a controller of its own',
  none: 'given no personal data',
} as const;

/** What they can get to of ours. */
export const VENDOR_ACCESS = {
  none: 'nothing of ours',
  given: 'what we give them',
  hosts: 'what they keep for us',
  administers: 'our systems themselves',
} as const;

const Day = z.union([z.literal(''), z.iso.date()]);
const Country = z.union([
  z.literal(''),
  z.string().regex(/^[A-Z]{2}$/, 'Two letters of ISO 3166-1, such as DK.'),
]);
const Line = z.string().trim().min(1).max(200);

export const Subprocessor = z.strictObject({
  name: Line,
  country: Country,
  does: z.string().trim().max(200),
});
export type Subprocessor = z.infer<typeof Subprocessor>;

export const Certificate = z.strictObject({ name: Line, ends: z.iso.date() });
export type Certificate = z.infer<typeof Certificate>;

/** A firm that works for the organisation. What is decided of it stands apart. */
export const VendorContent = z.strictObject({
  name: z.string().trim().min(1, 'Give it a name.').max(160),
  service: z.string().max(2000),
  role: z.enum(keysOf(VENDOR_ROLES)),
  access: z.enum(keysOf(VENDOR_ACCESS)),
  /** ISO 3166-1 of where it works on data; '' where that is not known. */
  country: Country,
  safeguard: z.enum(keysOf(SAFEGUARDS)),
  /** An outage of theirs stops us within a day. */
  vital: z.boolean(),
  /** Hosts of theirs, by which their trackers on our sites are known: all below one are theirs too. */
  hosts: z
    .array(
      z
        .string()
        .trim()
        .toLowerCase()
        .regex(/^[a-z0-9-]+(\.[a-z0-9-]+)*$/, 'A host such as wavemeter.example.')
        .max(253),
    )
    .max(40),
  links: Links,
  contact: z.union([z.literal(''), z.email('An address such as privacy@vendor.example.').max(200)]),
  subprocessors: z.array(Subprocessor).max(200),
  certificates: z.array(Certificate).max(40),
  contract: z.strictObject({
    signed: Day,
    /** '' where it goes on until somebody ends it. */
    ends: Day,
    /** Days before its end by which it has to be ended. */
    notice: z.int().min(0).max(730),
  }),
  owner: z.string().max(120),
});
export type VendorContent = z.infer<typeof VendorContent>;

export const NEW_VENDOR: Omit<VendorContent, 'name'> = {
  ...{
    service: '',
    role: 'processor',
    access: 'given',
    country: '',
    safeguard: 'none',
    vital: false,
    hosts: [],
  },
  ...{ links: NO_LINKS, contact: '', subprocessors: [], certificates: [], owner: '' },
  contract: { signed: '', ends: '', notice: 0 },
};

export const VENDOR_WORDS: Readonly<Record<keyof VendorContent, string>> = {
  ...{ name: 'The name', service: 'What it does', role: 'The role', access: 'What it can get to' },
  ...{ country: 'Where it works', safeguard: 'The safeguard', vital: 'Whether we stand still without it' },
  ...{
    hosts: 'Its hosts',
    links: 'What it is linked to',
    contact: 'The contact',
    subprocessors: 'The subprocessors',
  },
  ...{ certificates: 'The certificates', contract: 'The contract', owner: 'Who answers for it' },
};

/** Where its people have their mail: at its hosts, and where its contact has. */
export function domainsOf({ hosts, contact }: Pick<VendorContent, 'hosts' | 'contact'>): readonly string[] {
  const own = contact.split('@')[1]?.toLowerCase();
  return [...new Set([...hosts, ...(own ? [own] : [])])];
}
