// @vitest-environment jsdom
import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { AUDITOR, OFFICER, sheetTest } from '../../../tests/sheet.tsx';
import { authorityLetter, peopleLetter } from '../../core/cases/incidents/incident-letter.ts';
import { deadlinesOf } from '../../core/cases/incidents/deadlines.ts';
import { proposedSeverity, severityOf } from '../../core/cases/incidents/severity.ts';
import { NewIncident } from '../../core/cases/incidents/incident.ts';
import { IncidentSheet } from './incidents/IncidentSheet.tsx';
import { IncidentSoundings } from './incidents/IncidentSoundings.tsx';
import { IncidentsSheet } from './incidents/IncidentsSheet.tsx';
import { NewIncidentDialog } from './incidents/NewIncidentDialog.tsx';
import type { ListedIncident, ViewedIncident } from './incidents/use-incidents.ts';

const test = sheetTest('/cases/incidents/4');
const KNOWN = '2026-11-27T16:30:00.000Z';
const FOUND = [{ detector: 'passport', name: 'Passport number', category: 'travel', items: 2, matches: 318 }];
const INPUT = proposedSeverity('lost device', FOUND);
const TOLD = {
  ...{
    organisation: 'Harbour Line',
    number: 'I-4',
    happened: 'A laptop was left.',
    when: '',
    known: '27 Nov 2026',
    people: '318',
  },
  ...{
    records: '318',
    data: ['Passport number'],
    consequences: '',
    measures: [],
    contact: 'p@line.example',
    late: '',
  },
};
const INCIDENT: ViewedIncident = {
  ...{ id: 4, knownAt: KNOWN, nis2: false, hipaa: false, reckonedAt: KNOWN, severityInput: INPUT },
  incident: NewIncident.parse({
    kind: 'lost device',
    title: '<b>Laptop</b> left',
    knownAt: KNOWN,
    regions: ['DK'],
    touched: [{ what: 'device', id: 9 }],
  }),
  reckoned: {
    items: 2,
    people: null,
    atMost: 318,
    error: 0,
    data: FOUND,
    listed: [],
    reach: [],
    unknown: [],
  },
  severity: severityOf(INPUT, 318),
  ...{ proposal: { authority: 'tell', people: 'do not tell', why: 'Because.' }, decision: null },
  deadlines: deadlinesOf({ knownAt: KNOWN, regions: ['DK'], people: 318, nis2: false, hipaa: false }).map(
    (d) => ({ ...d, toldAt: null, unwanted: false }),
  ),
  next: deadlinesOf({ knownAt: KNOWN, regions: ['DK'], people: 318, nis2: false, hipaa: false })[0] ?? null,
  needs: [{ step: 'decided', words: 'decide who is told', wrong: false }],
  words: { happened: 'A laptop was left.', consequences: '', contact: 'p@line.example', late: '' },
  letters: { authority: authorityLetter(TOLD), people: peopleLetter(TOLD, 'en') },
  ...{
    measures: [],
    evidence: [],
    steps: [],
    handlers: [{ id: 1, name: 'Ines Abara' }],
    handler: null,
    closedAt: null,
    noBreach: null,
  },
  ...{
    now: '2026-11-28T16:30:00.000Z',
    devices: [{ id: 9, name: 'Laptop 9', person: 'j@x.example' }],
    sources: [],
  },
};
const show = (more: Partial<ViewedIncident> = {}) => {
  test.answers['GET /api/cases/incidents/4'] = { ...INCIDENT, ...more };
};
const posted = () =>
  test
    .sent()
    .filter((a) => a.method === 'POST')
    .at(-1)?.body;

describe('an incident', () => {
  it('opens with what runs out when, and shows the sum by which it is grave', async () => {
    show();
    test.show(<IncidentSheet id="4" />, OFFICER);
    await screen.findByText(/2 days left to tell the authority: decide who is told/);
    expect(screen.getByText(/It touched the device Laptop 9; the people live in Denmark/)).toBeTruthy();
    expect(screen.getByText('up to 318 people, in 2 items.')).toBeTruthy();
    const sum = within(screen.getByRole('table', { name: 'The sum' }));
    expect(sum.getByText(/behavioural data/)).toBeTruthy();
    expect(sum.getByText(INCIDENT.severity?.score.toFixed(2) ?? '?')).toBeTruthy();
    expect(screen.getByRole('heading', { level: 1 }).textContent).toContain('<b>Laptop</b> left');
  });

  it('is decided with a reason, and agreed to by somebody else alone', async () => {
    show();
    const user = userEvent.setup();
    test.show(<IncidentSheet id="4" />, OFFICER);
    await user.click(await screen.findByRole('button', { name: 'Decide who is told' }));
    test.answers['POST /api/cases/incidents/4'] = INCIDENT;
    const decision = {
      authority: 'tell' as const,
      people: 'do not tell' as const,
      reason: 'Because.',
      by: 1,
      agreedBy: null,
      byName: 'Ines Abara',
      agreedName: null,
    };
    show({ decision: { ...decision, mine: true } });
    await user.click(screen.getByRole('button', { name: /Decide it/ }));
    await screen.findByText(/somebody else has to agree/);
    expect(posted()).toEqual({
      does: { act: 'decide', authority: 'tell', people: 'do not tell', reason: 'Because.' },
    });
    expect(screen.queryByRole('button', { name: 'I agree' })).toBeNull();
  });

  it('weighs with the sum as it changes', async () => {
    show();
    const user = userEvent.setup();
    test.show(<IncidentSheet id="4" />, OFFICER);
    await user.click(await screen.findByRole('button', { name: 'Weigh it again' }));
    await screen.findByRole('button', { name: 'Keep it: medium, 2.50' });
    await user.click(screen.getByRole('checkbox', { name: /With intent/ }));
    await screen.findByRole('button', { name: 'Keep it: high, 3.00' });
  });

  it('shows no time to run that two people decided nobody is told by', async () => {
    show({ next: null, deadlines: INCIDENT.deadlines.map((d) => ({ ...d, unwanted: true })), needs: [] });
    test.show(<IncidentSheet id="4" />, OFFICER);
    await screen.findAllByText('decided: not told');
    expect(screen.queryByText(/days? left|hours? left/)).toBeNull();
    expect(screen.queryByRole('button', { name: 'they were told' })).toBeNull();
  });

  it('is set aside with a reason, and opened again', async () => {
    show();
    const user = userEvent.setup();
    test.show(<IncidentSheet id="4" />, OFFICER);
    await user.click(await screen.findByRole('button', { name: 'It is none' }));
    await user.type(screen.getByRole('textbox', { name: /Why/ }), 'It was found at the desk.');
    await user.click(within(screen.getByRole('dialog')).getByRole('button', { name: 'It is none' }));
    await waitFor(() =>
      expect(posted()).toEqual({ does: { act: 'no breach', words: 'It was found at the desk.' } }),
    );
  });

  it('says why it was none, and offers to open it again', async () => {
    show({ closedAt: KNOWN, noBreach: 'It was found at the desk.', next: null, needs: [] });
    test.show(<IncidentSheet id="4" />, OFFICER);
    await screen.findByText(/no breach of personal data: It was found at the desk\./);
    screen.getByRole('button', { name: 'Open again' });
    expect(screen.queryByRole('button', { name: 'Note' })).toBeNull();
  });

  it('keeps all that it touched while one more is named, and takes one out', async () => {
    const touched = [
      { what: 'device' as const, id: 9 },
      { what: 'place' as const, source: 3, path: 'a' },
      { what: 'place' as const, source: 3, path: 'b' },
    ];
    show({ incident: { ...INCIDENT.incident, touched }, sources: [{ id: '3', name: 'Port share' }] });
    const user = userEvent.setup();
    test.show(<IncidentSheet id="4" />, OFFICER);
    await user.click(await screen.findByRole('button', { name: 'Say what it touched' }));
    const dialog = within(screen.getByRole('dialog'));
    expect(dialog.getByRole('list', { name: 'What it touched' }).textContent).toMatch(
      /the device Laptop 9.*Port share\/a.*Port share\/b/,
    );
    expect(dialog.getByRole('button', { name: 'Add the item' })).toHaveProperty('disabled', true);
    await user.type(dialog.getByRole('textbox', { name: /One item/ }), '77');
    await user.click(dialog.getByRole('button', { name: 'Add the item' }));
    await user.click(dialog.getAllByRole('button', { name: 'Take out' })[1] as HTMLElement);
    await user.click(dialog.getByRole('button', { name: 'Keep it' }));
    await waitFor(() =>
      expect(posted()).toMatchObject({
        does: { touched: [touched[0], touched[2], { what: 'item', id: 77 }] },
      }),
    );
  });

  it('lets an auditor do nothing', async () => {
    show();
    test.show(<IncidentSheet id="4" />, AUDITOR);
    await screen.findAllByText(/2 days left/);
    for (const name of ['Note', 'Weigh it again', 'Decide', 'Word them'])
      expect(screen.queryByRole('button', { name })).toBeNull();
  });

  it('says in its soundings what is missing', async () => {
    show({
      now: '2026-12-01T16:30:00.000Z',
      needs: [{ step: 'told', words: 'tell the authority', wrong: true }],
    });
    test.show(<IncidentSoundings id="4" />, OFFICER);
    await screen.findByText('hours late');
    expect(screen.getByText('◆ tell the authority')).toBeTruthy();
  });
});

describe('the register', () => {
  it('says that nothing is known, and what to do first', async () => {
    test.answers['GET /api/cases/incidents'] = [] satisfies readonly ListedIncident[];
    test.show(<IncidentsSheet />, OFFICER);
    await screen.findByText('Nothing went wrong that is known');
  });

  it('takes one in with its time, and names what is wrong', async () => {
    test.answers['POST /api/cases/incidents'] = { id: 9 };
    const user = userEvent.setup();
    test.show(<NewIncidentDialog />, OFFICER);
    await user.type(await screen.findByLabelText('In a few words'), 'Laptop left');
    await user.click(screen.getByRole('button', { name: 'Take it in' }));
    await waitFor(() =>
      expect(posted()).toMatchObject({
        incident: { kind: 'lost device', title: 'Laptop left', happenedAt: null },
      }),
    );
  });
});
