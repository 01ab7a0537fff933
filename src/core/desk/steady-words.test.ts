import { expect, it } from 'vitest';
import { steadyWords } from './steady-words.ts';

it.each([
  [
    'I-4, a device was lost: 30 hours left to tell the authority',
    'I-4, a device was lost: 1 hour left to tell the authority',
    true,
  ],
  ['R-1181, to see what is held: 6 days left', 'R-1181, to see what is held: 5 days left', true],
  ['R-1182: late since yesterday', 'R-1182: late since today', true],
  ['It was silent for a day', 'It was silent for 3 days', true],
  ['8 trackers run without permission', '9 trackers run without permission', false],
  ['3 items wait, 2 days left', '4 items wait, 1 day left', false],
  ['The sweep: 6 new trackers', 'The sweep: 6 new trackers', true],
  ['Its certificate ended on 22 Nov 2026', 'Its certificate ended on 23 Nov 2026', false],
  ['', '', true],
])('“%s” and “%s” say the same: %s', (a, b, same) => {
  expect(steadyWords(a) === steadyWords(b)).toBe(same);
});
