import { describe, expect, it } from 'vitest';
import { ProviderFile, providerFaults, providersSay, type ProviderAnswer } from './provider-file.ts';

const file = (more: object = {}): ProviderFile =>
  ProviderFile.parse({
    ...{ format: 'yare-provider-1', provider: 'Streamhull', issued: '2026-11-01', until: '2027-10-31' },
    measures: [{ measure: 'let-be-audited', test: 'passed', how: 'Audited by others.' }],
    ...more,
  });
const MEASURES = new Map<string, { whose: 'ours' | 'provider' }>([
  ['let-be-audited', { whose: 'provider' }],
  ['train-staff', { whose: 'ours' }],
  ['unasked', { whose: 'provider' }],
]);
const faults = (f: ProviderFile) =>
  providerFaults(f, MEASURES, new Set(['let-be-audited', 'train-staff']), '2026-11-30').map(
    (x) => `${x.field}: ${x.message}`,
  );
const one = (measure: string, more: object = {}) => ({ measure, test: 'passed', how: 'So.', ...more });

describe('a provider’s file', () => {
  it('is taken where it speaks of its own measures, for a time that counts', () => {
    expect(faults(file())).toEqual([]);
  });

  it.each<[string, object, string]>([
    [
      'our measure',
      { measures: [one('train-staff')] },
      'measures.0.measure: train-staff is the organisation’s own to do.',
    ],
    [
      'a measure that is not there',
      { measures: [one('nope')] },
      'measures.0.measure: There is no measure nope.',
    ],
    [
      'what nobody asks',
      { measures: [one('unasked')] },
      'measures.0.measure: No assessment of the cycle asks for unasked.',
    ],
    [
      'one twice',
      { measures: [one('let-be-audited'), one('let-be-audited')] },
      'measures.1.measure: let-be-audited stands there twice.',
    ],
    ['a time that is over', { issued: '2025-01-01', until: '2026-01-01' }, 'until: That is over.'],
    ['an end before its beginning', { until: '2026-10-01' }, 'until: That is before it was said.'],
    ['a day to come', { issued: '2026-12-01' }, 'issued: That day is to come.'],
    ['for ever', { until: '2039-01-01' }, 'until: Two years at most after it was said.'],
    [
      'a measure whose time is over',
      { measures: [one('let-be-audited', { until: '2026-11-29' })] },
      'measures.0.until: That is over.',
    ],
  ])('that speaks of %s is refused at its field', (_, more, words) => {
    expect(faults(file(more))).toContain(words);
  });
});

describe('what providers say', () => {
  const says = (provider: string, test: ProviderAnswer['test'], until: string) => ({ provider, test, until });
  it.each<[string, ProviderAnswer[], ReturnType<typeof providersSay>]>([
    ['nobody', [], null],
    ['one', [says('a', 'passed', '2027-01-01')], { test: 'passed', until: '2027-01-01' }],
    [
      'two that pass: until the first of them ends',
      [says('a', 'passed', '2027-05-01'), says('b', 'passed', '2027-01-01')],
      { test: 'passed', until: '2027-01-01' },
    ],
    [
      'two of whom one fails',
      [says('a', 'passed', '2027-05-01'), says('b', 'failed', '2027-06-01')],
      { test: 'failed', until: '2027-05-01' },
    ],
  ])('%s', (_, answers, said) => expect(providersSay(answers)).toEqual(said));
});
