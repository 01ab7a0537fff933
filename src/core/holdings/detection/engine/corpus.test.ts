import { describe, expect, it } from 'vitest';
import { madeUpTexts } from '../../../../../tests/corpus/made-up.ts';
import { readCorpus, scoreTexts, type MarkedText } from '../../../../../tests/corpus/marked-text.ts';
import { Engine } from './engine.ts';
import { builtInDetectors } from '../library/library.ts';

const engine = new Engine(builtInDetectors());

function expectWell(texts: readonly MarkedText[], least: number): void {
  const { precision, recall, faults } = scoreTexts(
    texts,
    (text) => engine.detect({ text, segments: [] }).findings,
  );
  expect(precision, faults.join('\n')).toBeGreaterThanOrEqual(least);
  expect(recall, faults.join('\n')).toBeGreaterThanOrEqual(least);
}

describe('the built-in detectors, all together at their own confidence', () => {
  it.each(['english', 'danish', 'swedish', 'german', 'mixed'])('know the marked texts: %s', (name) => {
    expectWell(readCorpus(name), 0.97);
  });

  it('find nothing in what only looks like personal data', () => {
    const { faults } = scoreTexts(
      readCorpus('look-alikes'),
      (text) => engine.detect({ text, segments: [] }).findings,
    );
    expect(faults).toEqual([]);
  });

  it.each([1, 2, 3, 4])('know letters and forms that nobody wrote before: %i', (seed) => {
    expectWell(madeUpTexts(seed, 150), 0.985);
  });
});
