import type { ListDefinition } from '../../lists/list.ts';
import { SEVERITIES } from '../lookouts/lookout.ts';
import { ALERT_STATES } from './alert.ts';

const said = (words: string) => (words[0]?.toUpperCase() ?? '') + words.slice(1);
const options = (values: readonly string[]) => Object.fromEntries(values.map((v) => [v, said(v)]));

/** What lookouts raised, the last one first. */
export const ALERT_LIST = {
  name: 'alerts',
  columns: {
    id: { words: 'Number' },
    at: { words: 'Last raised (UTC)', sorts: true },
    raised: { words: 'First raised (UTC)', exportOnly: true },
    severity: { words: 'Severity' },
    lookout: { words: 'Lookout' },
    key: { words: 'Whose' },
    category: { words: 'About' },
    acts: { words: 'Acts', sorts: true },
    state: { words: 'State' },
    assigned: { words: 'Whose it is' },
    because: { words: 'Because', exportOnly: true },
    note: { words: 'What became of it', exportOnly: true },
  },
  filters: {
    open: { kind: 'choice', words: 'Open and ended', options: { open: 'Open', ended: 'Ended' } },
    state: { kind: 'choice', words: 'Every state', options: options(ALERT_STATES) },
    severity: { kind: 'choice', words: 'Every severity', options: options(SEVERITIES) },
    category: { kind: 'value', words: 'About anything', most: 40 },
    lookout: { kind: 'value', words: 'Every lookout', most: 64 },
    rule: { kind: 'value', words: 'Every rule', most: 20 },
    assigned: { kind: 'value', words: 'Whoever has it', most: 12 },
    key: { kind: 'value', words: 'Everybody', most: 254 },
    from: { kind: 'from', words: 'From' },
    to: { kind: 'to', words: 'to' },
  },
  order: { sort: 'at', order: 'down' },
} as const satisfies ListDefinition;
