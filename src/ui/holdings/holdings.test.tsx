// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, render, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ReactNode } from 'react';
import { afterEach, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import { standInForLayout } from '../../../tests/no-layout.ts';
import { standInForServer, type StandInServer } from '../../../tests/stand-in-server.ts';
import { builtIn } from '../../core/accounts/roles/held-role.ts';
import type { Account } from '../../core/accounts/authority.ts';
import { itemVocabulary } from '../../core/holdings/items/item-facts.ts';
import type { ItemFigures } from '../../core/holdings/items/item-figures.ts';
import { lensForm, type LensForm } from '../../core/holdings/lenses/lens-form.ts';
import { parseLens } from '../../core/lens/lens-text.ts';
import type { CheckedContradiction } from '../../server/holdings/records/record-check.ts';
import { AccountContext } from '../desk/account-context.ts';
import { Bars } from '../parts/Bars.tsx';
import { LensSentence } from './explorer/LensSentence.tsx';
import { JudgeMany } from './explorer/JudgeMany.tsx';
import type { ListedStore } from '../../server/holdings/listings/stores.ts';
import { RequestError } from '../desk/request-error.ts';
import { OwnerRules } from './listings/OwnerRules.tsx';
import { TakeStores } from './listings/TakeStores.tsx';
import { SendTable } from './tables/SendTable.tsx';
import { ContradictionList } from './records/ContradictionList.tsx';
import { AddressFields, addressTyped, typedAddress } from './sources/AddressFields.tsx';
import { SourceAddress, type SourceKind } from '../../core/holdings/sources/source.ts';

const OFFICER: Account = {
  id: 1,
  email: 'i@x.example',
  name: 'Ines Abara',
  title: '',
  roles: [builtIn('officer')],
};

let { asked, answers }: StandInServer = { asked: [], answers: {} };

beforeAll(standInForLayout);
beforeEach(() => {
  ({ asked, answers } = standInForServer());
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

const shown = (of: ReactNode, account = OFFICER) =>
  render(
    <QueryClientProvider client={new QueryClient()}>
      <AccountContext.Provider value={account}>{of}</AccountContext.Provider>
    </QueryClientProvider>,
  );

describe('bars', () => {
  const bars = Array.from({ length: 9 }, (_, i) => ({ key: `k${i}`, name: `Share ${i}`, count: 90 - i }));

  it('show a few, and all on request; one is chosen by keyboard', async () => {
    const choose = vi.fn();
    shown(<Bars label="By source" bars={bars} chosen="k1" onChoose={choose} />);
    const list = screen.getByRole('list', { name: 'By source' });
    expect(within(list).getAllByRole('button')).toHaveLength(6);
    expect(screen.getByRole('button', { name: 'Share 1: 89' }).getAttribute('aria-pressed')).toBe('true');
    await userEvent.click(screen.getByRole('button', { name: '3 more' }));
    screen.getByRole('button', { name: 'Share 8: 82' }).focus();
    await userEvent.keyboard('{Enter}');
    expect(choose).toHaveBeenCalledWith('k8');
  });

  it('are read alone where there is nothing to choose', () => {
    shown(<Bars label="By year" bars={bars.slice(0, 2)} />);
    expect(screen.getByRole('button', { name: 'Share 0: 90' }).hasAttribute('disabled')).toBe(true);
  });
});

describe('a lens as a sentence', () => {
  const vocabulary = itemVocabulary({
    sources: new Map([['1', 'Port share']]),
    detectors: new Map([
      ['email', 'E-mail address'],
      ['boarding-manifest', 'Boarding manifest'],
    ]),
    levels: new Map([['strict', 'Strictly confidential']]),
    levelRules: new Map(),
  });
  const figures = {
    data: [{ value: 'email', count: 12 }],
    documents: [{ value: '', count: 3 }],
    sources: [{ value: '1', count: 15 }],
  } as unknown as ItemFigures;
  const sentence = (line: string, set: (form: Partial<LensForm>) => void = () => {}) =>
    shown(
      <LensSentence
        lens={{ line, form: lensForm(parseLens(line)), compared: {}, set }}
        vocabulary={vocabulary}
        figures={figures}
      />,
    );

  it.each([
    [
      'everything',
      'Items that hold anything and are of any kind, in any source, of any age · add a condition',
    ],
    [
      'data one of "email" and place in "1/Manifests" and people at least 3',
      'Items that hold E-mail address and are of any kind, in Port share › Manifests, of any age and people in it at least 3 · add a condition',
    ],
    [
      'data one of "gone"',
      'Items that hold “gone”, which is gone and are of any kind, in any source, of any age · add a condition',
    ],
  ])('%s reads so', (line, words) => {
    const { container } = sentence(line);
    expect(container.textContent).toBe(words);
  });

  it('takes a typed condition, and says what in it cannot be read', async () => {
    const set = vi.fn();
    sentence('everything', set);
    await userEvent.click(screen.getByRole('button', { name: 'Add a condition: a condition' }));
    const field = within(screen.getByRole('dialog')).getByRole('textbox');
    await userEvent.type(field, 'reach unknown');
    await screen.findByText(/There is no “reach” any more/);
    expect(set).not.toHaveBeenCalled();
    await userEvent.clear(field);
    await userEvent.type(field, 'people at least 3{Enter}');
    expect(set).toHaveBeenCalledWith({ rest: [{ fact: 'people', is: 'at least', number: 3 }] });
  });

  it('lets go of a condition', async () => {
    const set = vi.fn();
    sentence('people at least 3', set);
    await userEvent.click(screen.getByRole('button', { name: 'Take out: people in it at least 3' }));
    expect(set).toHaveBeenCalledWith({ rest: [] });
  });
});

describe('judging many at once', () => {
  it('tells how many it is before it is done', async () => {
    answers['GET /api/holdings/judgements'] = { right: 0, judged: 0, interval: null, matching: 12 };
    answers['POST /api/holdings/judgements'] = { judged: 12 };
    const close = vi.fn();
    shown(<JudgeMany detector="email" name="E-mail address" onClose={close} />);
    expect(screen.getByRole('button', { name: 'They are wrong' }).hasAttribute('disabled')).toBe(true);
    await userEvent.type(screen.getByLabelText('Masked values that read'), 't•*');
    await screen.findByText('12 matches read so.');
    await userEvent.type(screen.getByLabelText('Why'), 'Made up');
    await userEvent.click(screen.getByRole('button', { name: 'They are wrong' }));
    await waitFor(() => expect(close).toHaveBeenCalled());
    expect(asked.find((a) => a.method === 'POST')?.body).toEqual({
      detector: 'email',
      pattern: 't•*',
      holds: false,
      reason: 'Made up',
    });
  });
});

describe('contradictions', () => {
  const found: CheckedContradiction = {
    kind: 'unnamed',
    key: 'unnamed 1 health-condition',
    words: 'Port holds Health condition in 9 items, which no activity names',
    because: 'Art. 30(1)(c).',
    system: '1',
    lens: 'data one of "health-condition" and place in "7"',
    accepted: null,
  };

  it('open to their items, and are accepted with a reason alone', async () => {
    shown(<ContradictionList found={[found]} />);
    expect(screen.getByRole('link', { name: 'Open the items' }).getAttribute('href')).toBe(
      '/holdings?lens=data+one+of+%22health-condition%22+and+place+in+%227%22',
    );
    await userEvent.click(screen.getByRole('button', { name: 'Accept it' }));
    const dialog = screen.getByRole('dialog');
    expect(within(dialog).getByRole('button', { name: 'Accept it' }).hasAttribute('disabled')).toBe(true);
    await userEvent.type(within(dialog).getByLabelText('Why it is as it should be'), 'On paper');
    await userEvent.click(within(dialog).getByRole('button', { name: 'Accept it' }));
    await waitFor(() =>
      expect(asked.map((a) => a.body)).toContainEqual({ key: found.key, reason: 'On paper' }),
    );
  });

  it('keep the reason that was typed where it is refused', async () => {
    answers['POST /api/holdings/activities/contradictions'] = {
      error: 'It cannot be accepted.',
      fields: [{ field: 'reason', message: 'Say more than that.' }],
    };
    shown(<ContradictionList found={[found]} />);
    await userEvent.click(screen.getByRole('button', { name: 'Accept it' }));
    const dialog = screen.getByRole('dialog');
    await userEvent.type(within(dialog).getByLabelText('Why it is as it should be'), 'so{Enter}');
    await within(dialog).findByText(/Say more than that/);
    expect(within(dialog).getByRole<HTMLInputElement>('textbox').value).toBe('so');
  });

  it('that were accepted say why, and are opened again', async () => {
    shown(
      <ContradictionList
        found={[{ ...found, accepted: { reason: 'On paper', by: 'Ines', at: '2026-11-01T10:00:00Z' } }]}
      />,
    );
    screen.getByText(/accepted by Ines, .*: On paper/);
    await userEvent.click(screen.getByRole('button', { name: 'Open it again' }));
    await waitFor(() => expect(asked.at(-1)?.body).toEqual({ key: found.key, reason: null }));
  });

  it('are read alone by an auditor', () => {
    shown(<ContradictionList found={[found]} />, { ...OFFICER, roles: [builtIn('auditor')] });
    expect(screen.queryByRole('button')).toBeNull();
  });
});

describe('the fields of an address', () => {
  const ADDRESSES: readonly SourceAddress[] = [
    { kind: 'folder', root: '/srv/port' },
    { kind: 'mail folder', root: '/srv/mail' },
    { kind: 'imap', host: 'mail.x.example', port: 143, secure: false, user: 'reader' },
    { kind: 'mariadb', host: 'db.x.example', port: 3306, user: 'reader', database: 'booking' },
    { kind: 'postgresql', host: 'db.x.example', port: 5432, user: 'reader', database: 'club' },
    {
      kind: 'object store',
      endpoint: 'https://s.x.example',
      region: 'eu',
      bucket: 'archive',
      prefix: '2024',
      user: 'k',
    },
  ];

  it.each(ADDRESSES)('of $kind lead back to the same address', (address) =>
    expect(SourceAddress.parse(typedAddress(address.kind, addressTyped(address)))).toEqual(address),
  );

  it.each<[SourceKind, boolean]>([
    ['folder', false],
    ['imap', true],
    ['object store', true],
  ])('of %s ask for a secret: %s', (kind, secret) => {
    shown(
      <AddressFields
        kind={kind}
        typed={{}}
        secret=""
        error={() => undefined}
        onType={() => {}}
        onSecret={() => {}}
      />,
    );
    expect(screen.queryByLabelText(/Password|Secret key/) !== null).toBe(secret);
  });

  it('stand with what is wrong beside them', () => {
    shown(
      <AddressFields
        kind="folder"
        typed={{ root: '/x' }}
        secret=""
        error={(f) => (f === 'root' ? 'It is not there.' : undefined)}
        onType={() => {}}
        onSecret={() => {}}
      />,
    );
    expect(screen.getByLabelText('Folder').getAttribute('aria-invalid')).toBe('true');
    screen.getByText('◆ It is not there.');
  });
});

describe('whose a store is', () => {
  const systems = { rows: [{ id: 4, name: 'Payroll', steward: null, sources: 1 }], total: 1, next: null };

  it('is said rule by rule, changed in place, taken out and added', async () => {
    answers['GET /api/holdings/systems'] = systems;
    const set = vi.fn();
    shown(<OwnerRules owners={[{ of: 'name', like: 'pay-*', system: 4 }]} fixed={false} onSet={set} />);
    await screen.findByRole('button', { name: 'The system: Payroll' });
    await userEvent.click(screen.getByRole('button', { name: 'What it has to be like: pay-*' }));
    const text = screen.getByRole('textbox');
    await userEvent.clear(text);
    await userEvent.type(text, 'payroll-*{Enter}');
    expect(set).toHaveBeenLastCalledWith([{ of: 'name', like: 'payroll-*', system: 4 }]);
    await userEvent.click(screen.getByRole('button', { name: 'Take out: name like pay-*' }));
    expect(set).toHaveBeenLastCalledWith([]);
    await userEvent.click(screen.getByRole('button', { name: 'Add one' }));
    expect(set.mock.lastCall?.[0]).toHaveLength(2);
  });

  it('is told before stores are taken in, and no password asked for where none opens them', async () => {
    answers['POST /api/holdings/listings/1/stores/take'] = { sources: [7], known: 0 };
    const done = vi.fn();
    const store = (more: Partial<ListedStore>): ListedStore => ({
      ...{ id: '9', name: 'a', kind: 'folder', where: '/a', team: '', region: '', bytes: null },
      ...{ news: 'new', changes: [], standing: 'open', source: null, reason: null, firstSeen: '' },
      system: null,
      ...more,
    });
    shown(<TakeStores listing="1" stores={[store({})]} onDone={done} onClose={() => {}} />);
    screen.getByText('◆ of no system, by no rule of this listing');
    expect(screen.queryByLabelText('Password or secret key')).toBeNull();
    await userEvent.click(screen.getByRole('button', { name: 'Take it in' }));
    await waitFor(() => expect(done).toHaveBeenCalled());
    expect(asked.at(-1)?.body).toEqual({ ids: ['9'], user: '', secret: '' });
    cleanup();
    shown(
      <TakeStores
        listing="1"
        stores={[
          store({ kind: 'mariadb', system: { id: 4, name: 'Payroll' } }),
          store({ id: '10', source: 3 }),
        ]}
        onDone={done}
        onClose={() => {}}
      />,
    );
    screen.getByText('1 store in the register already');
    expect(screen.getByLabelText('Password or secret key')).toBeTruthy();
  });
});

describe('a table that is sent', () => {
  const FIELDS = {
    name: { words: 'Name', names: [], needed: true },
    team: { words: 'Team', names: [], needed: false },
  };

  it('has its columns matched, is rehearsed, and shows each cell that cannot be taken', async () => {
    answers['POST /api/uploads'] = { id: 5 };
    answers['POST /api/x/columns'] = {
      rows: 2,
      headings: ['Called', 'Unit'],
      examples: [['Port', 'Crew']],
      matched: { team: 'Unit' },
    };
    const take = vi.fn(async () => {
      throw new RequestError(400, {
        error: 'One cell cannot be taken. Nothing was taken.',
        fields: [{ field: 'row 3, Called', message: 'It needs a name.' }],
      });
    });
    const rehearse = vi.fn(async () => <p>1 would be added</p>);
    shown(
      <SendTable
        title="Send"
        hint=""
        fields={FIELDS}
        path="/api/x"
        take={take}
        rehearse={rehearse}
        onClose={() => {}}
      />,
    );
    await userEvent.upload(screen.getByLabelText('Workbook or CSV'), new File(['Called;Unit\n'], 'x.csv'));
    await screen.findByText(/2 rows/);
    await userEvent.selectOptions(screen.getByLabelText('Column of Name'), 'Called');
    await userEvent.click(screen.getByRole('button', { name: 'See what it would do' }));
    await screen.findByText('1 would be added');
    expect(rehearse).toHaveBeenCalledWith({ upload: 5, headings: { name: 'Called', team: 'Unit' } });
    await userEvent.click(screen.getByRole('button', { name: 'Take it' }));
    await screen.findByText('row 3, Called');
    screen.getByRole('button', { name: 'Save a copy with every fault marked' });
  });
});
