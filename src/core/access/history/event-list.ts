import type { ListDefinition } from '../../lists/list.ts';
import { STRENGTHS } from '../reach/strength.ts';

export const EVENT_KINDS = {
  grant: 'grant',
  link: 'link',
  member: 'group',
  inherits: 'inheritance',
  owner: 'owner',
  person: 'account',
} as const;

export const EVENT_ACTS = { add: 'given', take: 'taken away', set: 'set' } as const;

/** What was given and taken away, the latest first. */
export const EVENT_LIST = {
  name: 'changes',
  columns: {
    at: { words: 'When', sorts: true },
    act: { words: 'What' },
    words: { words: 'To whom' },
    place: { words: 'Place' },
    initiator: { words: 'By' },
    change: { words: 'Change' },
  },
  filters: {
    kind: { kind: 'value', words: 'Kind', most: 10 },
    act: { kind: 'choice', words: 'Given or taken', options: EVENT_ACTS },
    strength: {
      kind: 'choice',
      words: 'Strength',
      options: Object.fromEntries(STRENGTHS.map((s) => [s, s])),
    },
    who: { kind: 'value', words: 'Person or group', most: 20 },
    place: { kind: 'value', words: 'At or below', most: 20 },
    initiator: { kind: 'value', words: 'By', most: 200 },
    change: { kind: 'value', words: 'Of a change', most: 12 },
    from: { kind: 'from', words: 'From' },
    to: { kind: 'to', words: 'To' },
  },
  search: 'who, place or by whom',
  order: { sort: 'at', order: 'down' },
} as const satisfies ListDefinition;
