// @vitest-environment jsdom
import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { AUDITOR, Scrolled, sheetTest } from '../../../tests/sheet.tsx';
import { builtIn } from '../../core/accounts/roles/held-role.ts';
import { firstHandlingRule } from '../../core/protection/handling/handling-rule.ts';
import type { Mends } from '../../core/protection/handling/mend.ts';
import type { ListedAlert } from '../../server/protection/alerts/alerts.ts';
import type { KeptEvidence } from '../../server/protection/evidence/evidence.ts';
import type { ListedLookout } from '../../server/protection/lookouts/lookouts.ts';
import type { LookoutOutlook } from '../../server/protection/lookouts/tune-lookout.ts';
import type { UseOfRules } from '../../server/protection/use/use-of-rules.ts';
import type { ViewRuleOutlook } from '../../server/protection/view/view-outlook.ts';
import { AlertSheet } from './alerts/AlertSheet.tsx';
import { AlertsSheet } from './alerts/AlertsSheet.tsx';
import type { ViewedAlert } from './alerts/use-alerts.ts';
import { EvidenceSheet } from './evidence/EvidenceSheet.tsx';
import { MendList } from './handling/MendList.tsx';
import { LookoutsOverview } from './lookouts/LookoutsOverview.tsx';
import { LookoutSoundings } from './lookouts/LookoutSoundings.tsx';
import { AskedSheet } from './questions/AskedSheet.tsx';
import { UseSheet } from './use/UseSheet.tsx';
import { ViewSoundings } from './view/ViewSoundings.tsx';

const test = sheetTest('/protection/alerts/12');
const HANDLER = { ...AUDITOR, id: 3, roles: [builtIn('request handler')] };
const AT = '2026-11-26T14:02:00.000Z';
const NAMES = { people: [], deviceGroups: [], named: [], accounts: [], languages: { en: 'English' } };
const names = () => {
  test.answers['GET /api/protection/handling/names'] = NAMES;
  test.answers['GET /api/holdings/lens-names'] = { sources: [], detectors: [], levels: [], levelRules: [] };
};
const LISTED: ListedAlert = {
  ...{ id: 12, lookout: 'stopped-again', byKind: 'lookout', name: 'Stopped again', severity: 'high' },
  ...{ category: 'people stopped', key: 'jonas@line.example', raisedAt: AT, lastAt: AT, acts: 5 },
  ...{ because: '5 within a day; more than 4 raise.', state: 'new', note: '', assignedTo: null },
  ...{ assigned: null, cause: 12 },
};
const ALERT: ViewedAlert = {
  ...{ ...LISTED, version: 2, tellAt: null, before: { raised: 2, setAside: 1 } },
  steps: [{ at: AT, kind: 'raised', by: null, words: LISTED.because }],
  events: [],
  ofOneCause: [{ ...LISTED, id: 13, name: 'Cards again' }],
  assignees: [{ id: 1, name: 'Ines Abara' }],
};

describe('an alert', () => {
  it('says whose it is and why, is looked into, and is solved only with what was done', async () => {
    names();
    test.answers['GET /api/protection/alerts/12'] = ALERT;
    const user = userEvent.setup();
    test.show(<AlertSheet id="12" />);
    await screen.findByText(/5 within a day; more than 4 raise/, { selector: 'p' });
    expect(screen.getByText(/it was raised 2 times for them; 1 were set aside/)).toBeTruthy();
    expect(screen.getByRole('link', { name: /Cards again/ }).getAttribute('href')).toBe(
      '/protection/alerts/13',
    );
    test.answers['POST /api/protection/alerts/12'] = {
      ...ALERT,
      state: 'looked into',
      assigned: 'Ines Abara',
    };
    await user.click(screen.getByRole('button', { name: 'Look into it' }));
    await waitFor(() => expect(screen.queryByRole('button', { name: 'Look into it' })).toBeNull());
    expect(test.sent().at(-1)).toMatchObject({ body: { does: { act: 'look into' } } });
    await user.click(screen.getByRole('button', { name: 'Solved' }));
    await user.type(screen.getByLabelText('What was done about it'), 'Talked to him');
    test.answers['POST /api/protection/alerts/12'] = { ...ALERT, state: 'solved', note: 'Talked to him' };
    await user.click(screen.getByRole('button', { name: 'It is solved' }));
    await screen.findByText(/✓ solved/);
    expect(screen.getByRole('button', { name: 'Open again' })).toBeTruthy();
    expect(screen.queryByRole('button', { name: 'Solved' })).toBeNull();
  });

  it('leads whoever may not see activity nowhere', async () => {
    names();
    test.answers['GET /api/protection/alerts/12'] = ALERT;
    test.show(<AlertSheet id="12" />, HANDLER);
    await screen.findByText(/5 within a day/, { selector: 'p' });
    expect(screen.queryByRole('link', { name: 'jonas' })).toBeNull();
  });

  it('is one of many that are set aside together, with what could not be', async () => {
    test.answers['GET /api/protection/alerts'] = {
      next: null,
      rows: [LISTED, { ...LISTED, id: 14, key: 'bo@line.example' }],
    };
    test.answers['GET /api/protection/alerts/counts'] = {
      ...{ total: 2, open: 2, assignees: [] },
      trends: {
        days: 90,
        byDay: [],
        byLookout: [],
        bySeverity: { low: 0, medium: 0, high: 2 },
        hoursToEnd: null,
      },
    };
    test.answers['GET /api/protection/lookouts'] = [];
    test.answers['POST /api/protection/alerts/many'] = {
      done: 1,
      refused: [{ id: 14, why: 'It is solved already.' }],
    };
    const user = userEvent.setup();
    test.show(<AlertsSheet />);
    await screen.findByText(/2 alerts open/);
    for (const box of (await screen.findAllByRole('checkbox')).slice(1)) await user.click(box);
    await user.click(screen.getByRole('button', { name: 'Set aside' }));
    await user.type(screen.getByLabelText('Why it was none'), 'A drill');
    await user.click(screen.getByRole('button', { name: 'Set it aside' }));
    await waitFor(() =>
      expect(test.sent().at(-1)).toMatchObject({
        body: { ids: [12, 14], act: { act: 'set aside', note: 'A drill' } },
      }),
    );
  });
});

describe('a lookout', () => {
  const OUTLOOK: LookoutOutlook = {
    ...{ acts: 90, raised: 14, days: 30, byDay: [{ day: new Date().toISOString().slice(0, 10), count: 14 }] },
    keys: [
      { key: 'jonas@line.example', n: 9 },
      { key: 'device 7', n: 5 },
    ],
    shown: [],
    others: [{ count: 10, raised: 2 }],
    blind: [{ kind: 'mail', kept: 0, needs: 1 }],
  };
  const answer = () => {
    test.answers['GET /api/rules/lookout/3'] = { revision: 2, content: {}, stage: { state: 'draft' } };
    test.answers['GET /api/protection/lookouts/3/outlook'] = OUTLOOK;
    test.answers['GET /api/protection/lookouts'] = [];
  };

  it('tells how often it would have raised and on whom, and offers to keep what it is blind to', async () => {
    answer();
    test.answers['PUT /api/protection/activity/kept'] = { done: true };
    const user = userEvent.setup();
    test.show(<LookoutSoundings id="3" />);
    await screen.findByText('raised in 30 days');
    expect(screen.getByText(/9 of them on/).textContent).toBe('9 of them on jonas.');
    expect(screen.getByRole('row', { name: /more than 10 times/ }).textContent).toContain('2');
    expect(screen.getByText(/is not kept: it sees none of it/, { exact: false })).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Keep it for 30 days' }));
    expect(test.sent()).toMatchObject([{ body: { kind: 'mail', days: 30, saw: 0 } }]);
  });

  it('is switched off with others, and not by whoever only looks into alerts', async () => {
    const row: ListedLookout = {
      ...{ id: 'stopped-again', name: 'Stopped again', stage: { state: 'in force', version: 1, since: AT } },
      ...{ severity: 'high', category: 'people stopped', builtIn: true, open: 1, raised: 4, setAside: 2 },
    };
    test.answers['GET /api/protection/lookouts'] = [row, { ...row, id: '2', name: 'Own', builtIn: false }];
    test.answers['POST /api/protection/lookouts/many'] = { moved: 2, refused: [] };
    const user = userEvent.setup();
    test.show(<LookoutsOverview />);
    await screen.findByText(/2 of 2 are on/);
    for (const box of (await screen.findAllByRole('checkbox')).slice(1)) await user.click(box);
    await user.click(screen.getByRole('button', { name: 'Switch off' }));
    await waitFor(() =>
      expect(test.sent()).toMatchObject([{ body: { ids: ['stopped-again', '2'], act: 'retire' } }]),
    );
    test.reset();
    test.show(<LookoutsOverview />, HANDLER);
    await screen.findByText(/2 of 2 are on/);
    expect(within(screen.getByRole('table', { name: 'Lookouts' })).queryByRole('checkbox')).toBeNull();
    expect(screen.queryByRole('button', { name: 'Webhooks' })).toBeNull();
  });
});

describe('what is kept of data in motion', () => {
  const ROW: KeptEvidence = {
    ...{ id: 4, what: 'quarantine', eventAt: AT, event: 'ab', device: 7, person: 'jonas@line.example' },
    ...{
      rule: '1',
      ruleName: 'Lists',
      name: 'list.xlsx',
      size: 900,
      state: 'kept',
      keptAt: AT,
      keepUntil: AT,
      openers: [],
    },
  };
  it('is opened, given back and deleted with a reason; a refusal stands by its field', async () => {
    test.answers['GET /api/protection/handling'] = [];
    test.answers['GET /api/protection/evidence'] = {
      next: null,
      total: 2,
      rows: [ROW, { ...ROW, id: 5, what: 'copy', name: '' }],
    };
    const user = userEvent.setup();
    test.show(
      <Scrolled>
        <EvidenceSheet />
      </Scrolled>,
    );
    await screen.findByText(/2 copies and files/);
    await user.click(await screen.findByRole('button', { name: 'Give back list.xlsx' }));
    expect(screen.queryByRole('button', { name: 'Give back text' })).toBeNull();
    test.answers['PUT /api/protection/evidence/4'] = test.refused('Some of this cannot be taken as it is.', [
      { field: 'reason', message: 'Say why.' },
    ]);
    await user.click(screen.getByRole('button', { name: 'Give it back' }));
    await screen.findByText(/Say why\./);
    test.answers['PUT /api/protection/evidence/4'] = { done: true };
    await user.type(screen.getByLabelText(/^Why; it stands in the ledger/), 'His own list');
    await user.click(screen.getByRole('button', { name: 'Give it back' }));
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
    expect(test.sent().at(-1)).toMatchObject({ body: { reason: 'His own list' } });
    await user.click(screen.getByRole('button', { name: 'Delete list.xlsx' }));
    expect(screen.getByText('list.xlsx is lost; its event stays.')).toBeTruthy();
  });

  it('is not shown to whoever may not open it', () => {
    test.show(<EvidenceSheet />, AUDITOR);
    expect(screen.getByText(/does not include opening/)).toBeTruthy();
  });
});

it('what people asked is answered with words that they read', async () => {
  names();
  test.answers['GET /api/protection/questions'] = [
    {
      ...{
        id: 8,
        at: AT,
        eventId: 'ab',
        device: 7,
        person: 'jonas@line.example',
        rule: '1',
        ruleName: 'Cards',
      },
      ...{
        words: 'May I?',
        askedAt: AT,
        allowed: null,
        answer: '',
        until: null,
        answeredBy: null,
        answeredAt: null,
      },
    },
  ];
  test.answers['POST /api/protection/questions/8'] = { done: true };
  const user = userEvent.setup();
  test.show(<AskedSheet />);
  await screen.findByText('“May I?”');
  await user.click(screen.getByRole('button', { name: 'No' }));
  await user.type(screen.getByLabelText(/^Why not/), 'Use the payment page');
  await user.click(screen.getByRole('button', { name: 'Say no' }));
  await waitFor(() =>
    expect(test.sent()).toMatchObject([{ body: { answer: { is: 'no', words: 'Use the payment page' } } }]),
  );
});

it('a rule is mended in one act, with what that would come to', async () => {
  names();
  const content = firstHandlingRule('Lists', { mail: 'ask' });
  const mended = { ...content, but: ['group:Treasury'] };
  test.answers['GET /api/protection/handling/2/mends'] = {
    ...{ confronted: 40, falseAlarms: 6 },
    mends: [{ step: { does: 'leave alone', group: 'group:Treasury' }, content: mended, avoided: 5, lost: 1 }],
  } satisfies Mends;
  const set: unknown[] = [];
  const user = userEvent.setup();
  test.show(<MendList id="2" revision={1} content={content} set={(c) => set.push(c)} />);
  const line = await screen.findByRole('listitem');
  expect(line.textContent).toContain(
    'Leave Treasury alone: 5 of 6 false alarms fewer, and 1 of 34 right ones let go',
  );
  await user.click(within(line).getByRole('button'));
  expect(set).toEqual([mended]);
});

it('what a rule about keeping would blind is told, and which rule wins', async () => {
  test.answers['GET /api/rules/view%20rule/2'] = { revision: 1, content: {}, stage: { state: 'draft' } };
  test.answers['GET /api/protection/view/2/outlook'] = {
    ...{ held: 90, longer: 0, shorter: 0, notKept: 90, spanDays: 30, names: { 1: 'Two years' } },
    overlaps: [{ id: '1', acts: 3, wins: 'other' }],
    blinded: [{ id: 'more-to-drives', name: 'More to drives', acts: 90, needs: 31 }],
  } satisfies ViewRuleOutlook;
  test.show(<ViewSoundings id="2" />);
  await screen.findByText('kept no more');
  const lines = screen.getAllByRole('listitem').map((l) => l.textContent);
  expect(lines).toEqual([
    '◆ More to drives would miss 90 acts: it looks back 31 days',
    'Two years, 3 acts: that one wins, which keeps them longer',
  ]);
});

it('how rules are met opens to its acts, and tells few people together', async () => {
  const counts = {
    held: 9,
    recorded: 0,
    asked: 5,
    stopped: 4,
    wentOn: 3,
    turnedBack: 1,
    askedOfficer: 0,
    falseAlarms: 1,
  };
  const all = { ...counts, right: { share: 8 / 9, low: 0.56, high: 0.98 } };
  test.answers['GET /api/protection/handling'] = [];
  test.answers['GET /api/protection/use'] = {
    ...{ all, days: 30, byDay: [], byRule: [{ name: '1', ...all }], byChannel: [], byAct: [], byFormat: [] },
    ...{ byUnit: [], reasons: [{ words: 'For the port', n: 3 }], otherReasons: 2 },
  } satisfies UseOfRules;
  test.show(<UseSheet />);
  const stopped = await screen.findByRole('link', { name: /4\s*stopped/ });
  expect(stopped.getAttribute('href')).toMatch(/outcome=stop/);
  expect(screen.getByText('Too few people to be told without telling who.')).toBeTruthy();
  expect(screen.getByRole('row', { name: /others, each given by fewer than three/ }).textContent).toContain(
    '2',
  );
});
