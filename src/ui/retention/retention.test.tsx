// @vitest-environment jsdom
import { QueryClientProvider } from '@tanstack/react-query';
import { cleanup, render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ReactNode } from 'react';
import { afterEach, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import { standInForLayout } from '../../../tests/no-layout.ts';
import { standInForServer, type StandInServer } from '../../../tests/stand-in-server.ts';
import { builtIn } from '../../core/accounts/roles/held-role.ts';
import type { Account } from '../../core/accounts/authority.ts';
import { newRetentionRule } from '../../core/retention/rules/retention-rule.ts';
import type { DisposalView } from '../../server/retention/disposal/disposals.ts';
import type { ItemRetention } from '../../server/retention/items/item-retention.ts';
import type { RetentionOutlook } from '../../server/retention/rehearsal/outlook.ts';
import { AccountContext } from '../desk/account-context.ts';
import { queryClient } from '../desk/changed.ts';
import { DisposalSheet } from './disposal/DisposalSheet.tsx';
import { DisposalsOverview } from './disposal/DisposalsOverview.tsx';
import { HoldsOverview } from './holds/HoldsOverview.tsx';
import { MakeException } from './items/MakeException.tsx';
import { VerdictText } from './items/VerdictText.tsx';
import { MonthBars } from './rules/MonthBars.tsx';
import { RetentionSoundings } from './rules/RetentionSoundings.tsx';

const OFFICER: Account = {
  id: 1,
  email: 'i@x.example',
  name: 'Ines Abara',
  title: '',
  roles: [builtIn('officer')],
};
const AUDITOR: Account = { ...OFFICER, id: 2, roles: [builtIn('auditor')] };

let { asked, answers }: StandInServer = { asked: [], answers: {} };

beforeAll(standInForLayout);
beforeEach(() => {
  ({ asked, answers } = standInForServer());
  window.history.replaceState(null, '', '/retention');
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

describe('the soundings of a rule', () => {
  const outlook = (more: Partial<RetentionOutlook> = {}): RetentionOutlook => ({
    today: '2026-11-29',
    totals: { id: '2', about: 9, decides: 9, due: 5, held: 1, running: 3, forGood: 0, moved: 0 },
    months: [{ month: '2026-10', due: 5, held: 1, later: 0 }],
    people: { people: 41_880, error: 0.008 },
    data: [{ id: 'email', name: 'E-mail address', count: 4 }],
    owners: [],
    sources: [],
    special: 0,
    heldBy: [],
    beatenBy: [],
    movedBy: [],
    rivals: [],
    surprises: null,
    never: null,
    ...more,
  });
  const show = async (of: RetentionOutlook) => {
    answers['GET /api/rules/retention%20rule/2'] = {
      content: { ...newRetentionRule('Manifests'), keep: { count: 90, unit: 'days' } },
      revision: 3,
    };
    answers['GET /api/retention/rules/2/outlook'] = of;
    const { container } = shown(<RetentionSoundings id="2" />);
    await screen.findByText('due now');
    return container.textContent;
  };

  it('tell what is due, kept and held, who is in it, and that nothing stands against it', async () => {
    const text = await show(outlook({ surprises: { since: '2026-11-28', items: 0, examples: [] } }));
    for (const words of [
      '5due now',
      '3kept, clock running',
      '1held',
      '41,880 people (± 2%)',
      '✓ No surprise since 28 Nov 2026',
      '✓ It keeps to what the law asks',
      '✓ No other rule is as specific',
    ])
      expect(text).toContain(words);
    expect(text).not.toContain('◆');
  });

  it('mark what needs a hand: special data, surprises, laws, rivals, and a rule that decides nothing', async () => {
    const one = {
      id: 7,
      name: 'list.xlsx',
      place: 'Port share',
      owner: '',
      ends: '2031-03-02',
      daysOver: 0,
      because: '',
    };
    const text = await show(
      outlook({
        special: 2,
        never: '“Mail” decides wherever it is about something',
        surprises: { since: '2026-11-28', items: 1, examples: [one] },
        movedBy: [{ id: '1', name: 'Books Act', article: '§ 12', count: 1, longer: 1, examples: [one] }],
        rivals: [{ id: '4', name: 'Mail', count: 2, examples: [] }],
        beatenBy: [{ id: 'item:3', name: 'what was set on items by hand', count: 1 }],
      }),
    );
    for (const words of [
      '◆ 2 items with special data',
      '◆ 1 item is due that 28 Nov 2026 did not tell',
      '◆ 1 item stays longer, as the law asks',
      '◆ 2 items as specific, and another day: Mail',
      '◆ It decides nothing: “Mail” decides',
      'list.xlsx, ends 2 Mar 2031',
    ])
      expect(text).toContain(words);
  });

  it('wait for a clock', async () => {
    answers['GET /api/rules/retention%20rule/2'] = { content: newRetentionRule('Manifests'), revision: 1 };
    shown(<RetentionSoundings id="2" />);
    await screen.findByText(/Choose how long it keeps/);
    expect(asked.some((a) => a.path.includes('outlook'))).toBe(false);
  });
});

describe('the months in which clocks end', () => {
  const month = (n: number) => `20${20 + Math.floor(n / 12)}-${String((n % 12) + 1).padStart(2, '0')}`;

  it('are drawn around this one, with what lies farther together, and can be read as a table', async () => {
    const months = Array.from({ length: 90 }, (_, i) => ({
      month: month(i),
      due: i < 82 ? 2 : 0,
      held: 0,
      later: i < 82 ? 0 : 3,
    }));
    shown(<MonthBars months={months} now="2026-11" />);
    const chart = screen.getByRole('img');
    const labels = [...chart.querySelectorAll('text')].map((t) => t.textContent.trim());
    expect(labels).toHaveLength(12);
    expect(labels[0]).toBe('…');
    expect(chart.getAttribute('aria-label')).toMatch(/^…: 152, /);
    await userEvent.click(screen.getByRole('button', { name: 'Read as a table' }));
    expect(within(screen.getByRole('table')).getAllByRole('row')).toHaveLength(91);
    screen.getByRole('row', { name: /^January 2020/ });
  });
});

describe('a verdict', () => {
  const verdict = (more: Partial<ItemRetention>): ItemRetention => ({
    ...{
      state: 'kept',
      goes: null,
      then: 'ask',
      by: null,
      holds: [],
      why: ['Because.'],
      exceptions: [],
      disposal: null,
    },
    ...more,
  });
  it.each<readonly [Partial<ItemRetention>, string]>([
    [{}, '✓ Kept'],
    [{ goes: '2027-02-01' }, '✓ Kept until 1 Feb 2027'],
    [{ goes: '2027-02-01', then: 'nothing' }, '✓ Kept'],
    [{ state: 'due', goes: '2026-02-01' }, '◆ May go since 1 Feb 2026'],
    [{ state: 'held', holds: [{ id: '1', name: 'Berth 4', matter: '' }] }, 'Held: Berth 4'],
  ])('is answered first: %j', (of, words) => {
    const { container } = shown(<VerdictText verdict={verdict(of)} />);
    expect(container.querySelector('p')?.textContent).toBe(words);
    screen.getByText('Because.');
  });
});

describe('items kept by hand', () => {
  it('are sent with how long, why, and up to which day', async () => {
    answers['POST /api/retention/exceptions'] = { id: 1, items: 2 };
    const onClose = vi.fn();
    shown(<MakeException items={[3, 4]} onClose={onClose} />);
    screen.getByRole('heading', { name: 'Keep 2 items longer or shorter' });
    const choose = async (label: string, option: string) => {
      await userEvent.click(screen.getByRole('button', { name: new RegExp(`^${label}`) }));
      await userEvent.click(await screen.findByRole('option', { name: option }));
    };
    await choose('Kept for', 'months');
    await userEvent.clear(screen.getByLabelText('How many months'));
    await userEvent.type(screen.getByLabelText('How many months'), '6');
    await choose('Then', 'delete');
    await userEvent.type(screen.getByLabelText('Why'), 'a complaint');
    await userEvent.type(screen.getByLabelText(/^Stands up to/), '30 Jun 2027');
    await userEvent.click(screen.getByRole('button', { name: 'Set it' }));
    expect(sent()).toMatchObject([
      {
        body: {
          items: [3, 4],
          content: { keep: { count: 6, unit: 'months' }, after: 'changed', then: 'delete' },
          reason: 'a complaint',
          until: '2027-06-30',
        },
      },
    ]);
    expect(onClose).toHaveBeenCalled();
  });
});

describe('a disposal', () => {
  const view = (more: Partial<DisposalView> = {}): DisposalView => ({
    ...{
      id: '7',
      rule: { id: '2', name: 'Manifests', version: 4 },
      follows: 'ask the owner, then delete',
      act: 'delete',
    },
    ...{ owner: 'Tove Lindqvist', state: 'asked', items: 61, needed: 2, whyNeeded: '3 with special data' },
    ...{ answerBy: '2026-12-13T00:00:00Z', silent: 'officer', undoDays: 14, madeAt: '2026-11-29T08:00:00Z' },
    ...{
      endedAt: null,
      words: [],
      said: false,
      run: null,
      counts: { waiting: 61 },
      bytes: 0,
      backUntil: null,
      certified: false,
    },
    ...more,
  });
  const show = (of: DisposalView, account = OFFICER, copies: object = { copies: [], more: false }) => {
    answers['GET /api/retention/disposals/7'] = of;
    answers['GET /api/retention/disposals/7/items'] = { rows: [], next: null };
    answers['GET /api/retention/disposals/7/copies'] = copies;
    shown(<DisposalSheet id="7" />, account);
  };

  it('says who has to agree and why two, and is agreed to once by one', async () => {
    answers['POST /api/retention/disposals/7/say'] = { state: 'asked', missing: 1 };
    show(view());
    await screen.findByRole('heading', { name: '61 items of Tove Lindqvist may go, once agreed' });
    screen.getByText(
      /2 more people have to agree, as there are two for 3 with special data; Tove Lindqvist is asked until/,
    );
    await userEvent.click(screen.getByRole('button', { name: 'Agree, with one more' }));
    expect(sent()).toMatchObject([{ body: { agrees: true } }]);
  });

  it('says so where it is the rule that asks for two', async () => {
    show(view({ whyNeeded: 'the rule asks for two' }));
    await screen.findByText(/2 more people have to agree, as the rule asks for two; Tove Lindqvist/);
  });

  it('offers no second word to one who said theirs, and none to one who only reads', async () => {
    const words = [{ name: 'Ines Abara', agrees: true, reason: '', at: '2026-11-29T09:00:00Z' }];
    show(view({ words, said: true }));
    await screen.findByText('You said yes; another person has to, too.');
    expect(screen.queryByRole('button', { name: /^Agree/ })).toBeNull();
    cleanup();
    queryClient.clear();
    show(view(), AUDITOR);
    await screen.findByText(/2 more people have to agree/);
    expect(screen.queryByRole('button', { name: /Agree|Keep/ })).toBeNull();
  });

  it.each([
    ['archive', '✓ 2 items of Tove Lindqvist are in the archive', 'in the archive for good'],
    ['anonymise', '✓ 2 items of Tove Lindqvist are anonymous', 'anonymous for good'],
    ['delete', '✓ 2 items of Tove Lindqvist are gone', 'gone for good'],
  ] as const)('says what became of its items by %s', async (act, title, figure) => {
    show(view({ state: 'done', act, counts: { gone: 2 } }));
    await screen.findByRole('heading', { name: title });
    screen.getByText(figure);
  });

  it('names the copies that stay, and what holds them', async () => {
    show(view(), OFFICER, {
      copies: [
        { item: 9, name: 'same.txt', place: 'share / kept', inside: null },
        { item: 8, name: 'Ramp', place: 'mail', inside: 'r.txt' },
      ],
      more: true,
    });
    await screen.findByRole('heading', { name: 'Copies that stay' });
    expect(screen.getByRole('link', { name: 'Ramp' }).closest('li')?.textContent).toBe(
      '◆ Within it: Ramp in mailas r.txt',
    );
    screen.getByText(/which the certificate lists/);
  });

  it('is kept with a reason, or refused without', async () => {
    answers['POST /api/retention/disposals/7/say'] = { state: 'refused', missing: 0 };
    show(view());
    await userEvent.click(await screen.findByRole('button', { name: 'Keep all of them …' }));
    await userEvent.type(screen.getByLabelText('Why they have to stay'), 'the audit');
    await userEvent.type(screen.getByLabelText(/^Until/), '31.12.2026');
    await userEvent.click(screen.getByRole('button', { name: 'Keep' }));
    expect(sent()).toMatchObject([{ body: { agrees: false, reason: 'the audit', until: '2026-12-31' } }]);
  });

  it('tells what went, offers it back as long as it is kept, and its certificate afterwards', async () => {
    answers['POST /api/retention/disposals/7/put-back'] = {
      back: 2,
      left: ['a.txt: something else has its name by now.'],
    };
    show(
      view({ state: 'done', counts: { aside: 3, kept: 1, failed: 1 }, backUntil: '2026-12-13T00:00:00Z' }),
    );
    await screen.findByRole('heading', { name: '✓ 3 items of Tove Lindqvist are gone' });
    screen.getByText(/the certificate follows then/);
    expect(screen.queryByRole('link', { name: /Certificate/ })).toBeNull();
    await userEvent.click(screen.getByRole('button', { name: 'Put 3 back' }));
    expect(sent()).toMatchObject([{ body: {} }]);
    cleanup();
    queryClient.clear();
    show(view({ state: 'done', counts: { gone: 1 }, certified: true }));
    await screen.findByRole('heading', { name: '✓ 1 item of Tove Lindqvist is gone' });
    expect(screen.getByRole('link', { name: 'with proof (JSON)' }).getAttribute('href')).toBe(
      '/api/retention/disposals/7/certificate',
    );
  });
});

describe('what is empty', () => {
  it('says what to do first', async () => {
    answers['GET /api/retention/disposals'] = [];
    answers['GET /api/retention/holds'] = [];
    shown(<DisposalsOverview />);
    await screen.findByRole('heading', { name: 'Nothing is to go yet' });
    cleanup();
    shown(<HoldsOverview />);
    await screen.findByRole('heading', { name: 'Nothing is held' });
  });
});
