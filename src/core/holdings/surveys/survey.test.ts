import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { sentenceText } from '../../rules/sentence.ts';
import { changedSince, leavesOut, someOf, SurveyContent, surveySentence, USUAL_SURVEY } from './survey.ts';

const survey: SurveyContent = { ...USUAL_SURVEY, name: 'Shares', sources: ['1', '2'] };
const names = {
  sources: [
    { value: '1', words: 'Port share' },
    { value: '2', words: 'Crew share' },
  ],
  detectors: [{ value: 'email', words: 'E-mail address' }],
};

describe('a survey as a sentence', () => {
  it('says what it reads', () =>
    expect(sentenceText(surveySentence(names), survey)).toBe(
      'Read Port share and Crew share, leaving out nothing.\nFor all detectors in force.\nAmong all items changed at any time.',
    ));

  it('says what is left out, and what is gone', () =>
    expect(
      sentenceText(surveySentence(names), {
        ...survey,
        sources: ['1', '9'],
        without: 'Backup\n\n Manifests/2019 ',
        detectors: ['email'],
        share: '100',
        changed: '90 days',
      }),
    ).toBe(
      'Read Port share and “9”, which is gone, leaving out Backup and Manifests/2019.\nFor E-mail address.\nAmong 100 items of each folder changed within the last 90 days.',
    ));
});

it.each([
  ['ever', undefined],
  ['7 days', '2026-11-22T12:00:00.000Z'],
  ['1 year', '2025-11-29T12:00:00.000Z'],
] as const)('%s goes back to %s', (changed, since) =>
  expect(changedSince({ changed }, new Date('2026-11-29T12:00:00Z'))).toBe(since),
);

it('leaves out what a line names, and nothing for an empty one', () => {
  const out = leavesOut({ without: '\nBackup\n  Manifests/2019\n' });
  expect(['a/backup/b', 'Manifests/2019/x', 'Manifests/2020', ''].map(out)).toEqual([
    true,
    true,
    false,
    false,
  ]);
  expect(leavesOut({ without: ' \n ' })('a')).toBe(false);
});

it('takes so many of a folder, always the same, and stays with most of them as others come', () =>
  fc.assert(
    fc.property(
      fc.uniqueArray(fc.string({ minLength: 1 }), { maxLength: 60 }),
      fc.integer({ min: 1, max: 20 }),
      (all, n) => {
        const some = someOf(all, n);
        expect(some).toHaveLength(Math.min(n, all.length));
        expect(some.every((s) => all.includes(s))).toBe(true);
        expect(someOf(all.toReversed(), n)).toEqual(all.length <= n ? all.toReversed() : some);
        expect(
          someOf([...all, `${all.join()}more`], n).filter((s) => some.includes(s)).length,
        ).toBeGreaterThanOrEqual(some.length - 1);
      },
    ),
  ));

it('refuses what cannot be run, by its field', () => {
  const faults = (more: object) =>
    SurveyContent.safeParse({ ...survey, ...more }).error?.issues.map((i) => i.path.join('.'));
  expect(faults({})).toBeUndefined();
  expect(faults({ sources: [] })).toEqual(['sources']);
  expect(faults({ name: ' ' })).toEqual(['name']);
  expect(faults({ changed: '8 days' })).toEqual(['changed']);
});
