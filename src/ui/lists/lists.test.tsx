// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import { standInForLayout } from '../../../tests/no-layout.ts';
import type { ListDefinition } from '../../core/lists/list.ts';
import { RegisterList } from '../parts/RegisterList.tsx';
import { Shelf } from '../parts/Shelf.tsx';
import { ListFilters } from './ListFilters.tsx';
import { useList } from './use-list.ts';
import { useRegister } from './use-register.ts';

const LIST: ListDefinition = {
  name: 'ships',
  columns: { name: { words: 'Name', sorts: true } },
  filters: {
    state: { kind: 'choice', words: 'State', options: { sailing: 'Sailing', laid: 'Laid up', sold: 'Sold' } },
    port: { kind: 'value', words: 'Every port', most: 20 },
    from: { kind: 'from', words: 'From' },
    to: { kind: 'to', words: 'to' },
  },
  search: 'name',
  order: { sort: 'id', order: 'up' },
};

beforeAll(standInForLayout);
beforeEach(() => window.history.replaceState(null, '', '/websites'));
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

function Filters() {
  const shown = useList(LIST);
  return (
    <>
      <ListFilters
        list={LIST}
        shown={shown}
        values={{ port: ['Halmsund', 'Østervig'] }}
        names={{ port: (port) => `Port of ${port}` }}
        rare={['sold']}
        counts={{ state: { '': 9, sailing: 5, laid: 4, sold: 0 } }}
      />
      <output>{JSON.stringify(shown.asked)}</output>
      <a href={shown.exportHref('/ships.csv')}>Export</a>
      <button type="button" onClick={() => shown.onSort({ key: 'name', order: 'down' })}>
        Sort
      </button>
    </>
  );
}
const search = () => new URLSearchParams(window.location.search);

describe('the controls of a declared list', () => {
  it('stand in the address, each filter as its kind asks for', async () => {
    const user = userEvent.setup();
    render(<Filters />);
    expect(screen.queryByRole('button', { name: /Sold/ })).toBeNull();
    await user.click(screen.getByRole('button', { name: 'Laid up 4' }));
    expect(search().get('state')).toBe('laid');
    await user.type(screen.getByRole('searchbox'), 'hale');
    expect(search().get('text')).toBe('hale');
    await user.click(screen.getByRole('button', { name: /^Every port/ }));
    await user.click(screen.getByRole('option', { name: 'Port of Østervig' }));
    expect(search().get('port')).toBe('Østervig');
    await user.click(screen.getByRole('button', { name: 'Sort' }));
    expect(JSON.parse(screen.getByRole('status').textContent)).toEqual({
      state: 'laid',
      port: 'Østervig',
      text: 'hale',
      sort: 'name',
      order: 'down',
    });
    expect(screen.getByRole('link', { name: 'Export' }).getAttribute('href')).toContain('state=laid');
    await user.click(screen.getByRole('button', { name: 'Show all' }));
    expect([...search().keys()]).toEqual(['sort', 'order']);
    expect(screen.getByRole<HTMLInputElement>('searchbox').value).toBe('');
    expect(screen.queryByRole('button', { name: 'Show all' })).toBeNull();
  });

  it('are as the address says when somebody comes by a link', () => {
    window.history.replaceState(null, '', '/websites?state=sold&from=2026-11-03&text=a');
    render(<Filters />);
    expect(screen.getByRole('button', { name: 'Sold 0' }).getAttribute('aria-pressed')).toBe('true');
    expect(screen.getByRole('button', { name: 'When: From 3 Nov 2026' })).toBeTruthy();
    expect(screen.getByRole<HTMLInputElement>('searchbox').value).toBe('a');
  });
});

describe('a register that the server pages', () => {
  const names = Array.from({ length: 250 }, (_, i) => `Ship ${i}`);
  beforeEach(() => {
    vi.stubGlobal('fetch', async (input: string | URL) => {
      const url = new URL(String(input), 'http://desk.example');
      const kept = names.filter((n) => n.includes(url.searchParams.get('text') ?? ''));
      const from = Number(url.searchParams.get('after') ?? 0);
      const rows = kept.slice(from, from + 100).map((name) => ({ name }));
      return new Response(
        JSON.stringify({
          rows,
          total: kept.length,
          next: from + 100 < kept.length ? String(from + 100) : null,
        }),
        { headers: { 'content-type': 'application/json' } },
      );
    });
  });

  function Register() {
    const { rows, paged } = useRegister<{ name: string }>('ships', '/api/ships');
    return (
      <RegisterList
        what="ships"
        rows={rows.map((r) => ({ id: r.name, name: r.name, detail: '', href: `/ships/${r.name}` }))}
        chosen="Ship 3"
        onChoose={() => {}}
        paged={paged}
        empty="No ship yet."
      />
    );
  }
  const show = () =>
    render(
      <QueryClientProvider client={new QueryClient()}>
        <Register />
      </QueryClientProvider>,
    );
  const links = () => screen.getAllByRole('link');

  it('shows a page, and more of it on demand', async () => {
    const user = userEvent.setup();
    show();
    await waitFor(() => expect(links()).toHaveLength(100));
    expect(screen.getByPlaceholderText('Filter 250 ships')).toBeTruthy();
    await user.click(screen.getByRole('button', { name: '150 more' }));
    await waitFor(() => expect(links()).toHaveLength(200));
    await user.click(screen.getByRole('button', { name: '50 more' }));
    await waitFor(() => expect(links()).toHaveLength(250));
    expect(screen.queryByRole('button', { name: /more/ })).toBeNull();
  });

  it('narrows on the server, also to what no page has shown, and says where nothing is called so', async () => {
    const user = userEvent.setup();
    show();
    await waitFor(() => expect(links()).toHaveLength(100));
    await user.type(screen.getByRole('searchbox'), 'Ship 249');
    await waitFor(() => expect(links().map((l) => l.textContent)).toEqual(['Ship 249']));
    await user.type(screen.getByRole('searchbox'), 'x');
    await screen.findByText('None is called “Ship 249x”.');
  });
});

it('a shelf tells its kinds with how many there are, and which is chosen', () => {
  render(
    <Shelf
      entries={[
        { name: 'Sites', count: 1204, href: '/websites', chosen: true },
        { name: 'Known trackers', count: undefined, href: '/websites/library', chosen: false },
      ]}
    />,
  );
  expect(screen.getByRole('link', { name: 'Sites 1,204' }).getAttribute('aria-current')).toBe('true');
  expect(screen.getByRole('link', { name: 'Known trackers' }).getAttribute('aria-current')).toBeNull();
});
