import { expect, it } from 'vitest';
import { switchPurpose } from './switch-purpose.ts';

it.each([
  ['Statistics', '', 'measurement'],
  ['Statistik', 'Wir zählen Besuche', 'measurement'],
  ['Help us count', 'We learn which pages are read', 'measurement'],
  ['Insights', 'Shows us which pages are read, so that we can improve them', 'measurement'],
  ['Marketing', 'Our partners show you relevant offers', 'advertising'],
  ['Annonser', '', 'advertising'],
  ['Offers that suit you', '', 'advertising'],
  ['Werbung', 'und Profile', 'advertising'],
  ['Functional', 'Remembers your language', 'preferences'],
  ['Extras', 'Maps and videos of other companies', 'preferences'],
  ['Husk mig', 'Vi husker dit sprog', 'preferences'],
  // Says nothing, or as much for one as for another.
  ['Sounds', '', null],
  ['Category B', '', null],
  ['Statistics and marketing', '', null],
])('“%s” with “%s” is %s', (label, about, purpose) => {
  expect(switchPurpose(label, about)).toBe(purpose);
});

it('weighs the label more than what is written about it', () => {
  expect(switchPurpose('Statistics', 'Used by our marketing partners')).toBe('measurement');
});
