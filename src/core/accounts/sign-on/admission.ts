import type { Person } from './claims.ts';
import type { ProviderContent } from './provider.ts';

/** An account that somebody might be. */
export interface Candidate {
  readonly id: number;
  readonly disabled: boolean;
  /** Known at this provider as somebody else. */
  readonly isAnother: boolean;
}

/** Who somebody from a provider is here, or why nobody. `known` came before, `linked` comes the first time. */
export type Admission =
  | { readonly as: 'known' | 'linked'; readonly account: number }
  | { readonly as: 'made' }
  | { readonly as: 'refused'; readonly why: string; readonly help: string };

const refused = (why: string, help: string): Admission => ({ as: 'refused', why, help });
const ASK = 'Ask your privacy officer.';

/**
 * Decides about somebody a provider vouches for: `known`, the account with that subject; `byEmail`, the one with that
 * address; `givenRoles`, how many roles their groups give.
 */
export function admission(
  person: Person,
  { emails, needs, newcomers, name }: ProviderContent,
  found: { readonly known?: Candidate; readonly byEmail?: Candidate; readonly givenRoles: number },
): Admission {
  if (person.subject === '') return refused(`${name} did not say who you are.`, ASK);
  if (needs === 'second factor' && !person.secondFactor)
    return refused(
      `${name} did not say that a second factor was used.`,
      'Sign on again with your second factor.',
    );
  const { known, byEmail } = found;
  if (known) return known.disabled ? DISABLED : { as: 'known', account: known.id };
  if (person.email === undefined) return refused(`${name} did not tell your e-mail address.`, ASK);
  const may = emails === 'all' || person.verified;
  if (byEmail) {
    if (!may)
      return refused(
        `${name} does not say that it verified your address, so it opens no account that is there.`,
        ASK,
      );
    if (byEmail.isAnother)
      return refused(`The account with your address is somebody else’s at ${name}.`, ASK);
    return byEmail.disabled ? DISABLED : { as: 'linked', account: byEmail.id };
  }
  if (newcomers === 'refused') return refused('You have no account here.', ASK);
  if (!may) return refused(`${name} does not say that it verified your address.`, ASK);
  if (found.givenRoles === 0)
    return refused(`No group of yours at ${name} gives a role here.`, 'Ask to be put into one that does.');
  return { as: 'made' };
}

const DISABLED = refused('This account is disabled.', 'Ask your privacy officer to enable it again.');
