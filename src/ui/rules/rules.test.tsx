// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ReactNode } from 'react';
import { afterEach, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import { standInForLayout } from '../../../tests/no-layout.ts';
import { standInForServer, type StandInServer } from '../../../tests/stand-in-server.ts';
import { builtIn } from '../../core/accounts/roles/held-role.ts';
import type { Account } from '../../core/accounts/authority.ts';
import { slotsOf, type Sentence } from '../../core/rules/sentence.ts';
import type { Approval } from '../../server/rules/approval-store.ts';
import type { RuleView } from '../../server/rules/rule-view.ts';
import { AccountContext } from '../desk/account-context.ts';
import { toasts } from '../desk/toasts.ts';
import { ApprovalPanel } from './ApprovalPanel.tsx';
import { ApprovalPolicy } from './ApprovalPolicy.tsx';
import { AskDialog } from './AskDialog.tsx';
import { PastEdits, PastVersions } from './PastEdits.tsx';
import { RuleSentence } from './RuleSentence.tsx';

const OFFICER: Account = {
  id: 1,
  email: 'i@x.example',
  name: 'Ines Abara',
  title: '',
  roles: [builtIn('officer')],
};
const AUDITOR: Account = { ...OFFICER, id: 9, roles: [builtIn('auditor')] };

/** What is asked of the server, and what it answers. */
let { asked, answers }: StandInServer = { asked: [], answers: {} };

beforeAll(standInForLayout);
beforeEach(() => {
  ({ asked, answers } = standInForServer());
  toasts.set([]);
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

function show(part: ReactNode, account = OFFICER) {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  return render(
    <QueryClientProvider client={client}>
      <AccountContext value={account}>{part}</AccountContext>
    </QueryClientProvider>,
  );
}

const PATH = '/api/rules/notice/3';
const approval = (over: Partial<Approval> = {}): Approval => ({
  id: '7',
  version: 2,
  needed: 1,
  askedBy: { id: 2, name: 'Priya Nand' },
  askedAt: '2026-11-20T09:00:00Z',
  reason: 'Opens in December',
  state: 'open',
  endedAt: null,
  people: [{ id: 1, name: 'Ines Abara', agrees: null, reason: null, at: null }],
  ...over,
});
const rule = (over: Partial<RuleView<unknown>> = {}): RuleView<unknown> => ({
  key: 3,
  object: 'notice',
  content: {},
  revision: 4,
  stage: { state: 'draft' },
  lastVersion: 2,
  editedAt: '2026-11-20T09:00:00Z',
  editedBy: 'Priya Nand',
  changes: [],
  versions: [
    {
      version: 2,
      madeAt: '2026-11-20T09:00:00Z',
      madeBy: 'Priya Nand',
      changes: ['Languages: Danish added'],
    },
  ],
  needed: 1,
  approval: approval(),
  waiting: 'Ask visitors for Measurement.',
  ...over,
});

describe('what waits to be agreed to', () => {
  const panel = (of: RuleView<unknown>, account = OFFICER, mayForce = true) =>
    show(<ApprovalPanel rule={of} path={PATH} mayForce={mayForce} />, account);

  it('tells who was asked, and lets them say yes with why', async () => {
    const user = userEvent.setup();
    answers[`POST ${PATH}/approval/say`] = approval({ state: 'agreed' });
    panel(rule());
    expect(screen.getByText('○ Version 2 waits: 0 of 1 agreed')).toBeTruthy();
    expect(screen.getByText('○ Ines Abara has not answered')).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Agree …' }));
    expect(screen.getByText('Ask visitors for Measurement.')).toBeTruthy();
    expect(screen.getByText('Languages: Danish added')).toBeTruthy();
    expect(screen.getByText('With your yes it is in force at once.')).toBeTruthy();
    const yes = screen.getByRole<HTMLButtonElement>('button', { name: 'I agree' });
    expect(yes.disabled).toBe(true);
    await user.type(screen.getByLabelText('Why'), 'Counsel has read it');
    await user.click(yes);
    expect(asked.at(-1)).toEqual({
      method: 'POST',
      path: `${PATH}/approval/say`,
      body: { approval: '7', agrees: true, reason: 'Counsel has read it' },
    });
    await waitFor(() => expect(toasts.get().at(-1)?.words).toBe('Version 2 is in force.'));
  });

  it('says how many more are needed, and what a no does', async () => {
    const user = userEvent.setup();
    panel(rule({ approval: approval({ needed: 2 }) }));
    await user.click(screen.getByRole('button', { name: 'Do not agree …' }));
    expect(screen.getByText('One no ends it: nothing is put in force.')).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Leave it' }));
    await user.click(screen.getByRole('button', { name: 'Agree …' }));
    expect(screen.getByText('1 more must agree before it is in force.')).toBeTruthy();
  });

  it('is for those who were asked, once; others look on', () => {
    panel(
      rule({
        approval: approval({ people: [{ id: 5, name: 'Sanne', agrees: null, reason: null, at: null }] }),
      }),
    );
    expect(screen.queryByRole('button', { name: 'Agree …' })).toBeNull();
    expect(screen.getByRole('button', { name: 'Ask nobody any more' })).toBeTruthy();
    cleanup();
    panel(rule(), AUDITOR, false);
    expect(screen.queryByRole('button')).toBeNull();
  });

  it.each<[string, Partial<RuleView<unknown>>, boolean]>([
    ['nothing was asked', { approval: null }, false],
    ['it was agreed to', { approval: approval({ state: 'agreed' }) }, false],
    ['it was refused', { approval: approval({ state: 'refused' }) }, true],
    ['what was refused is old by now', { approval: approval({ state: 'refused' }), lastVersion: 3 }, false],
  ])('shows where %s: %s', (_, over, shows) => {
    panel(rule(over));
    expect(screen.queryByRole('region', { name: 'Agreement' }) !== null).toBe(shows);
  });

  it('keeps what was typed where the answer is refused', async () => {
    const user = userEvent.setup();
    answers[`POST ${PATH}/approval/say`] = {
      error: 'Nothing is asked any more.',
      fields: [],
      requestId: 'r',
    };
    panel(rule());
    await user.click(screen.getByRole('button', { name: 'Agree …' }));
    await user.type(screen.getByLabelText('Why'), 'Fine');
    await user.click(screen.getByRole('button', { name: 'I agree' }));
    await screen.findByText(/Nothing is asked any more/);
    expect(screen.getByLabelText<HTMLTextAreaElement>('Why').value).toBe('Fine');
  });
});

it('people are asked to agree, with why, and those who cannot be are told beside the list', async () => {
  const user = userEvent.setup();
  answers[`GET ${PATH}/approval`] = [
    { id: 2, name: 'Priya Nand', title: 'Web', role: 'site manager', email: '', why: 'wrote part of it' },
    { id: 5, name: 'Sanne Holt', title: 'Records', role: 'officer', email: '', why: '' },
  ];
  answers[`POST ${PATH}/approval`] = {
    error: 'They cannot be asked so.',
    fields: [{ field: 'people', message: 'Sanne Holt asks for it.' }],
    requestId: 'r',
  };
  show(<AskDialog rule={rule({ approval: null })} path={PATH} revision={4} onClose={() => {}} />);
  await user.click(await screen.findByRole('option', { name: /Sanne/ }));
  const send = screen.getByRole<HTMLButtonElement>('button', { name: 'Ask them' });
  expect(send.disabled).toBe(true);
  await user.type(screen.getByLabelText('Why it is to be in force'), 'December');
  await user.click(send);
  expect(asked.at(-1)?.body).toEqual({ revision: 4, people: [5], reason: 'December' });
  await screen.findByText('◆ Sanne Holt asks for it.');
});

describe('who must agree', () => {
  const OBJECT = '/api/objects/approval%20policy/notice';
  beforeEach(() => {
    answers[`GET ${OBJECT}`] = { content: { needed: 0 }, revision: 3, editedBy: null, editedAt: null };
    answers[`PUT ${OBJECT}`] = { revision: 4 };
  });

  it('is said in a sentence, saved over what was seen, and taken back', async () => {
    const user = userEvent.setup();
    show(<ApprovalPolicy object="notice" />);
    await user.click(await screen.findByRole('button', { name: /^Who must agree/ }));
    await user.click(screen.getByRole('option', { name: 'two people who did not write it' }));
    await waitFor(() => expect(asked.some((a) => a.method === 'PUT')).toBe(true));
    expect(asked.find((a) => a.method === 'PUT')?.body).toEqual({
      revision: 3,
      base: { needed: 0 },
      content: { needed: 2 },
    });
    await waitFor(() => expect(toasts.get()).toHaveLength(1));
    await toasts.get()[0]?.undo?.();
    expect(asked.at(-1)).toMatchObject({ method: 'POST', path: `${OBJECT}/undo`, body: { revision: 4 } });
  });

  it('is read by others', async () => {
    show(<ApprovalPolicy object="notice" />, AUDITOR);
    await screen.findByText('nobody else');
    expect(screen.queryByRole('button')).toBeNull();
  });
});

describe('a sentence', () => {
  const SENTENCE: Sentence = [
    {
      label: 'Let',
      parts: [
        'berth 4 to ',
        { path: ['ship'], label: 'Ship', say: String, editor: { kind: 'text', most: 20 } },
        ' for ',
        {
          path: ['stay', 'hours'],
          label: 'Stay',
          say: (v) => `${String(v)} hours`,
          editor: { kind: 'number', unit: 'hours', least: 1, most: 48 },
        },
      ],
    },
  ];
  const content = { ship: 'MS Hale', stay: { hours: 6 } };

  it('is edited slot by slot, in place', async () => {
    const user = userEvent.setup();
    const set = vi.fn();
    render(<RuleSentence sentence={SENTENCE} content={content} set={set} fixed={false} />);
    await user.click(screen.getByRole('button', { name: 'Stay: 6 hours' }));
    const field = screen.getByRole('textbox', { name: 'Stay' });
    await user.clear(field);
    await user.type(field, '8{Enter}');
    expect(set).toHaveBeenCalledWith({ ship: 'MS Hale', stay: { hours: 8 } });
  });

  it('says what is wrong beside the slot, and is prose for those who may not edit', () => {
    const { rerender } = render(
      <RuleSentence
        sentence={SENTENCE}
        content={content}
        set={() => {}}
        fixed={false}
        error={(path) => (path[0] === 'ship' ? 'That ship is sold.' : undefined)}
      />,
    );
    expect(screen.getByText(/That ship is sold/)).toBeTruthy();
    rerender(<RuleSentence sentence={SENTENCE} content={content} set={() => {}} fixed />);
    expect(screen.queryByRole('button')).toBeNull();
    expect(document.body.textContent).toContain('berth 4 to MS Hale for 6 hours');
    expect(slotsOf(SENTENCE)).toHaveLength(2);
  });
});

describe('what was before', () => {
  const edits = [
    {
      revision: 2,
      at: '2026-11-20T09:00:00Z',
      by: 'Ines Abara',
      words: ['The purpose: sell → sell and change'],
    },
    { revision: 1, at: '2026-11-19T09:00:00Z', by: null, words: ['The owner: nothing → Kim'] },
  ];

  it('is read when it is opened, each edit in words, and one is taken back', async () => {
    answers['GET /api/rules/detector/x/history'] = { rows: edits, next: null };
    const back = vi.fn(async () => undefined);
    show(
      <PastEdits
        path="/api/rules/detector/x"
        summary="Every edit of it"
        revision={2}
        act={{ words: 'Take this edit back', do: back }}
      />,
    );
    expect(asked).toEqual([]);
    await userEvent.click(screen.getByText('Every edit of it'));
    await screen.findByText('The purpose: sell → sell and change');
    screen.getByText(/by nobody who is here any more/);
    const acts = screen.getAllByRole('button', { name: 'Take this edit back' });
    acts[1]?.focus();
    await userEvent.keyboard('{Enter}');
    expect(back).toHaveBeenCalledWith(1);
  });

  it('of an object is put back as it was, and only shown to who may not', async () => {
    answers['GET /api/objects/activity/7/history'] = { rows: edits, next: null };
    answers['GET /api/objects/activity/7/at'] = { revision: 1, content: { purpose: 'sell' } };
    const put = vi.fn(async () => undefined);
    const { unmount } = show(<PastVersions kind="activity" id="7" revision={2} put={put} />);
    await userEvent.click(screen.getByText('Version 2, and what it was before'));
    await userEvent.click((await screen.findAllByRole('button', { name: 'Put back what was before' }))[0]!);
    await waitFor(() => expect(put).toHaveBeenCalledWith({ purpose: 'sell' }, 'As it was in version 1.'));
    unmount();
    show(<PastVersions kind="activity" id="7" revision={2} />);
    await userEvent.click(screen.getByText('Version 2, and what it was before'));
    await screen.findByText('The owner: nothing → Kim');
    expect(screen.queryByRole('button')).toBeNull();
  });
});
