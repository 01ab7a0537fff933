// @vitest-environment jsdom
import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it } from 'vitest';
import { sheetTest } from '../../../tests/sheet.tsx';
import { todayWeight } from '../../core/desk/today-order.ts';
import type { ListedItem } from '../../server/desk/today-list.ts';
import { Sparkline } from '../parts/Sparkline.tsx';
import { SinceSheet } from './SinceSheet.tsx';
import { startOfDay } from './start-of-day.ts';
import { TodayRegister } from './TodayRegister.tsx';
import { TodaySheet } from './TodaySheet.tsx';
import { TodaySoundings } from './TodaySoundings.tsx';

const test = sheetTest('/today');

const item = (key: string, more: Partial<ListedItem> = {}): ListedItem => ({
  ...{
    kind: 'leak',
    key,
    words: `The ${key}`,
    detail: 'd',
    link: '/websites/x',
    since: '2026-11-20T09:00:00Z',
  },
  ...{ due: null, dismissable: false, part: 'mine', with: null, handedBy: null, putOffUntil: null },
  ...{ mayHandOn: true, act: null, ...todayWeight({ kind: 'leak', due: null }, new Date()) },
  ...more,
});
const serve = (...items: readonly ListedItem[]) => {
  test.answers['GET /api/today'] = items;
  for (const at of [
    'PUT /api/today/put-off',
    'DELETE /api/today/put-off',
    'PUT /api/today/hand-on',
    'DELETE /api/today',
  ])
    test.answers[at] = {};
};
const last = () => test.sent().at(-1);
beforeEach(() => {
  test.answers['GET /api/evidence/boards'] = [];
});

describe('what needs a hand', () => {
  it('is listed with why it stands where it does, and text stays text', async () => {
    serve(item('a', { words: '<i>Two</i> trackers' }), item('b', { part: 'team' }));
    const user = userEvent.setup();
    test.show(<TodaySheet part="mine" />);
    await screen.findByText('<i>Two</i> trackers');
    expect(screen.queryByText('The b')).toBeNull();
    await user.click(screen.getByRole('button', { name: 'Why here: <i>Two</i> trackers' }));
    const sum = within(screen.getByRole('table', { name: 'Why it stands here' }));
    const numbers = sum.getAllByRole('row').map((r) => Number(r.lastElementChild?.textContent));
    expect(numbers.slice(0, -1).reduce((n, m) => n + m, 0)).toBe(numbers.at(-1));
  });

  it('is done in place where one act does it, and says so', async () => {
    const act = { words: 'Look into it', done: 'You look into it.', path: '/api/x/7', body: { does: 'it' } };
    serve(item('a', { act }));
    test.answers['POST /api/x/7'] = {};
    const user = userEvent.setup();
    test.show(<TodaySheet part="mine" />);
    await user.click(await screen.findByRole('button', { name: 'Look into it: The a' }));
    await waitFor(() => expect(last()).toMatchObject({ method: 'POST', body: { does: 'it' } }));
  });

  it('has “Seen to” where all there is to read stands here, and the way there elsewhere', async () => {
    serve(item('a', { dismissable: true, link: '/today' }), item('b', { kind: 'unsorted' }));
    const user = userEvent.setup();
    test.show(<TodaySheet part="mine" />);
    await screen.findByRole('button', { name: 'Sort them: The b' });
    await user.click(screen.getByRole('button', { name: 'Seen to: The a' }));
    await waitFor(() => expect(last()).toMatchObject({ method: 'DELETE', body: { kind: 'leak', key: 'a' } }));
  });

  it('is put off until the beginning of a day here', async () => {
    serve(item('a'));
    const user = userEvent.setup();
    test.show(<TodaySheet part="mine" />);
    await user.click(await screen.findByRole('button', { name: 'More: The a' }));
    await user.click(await screen.findByRole('menuitem', { name: 'Put off until tomorrow' }));
    await waitFor(() =>
      expect(last()?.body).toEqual({ kind: 'leak', key: 'a', until: startOfDay(1).toISOString() }),
    );
  });

  it('stays handed to nobody where nobody else may do it', async () => {
    serve(item('a'));
    test.answers['GET /api/today/people'] = [];
    const user = userEvent.setup();
    test.show(<TodaySheet part="mine" />);
    await user.click(await screen.findByRole('button', { name: 'More: The a' }));
    await user.click(await screen.findByRole('menuitem', { name: 'Hand on …' }));
    await screen.findByText(/Nobody else may do it/);
    expect((screen.getByRole('button', { name: /Hand it on/ }) as HTMLButtonElement).disabled).toBe(true);
  });

  it.each(['mine', 'team', 'put off'] as const)('says so where nothing is %s', async (part) => {
    serve();
    test.show(<TodaySheet part={part} />);
    await screen.findByRole('heading', { level: 2 }).catch(() => screen.findAllByRole('heading'));
    expect(screen.queryByRole('list')).toBeNull();
  });
});

it('what changed names what came, what is done, and what others changed', async () => {
  const past = (words: string) => ({ kind: 'leak', words, link: '/x', at: '2026-11-30T09:00:00Z' });
  test.answers['GET /api/today/visit'] = {
    ...{ since: '2026-11-29T09:00:00Z', isLong: false, came: [past('New one')], ended: [past('Old one')] },
    changed: [{ object: 'detector', words: 'detector', changes: 3, objects: 2 }],
  };
  test.show(<SinceSheet />);
  expect((await screen.findByRole('list', { name: 'Came up' })).textContent).toContain('◆ New one');
  expect(screen.getByRole('list', { name: 'Is done' }).textContent).toContain('✓ Old one');
  screen.getByText('detector: 3 changes, to 2 of them');
});

it('says what was checked, and what was not', async () => {
  serve(item('a'), item('b', { part: 'put off' }));
  test.answers['GET /api/today/visit'] = {
    since: '2026-11-29T09:00:00Z',
    isLong: false,
    came: [],
    ended: [],
    changed: [],
  };
  test.answers['GET /api/today/trends'] = {
    trends: [],
    checked: [
      { one: 'site', many: 'sites', count: 1, lastAt: '2026-12-01T06:00:00Z' },
      { one: 'source', many: 'sources', count: 0, lastAt: null },
    ],
  };
  test.show(<TodayRegister show="mine" />);
  await screen.findByText(/Checked in the last day: 1 site\. Nothing else needs you/);
  screen.getByText(/Not in the last day: sources \(never yet\)/);
  expect((await screen.findByRole('link', { name: /Put off/ })).textContent).toContain('1');
});

it('tells of each kind whether there is more of it than a month ago', async () => {
  const days = (from: number, to: number) =>
    Array.from({ length: 60 }, (_, i) => ({ day: `2026-10-${i}`, items: i < 45 ? from : to }));
  test.answers['GET /api/today/trends'] = {
    checked: [],
    trends: [
      { kind: 'leak', words: 'leak', tone: 'wrong', days: days(1, 4) },
      { kind: 'unsorted', words: 'to decide', tone: 'open', days: days(5, 2) },
    ],
  };
  test.show(<TodaySoundings />);
  const [, leak, sort] = await screen.findAllByRole('row');
  expect(leak?.textContent).toBe('leak4 +3');
  expect(leak?.querySelector('[data-worse]')).not.toBeNull();
  expect(sort?.textContent).toBe('to decide2 −3');
  expect(sort?.querySelector('[data-worse]')).toBeNull();
  expect(screen.getByRole('img', { name: /^leak: 1 on 2026-10-0, 4 now$/ })).toBeTruthy();
});

it('draws what never changed along the middle, and nothing of one value', () => {
  const { container } = test.show(
    <>
      <Sparkline values={[3, 3]} label="flat" />
      <Sparkline values={[3]} label="one" />
    </>,
  );
  expect(container.querySelectorAll('path')).toHaveLength(1);
  expect(container.querySelector('path')?.getAttribute('d')).toBe('M2,12L82,12');
});
