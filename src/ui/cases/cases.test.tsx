// @vitest-environment jsdom
import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { AUDITOR, sheetTest } from '../../../tests/sheet.tsx';
import { builtIn } from '../../core/accounts/roles/held-role.ts';
import { isWeekday, requestClock } from '../../core/cases/requests/law/clock.ts';
import { findLaw } from '../../core/cases/requests/law/laws.ts';
import { NewRequest } from '../../core/cases/requests/request.ts';
import { RequestSheet } from './requests/RequestSheet.tsx';
import { RequestSoundings } from './requests/RequestSoundings.tsx';
import { TasksSheet } from './requests/TasksSheet.tsx';
import { daysUntil, regionWords } from './requests/RequestRegister.tsx';
import type { ViewedItem, ViewedRequest } from './requests/use-requests.ts';

const test = sheetTest('/cases/requests/7');
const HANDLER = { ...AUDITOR, id: 3, roles: [builtIn('request handler')] };
const AT = '2026-11-04T10:00:00.000Z';
const LAW = findLaw('gdpr');
const CLOCK = requestClock({
  ...{ law: LAW, kind: 'access', received: '2026-11-04', pauses: [], extended: null, answered: null },
  ...{ today: '2026-11-28', isWorkingDay: isWeekday },
});
const ITEM: ViewedRequest['items'][number] = {
  ...{
    id: '11',
    origin: 'item',
    sourceId: 1,
    source: 'Care mailbox',
    systemId: 2,
    system: 'Care',
    itemId: '9',
  },
  ...{
    path: '',
    name: '1.eml',
    title: 'Seats',
    format: 'mail',
    changedAt: AT,
    foundBy: ['e-mail'],
    sure: 'certain',
  },
  ...{
    theirs: 'yes',
    bearerHash: '0'.repeat(32),
    covers: 1,
    doubts: 0,
    people: 1,
    rowsTheirs: 0,
    rowsLeft: 0,
  },
  ...{ state: 'to look over', lookedBy: null, lookedAt: null, ground: null, reason: '', problem: '' },
  ...{ changeState: null, fate: null, fateWhy: '', fateArticle: '' },
};
const REQUEST: ViewedRequest = {
  row: {
    ...{ id: 7, kind: 'access', region: 'SE', language: 'sv', way: 'form', site: '', received_at: AT },
    ...{
      received_on: '2026-11-04',
      confirmed_on: '2026-11-04',
      asked_at: AT,
      proof: 'agrees',
      known_by: 'link and questions',
    },
    ...{
      known_at: AT,
      extended_on: null,
      search: 'done',
      searched_at: AT,
      agreed_at: null,
      answered_on: null,
      handler: 3,
    },
    ...{ outcome: null, closed_at: null, due_on: '2026-12-04', version: 4, forget_on: null },
  },
  law: {
    id: 'gdpr',
    name: 'GDPR',
    answerArticle: 'Art. 12(3)',
    rights: LAW.rights,
    pauses: LAW.pauses,
    ...(LAW.extend ? { extend: LAW.extend } : {}),
  },
  request: NewRequest.parse({
    kind: 'access',
    region: 'SE',
    subject: { name: '<b>Maja</b> Holmqvist', emails: ['maja@post.example'] },
  }),
  known: {
    ...NewRequest.parse({
      kind: 'access',
      region: 'SE',
      subject: { name: 'x', emails: ['maja@post.example'], numbers: ['BS482910'] },
    }).subject,
  },
  ...{ clock: CLOCK, pauses: [], today: '2026-11-28', items: [ITEM], tasks: [], package: null, letters: [] },
  facts: {
    ...{
      kind: 'access',
      outcome: null,
      knownBy: 'link',
      identity: 'agrees',
      search: 'done',
      bearers: 1,
      clock: CLOCK,
    },
    ...{ tasks: { open: 0, late: 0, all: 0 }, items: { theirs: 1, ask: 1, toLookOver: 1, unread: 0 } },
    ...{ package: null, changes: null, answered: false, toConfirm: false },
  },
  needs: [{ step: 'looked over', words: '1 item to look over', wrong: false }],
  repetition: { inAYear: 0, sinceLast: null, beyondLaw: false, words: '' },
  bearers: [{ hash: 'ab'.repeat(16), words: '1962-07-21', items: 2 }],
  steps: [{ at: AT, kind: 'came in', by: null, words: 'by the form' }],
  handlers: [{ id: 3, name: 'Lotte Bruun' }],
  ...{ handler: 'Lotte Bruun', proofs: [], others: [], like: { n: 20, median: 17, least: 9, most: 24 } },
};
const TEXT = 'You and Per Alm are at one table.';
const VIEWED: ViewedItem = {
  ...ITEM,
  reading: {
    ...{ text: TEXT, segments: [], own: [{ start: 0, end: 3 }], doubts: [], bearer: '', why: 'by e-mail' },
    covers: [{ start: 8, end: 15, what: 'person-name', ground: 'another person', by: 'engine' }],
  },
};

/** What was posted last. */
const posted = () =>
  test
    .sent()
    .filter((a) => a.method === 'POST')
    .at(-1)?.body;

const show = (request: ViewedRequest = REQUEST) => {
  test.answers['GET /api/cases/requests/7'] = request;
  test.answers['GET /api/cases/requests/7/items/11'] = VIEWED;
};

describe('a request', () => {
  it('opens with how long there is and what comes next, and takes names for what they are', async () => {
    show();
    test.show(<RequestSheet id="7" />, HANDLER);
    await screen.findByText(/6 days left: 1 item to look over/);
    expect(screen.getByText('<b>Maja</b> Holmqvist')).toBeTruthy();
    expect(screen.getByText(/Their own rows tell besides: BS482910/)).toBeTruthy();
    const line = within(screen.getByRole('list', { name: 'Its time' }));
    expect(line.getByText('must be answered')).toBeTruthy();
    expect(line.getByText(/if told by 4 Dec why/)).toBeTruthy();
  });

  it('shows an item beside how the person gets it, and what is covered is shown again by a press', async () => {
    show();
    const user = userEvent.setup();
    test.show(<RequestSheet id="7" />, HANDLER);
    await user.click(await screen.findByRole('button', { name: 'Look over the 1' }));
    const look = await screen.findByRole('region', { name: 'Seats' });
    await within(look).findByRole('img', { name: 'covered' });
    expect(within(look).getAllByText(/Per Alm/)).toHaveLength(1);
    test.answers['POST /api/cases/requests/7/items/11'] = {
      ...VIEWED,
      reading: VIEWED.reading && { ...VIEWED.reading, covers: [] },
    };
    await user.click(within(look).getByRole('button', { name: 'Per Alm' }));
    await waitFor(() => expect(within(look).queryByRole('img', { name: 'covered' })).toBeNull());
    expect(posted()).toEqual({ does: { act: 'uncover', start: 8, end: 15 } });
  });

  it('asks which bearer of a name is meant', async () => {
    show();
    const user = userEvent.setup();
    test.show(<RequestSheet id="7" />, HANDLER);
    await screen.findByText('1962-07-21');
    test.answers['POST /api/cases/requests/7'] = { ...REQUEST, bearers: [] };
    await user.click(screen.getByRole('button', { name: 'It is another' }));
    await waitFor(() => expect(screen.queryByText('1962-07-21')).toBeNull());
    expect(posted()).toEqual({
      does: { act: 'tell apart', bearer: 'ab'.repeat(16), theirs: false },
    });
  });

  it('says what keeps it from being closed, and does not offer to', async () => {
    show({ ...REQUEST, needs: [] });
    const user = userEvent.setup();
    test.show(<RequestSheet id="7" />, HANDLER);
    await user.click(await screen.findByRole('button', { name: 'Close it' }));
    const dialog = await screen.findByRole('dialog');
    expect(within(dialog).getByText(/Nothing is closed without its answer/)).toBeTruthy();
    expect(within(dialog).getByRole('button', { name: 'Close it' }).hasAttribute('disabled')).toBe(true);
  });

  it('shows an auditor all of it, and lets them do nothing', async () => {
    show();
    test.show(<RequestSheet id="7" />, AUDITOR);
    await screen.findByText(/6 days left/);
    for (const name of ['Write', 'Note', 'It is them'])
      expect(screen.queryByRole('button', { name })).toBeNull();
  });

  it('is late in words, and not by colour alone', async () => {
    const late = { ...CLOCK, isLate: true, daysLeft: -1 };
    show({ ...REQUEST, clock: late, facts: { ...REQUEST.facts, clock: late } });
    test.show(<RequestSoundings id="7" />, HANDLER);
    await screen.findByText('day late');
    expect(screen.getByText(/The last 20 like it took 17 days, 9 to 24/)).toBeTruthy();
  });
});

describe('my tasks', () => {
  it('say that nothing waits', async () => {
    test.answers['GET /api/cases/tasks'] = [];
    test.show(<TasksSheet />, HANDLER);
    await screen.findByText(/nothing waits for you/);
  });
});

it('counts days to the end of a day, and names regions', () => {
  expect(daysUntil('2026-11-30', new Date(2026, 10, 28, 23, 59))).toBe(2);
  expect(daysUntil('2026-11-27', new Date(2026, 10, 28, 0, 1))).toBe(-1);
  expect(regionWords('US-CA')).toBe('United States, CA');
  expect(regionWords('SE')).toBe('Sweden');
});
