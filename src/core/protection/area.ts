import type { CoreArea } from '../area.ts';

export const PROTECTION = {
  area: 'protection',
  actions: {
    'protection.read': {
      words: 'seeing levels and the rules that set them',
      roles: ['data steward', 'records manager', 'request handler', 'auditor'],
    },
    'protection.edit': { words: 'changing levels and the rules that set them', roles: ['data steward'] },
    'protection.put-in-force': { words: 'putting levels and their rules in force', roles: [] },
    'protection.set': { words: 'setting the level of an item by hand', roles: ['data steward'] },
    'protection.run': { words: 'setting levels backwards over what is held', roles: [] },
  },
  today: {
    'level proposed': { words: 'asked', tone: 'open', place: 60 },
    'marking lost': { words: 'lost', tone: 'wrong', place: 40 },
  },
  objects: {
    level: { words: 'level', see: 'protection.read' },
    'level policy': { words: 'way in which levels are set', see: 'protection.read' },
    publication: { words: 'publication', see: 'protection.read' },
    'level rule': { words: 'level rule', see: 'protection.read' },
  },
} as const satisfies CoreArea;
