import type { SlotAdd } from '../../rules/sentence.ts';

/**
 * Whom something is for: `everyone`, `group:` and the name of a group, `unit:` and that of a unit. What has no mark is an
 * address.
 */
export type Audience = readonly string[];

export const EVERYONE = 'everyone';

export function groupMark(name: string): string {
  return `group:${name}`;
}

export function unitMark(name: string): string {
  return `unit:${name}`;
}

/** How an audience is said, name by name. */
export function audienceWords(mark: string): string {
  if (mark === EVERYONE) return 'everyone';
  return mark.replace(/^(?:group|unit):/, '');
}

/** Somebody as an audience is held against them. */
export interface Reached {
  readonly address: string;
  /** Every group they belong to, with how near. */
  readonly groups: ReadonlyMap<string, number>;
  readonly unit?: string;
}

/** Farther than any group. */
const FARTHEST = Number.MAX_SAFE_INTEGER;

/**
 * How near somebody is to an audience: 0 where they are named themselves, then by the nearest group, then as one of
 * everyone; `undefined` where it is not for them.
 */
export function nearness(audience: Audience, { address, groups, unit }: Reached): number | undefined {
  const each = audience.flatMap((mark) => {
    if (mark === EVERYONE) return [FARTHEST];
    if (mark.startsWith('group:')) {
      const steps = groups.get(mark.slice('group:'.length));
      return steps === undefined ? [] : [steps];
    }
    if (mark.startsWith('unit:')) return mark.slice('unit:'.length) === unit ? [1] : [];
    return mark.toLowerCase() === address ? [0] : [];
  });
  return each.length === 0 ? undefined : Math.min(...each);
}

/** How somebody is added to an audience by hand: by their address. */
export const ADD_ADDRESS: SlotAdd = {
  hint: 'An e-mail address',
  read: (text) => {
    const address = text.trim().toLowerCase();
    return /^[^\s@]+@[^\s@]+$/.test(address)
      ? { value: address }
      : { wrong: 'An e-mail address, such as tove@line.example' };
  },
};
