// @vitest-environment jsdom
import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { PARTS } from '../../core/obligations/readiness/readiness.ts';
import { USUAL_WEIGHTS } from '../../core/obligations/readiness/weights.ts';
import { NEW_ASSESSMENT } from '../../core/obligations/work/assessment-content.ts';
import { NEW_WORK } from '../../core/obligations/work/measure-work.ts';
import type { AssessmentView, ListedMeasure } from '../../server/obligations/assessments/assessment-view.ts';
import { AUDITOR, sheetTest } from '../../../tests/sheet.tsx';
import { AssessmentSheet } from './assessments/AssessmentSheet.tsx';
import { AssessmentSoundings } from './assessments/AssessmentSoundings.tsx';
import { NewAssessment } from './assessments/NewAssessment.tsx';
import { EvidenceList } from './measures/EvidenceList.tsx';
import { MeasureSheet } from './measures/MeasureSheet.tsx';
import { MeasuresSheet } from './measures/MeasuresSheet.tsx';
import { effortWords, pointsWords, readyWords } from './obligation-words.ts';

const t = sheetTest('/obligations/assessments/3');
const points = (given: number, applicable: number) => ({
  given: given * PARTS,
  applicable: applicable * PARTS,
});
const tally = (given: number, applicable: number) => ({
  ...points(given, applicable),
  ...{ ours: points(given, applicable), provider: points(0, 0), unanswered: 0 },
});
const measure = (id: string, more: Partial<ListedMeasure> = {}): ListedMeasure => ({
  ...{ key: `1.${id}`, id, name: id, hours: 8, whose: 'ours', state: 'planned', owner: null, due: null },
  ...{ testedBy: 'person', test: null, live: null },
  ...more,
});
const view = (more: Partial<AssessmentView> = {}): AssessmentView => ({
  ...{
    id: 3,
    cycle: 'group, 2026',
    cycleId: 1,
    name: 'GDPR',
    tally: tally(214, 316),
    failed: 1,
    newer: null,
  },
  framework: {
    ...{
      id: 'gdpr',
      name: 'GDPR',
      title: 'The Regulation',
      version: '2016-05-04',
      covers: 'All',
      whole: true,
    },
    families: [{ id: 'f', name: 'Transfers' }],
  },
  families: [{ id: 'f', name: 'Transfers', tally: tally(14, 28), failed: 1 }],
  controls: [
    {
      ...{ id: '44', family: 'f', ref: 'Art. 44', name: 'A ground', guidance: 'Each.', duty: 'required' },
      ...{ kind: 'prevents', risk: 4, applies: true, points: 28, given: 14 * PARTS },
      measures: [
        {
          ...measure('Map transfers', { state: 'done', test: 'passed' }),
          gives: true,
          why: null,
          share: 14 * PARTS,
        },
        { ...measure('Sign clauses'), gives: false, why: 'not tested', share: 14 * PARTS },
      ],
    },
  ],
  next: [
    {
      ...measure('Sign clauses', { hours: 80 }),
      gain: 14 * PARTS,
      serves: [{ framework: 'GDPR', refs: ['Art. 44', 'Art. 46'] }],
      families: ['f'],
    },
  ],
  ...{ days: [], tests: { program: { passed: 41, of: 78 }, person: { passed: 29, of: 30 }, nobody: 8 } },
  ...{ newerTally: null, newerOn: null, startedAt: '2026-01-04T10:00:00Z' },
  ...more,
});
const content = { ...NEW_ASSESSMENT, lead: 1, due: '2026-12-31' };
const answer = (of = view()) => {
  t.answers['GET /api/obligations/assessments/3'] = of;
  t.answers['GET /api/objects/readiness%20weights/1'] = { content: USUAL_WEIGHTS, revision: 0 };
  t.answers['GET /api/objects/assessment/3'] = { content, revision: 2 };
  t.answers['GET /api/obligations/systems'] = [{ id: 4, name: 'Booking' }];
  t.answers['GET /api/obligations/people'] = [
    { id: 1, name: 'Ines Abara', able: true },
    { id: 7, name: 'Osei Darko', able: true },
  ];
};

describe('numbers', () => {
  it.each([
    [points(0, 0), '–'],
    [points(999, 1000), '99'],
    [points(10, 10), '100'],
  ])('%j is %s ready, never rounded up', (of, words) => expect(readyWords(of)).toBe(words));

  it.each([
    [2, '2 hours'],
    [1, '1 hour'],
    [8, '1 day'],
    [24, '3 days'],
    [80, '2 weeks'],
  ])('%i hours are %s', (hours, words) => expect(effortWords(hours)).toBe(words));

  it('a little is told as a little, not as nothing', () => {
    expect([0, 0.2, 1.5, 1745].map((n) => pointsWords(n * PARTS))).toEqual(['0', 'under 1', '2', '1,745']);
  });
});

describe('an assessment', () => {
  it('answers first how far it is and where, then what gains most for the effort', async () => {
    answer();
    t.show(<AssessmentSheet id="3" />);
    expect((await screen.findByLabelText('Readiness')).textContent).toBe('67');
    screen.getByText('of 100: 214 of 316 points');
    within(screen.getByRole('list', { name: 'By family' })).getByText('◆ 1');
    const row = within(screen.getByRole('row', { name: /Sign clauses/ }));
    row.getByText('+14');
    row.getByText('2 weeks');
    row.getByText('GDPR 44, 46');
    const narrow = screen.getByLabelText('Narrow by words');
    await userEvent.type(narrow, 'osei');
    expect(screen.queryByRole('row', { name: /Sign clauses/ })).toBeNull();
    await userEvent.clear(narrow);
    await userEvent.type(narrow, 'nobody');
    screen.getByRole('row', { name: /Sign clauses/ });
    await userEvent.click(screen.getByRole('button', { name: 'how it is counted' }));
    await screen.findByText(/^A control weighs duty/);
    await screen.findByRole('button', { name: 'Weight of required: 3' });
  });

  it('is taken on in one act by who may, on top of what stands there', async () => {
    answer();
    t.answers['GET /api/objects/measure%20work/1.Sign%20clauses'] = { content: NEW_WORK, revision: 0 };
    t.show(<AssessmentSheet id="3" />);
    await userEvent.click(await screen.findByRole('button', { name: 'Take on “Sign clauses”' }));
    await waitFor(() =>
      expect(t.sent().at(-1)).toMatchObject({
        method: 'PUT',
        body: { revision: 0, base: NEW_WORK, content: { ...NEW_WORK, owner: 1, state: 'in work' } },
      }),
    );
    t.reset();
    answer();
    t.show(<AssessmentSheet id="3" />, AUDITOR);
    await screen.findByLabelText('Readiness');
    expect(screen.queryByRole('button', { name: /^Take on/ })).toBeNull();
  });

  it('tells who has to do it, who tested it, what fails, and what a newer version would make of it', async () => {
    answer(view({ newer: '2026-01-01', newerTally: tally(200, 400) }));
    t.answers['GET /api/obligations/library/gdpr/differences'] = {
      version: '2026-01-01',
      differences: [
        { control: 'a', ref: 'A', name: 'A', is: 'new', fields: [] },
        { control: 'b', ref: 'B', name: 'B', is: 'changed', fields: [] },
      ],
    };
    t.show(<AssessmentSoundings id="3" />);
    await screen.findByText(/\+1 controls, 1 changed in words\.\s+Readiness there 67 → 50/);
    await userEvent.click(screen.getByRole('button', { name: 'Take it now' }));
    expect(t.sent().at(-1)?.path).toBe('/api/obligations/assessments/3/version');
  });

  it('says before it is started what it comes to', async () => {
    t.answers['GET /api/obligations/library'] = [{ id: 'gdpr', name: 'GDPR', title: 'The Regulation' }];
    t.answers['GET /api/obligations/assessments'] = [];
    t.answers['GET /api/obligations/library/gdpr/start'] = {
      ...{ tally: tally(9, 45), newMeasures: 3, measures: 5 },
      comesAlong: [{ measure: 'm', name: 'M', cycle: 'crew, 2026' }],
    };
    t.answers['POST /api/obligations/assessments'] = t.refused('No.', [
      { field: 'cycle', message: 'Name it.' },
    ]);
    t.show(<NewAssessment framework="gdpr" />);
    await screen.findByText(/1 measure comes along from crew, 2026/);
    await userEvent.click(screen.getByRole('button', { name: 'Start it' }));
    await screen.findByText(/Name it\./);
    expect(t.sent().at(-1)?.body).toEqual({ framework: 'gdpr', cycle: '', lead: 1, due: null });
  });
});

describe('a measure', () => {
  const shown = (work: object, more: Partial<ListedMeasure> = {}) => {
    answer();
    t.answers['GET /api/objects/measure%20work/1.train'] = { content: { ...NEW_WORK, ...work }, revision: 1 };
    t.answers['GET /api/obligations/measures/1.train'] = {
      ...measure('train', more),
      measure: {
        id: 'train',
        name: 'Train staff',
        steps: ['Teach'],
        evidence: ['Lists'],
        hours: 8,
        whose: 'ours',
      },
      ...{ cycle: 'group, 2026', evidence: [], also: ['LGPD'], comments: [], providers: [] },
      serves: [
        {
          assessment: 3,
          framework: 'GDPR',
          ref: 'Art. 39',
          name: 'Tasks',
          share: PARTS,
          gives: false,
          why: 'not tested',
        },
      ],
    };
  };

  it('that one did oneself is tested by somebody else', async () => {
    shown({ state: 'done', doneBy: 1 }, { state: 'done' });
    t.show(<MeasureSheet id="1.train" />);
    await screen.findByText(/you did it: somebody else tests it/);
    expect(screen.queryByRole('button', { name: /^What the test said/ })).toBeNull();
    screen.getByText('○ not tested');
    screen.getByText('It would answer LGPD, too.');
  });

  it('that a colleague did is tested, and one that the program tests is not', async () => {
    shown({ state: 'done', doneBy: 7 }, { state: 'done' });
    t.show(<MeasureSheet id="1.train" />);
    await screen.findByRole('button', { name: 'What the test said: not tested' });
    t.reset();
    const live = {
      value: 3,
      of: 14,
      test: 'failed' as const,
      since: '2026-11-24T10:00:00Z',
      at: '2026-11-30T10:00:00Z',
    };
    shown({ state: 'done', doneBy: 7 }, { state: 'done', testedBy: 'program', test: 'failed', live });
    t.show(<MeasureSheet id="1.train" />);
    await screen.findByText(/◆ reads the program: 3 of 14/);
    expect(screen.queryByRole('button', { name: /^What the test said/ })).toBeNull();
  });

  it('is found among all by owner, and alone where it needs a hand', async () => {
    answer();
    t.answers['GET /api/obligations/measures'] = {
      cycles: [{ id: 1, name: 'group' }],
      measures: [
        { ...measure('Late', { due: '2020-01-01', owner: 7 }), cycle: 'group' },
        { ...measure('Calm'), cycle: 'group' },
      ],
    };
    t.show(<MeasuresSheet />);
    await screen.findByText('2 measures');
    await userEvent.type(screen.getByLabelText('Narrow by name, owner, cycle or state'), 'osei');
    await screen.findByText('1 measure');
    screen.getByRole('link', { name: 'Late' });
  });

  it('has evidence with its digest, marked where it is past its day', async () => {
    const one = {
      id: 4,
      measure: 'train',
      name: 'list.pdf',
      hash: 'ab'.repeat(32),
      size: 10,
      link: null,
      until: '2020-01-01',
    };
    t.show(
      <EvidenceList id="1.train" evidence={[{ ...one, addedAt: '2026-01-01T10:00:00Z', addedBy: 'Osei' }]} />,
    );
    screen.getByText('◆ 1 Jan 2020');
    expect(screen.getByRole('link', { name: 'list.pdf' }).getAttribute('href')).toBe(
      '/api/obligations/measures/1.train/evidence/4',
    );
    await userEvent.click(screen.getByRole('button', { name: 'Take “list.pdf” out' }));
    expect(t.sent().at(-1)).toMatchObject({ method: 'DELETE' });
  });
});
