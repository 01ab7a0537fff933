import type { ListDefinition } from '../../lists/list.ts';
import { CHOICES } from '../notice/consent.ts';

/** Choices on record at a site, the newest first. */
export const CONSENT_LIST = {
  name: 'choices',
  columns: {
    id: { words: 'Receipt', exportOnly: true },
    at: { words: 'Time (UTC)' },
    choice: { words: 'Choice' },
    act: { words: 'Act' },
    allowed: { words: 'Allowed' },
    asked: { words: 'Asked', exportOnly: true },
    version: { words: 'Notice version' },
    region: { words: 'Region' },
    regionName: { words: 'Region name', exportOnly: true },
    language: { words: 'Language', exportOnly: true },
    address: { words: 'Address (truncated)' },
    visitorKey: { words: 'Visitor key' },
    ledgerId: { words: 'Ledger entry', exportOnly: true },
  },
  filters: {
    from: { kind: 'from', words: 'From' },
    to: { kind: 'to', words: 'to' },
    choice: {
      kind: 'choice',
      words: 'Choice',
      options: Object.fromEntries(CHOICES.map((c) => [c, c[0]?.toUpperCase() + c.slice(1)])),
    },
    region: { kind: 'value', words: 'Every region', most: 6 },
    version: { kind: 'value', words: 'Every version', most: 10 },
    visitor: { kind: 'value', words: 'Every visitor', most: 32 },
  },
  order: { sort: 'at', order: 'down' },
} as const satisfies ListDefinition;
