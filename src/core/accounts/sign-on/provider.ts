import { z } from 'zod';
import type { Vocabulary } from '../../rules/change.ts';

const Text = (most: number, empty: string) => z.string().trim().min(1, empty).max(most, `${most} at most`);

export const MOST_GROUPS = 500;

/** What is done with those who come from a provider. */
export const ProviderContent = z.strictObject({
  name: Text(120, 'Give it a name'),
  clientId: Text(300, 'Type the client id that the provider gave'),
  /** Whoever has no account here: refused, or given one where a group of theirs gives a role. */
  newcomers: z.enum(['refused', 'made']),
  /** Which addresses may lead to an account that is there: those it says it verified, or all. */
  emails: z.enum(['verified', 'all']),
  /** What is taken for signed in: whatever the provider lets in, or with a second factor, as it says in `amr`. */
  needs: z.enum(['any', 'second factor']),
  /** The claim that holds groups. */
  groupsClaim: Text(100, 'Name the claim'),
  /** By the name of a group, the roles (ids) it gives. */
  groups: z
    .record(
      z.string().trim().min(1, 'Name the group').max(255, '255 at most'),
      z.array(z.string().min(1).max(40)).max(20, '20 at most'),
    )
    .refine((groups) => Object.keys(groups).length <= MOST_GROUPS, `${MOST_GROUPS} at most`),
});
export type ProviderContent = z.infer<typeof ProviderContent>;

export const NewProvider = z.object({
  name: Text(120, 'Give it a name'),
  issuer: z
    .url({ protocol: /^https?$/, error: 'It looks like https://login.example.org' })
    .max(500)
    .transform((url) => url.replace(/\/$/, '')),
  clientId: Text(300, 'Type the client id that the provider gave'),
  clientSecret: z.string().max(500),
});
export type NewProvider = z.infer<typeof NewProvider>;

export function newProvider(name: string, clientId: string): ProviderContent {
  return {
    ...{ name, clientId, newcomers: 'refused', emails: 'verified', needs: 'any' },
    ...{ groupsClaim: 'groups', groups: {} },
  };
}

export const NEWCOMER_WORDS: Readonly<Record<ProviderContent['newcomers'], string>> = {
  refused: 'is refused',
  made: 'gets one when a group gives a role',
};
export const EMAIL_WORDS: Readonly<Record<ProviderContent['emails'], string>> = {
  verified: 'addresses that it says it verified',
  all: 'every address that it tells',
};
export const NEEDS_WORDS: Readonly<Record<ProviderContent['needs'], string>> = {
  any: 'whoever it lets in',
  'second factor': 'whoever it says used a second factor',
};

export function providerVocabulary(roleName: (id: string) => string): Vocabulary {
  return {
    path: ([first, second]) =>
      first === 'groups' && second !== undefined ? `Group ${second} gives` : PARTS[String(first)],
    value: (value, [first]) => {
      if (first === 'newcomers') return NEWCOMER_WORDS[value as ProviderContent['newcomers']];
      if (first === 'emails') return EMAIL_WORDS[value as ProviderContent['emails']];
      if (first === 'needs') return NEEDS_WORDS[value as ProviderContent['needs']];
      if (first !== 'groups') return undefined;
      if (Array.isArray(value)) return value.map(String).map(roleName).join(', ') || 'no role';
      return typeof value === 'string' ? roleName(value) : undefined;
    },
  };
}

const PARTS: Readonly<Record<string, string>> = {
  name: 'Name',
  clientId: 'Client id',
  newcomers: 'Whoever has no account',
  emails: 'Matched by',
  needs: 'Signed in is',
  groupsClaim: 'Claim of groups',
};
