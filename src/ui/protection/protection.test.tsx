// @vitest-environment jsdom
import { QueryClientProvider } from '@tanstack/react-query';
import { cleanup, render, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ReactNode } from 'react';
import { afterEach, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import { standInForLayout } from '../../../tests/no-layout.ts';
import { standInForServer, type StandInServer } from '../../../tests/stand-in-server.ts';
import { builtIn } from '../../core/accounts/roles/held-role.ts';
import type { Account } from '../../core/accounts/authority.ts';
import { newLevel, type LevelContent } from '../../core/protection/levels/level-content.ts';
import type { LevelOutlook, RuleCounts } from '../../server/protection/rules/level-outlook.ts';
import { AccountContext } from '../desk/account-context.ts';
import { queryClient } from '../desk/changed.ts';
import { ItemLevel } from './levels/ItemLevel.tsx';
import { LevelPreview } from './levels/LevelPreview.tsx';
import { LevelRegister } from './levels/LevelRegister.tsx';
import { LevelSheet } from './levels/LevelSheet.tsx';
import { LevelRulesSheet } from './rules/LevelRulesSheet.tsx';
import { LevelRuleSoundings } from './rules/LevelRuleSoundings.tsx';
import { LevelRunSheet } from './runs/LevelRunSheet.tsx';
import { NewLevelRun } from './runs/NewLevelRun.tsx';

const OFFICER: Account = {
  id: 1,
  email: 'i@x.example',
  name: 'Ines Abara',
  title: '',
  roles: [builtIn('officer')],
};
const AUDITOR: Account = { ...OFFICER, id: 2, roles: [builtIn('auditor')] };
const LEVELS = [
  {
    id: 'strict',
    name: 'Strict',
    colour: '#7a1431',
    stage: { state: 'in force', version: 1, since: '2026-11-01T08:00:00Z' },
    items: 3,
  },
  {
    id: 'internal',
    name: 'Internal',
    colour: '#2f5d69',
    stage: { state: 'in force', version: 1, since: '2026-11-01T08:00:00Z' },
    items: 1200,
  },
  { id: 'open', name: 'Open', colour: '#6b7a80', stage: { state: 'draft' }, items: 0 },
];

let { asked, answers }: StandInServer = { asked: [], answers: {} };

beforeAll(standInForLayout);
beforeEach(() => {
  ({ asked, answers } = standInForServer());
  window.history.replaceState(null, '', '/protection');
  answers['GET /api/protection/levels'] = LEVELS;
  answers['GET /api/protection/shelf'] = { levels: 3, rules: 2, runs: 0, unlevelled: 774 };
  answers['GET /api/objects/level%20policy/1'] = {
    content: { byItself: 'never', keepDays: 30 },
    revision: 0,
    editedBy: null,
    editedAt: null,
  };
  answers['GET /api/objects/approval%20policy/level'] = {
    content: { needed: 0 },
    revision: 0,
    editedBy: null,
    editedAt: null,
  };
});
afterEach(() => {
  cleanup();
  queryClient.clear();
  vi.unstubAllGlobals();
});

const shown = (of: ReactNode, account = OFFICER) =>
  render(
    <QueryClientProvider client={queryClient}>
      <AccountContext.Provider value={account}>{of}</AccountContext.Provider>
    </QueryClientProvider>,
  );
const sent = () => asked.filter((a) => a.method !== 'GET');

describe('the levels', () => {
  it('are listed the strongest first, each with what has it; and what has none', async () => {
    shown(<LevelRegister chosen="internal" />);
    await screen.findByText('1,200 items');
    const rows = screen.getAllByRole('listitem').map((r) => r.textContent);
    expect(rows[0]).toContain('Strict');
    expect(rows[2]).toContain('draft');
    const none = screen.getByRole('link', { name: '774 items have no level yet' });
    expect(none.getAttribute('href')).toBe('/holdings?lens=level+unknown');
  });

  const rule = (content: LevelContent) => ({
    key: 'internal',
    object: 'level',
    content,
    revision: 1,
    stage: { state: 'draft' },
    lastVersion: 0,
    editedAt: '2026-11-28T08:00:00Z',
    editedBy: 'Osei Darko',
    changes: [],
    versions: [],
    needed: 0,
    approval: null,
    waiting: '',
  });

  it('are edited as sentences; the page follows at once, and the order is changed from one of them', async () => {
    answers['GET /api/rules/level/internal'] = rule(newLevel('Internal'));
    answers['PUT /api/rules/level/internal'] = { revision: 2 };
    shown(<LevelSheet id="internal" />);
    await screen.findByText(/Above Open, below Strict/);
    expect(screen.getByRole('img', { name: 'Document with at the foot “Internal”' })).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: /^Top: nothing/ }));
    await userEvent.type(
      within(screen.getByRole('dialog', { name: 'Top' })).getByRole('textbox'),
      '{{level} of the line{Enter}',
    );
    expect(screen.getByRole('img', { name: /at the top “Internal of the line”/ })).toBeTruthy();
    expect(screen.getByRole('button', { name: /^Top: size/ })).toBeTruthy();
    await waitFor(() =>
      expect(sent().at(-1)).toMatchObject({
        method: 'PUT',
        body: { content: { top: { text: '{level} of the line' } } },
      }),
    );
    await userEvent.click(screen.getByRole('button', { name: 'Make it stronger' }));
    await waitFor(() =>
      expect(sent().at(-1)).toEqual({
        method: 'POST',
        path: '/api/protection/levels/order',
        body: { strongestFirst: ['internal', 'strict', 'open'] },
      }),
    );
  });

  it('are only read by who may not change them', async () => {
    answers['GET /api/rules/level/internal'] = rule(newLevel('Internal'));
    shown(<LevelSheet id="internal" />, AUDITOR);
    await screen.findByText(/Above Open/);
    expect(screen.queryByRole('button', { name: /stronger|Try it|Put it in force|^Top/ })).toBeNull();
  });

  it('are seen on a sheet and on slides as those carry them', async () => {
    const content = {
      ...newLevel('Strict'),
      across: { text: '{level}', size: 60, angle: 40, colour: '#e6c6cf' },
    };
    shown(
      <LevelPreview
        content={{ ...content, top: { ...content.top, text: 'A very long name '.repeat(12) } }}
      />,
    );
    expect(screen.getByRole('img', { name: /across it “Strict”/ })).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Sheet' }));
    expect(screen.getByRole('img', { name: /^Sheet/ }).getAttribute('aria-label')).not.toContain('across');
    await userEvent.click(screen.getByRole('button', { name: 'Slides' }));
    expect(screen.getByRole('img', { name: /^Slides .*across it “Strict”/ })).toBeTruthy();
  });
});

const counts = (more: Partial<RuleCounts>): RuleCounts => ({
  ...{ id: '1', name: 'Everything', level: 'Internal' },
  ...{ holds: 0, set: 0, raised: 0, lowered: 0, stands: 0, beaten: 0, asks: false, proposed: 0 },
  ...more,
});
const outlook = (more: Partial<LevelOutlook>): LevelOutlook => ({
  ...{
    rules: [],
    takenOff: 0,
    lost: 0,
    changes: 0,
    raisedFrom: [],
    bySource: [],
    stamped: 0,
    noted: [],
    sample: [],
  },
  ...more,
});

describe('level rules', () => {
  it('are weighed against each other, with what is still to do and what can never win', async () => {
    answers['GET /api/protection/outlook'] = outlook({
      rules: [
        counts({ id: '2', name: 'Cards', level: 'Strict', holds: 12, set: 2, raised: 3 }),
        counts({ holds: 806, beaten: 324, set: 482, hopeless: 'Cards' }),
      ],
      changes: 487,
      lost: 1,
    });
    shown(<LevelRulesSheet />);
    await screen.findByText('487 items have another level than the rules in force say');
    const row = screen.getByRole('row', { name: /^Everything/ });
    expect(
      within(row)
        .getAllByRole('cell')
        .map((c) => c.textContent),
    ).toEqual(['Everything◆ Never wins: “Cards” is stronger.', 'Internal', '806', '324', '0', '482']);
    expect(screen.getByText(/1 document has lost the marking, or says a weaker level/)).toBeTruthy();
    await userEvent.click(await screen.findByRole('button', { name: /^When levels are set/ }));
    await userEvent.click(screen.getByRole('option', { name: /after each survey/ }));
    await waitFor(() =>
      expect(sent().at(-1)).toMatchObject({
        method: 'PUT',
        body: { content: { byItself: 'after each survey' } },
      }),
    );
  });

  it('say so where all is done, and what to do first where there is none', async () => {
    answers['GET /api/protection/outlook'] = outlook({ rules: [counts({ holds: 4 })] });
    const { unmount } = shown(<LevelRulesSheet />);
    await screen.findByText('✓ Every item has the level that the rules in force say');
    expect(screen.queryByRole('button', { name: /Set levels backwards/ })).toBeNull();
    unmount();
    queryClient.clear();
    answers['GET /api/protection/outlook'] = outlook({});
    shown(<LevelRulesSheet />);
    await screen.findByText('No rule sets a level');
  });

  it('tell what one would do, where, and why of some items', async () => {
    answers['GET /api/rules/level%20rule/2'] = { revision: 3 };
    answers['GET /api/protection/outlook'] = outlook({
      rules: [counts({ id: '2', name: 'Cards', holds: 9, set: 2, raised: 3, stands: 1, beaten: 4 })],
      changes: 5,
      raisedFrom: [{ level: 'Internal', count: 3 }],
      bySource: [{ id: '3', name: 'Port share', count: 5 }],
      stamped: 1,
      noted: [{ format: 'mail', count: 4 }],
      sample: [
        { id: 7, name: 'manifest.xlsx', place: 'Port share', words: ['Strict by “Cards”, because …'] },
      ],
    });
    shown(<LevelRuleSoundings id="2" />);
    await screen.findByText('would be set');
    expect(screen.getByText('raised from Internal')).toBeTruthy();
    expect(screen.getByText(/A stronger rule has 4 of them\. 1 keeps the level somebody chose/)).toBeTruthy();
    expect(
      screen.getByText(/1 document would be stamped\. The others carry no marking, and are noted: 4 mail\./),
    ).toBeTruthy();
    expect(screen.getByRole('link', { name: 'manifest.xlsx' }).getAttribute('href')).toBe(
      '/holdings/items/7',
    );
  });
});

describe('the level of an item', () => {
  const level = (more = {}) => ({
    stands: {
      level: 'strict',
      name: 'Strict',
      since: '2026-11-20T08:00:00Z',
      unstamped: null,
      reason: '',
      by: 'Lotte Bruun',
    },
    why: ['Strict, as somebody chose by hand.'],
    asked: [],
    choices: [
      { id: 'strict', name: 'Strict', lowered: 'with a reason', rank: 3 },
      { id: 'internal', name: 'Internal', lowered: 'with a reason', rank: 2 },
    ],
    ...more,
  });

  it('is told with why, and lowered only with a reason', async () => {
    answers['GET /api/protection/items/7'] = level();
    answers['POST /api/protection/items/7'] = {
      error: 'Lowering it needs a reason.',
      fields: [{ field: 'reason', message: 'Say why it may be lowered.' }],
    };
    shown(<ItemLevel id="7" />);
    await screen.findByText('Strict, as somebody chose by hand.');
    await userEvent.click(screen.getByRole('button', { name: 'Choose its level' }));
    expect(screen.queryByLabelText('Why it may be lowered')).toBeNull();
    await userEvent.click(screen.getByRole('button', { name: /^Level/ }));
    await userEvent.click(screen.getByRole('option', { name: 'Internal' }));
    await userEvent.click(screen.getByRole('button', { name: 'Set it' }));
    await screen.findByText(/Say why it may be lowered/);
    answers['POST /api/protection/items/7'] = { unstamped: null };
    await userEvent.type(screen.getByLabelText(/^Why it may be lowered/), 'Test cards');
    await userEvent.click(screen.getByRole('button', { name: 'Set it' }));
    await waitFor(() => expect(screen.queryByRole('button', { name: 'Set it' })).toBeNull());
    expect(sent().at(-1)?.body).toEqual({ level: 'internal', reason: 'Test cards' });
  });

  it('is only told to who may not set it', async () => {
    answers['GET /api/protection/items/7'] = level({
      stands: null,
      why: ['No rule holds for it, and nobody chose a level.'],
    });
    shown(<ItemLevel id="7" />, AUDITOR);
    await screen.findByText('It has none.');
    expect(screen.queryByRole('button')).toBeNull();
  });
});

describe('a run of levels', () => {
  const run = (more = {}) => ({
    run: {
      id: '9',
      title: 'Set levels',
      state: 'estimated',
      started_at: null,
      ended_at: null,
      error: null,
      outcome: null,
      ...more,
    },
    mode: 'set',
    acts: ['start', 'cancel'],
    keepDays: 30,
    parts: [
      {
        position: 0,
        part: '3',
        words: 'Port share',
        looked: { items: 12, bytes: 9000 },
        items: 4,
        error: null,
        time: { seconds: 3, low: 1, high: 9, measured: 0 },
      },
    ],
    time: { seconds: 3, low: 1, high: 9, measured: 0 },
    rules: [{ id: '1', name: 'Everything', level: 'Internal' }],
    counts: {},
    copies: 0,
    undo: null,
  });

  it('says what it takes before it begins, and begins where somebody says so', async () => {
    answers['GET /api/protection/runs/9'] = run();
    shown(<LevelRunSheet id="9" />);
    await screen.findByText(/12 items in 1 source, about 3 s/);
    await userEvent.click(screen.getByRole('button', { name: 'Set them now' }));
    await waitFor(() =>
      expect(sent()).toEqual([{ method: 'POST', path: '/api/runs/9', body: { act: 'start' } }]),
    );
  });

  it('that is over tells what became of the items, and is undone', async () => {
    answers['GET /api/protection/runs/9'] = {
      ...run({ state: 'done', started_at: '2026-11-29T08:00:00Z', ended_at: '2026-11-29T08:01:00Z' }),
      acts: [],
      counts: { stamped: 9, noted: 2, refused: 1 },
      copies: 9,
    };
    answers['GET /api/runs/9/results'] = { rows: [], next: null };
    shown(<LevelRunSheet id="9" />);
    await screen.findByText('9 stamped · 2 noted, carrying no marking · ◆ 1 could not be stamped');
    await waitFor(() => expect(asked.map((a) => a.path)).toContain('/api/runs/9/results'));
    await userEvent.click(screen.getByRole('button', { name: 'Undo all of it …' }));
    await waitFor(() => expect(sent().at(-1)?.path).toBe('/api/protection/runs/9/undo'));
  });

  it('is begun as a rehearsal by itself; of a rule that is no more than a draft, with it', async () => {
    window.history.replaceState(null, '', '/protection/rules/4?new=run&rule=4');
    answers['GET /api/protection/rules'] = [
      { id: '4', name: 'Cards', level: 'strict', stage: { state: 'draft' } },
    ];
    answers['POST /api/protection/runs'] = { id: '9' };
    shown(<NewLevelRun />);
    await screen.findByText(/as the rules in force and “Cards” would have it/);
    await userEvent.click(screen.getByRole('button', { name: 'Set the levels' }));
    expect(screen.getByText(/Rules that are drafts, or rehearse, set nothing/)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: /^Rehearse/ }));
    await userEvent.click(screen.getByRole('button', { name: 'Estimate what it takes' }));
    await waitFor(() => expect(sent().at(-1)?.body).toEqual({ mode: 'rehearse', rule: '4', keepDays: 30 }));
  });
});
