import type { FrameworkFile } from './framework-file.ts';

/** A filled example to begin a framework of one’s own with: it takes two controls and brings two, and a measure. */
export const SAMPLE_FRAMEWORK: FrameworkFile = {
  format: 'yare-framework-1',
  ...{ id: 'our-house-rules', version: '2026-01-01', name: 'House rules' },
  title: 'What we ask of ourselves beyond the law',
  ...{
    issuer: 'The board',
    regions: [],
    covers: 'Two rules of our own and two of the baseline.',
    whole: true,
  },
  takes: [{ framework: 'baseline', version: '2026-11-01', controls: ['know-systems', 'know-special'] }],
  families: [{ id: 'guests', name: 'Guests on board' }],
  controls: [
    {
      ...{
        id: 'guests.lists',
        family: 'guests',
        ref: 'Rule 1',
        name: 'Guest lists are gone after the voyage',
      },
      ...{ duty: 'required', kind: 'prevents', risk: 4 },
      guidance:
        'A list of guests serves boarding and rescue. It is gone two weeks after the voyage, on paper and on shares, unless an accident is looked into.',
      measures: ['set-retention-rules', 'shred-guest-lists'],
    },
    {
      ...{
        id: 'guests.photos',
        family: 'guests',
        ref: 'Rule 2',
        name: 'Photos of guests are asked for one by one',
      },
      ...{ duty: 'by choice', kind: 'prevents', risk: 2 },
      guidance:
        'A notice at the gangway is no consent. Whoever is shown alone is asked before, and may say no later.',
      measures: ['separate-consents'],
    },
  ],
  measures: [
    {
      id: 'shred-guest-lists',
      name: 'Shred guest lists after each voyage',
      steps: [
        'Collect paper lists at the purser’s desk.',
        'Shred them within two weeks, and note it in the log.',
      ],
      evidence: ['Pages of the purser’s log.'],
      hours: 4,
      whose: 'ours',
    },
  ],
};
