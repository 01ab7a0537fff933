import { expect, it } from 'vitest';
import { change, inWords, type Json } from '../../../rules/change.ts';
import { PatternDetector } from './detector.ts';
import { detectorVocabulary } from './detector-vocabulary.ts';

const plain = PatternDetector.parse({
  kind: 'pattern',
  id: 'crew-number',
  name: 'Crew number',
  anchor: { by: 'pattern', pattern: 'C\\d{5}' },
});
const words = (after: Partial<PatternDetector>) =>
  inWords(change(plain as unknown as Json, { ...plain, ...after } as unknown as Json), detectorVocabulary);

it('tells what changed in a detector as a person would', () => {
  expect(words({ keepFrom: 0.9, start: 1 })).toEqual([
    'Alone: 50% (possible) → 67% (possible)',
    'Counts from: 75% → 90%',
  ]);
  expect(words({ context: [{ where: 'before', within: 20, words: ['crew'], steps: 3 }] })).toEqual([
    'Context: “"crew" at most 20 characters before it” (odds × 8) added'.replace(/"crew"/, '“crew”'),
  ]);
  expect(
    words({ checks: [{ check: 'length', of: 'digits', from: 5, to: 5, passes: 0, fails: 'drop' }] }),
  ).toEqual(['Checks: “it has 5 to 5 digits” added']);
  expect(words({ anchor: { by: 'pattern', pattern: 'K\\d{5}', ignoreCase: false } })).toEqual([
    'Pattern: C\\d{5} → K\\d{5}',
  ]);
  expect(words({ exclude: { values: ['C00000'], patterns: [] } })).toEqual([
    'Values that never count: C00000 added',
  ]);
});
