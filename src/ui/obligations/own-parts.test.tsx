// @vitest-environment jsdom
import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { NEW_ASSESSMENT } from '../../core/obligations/work/assessment-content.ts';
import { PARTS } from '../../core/obligations/readiness/readiness.ts';
import type { AssessmentView, NextView } from '../../server/obligations/assessments/assessment-view.ts';
import type { FrameworkView } from '../../server/obligations/library/library-view.ts';
import { AUDITOR, sheetTest } from '../../../tests/sheet.tsx';
import { AssessmentScopeLine } from './assessments/AssessmentScopeLine.tsx';
import { CycleActs, nextName } from './assessments/CycleActs.tsx';
import { NewerVersion } from './assessments/NewerVersion.tsx';
import { NextTable } from './assessments/NextTable.tsx';
import { OwnFramework } from './library/OwnFramework.tsx';
import { TakeFramework } from './library/TakeFramework.tsx';
import { Comments } from './measures/Comments.tsx';
import { LiveTestSection, thresholdWords } from './measures/LiveTestSection.tsx';
import { FreezeFigure } from './measures/FreezeFigure.tsx';

const t = sheetTest('/obligations');
const PEOPLE = [
  { id: 1, name: 'Ines Abara', able: true },
  { id: 7, name: 'Osei Darko', able: true },
];
const assessment = (content = NEW_ASSESSMENT) => {
  t.answers['GET /api/objects/assessment/3'] = { content, revision: 2 };
  t.answers['GET /api/obligations/systems'] = [
    { id: 4, name: 'Booking' },
    { id: 5, name: 'Payroll' },
  ];
};
const sendsAFile = () => {
  t.answers['POST /api/uploads'] = { id: 12 };
  t.answers['PUT /api/uploads/12/0'] = {};
};
const choose = async (label: RegExp, name: string) =>
  userEvent.upload(screen.getByLabelText(label), new File(['x'], name));

describe('a framework that is taken in', () => {
  const looked = (more: object) => {
    sendsAFile();
    t.answers['POST /api/obligations/library/import/look'] = more;
  };
  const preview = {
    ...{ id: 'crew-code', name: 'Crew code', version: '2026-01-01', controls: 12, ownMeasures: 1, notes: [] },
    ...{ is: 'the same version again', before: 'ab'.repeat(32) },
    differences: [
      {
        control: 'a',
        ref: '1',
        name: 'Lists',
        is: 'changed',
        fields: [{ field: 'risk', before: '4', after: '5' }],
      },
    ],
    measures: [{ measure: 'm', name: 'Shred', is: 'new', fields: [] }],
    running: [{ id: 3, cycle: 'crew, 2026', before: 67.4, after: 61.2 }],
  };

  it('says in words what it changes before it does, and takes just what was looked at', async () => {
    looked({ preview, faults: [], marked: false });
    t.answers['POST /api/obligations/library/import'] = { id: 'crew-code' };
    t.show(<TakeFramework onClose={() => {}} />);
    expect(screen.getByRole('button', { name: 'Take it in' })).toHaveProperty('disabled', true);
    await choose(/Workbook/, 'crew.xlsx');
    await screen.findByText(/◇ changed: 1 Lists/);
    screen.getByText(/\+ new: measure “Shred”/);
    expect(screen.getByText(/Readiness of/).textContent).toBe('◇ Readiness of crew, 2026: 67 → 61');
    await userEvent.click(screen.getByRole('button', { name: 'Take it in' }));
    await waitFor(() =>
      expect(t.sent().at(-1)).toMatchObject({
        path: '/api/obligations/library/import',
        body: { before: preview.before },
      }),
    );
  });

  it('with faults is told of each at its cell, and cannot be taken', async () => {
    const faults = Array.from({ length: 14 }, (_, i) => ({
      at: `Controls G${i + 2}`,
      message: 'It is empty.',
    }));
    looked({ preview: null, faults, marked: true });
    t.show(<TakeFramework onClose={() => {}} />);
    await choose(/Workbook/, 'bad.xlsx');
    await screen.findByText(/14 things cannot be taken/);
    screen.getByText('Controls G2');
    expect(screen.queryByText('Controls G15')).toBeNull();
    screen.getByText('… and 2 more, in the copy.');
    screen.getByRole('button', { name: 'Save a copy with every fault marked' });
    expect(screen.getByRole('button', { name: 'Take it in' })).toHaveProperty('disabled', true);
  });

  it('is taken out only after it was asked, with its file at hand, and stays where it is used', async () => {
    t.answers['POST /api/obligations/library/crew-code/remove'] = t.refused(
      'Crew code is assessed in the cycle crew, 2026.',
      [],
    );
    const framework = { id: 'crew-code', name: 'Crew code', version: '2026-01-01' };
    const view = { framework, versions: ['2026-01-01'], own: { taken: [], extends: null, takes: [] } };
    t.show(<OwnFramework view={view as unknown as FrameworkView} />);
    await userEvent.click(screen.getByRole('button', { name: /Take this version out/ }));
    expect(t.sent()).toEqual([]);
    expect(screen.getByRole('link', { name: 'Save its file' })).toHaveProperty(
      'pathname',
      '/api/obligations/library/crew-code/export',
    );
    await userEvent.click(screen.getByRole('button', { name: 'Take it out' }));
    expect(await screen.findByRole('alert')).toHaveProperty(
      'textContent',
      '◆ Crew code is assessed in the cycle crew, 2026.',
    );
  });
});

describe('what to do next', () => {
  const next = (id: string, more: Partial<NextView> = {}): NextView => ({
    ...{ key: `1.${id}`, id, name: id, hours: 8, whose: 'ours', state: 'planned', owner: null, due: null },
    ...{ testedBy: 'person', test: null, live: null, gain: PARTS, serves: [], families: ['f'] },
    ...more,
  });
  const rows = () => screen.queryAllByRole('link').map((r) => r.textContent);
  const pick = async (filter: RegExp, value: string) => {
    await userEvent.click(screen.getByRole('button', { name: filter }));
    await userEvent.click(await screen.findByRole('option', { name: value }));
  };

  it('is narrowed by owner, day, family and test', async () => {
    t.answers['GET /api/obligations/people'] = PEOPLE;
    t.show(
      <NextTable
        families={[
          { id: 'f', name: 'People' },
          { id: 'g', name: 'Security' },
        ]}
        next={[
          next('Late', { due: '2020-01-01', owner: 7 }),
          next('Far', { due: '2099-01-01', owner: 1, test: 'failed' }),
          next('Secure', { families: ['g'] }),
        ]}
      />,
    );
    await screen.findByText('◆ 1 Jan 2020');
    await pick(/^Owner/, 'Osei Darko');
    expect(rows()).toEqual(['Late']);
    await pick(/^Owner/, 'any owner');
    await pick(/^Due/, 'past its day');
    expect(rows()).toEqual(['Late']);
    await pick(/^Due/, 'any day');
    await pick(/^Family/, 'Security');
    expect(rows()).toEqual(['Secure']);
    await pick(/^Test/, 'test failed');
    screen.getByText('None of these');
    await pick(/^Family/, 'all families');
    expect(rows()).toEqual(['Far']);
  });
});

describe('a cycle', () => {
  it.each([
    ['group, 2026', 'group, 2027'],
    ['crew 2026 to 2027', 'crew 2026 to 2028'],
    ['cruises, US', 'cruises, US, next'],
  ])('after %s is %s', (name, next) => expect(nextName(name)).toBe(next));

  it('is begun again with what still holds', async () => {
    t.answers['POST /api/obligations/cycles/1/copy'] = t.refused('There is a cycle of this name.', [
      { field: 'cycle', message: 'Choose it, or another name.' },
    ]);
    t.show(<CycleActs id={1} name="group, 2026" />);
    await userEvent.click(screen.getByRole('button', { name: /^Acts for/ }));
    await userEvent.click(await screen.findByRole('menuitem', { name: 'Begin the next cycle …' }));
    await userEvent.click(await screen.findByRole('button', { name: 'Begin it' }));
    await screen.findByText(/Choose it, or another name/);
    expect(t.sent().at(-1)?.body).toEqual({ name: 'group, 2027', due: null });
  });

  it('takes a provider’s file, and says of each field what is wrong', async () => {
    sendsAFile();
    t.answers['POST /api/obligations/cycles/1/provider'] = t.refused('It cannot be taken.', [
      { field: 'measures.0.measure', message: 'There is no measure x.' },
    ]);
    t.show(<CycleActs id={1} name="group" />);
    await userEvent.click(screen.getByRole('button', { name: /^Acts for/ }));
    await userEvent.click(await screen.findByRole('menuitem', { name: /provider/ }));
    await choose(/^File/, 'p.json');
    await userEvent.click(screen.getByRole('button', { name: 'Take it in' }));
    await screen.findByText('measures.0.measure');
  });

  it('is nobody’s to begin who may only read', () => {
    t.show(<CycleActs id={1} name="group" />, AUDITOR);
    expect(screen.queryByRole('button')).toBeNull();
  });
});

describe('an assessment', () => {
  it('is about all, or about what is named', async () => {
    assessment({ ...NEW_ASSESSMENT, scope: { units: 'crew offices', systems: [5, 99], providers: '' } });
    t.show(<AssessmentScopeLine id={3} />);
    await screen.findByRole('button', { name: 'Systems: Payroll, one that is gone' });
    screen.getByRole('button', { name: 'Units: crew offices' });
    screen.getByRole('button', { name: 'Providers: all providers' });
  });

  const view = {
    ...{ id: 3, newer: '2026-01-01', newerOn: null, newerTally: null },
    framework: { id: 'ccpa', version: '2023-03-29' },
    tally: { given: PARTS, applicable: 2 * PARTS },
  } as unknown as AssessmentView;

  it('does not take a newer version without a reason, and keeps it', async () => {
    assessment();
    t.answers['GET /api/obligations/library/ccpa/differences'] = { version: '2026-01-01', differences: [] };
    t.answers['PUT /api/objects/assessment/3'] = {};
    t.show(<NewerVersion view={view} />);
    await userEvent.click(await screen.findByRole('button', { name: 'Never …' }));
    expect(screen.getByRole('button', { name: 'Do not take it' })).toHaveProperty('disabled', true);
    await userEvent.type(screen.getByLabelText('Why it is not taken'), 'It ends.');
    await userEvent.click(screen.getByRole('button', { name: 'Do not take it' }));
    await waitFor(() =>
      expect(t.sent().at(-1)?.body).toMatchObject({
        content: { newer: { take: 'never', version: '2026-01-01', reason: 'It ends.' } },
      }),
    );
  });
});

describe('a measure', () => {
  it('is talked about as plain words', async () => {
    t.answers['POST /api/obligations/measures/1.x/comments'] = { id: 2 };
    t.show(
      <Comments id="1.x" comments={[{ id: 1, said: '<b>So</b>', by: 'Osei', at: '2026-11-30T10:00:00Z' }]} />,
    );
    screen.getByText('<b>So</b>');
    await userEvent.type(screen.getByLabelText('Say something'), 'Yes.');
    await userEvent.click(screen.getByRole('button', { name: 'Say it' }));
    await waitFor(() => expect(t.sent().at(-1)?.body).toEqual({ said: 'Yes.' }));
  });

  it('tested by the program says by which figure, up to where it is right, and where its rows are', async () => {
    t.answers['GET /api/figures'] = [
      {
        ...{ id: 'a.b', name: 'Leaks', definition: 'Trackers.', unit: 'tracker', link: '/websites' },
        days: [
          { day: '2026-11-29', value: 3, of: 9 },
          { day: '2026-11-30', value: 1, of: 9 },
        ],
      },
    ];
    t.show(<LiveTestSection test={{ figure: 'a.b', atMost: 0 }} />);
    expect((await screen.findByRole('link', { name: 'Leaks' })).getAttribute('href')).toBe('/websites');
    screen.getByText(/right up to 0\./);
    screen.getByText('Trackers.');
  });

  it.each([
    [{ figure: 'a', atMost: 5 }, 'up to 5'],
    [{ figure: 'a', atLeast: 1 }, 'from 1'],
    [{ figure: 'a', atLeast: 0.9, share: true as const }, 'from 90% of all'],
    [{ figure: 'a', atMost: 0.05, share: true as const }, 'up to 5% of all'],
  ])('of %j is right %s', (test, words) => expect(thresholdWords(test)).toBe(words));

  it('keeps a figure as it shows now', async () => {
    t.answers['GET /api/figures'] = [
      { id: 'a.b', name: 'Leaks', definition: 'Trackers.', days: [{ day: '2026-11-30', value: 3, of: 9 }] },
    ];
    t.answers['POST /e/figure'] = { id: 1 };
    t.show(<FreezeFigure path="/e" onClose={() => {}} />);
    await userEvent.click(screen.getByRole('button', { name: /^Figure/ }));
    await userEvent.click(await screen.findByRole('option', { name: /Leaks/ }));
    await screen.findByText(/It shows 3 of 9/);
    await userEvent.click(screen.getByRole('button', { name: 'Keep it' }));
    await waitFor(() => expect(t.sent().at(-1)?.body).toEqual({ figure: 'a.b', until: null }));
  });
});
