import type { CoreArea } from '../area.ts';

export const ACCESS = {
  area: 'access',
  actions: {
    'access.read': {
      words: 'seeing who reaches what',
      roles: ['access reviewer', 'data steward', 'records manager', 'auditor'],
    },
    'access.change': { words: 'changing who reaches what', roles: ['access reviewer'] },
    'access.review': { words: 'reviewing who reaches what', roles: ['access reviewer'] },
    'access.sources': { words: 'saying where rights are read from', roles: ['access reviewer'] },
  },
  today: {
    'too broad': { words: 'too broad', tone: 'wrong', place: 33, does: 'Narrow it' },
    'leaver reaches': { words: 'leaver', tone: 'wrong', place: 31, does: 'Close it' },
    'access not read': { words: 'not read', tone: 'wrong', place: 44, does: 'See why' },
    'access change stuck': { words: 'not done', tone: 'wrong', place: 32, does: 'See why' },
    'access review due': { words: 'to review', tone: 'open', place: 58, does: 'Review it' },
  },
  objects: {
    'access source': { words: 'source of rights', see: 'access.read' },
    estate: { words: 'who reaches what', see: 'access.read' },
    'access change': { words: 'change of access', see: 'access.read' },
    'access review': { words: 'review of access', see: 'access.read' },
    'hands rule': { words: 'rule of two pairs of hands', see: 'access.read' },
    'access watch': { words: 'place whose changes are kept', see: 'access.read' },
  },
} as const satisfies CoreArea;
