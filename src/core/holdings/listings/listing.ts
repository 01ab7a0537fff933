import { z } from 'zod';
import { Schedule } from '../../schedule/schedule.ts';
import type { Store } from './store.ts';

/** What is matched of a store to say whose it is. */
export const OWNED_BY = {
  name: 'name',
  team: 'team',
  region: 'region',
} as const satisfies Partial<Record<keyof Store, string>>;

export const OwnerRule = z.strictObject({
  of: z.enum(['name', 'team', 'region']),
  /** `*` stands for any letters; case does not matter. */
  like: z.string().trim().min(1, 'Type what it has to be like, such as port-*.').max(120),
  /** Id of the system that it then belongs to. */
  system: z.int().positive(),
});
export type OwnerRule = z.infer<typeof OwnerRule>;

/** Where stores are listed: an account that answers in pages, or a table that somebody sends. */
export const ListingAddress = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('account'),
    url: z
      .url({ protocol: /^https$/, error: 'An address such as https://cloud.company.example/stores.' })
      .max(500),
    /** PEM of the certificate that vouches for the server, where no public authority does; else ''. */
    certificate: z
      .string()
      .trim()
      .max(20_000)
      .refine(
        (c) => c === '' || /^-----BEGIN CERTIFICATE-----[\s\S]+-----END CERTIFICATE-----$/.test(c),
        'A certificate in PEM, from BEGIN CERTIFICATE to END CERTIFICATE.',
      )
      .default(''),
  }),
  z.strictObject({ kind: z.literal('table') }),
]);
export type ListingAddress = z.infer<typeof ListingAddress>;

/** What can be changed of a listing as it stands. */
export const ListingContent = z.strictObject({
  name: z.string().trim().min(1, 'Give it a name.').max(120),
  /** Of accounts; tables come when somebody sends them. */
  schedule: Schedule.nullable(),
  /** Accounts of those who are told what is new, gone or changed. */
  tell: z.array(z.int().positive()).max(50),
  /** The first that matches says to which system a store belongs. */
  owners: z.array(OwnerRule).max(100),
});
export type ListingContent = z.infer<typeof ListingContent>;

/** The system a store belongs to by rule, and which rule said so. */
export function ownerOf(
  store: Pick<Store, 'name' | 'team' | 'region'>,
  owners: readonly OwnerRule[],
): OwnerRule | undefined {
  return owners.find(({ of, like }) => isLike(store[of], like));
}

/** Whether a text is like a pattern as a whole. Linear in both: the stars are taken greedily, one after the other. */
export function isLike(text: string, like: string): boolean {
  const parts = like.trim().toLowerCase().split('*');
  const lower = text.trim().toLowerCase();
  const [first = '', ...rest] = parts;
  if (rest.length === 0) return lower === first;
  if (!lower.startsWith(first)) return false;
  const last = rest.pop() ?? '';
  let at = first.length;
  for (const part of rest) {
    const found = lower.indexOf(part, at);
    if (found < 0) return false;
    at = found + part.length;
  }
  return lower.length - last.length >= at && lower.endsWith(last);
}

export function ownerWords({ of, like }: Pick<OwnerRule, 'of' | 'like'>): string {
  return `whose ${OWNED_BY[of]} is like ${like}`;
}
