import type { ListDefinition } from '../../lists/list.ts';
import { CHANNELS } from '../handling/channel.ts';
import { OUTCOMES } from '../handling/decision.ts';
import { ANSWERS, EVENT_ACTS, EVENT_KIND_WORDS, EVENT_KINDS } from './event.ts';

const said = (words: string) => (words[0]?.toUpperCase() ?? '') + words.slice(1);
const options = (values: readonly string[]) => Object.fromEntries(values.map((v) => [v, said(v)]));

/** What people and programs did, the newest first. */
export const EVENT_LIST = {
  name: 'activity',
  columns: {
    at: { words: 'Time (UTC)' },
    person: { words: 'Person' },
    act: { words: 'Act' },
    channel: { words: 'Way' },
    item: { words: 'What' },
    found: { words: 'Found' },
    towards: { words: 'Towards' },
    outcome: { words: 'Decided' },
    rule: { words: 'By rule' },
    answer: { words: 'Answer' },
    reason: { words: 'Reason' },
    level: { words: 'Level' },
    device: { words: 'Device' },
    kind: { words: 'Told by' },
    network: { words: 'Network', exportOnly: true },
    id: { words: 'Number', exportOnly: true },
  },
  filters: {
    from: { kind: 'from', words: 'From' },
    to: { kind: 'to', words: 'to' },
    person: { kind: 'value', words: 'Everybody', most: 254 },
    rule: { kind: 'value', words: 'Every rule', most: 12 },
    channel: { kind: 'value', words: 'Every way', most: 20 },
    act: { kind: 'value', words: 'Every act', most: 20 },
    outcome: { kind: 'value', words: 'Whatever was decided', most: 10 },
    answer: { kind: 'value', words: 'Every answer', most: 12 },
    data: { kind: 'value', words: 'Any data', most: 80 },
    level: { kind: 'value', words: 'Every level', most: 64 },
    device: { kind: 'value', words: 'Every device', most: 12 },
    kind: { kind: 'value', words: 'Told by anyone', most: 12 },
    /** A line of the language of lenses, on the data. */
    lens: { kind: 'value', words: 'Through no lens', most: 4000 },
  },
  order: { sort: 'at', order: 'down' },
} as const satisfies ListDefinition;

/** What there is to filter by, beside what is told of it: how values read. */
export const EVENT_OPTIONS = {
  channel: options(CHANNELS),
  act: options(EVENT_ACTS),
  outcome: options(OUTCOMES),
  answer: options(ANSWERS),
  kind: Object.fromEntries(EVENT_KINDS.map((k) => [k, said(EVENT_KIND_WORDS[k])])),
} as const;
