import type { CoreArea } from '../area.ts';

export const RETENTION = {
  area: 'retention',
  actions: {
    'retention.read': {
      words: 'seeing the retention schedule, holds and disposals',
      roles: ['records manager', 'data steward', 'request handler', 'auditor'],
    },
    'retention.edit': {
      words: 'changing retention rules, bounds and clocks',
      roles: ['records manager'],
    },
    'retention.put-in-force': { words: 'putting retention rules in force', roles: ['records manager'] },
    'retention.hold': { words: 'placing and releasing holds', roles: ['records manager'] },
    'retention.except': {
      words: 'keeping single items longer or shorter',
      roles: ['records manager', 'data steward'],
    },
    'retention.dispose': { words: 'agreeing to disposals and undoing them', roles: ['records manager'] },
  },
  today: {
    'disposal waits': { words: 'waits', tone: 'open', place: 45, does: 'Read and decide' },
    'disposal failed': { words: 'failed', tone: 'wrong', place: 30, does: 'See why' },
    'hold not known': { words: 'not answered', tone: 'open', place: 35, does: 'Ask again' },
    'bounds cross': { words: 'conflict', tone: 'wrong', place: 50, does: 'Settle it' },
    'clock not read': { words: 'not read', tone: 'wrong', place: 43, does: 'See why' },
    'review due': { words: 'to review', tone: 'open', place: 60, does: 'Review it' },
    surprise: { words: 'surprise', tone: 'wrong', place: 42, does: 'See what' },
  },
  objects: {
    'retention rule': { words: 'retention rule', see: 'retention.read' },
    bound: { words: 'bound of law', see: 'retention.read' },
    hold: { words: 'hold', see: 'retention.read' },
    clock: { words: 'clock', see: 'retention.read' },
    'retention policy': { words: 'way in which items are let go', see: 'retention.read' },
    'retention exception': { words: 'exception', see: 'retention.read' },
    disposal: { words: 'disposal', see: 'retention.read' },
  },
} as const satisfies CoreArea;
