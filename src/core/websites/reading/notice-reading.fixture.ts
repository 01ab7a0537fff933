import type { NoticeReading, TriedWay } from './notice-reading.ts';
import type { NoticeWay } from './notice-way.ts';

export const press = (words: string, nth = 0) => ({ act: 'press', words, nth }) as const;
export const set = (...on: string[]) => ({ act: 'set' as const, on });
export const tried = (way: NoticeWay, ran: number | null, over: Partial<TriedWay> = {}): TriedWay => ({
  way,
  outcome: ran === null ? 'nothing' : 'answers',
  ran,
  some: [],
  size: 0.02,
  ...over,
});

const WAYS = [
  tried([press('Sounds good')], 9),
  tried([press('Maybe later')], 2),
  tried([press('Pick')], null, { outcome: 'opens' }),
  tried([press('Pick'), set(), press('Save these')], 3),
];

/** A notice of two layers, with three switches, as it may be read. */
export const READING: NoticeReading = {
  readAt: '2026-11-23T10:00:00.000Z',
  words: 'Some would like to be present while you read.',
  place: 'over',
  late: true,
  controls: ['Sounds good', 'Maybe later', 'Pick'],
  before: 1,
  tried: WAYS,
  roles: {
    accept: {
      way: [press('Sounds good')],
      why: '9 trackers ran after it, the most of 3 ways tried; 1 before',
      by: 'trial',
    },
    refuse: {
      way: [press('Maybe later')],
      why: '2 trackers ran after it, the fewest of 3 ways tried; 1 before',
      by: 'trial',
    },
    choose: { way: [press('Pick'), set(), press('Save these')], why: 'Nothing else ends it', by: 'trial' },
  },
  switches: [
    { words: 'Newsroom', about: '', on: true, locked: false, purpose: 'measurement', by: 'words' },
    { words: 'Corner', about: '', on: false, locked: false, purpose: null, by: 'words' },
    { words: 'Printing', about: '', on: true, locked: true, purpose: null, by: 'words' },
  ],
};
