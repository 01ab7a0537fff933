// @vitest-environment jsdom
import { QueryClientProvider } from '@tanstack/react-query';
import { cleanup, render, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ReactNode } from 'react';
import { afterEach, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import { standInForLayout } from '../../../../tests/no-layout.ts';
import { standInForServer, type StandInServer } from '../../../../tests/stand-in-server.ts';
import { builtIn } from '../../../core/accounts/roles/held-role.ts';
import type { Account } from '../../../core/accounts/authority.ts';
import { newPublication } from '../../../core/protection/publishing/publication.ts';
import { AccountContext } from '../../desk/account-context.ts';
import { Scrolled } from '../../../../tests/sheet.tsx';
import { queryClient } from '../../desk/changed.ts';
import { ItemLevel } from '../levels/ItemLevel.tsx';
import { ProposedSheet } from '../rules/ProposedSheet.tsx';
import { SidesDialog } from '../runs/SidesDialog.tsx';
import { PublicationRegister } from './PublicationRegister.tsx';
import { PublicationSheet } from './PublicationSheet.tsx';
import { PublicationSoundings } from './PublicationSoundings.tsx';
import { PublishedSheet } from './PublishedSheet.tsx';

const OFFICER: Account = {
  id: 1,
  email: 'i@x.example',
  name: 'Ines Abara',
  title: '',
  roles: [builtIn('officer')],
};
const AUDITOR: Account = { ...OFFICER, id: 2, roles: [builtIn('auditor')] };
const FIGURES = { people: 618, groups: 40, readAt: '2026-11-28T08:00:00Z' };

let { asked, answers }: StandInServer = { asked: [], answers: {} };

beforeAll(standInForLayout);
beforeEach(() => {
  ({ asked, answers } = standInForServer());
  window.history.replaceState(null, '', '/protection/published');
  answers['GET /api/accounts/staff'] = { figures: FIGURES, found: [] };
  answers['GET /api/accounts/programs'] = [];
  answers['GET /api/objects/approval%20policy/publication'] = {
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
      <AccountContext.Provider value={account}>
        <Scrolled>{of}</Scrolled>
      </AccountContext.Provider>
    </QueryClientProvider>,
  );
const sent = () => asked.filter((a) => a.method !== 'GET');
const button = (name: string | RegExp) => screen.getByRole('button', { name });

describe('publishing', () => {
  it('tells what one person is offered, why, and by which groups', async () => {
    answers['GET /api/accounts/staff'] = {
      figures: FIGURES,
      found: [{ address: 'gustav@x.example', name: 'Gustav Berg', unit: 'Payroll' }],
    };
    answers['GET /api/protection/offered'] = {
      name: 'Gustav Berg',
      address: 'gustav@x.example',
      unit: 'Payroll',
      groups: [
        { name: 'Payroll', steps: 1 },
        { name: 'Ashore', steps: 3 },
      ],
      levels: [
        { id: 'strict', name: 'Strict', colour: '#7a1431', isStart: true },
        { id: 'open', name: 'Open', colour: '#6b7a80', isStart: false },
      ],
      words: ['They are offered Strict, Open.', 'Something new begins with Strict.'],
    };
    shown(<PublishedSheet />);
    await screen.findByText(/^618 people in 40 groups/);
    await userEvent.type(screen.getByLabelText('Name or address'), 'gus{Enter}');
    await screen.findByText('Something new begins with Strict.');
    expect(screen.getByText('begins with it')).toBeTruthy();
    expect(screen.getByText('In Payroll, Ashore (2 up).')).toBeTruthy();
    expect(window.location.search).toContain('person=gustav%40x.example');
  });

  it('says that nobody is called so', async () => {
    answers['GET /api/protection/offered'] = { error: 'Nobody who works here has this address.', fields: [] };
    shown(<PublishedSheet />);
    await userEvent.type(await screen.findByLabelText('Name or address'), 'nobody{Enter}');
    await screen.findByText('◆ Nobody who works here has this address.');
  });

  it('asks for a list of people where none was read, and names the cells that cannot be taken', async () => {
    answers['GET /api/accounts/staff'] = { figures: { people: 0, groups: 0, readAt: null }, found: [] };
    answers['POST /api/uploads'] = { id: 7 };
    answers['POST /api/accounts/staff'] = {
      error: 'One cell cannot be taken. Nothing was taken.',
      fields: [{ field: 'row 2, address', message: 'An e-mail address.' }],
    };
    shown(<PublishedSheet />);
    await screen.findByText('No list of people was read yet: levels are offered to nobody');
    expect(screen.queryByLabelText('Name or address')).toBeNull();
    await userEvent.click(button('Read in a list of people …'));
    const file = new File(['address,name\nx,Y'], 'people.csv', { type: 'text/csv' });
    await userEvent.upload(screen.getByLabelText(/^A list in CSV/), file);
    await userEvent.click(button('Read it in'));
    await screen.findByText('row 2, address: An e-mail address.');
    answers['POST /api/accounts/staff'] = { people: 2, groups: 1 };
    await userEvent.click(button('Read it in'));
    await waitFor(() => expect(screen.queryByText('row 2, address: An e-mail address.')).toBeNull());
    expect(sent().at(-1)).toMatchObject({ path: '/api/accounts/staff', body: { upload: 7 } });
  });

  it('shows a token once, and ends it', async () => {
    answers['GET /api/accounts/programs'] = [
      { id: 3, name: 'Editor', scope: 'levels', madeAt: '2026-11-20T08:00:00Z', usedAt: null, endedAt: null },
      {
        ...{ id: 4, name: 'Old editor', scope: 'levels', madeAt: '2026-11-01T08:00:00Z' },
        ...{ usedAt: '2026-11-02T08:00:00Z', endedAt: '2026-11-03T08:00:00Z' },
      },
    ];
    answers['POST /api/accounts/programs'] = { id: 5, token: 'yw_secret' };
    shown(<PublishedSheet />);
    const rows = await screen.findAllByRole('row');
    expect(within(rows[1] as HTMLElement).getByText('never')).toBeTruthy();
    expect(within(rows[2] as HTMLElement).queryByRole('button')).toBeNull();
    await userEvent.click(button('Let a program in …'));
    await userEvent.type(screen.getByLabelText('What it is called'), 'Mail{Enter}');
    await screen.findByText('yw_secret');
    expect(sent().at(-1)?.body).toEqual({ name: 'Mail', scope: 'levels' });
    await userEvent.click(button('It is kept'));
    expect(screen.queryByText('yw_secret')).toBeNull();
    await userEvent.click(button('End its token'));
    await waitFor(() =>
      expect(sent().at(-1)).toMatchObject({ method: 'DELETE', path: '/api/accounts/programs/3' }),
    );
  });

  it('is read by who may not change it', async () => {
    answers['GET /api/accounts/programs'] = [
      { id: 3, name: 'Editor', scope: 'levels', madeAt: '2026-11-20T08:00:00Z', usedAt: null, endedAt: null },
    ];
    shown(<PublishedSheet />, AUDITOR);
    await screen.findByText('Editor');
    expect(screen.queryByRole('button', { name: /Let a program|End its|Read in/ })).toBeNull();
  });
});

describe('a publication', () => {
  beforeEach(() => {
    answers['GET /api/protection/publications/names'] = {
      levels: [
        { value: 'open', words: 'Open' },
        { value: 'internal', words: 'Internal' },
      ],
      groups: [{ value: 'group:Payroll', words: 'Payroll', detail: 'in Crew office' }],
    };
    answers['GET /api/rules/publication/1'] = {
      key: '1',
      object: 'publication',
      content: { ...newPublication('Who works here'), levels: ['open'] },
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
    };
    answers['PUT /api/rules/publication/1'] = { revision: 2 };
  });

  it('is edited as a sentence, its levels and people chosen by the keyboard', async () => {
    shown(<PublicationSheet id="1" />);
    await userEvent.click(await screen.findByRole('button', { name: /^Levels: Open/ }));
    await userEvent.click(screen.getByRole('option', { name: 'Internal' }));
    await userEvent.keyboard('{Escape}');
    await userEvent.click(button(/^Begins with: none/));
    await userEvent.click(screen.getByRole('option', { name: 'Internal' }));
    await waitFor(() =>
      expect(sent().at(-1)).toMatchObject({
        method: 'PUT',
        body: { content: { levels: ['open', 'internal'], start: 'internal' } },
      }),
    );
  });

  it('tells what it would change, for how many, and of some why', async () => {
    answers['GET /api/protection/publications/1/outlook'] = {
      ...{ people: 592, covered: 126, decides: 120, gain: 126, lose: 4, begins: 3 },
      changes: [{ level: 'Strict', gained: 126, lost: 4 }],
      sample: [{ name: 'Ida Kjær', address: 'ida@x.example', words: ['They are offered Strict.'] }],
    };
    shown(<PublicationSoundings id="1" />);
    await screen.findByText('of 592 people');
    expect(screen.getByText('Strict: offered to 126 more, not offered any more to 4')).toBeTruthy();
    expect(screen.getByText(/For 3 people something new would begin with another level/)).toBeTruthy();
    expect(screen.getByRole('link', { name: 'Ida Kjær' }).getAttribute('href')).toBe(
      '/protection/published?person=ida%40x.example',
    );
  });

  it('says where it would change nothing, and where nobody is known', async () => {
    const none = { covered: 0, decides: 0, gain: 0, lose: 0, begins: 0, changes: [], sample: [] };
    answers['GET /api/protection/publications/1/outlook'] = { people: 9, ...none };
    const { unmount } = shown(<PublicationSoundings id="1" />);
    await screen.findByText('Nothing would change for anybody.');
    unmount();
    queryClient.clear();
    answers['GET /api/protection/publications/1/outlook'] = { people: 0, ...none };
    shown(<PublicationSoundings id="1" />);
    await screen.findByText('No list of people was read yet: it is for nobody.');
  });

  it('is listed with its levels; a failure can be tried again', async () => {
    answers['GET /api/protection/levels'] = [{ id: 'open', name: 'Open', colour: '#000000', items: 0 }];
    answers['GET /api/protection/publications'] = [
      { id: '1', name: 'Who works here', stage: { state: 'draft' }, levels: ['open', 'gone'] },
      { id: '2', name: 'Nothing yet', stage: { state: 'draft' }, levels: [] },
    ];
    const { unmount } = shown(<PublicationRegister chosen="1" />);
    await screen.findByText('Open, gone');
    expect(screen.getByText('no level yet')).toBeTruthy();
    unmount();
    queryClient.clear();
    answers['GET /api/protection/publications'] = { error: 'The database does not answer now.', fields: [] };
    shown(<PublicationRegister chosen={undefined} />, AUDITOR);
    await screen.findByRole('button', { name: 'Try again' }, { timeout: 8000 });
  });
});

const PROPOSAL = {
  ...{ item: 7, name: 'Payment', place: 'Terminal mail › halmsund', rule: '4', ruleName: 'Card numbers' },
  ...{ level: 'strict', levelName: 'Strict', has: 'Internal', because: 'it holds a card' },
  changed: '2026-11-20T08:00:00Z',
  ...{ owner: 'Tove Lindqvist', since: '2026-11-28T08:00:00Z' },
};

describe('what is proposed to owners', () => {
  it('is answered for many at once', async () => {
    answers['GET /api/protection/proposals'] = {
      rows: [PROPOSAL, { ...PROPOSAL, item: 8, owner: null, has: null }],
      next: null,
      total: 2,
    };
    answers['POST /api/protection/proposals/many'] = { done: 1, unstamped: 1, failed: ['It is gone.'] };
    shown(<ProposedSheet />);
    await screen.findByText(/^2 items wait for an owner’s answer/);
    await screen.findByText('Internal → Strict');
    expect(screen.getByText('nobody known')).toBeTruthy();
    for (const box of screen.getAllByRole('checkbox', { name: /^Select Payment/ }))
      await userEvent.click(box);
    await userEvent.click(button('Yes, mark them'));
    await waitFor(() =>
      expect(sent().at(-1)?.body).toEqual({
        all: [
          { item: 7, rule: '4' },
          { item: 8, rule: '4' },
        ],
        agree: true,
      }),
    );
    await waitFor(() => expect(screen.queryByRole('button', { name: 'Yes, mark them' })).toBeNull());
  });

  it('is only read by who may not answer; and says where nothing is', async () => {
    answers['GET /api/protection/proposals'] = { rows: [PROPOSAL], next: null, total: 1 };
    const { unmount } = shown(<ProposedSheet />, AUDITOR);
    await screen.findByText(/^1 item waits/);
    expect(screen.queryByRole('checkbox', { name: /^Select/ })).toBeNull();
    unmount();
    queryClient.clear();
    answers['GET /api/protection/proposals'] = { rows: [], next: null, total: 0 };
    shown(<ProposedSheet />);
    await screen.findByText(/No owner is asked anything/);
  });

  it('stands on the item, and is answered there', async () => {
    answers['GET /api/protection/items/7'] = { stands: null, why: [], choices: [], asked: [PROPOSAL] };
    answers['POST /api/protection/proposals'] = { unstamped: null };
    shown(<ItemLevel id="7" />);
    await screen.findByText(/Tove Lindqvist is asked since/);
    await userEvent.click(button('No, leave Payment'));
    await waitFor(() => expect(sent().at(-1)?.body).toEqual({ item: 7, rule: '4', agree: false }));
  });
});

describe('an item before and after', () => {
  const line = (text: string) => ({ text, size: 10, colour: '#000000', align: 'centre' });
  const sides = (more = {}) => ({
    name: 'manifest.xlsx',
    format: 'XLSX',
    pieces: [{ text: 'Name ' }, { masked: 'J•••', detector: 'person-name', confidence: 1 }],
    says: 'Internal',
    had: { header: null, footer: line('Internal'), watermark: null },
    level: 'Strict',
    marking: { header: line('Strict'), footer: null, watermark: null },
    why: '',
    isPdf: false,
    ...more,
  });
  const all = [
    { item: 7, name: 'manifest.xlsx', level: 'strict' },
    { item: 8, name: 'letter.pdf', level: 'strict' },
  ];

  it('is shown side by side, and looked through with the arrows', async () => {
    answers['POST /api/protection/items/7/sides'] = sides();
    answers['POST /api/protection/items/8/sides'] = sides({
      format: 'PDF',
      isPdf: true,
      says: null,
      had: null,
    });
    shown(<SidesDialog all={all} first={0} onClose={() => {}} />);
    await screen.findByRole('img', { name: 'Now, as Internal: Internal' });
    expect(screen.getByRole('img', { name: 'Then, as Strict: Strict' })).toBeTruthy();
    expect(screen.getAllByText('J•••')).toHaveLength(2);
    screen.getByRole('button', { name: 'Next →' }).focus();
    await userEvent.keyboard('{ArrowRight}');
    await screen.findByRole('img', { name: 'Now, with no level: no marking' });
    expect(button('Show the page as it is')).toBeTruthy();
    expect(screen.getByText('2 of 2 that are in view')).toBeTruthy();
    await userEvent.keyboard('{ArrowRight}{ArrowLeft}');
    await screen.findByRole('img', { name: 'Now, as Internal: Internal' });
  });

  it('says why it stays as it is, and keeps the page itself from who may not see values', async () => {
    answers['POST /api/protection/items/7/sides'] = sides({ marking: null, why: 'It is encrypted.' });
    answers['POST /api/protection/items/8/sides'] = sides({ format: 'PDF', isPdf: true });
    const { unmount } = shown(<SidesDialog all={all} first={0} onClose={() => {}} />);
    await screen.findByText('◆ It stays as it is: It is encrypted.');
    unmount();
    shown(<SidesDialog all={all} first={1} onClose={() => {}} />, {
      ...OFFICER,
      roles: [builtIn('data steward')],
    });
    await screen.findByRole('img', { name: 'Then, as Strict: Strict' });
    expect(screen.queryByRole('button', { name: 'Show the page as it is' })).toBeNull();
  });
});
