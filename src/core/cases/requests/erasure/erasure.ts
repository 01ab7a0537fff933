import { dayText } from '../../../text/day.ts';
import type { Day } from '../../../retention/offers.ts';

/** What keeps something that somebody asks to have deleted. */
export type Keeper =
  | { readonly is: 'hold'; readonly name: string; readonly matter: string }
  | { readonly is: 'law'; readonly name: string; readonly article: string; readonly until: Day | null };

/** Something held of the person, as it is weighed. */
export interface HeldOfPerson {
  readonly keepers: readonly Keeper[];
  /** It tells of nobody else: all of it can go. */
  readonly alone: boolean;
  /** What its source lets be done. */
  readonly can: { readonly remove: boolean; readonly replace: boolean };
  /** A person said that it stays, and why. */
  readonly exception: string;
}

/** What becomes of it. Kept gives the reason as the person is told it. */
export type Fate =
  | { readonly is: 'removed' }
  | { readonly is: 'taken out' }
  | { readonly is: 'by hand'; readonly why: string }
  | { readonly is: 'kept'; readonly why: string; readonly article: string };

/**
 * What becomes of something that a person asks to have deleted. What a hold covers is kept for claims (GDPR Art. 17(3)(e)),
 * what a law asks to keep is kept as long (Art. 17(3)(b)); what only the organisation’s own schedule keeps goes. The hold is
 * told first: it ends last.
 */
export function fateOf({ keepers, alone, can, exception }: HeldOfPerson): Fate {
  const hold = keepers.find((k) => k.is === 'hold');
  if (hold)
    return {
      is: 'kept',
      article: 'Art. 17(3)(e)',
      why: `${hold.name}${hold.matter ? ` (${hold.matter})` : ''}`,
    };
  const law = keepers
    .filter((k) => k.is === 'law')
    .toSorted((a, b) => (a.until ?? '9999-12-31').localeCompare(b.until ?? '9999-12-31'))
    .at(-1);
  if (law)
    return {
      is: 'kept',
      article: 'Art. 17(3)(b)',
      why: `${law.name}${law.article ? `, ${law.article}` : ''}${law.until ? `, until ${dayText(law.until)}` : ''}`,
    };
  if (exception !== '') return { is: 'kept', article: 'Art. 17(3)', why: exception };
  if (alone && can.remove) return { is: 'removed' };
  if (!alone && can.replace) return { is: 'taken out' };
  return {
    is: 'by hand',
    why: alone
      ? 'its source lets nothing be deleted from here'
      : 'it tells of others too, and cannot be written back',
  };
}

export const FATE_WORDS: Readonly<Record<Fate['is'], string>> = {
  removed: 'deleted',
  'taken out': 'taken out of what others share',
  'by hand': 'deleted by its owner',
  kept: 'kept',
};
