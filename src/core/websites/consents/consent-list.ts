import type { ListDefinition } from '../../lists/list.ts';
import { CHOICES } from '../notice/consent.ts';

/** How a filter calls what nobody told. */
export const NOT_TOLD = 'not-told';
/** How a filter calls a group of pages: by its address. */
export const pagesAt = (group: string): string => `/${group}`;

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
    language: { words: 'Language' },
    device: { words: 'Device' },
    page: { words: 'Page' },
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
    language: { kind: 'value', words: 'Every language', most: 20 },
    device: { kind: 'value', words: 'Every device', most: 10 },
    page: { kind: 'value', words: 'Every page', most: 41 },
    visitor: { kind: 'value', words: 'Every visitor', most: 32 },
  },
  order: { sort: 'at', order: 'down' },
} as const satisfies ListDefinition;
