// @vitest-environment jsdom
import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { AUDITOR, sheetTest } from '../../../tests/sheet.tsx';
import type { HandlingOutlook } from '../../server/protection/handling/handling-outlook.ts';
import { EventSoundings } from './activity/EventSoundings.tsx';
import { DevicesSheet } from './devices/DevicesSheet.tsx';
import { HandlingSoundings } from './handling/HandlingSoundings.tsx';
import { ReplayTable } from './handling/ReplayTable.tsx';

const test = sheetTest('/protection/handling/2');
const NAMES = { people: [], deviceGroups: [], named: [], languages: { en: 'English' } };
const OUTLOOK: HandlingOutlook = {
  ...{ acts: 2208, record: 0, ask: 41, stop: 0, people: 17, falseAlarms: 3, confronted: 41, days: 30 },
  right: { share: 38 / 41, low: 0.806, high: 0.975 },
  byDay: [{ day: new Date().toISOString().slice(0, 10), acts: 41 }],
  byChannel: [{ channel: 'removable drive', acts: 41 }],
  byUnit: [
    { unit: 'Port clerks', people: 31, acts: 22 },
    { unit: '', people: 9, acts: 19 },
  ],
  against: { gained: 0, lost: 26, other: 0 },
  shown: [
    {
      ...{
        id: 'ab',
        at: '2026-11-26T14:02:00.000Z',
        person: 'jonas@line.example',
        channel: 'removable drive',
      },
      ...{
        item: 'manifest.xlsx',
        found: [{ detector: 'person-name', matches: 318 }],
        towards: ['Noname 8F21'],
      },
      ...{ wants: undefined, outcome: 'go', change: 'gone', answer: 'false alarm' },
    },
  ],
  ...{ unknownToDevices: [], inStep: 398, devices: 402 },
};
const answer = () => {
  test.answers['GET /api/rules/handling%20rule/2'] = { revision: 3, content: {}, stage: { state: 'draft' } };
  test.answers['GET /api/protection/handling/2/outlook'] = OUTLOOK;
  test.answers['GET /api/protection/handling/names'] = NAMES;
  test.answers['GET /api/holdings/lens-names'] = { sources: [], detectors: [], levels: [], levelRules: [] };
};

describe('the soundings of a handling rule', () => {
  it('tell how often, to whom, what changes, how rightly, and which devices would not know it', async () => {
    answer();
    test.show(<HandlingSoundings id="2" />);
    await screen.findByText('41');
    expect(screen.getByText('Of 2,208 acts on these ways that were told.')).toBeTruthy();
    expect(screen.getByText('0 new, −26 no more, 0 otherwise.')).toBeTruthy();
    const who = within(screen.getByRole('table', { name: 'Who, most often' })).getAllByRole('row');
    expect(who.map((r) => r.textContent)).toEqual([
      'Port clerks, 31 people22',
      'other units together, 9 people19',
    ]);
    expect(screen.getByText(/38 of 41 at which somebody was asked or stopped, 92\.7%/)).toBeTruthy();
    expect(screen.getByRole('link', { name: '4 would not know it' }).getAttribute('href')).toContain(
      'behind',
    );
  });

  it('are read as a table, and are not told to whom activity is not shown', async () => {
    answer();
    const user = userEvent.setup();
    test.show(<HandlingSoundings id="2" />);
    await user.click(await screen.findByText('Read as a table'));
    expect(screen.getByRole('row', { name: /today\s*41/i })).toBeTruthy();
    test.reset();
    const { container } = test.show(<HandlingSoundings id="2" />, AUDITOR);
    expect(container.textContent).toBe('');
  });
});

describe('what was done', () => {
  it('tells what was decided then, by what, and what the rules of now say', async () => {
    test.answers['GET /api/protection/handling/names'] = NAMES;
    test.answers['GET /api/protection/activity/ab'] = {
      event: {
        ...{ id: 'ab', at: '2026-11-26T14:02:00.000Z', kind: 'device', person: 'jonas@line.example' },
        ...{
          act: 'paste',
          channel: 'web form',
          towards: ['https://shop.example/'],
          program: '',
          network: '',
        },
        item: { name: '', format: 'text', size: 0, level: null, document: null, people: 0, origin: '' },
        findings: [{ detector: 'payment-card', matches: 4, confidence: 0.97 }],
        ...{ outcome: 'ask', answer: 'went on', reason: 'Only a test' },
        rules: [
          { rule: '1', version: 2, wants: 'ask' },
          { rule: '9', version: 1, wants: 'record' },
        ],
        counted: [{ rule: '5', version: 1, wants: 'stop' }],
      },
      device: 7,
      now: {
        ...{ outcome: 'stop', by: '1' },
        weighed: [
          { rule: '1', version: 3, wants: 'stop', failed: undefined, towards: ['https://shop.example/'] },
          { rule: '9', version: 1, wants: undefined, failed: 'data', towards: [] },
          { rule: '5', version: 1, wants: undefined, failed: 'channel', towards: [] },
        ],
      },
      rules: { 1: 'Cards into web forms', 9: 'Lists' },
    };
    test.show(<EventSoundings at="2026-11-26T14:02:00.000Z" id="ab" />);
    await screen.findByText('asked for a reason');
    expect(screen.getByText(/went on: “Only a test”/)).toBeTruthy();
    expect(screen.getByText('Beside it held Lists (recorded).')).toBeTruthy();
    expect(screen.getByText('Counted by a rehearsal, which nobody noticed: rule 5 (stopped).')).toBeTruthy();
    const now = screen.getAllByRole('listitem').map((l) => l.textContent);
    expect(now).toContain('✓ Cards into web forms: stopped towards https://shop.example/');
    expect(now).toContain('○ Lists: not for what it has');
    expect(now.join()).not.toContain('rule 5');
  });

  it('would have been is told row by row, with what changed and what they said', async () => {
    answer();
    test.show(<ReplayTable id="2" revision={3} />);
    const row = await screen.findByRole('row', { name: /manifest\.xlsx/ });
    expect(row.textContent).toContain('let go · no more');
    expect(row.textContent).toContain('false alarm, they said');
  });
});

it('nobody is offered to let devices in who may not', async () => {
  test.answers['GET /api/protection/devices/groups'] = [{ id: '1', name: 'On board', devices: 1 }];
  test.answers['GET /api/protection/devices'] = { next: null, total: 0, newest: 4, rows: [] };
  test.show(<DevicesSheet />, AUDITOR);
  await screen.findByText('No device was let in yet');
  expect(screen.queryByRole('button', { name: /Let devices in/ })).toBeNull();
  test.reset();
  test.show(<DevicesSheet />);
  await screen.findByRole('button', { name: /Let devices in/ });
});
