import { expect, it, test } from 'vitest';
import { measuredFairness, NoticeMeasure } from './notice-measure.ts';

const box = { width: 200, height: 44, fontSize: 16, fontWeight: 600, contrast: 11, reachable: true };
const fair: NoticeMeasure = NoticeMeasure.parse({
  ...{ covers: 0.2, overMiddle: false, pageUsable: true, refuse: box, accept: box, ticked: [], small: [] },
  ...{ acts: { refuse: 1, accept: 1 }, textSize: 16, textContrast: 12 },
});
const unmet = (over: Partial<NoticeMeasure>, asksFirst = true) =>
  measuredFairness({ ...fair, ...over }, asksFirst)
    .filter((f) => !f.met)
    .map((f) => f.words);

it('finds a fair notice fair, each finding with its law', () => {
  expect(unmet({})).toEqual([]);
  for (const f of measuredFairness(fair, true)) expect(f.law).not.toBe('');
});

test.each<[Partial<NoticeMeasure>, string]>([
  [{ acts: { refuse: 3, accept: 1 } }, 'Refusing takes 3 presses, accepting one press'],
  [{ refuse: { ...box, width: 90, fontSize: 11 } }, 'Refusing is the lesser: 90 × 44 px, 11 px letters'],
  [{ refuse: { ...box, contrast: 1.6 } }, 'Refusing is the lesser'],
  [{ accept: { ...box, reachable: false } }, 'outside the window'],
  [{ ticked: ['Advertising'] }, 'Ticked as it opened: Advertising'],
  [{ pageUsable: false }, 'cannot be used until'],
  [{ textContrast: 3.2 }, 'too faint or too small'],
  [{ small: ['Choose'] }, 'Too small to press: Choose'],
  [{ refuse: null }, 'nothing to refuse with'],
])('%j is told', (over, says) => {
  expect(unmet(over).join('\n')).toContain(says);
});

it('lets stand ticked what runs until it is refused, where the law has it so', () => {
  expect(unmet({ ticked: ['Advertising'] }, false)).toEqual([]);
});
