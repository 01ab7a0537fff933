// @vitest-environment jsdom
import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { sheetTest } from '../../../../tests/sheet.tsx';
import { Board, Tile } from '../../../core/figures/board.ts';
import type { ShownBoard, ShownTile } from '../../../server/desk/shown-board.ts';
import { BoardGlance } from './BoardGlance.tsx';
import { BoardSheet } from './BoardSheet.tsx';
import { BoardSoundings } from './BoardSoundings.tsx';
import { SharedBoard } from './SharedBoard.tsx';

const test = sheetTest('/evidence/boards/7');

const FIGURE: NonNullable<ShownTile['figure']> = {
  ...{
    id: 'a.b',
    area: 'websites',
    name: 'Leaks',
    definition: 'All of them.',
    unit: 'tracker',
    good: 'less',
  },
  ...{ link: '/websites', parts: ['site'], formula: 'The number of its rows', target: 2, owner: null },
};

const tile = (id: string, more: Partial<ShownTile> = {}, as: Tile['as'] = 'number'): ShownTile => ({
  tile: Tile.parse({ id, figure: 'a.b', as, by: as === 'bars' || as === 'table' ? 'site' : null }),
  figure: FIGURE,
  hidden: null,
  now: { day: '2026-12-01', value: 9, of: 50, countedAt: '2026-12-01T10:00:00Z' },
  comparison: {
    before: { day: '2026-11-30', value: 4, of: 50 },
    ...{ change: 5, way: 'worse', sure: 'counted', why: 'Everything was counted.' },
  },
  days: [
    { day: '2026-11-30', value: 4, of: 50, countedAt: '2026-11-30T10:00:00Z' },
    { day: '2026-12-01', value: 9, of: 50, countedAt: '2026-12-01T10:00:00Z' },
  ],
  parts: null,
  ...more,
});
const shown = (tiles: readonly ShownTile[]): ShownBoard => ({
  ...{ id: 7, day: '2026-12-01', comparedWith: '2026-11-30', tiles },
  board: Board.parse({ name: 'Mine', compare: 'month', tiles: tiles.map((t) => t.tile) }),
});
const serve = (board: ShownBoard) => {
  test.answers['GET /api/evidence/boards/7'] = board;
  test.answers['GET /api/objects/board/7'] = {
    content: board.board,
    revision: 1,
    editedBy: null,
    editedAt: null,
  };
  test.answers['GET /api/evidence/boards/7/links'] = [];
  test.answers['GET /api/figures'] = [{ ...FIGURE, days: [] }];
};

describe('a board', () => {
  it('says the number, which way it went and whether it is what is wanted, never by colour alone', async () => {
    serve(shown([tile('t1')]));
    test.show(<BoardSheet id={7} />);
    expect(await screen.findByText('◆ +5 on last month')).toBeTruthy();
    expect(screen.getByText('◆ at most 2 is wanted')).toBeTruthy();
    expect(screen.getByText('of 50')).toBeTruthy();
  });

  it('does not call chance worse', async () => {
    const comparison: ShownTile['comparison'] = {
      before: { day: '2026-11-30', value: 8 },
      ...{ change: 1, way: 'worse', sure: 'within chance', chance: 0.7, why: '' },
    };
    serve(shown([tile('t1', { comparison, figure: { ...FIGURE, target: null } })]));
    test.show(<BoardSheet id={7} />);
    expect(await screen.findByText('+1 on last month, within chance')).toBeTruthy();
    expect(screen.queryByText(/◆/)).toBeNull();
  });

  it('says of what somebody may not see, and of what is no more, that it is so', async () => {
    serve(
      shown([
        tile('t1', { figure: null, hidden: 'not yours', now: null }),
        tile('t2', { figure: null, hidden: 'gone', now: null }),
      ]),
    );
    test.show(<BoardSheet id={7} />);
    await screen.findByText('Your roles do not include what this figure counts.');
    expect(screen.getByText('This figure is no more.')).toBeTruthy();
  });

  it('shows parts as bars or as a table of both days', async () => {
    const parts = [
      { part: 'a.example', value: 6, rows: 6, before: 3 },
      { part: '', value: 3, rows: 3, before: null },
    ];
    serve(shown([tile('t1', { parts }, 'bars'), tile('t2', { parts }, 'table')]));
    test.show(<BoardSheet id={7} />);
    const bars = await screen.findByRole('list', { name: 'Leaks by site' });
    expect(
      within(bars)
        .getAllByRole('listitem')
        .map((l) => l.textContent),
    ).toEqual(['a.example6', 'without a site3']);
    const rows = within(screen.getByRole('table')).getAllByRole('row');
    expect(rows.map((r) => r.textContent)).toEqual(['siteNowLast month', 'a.example63', 'without a site3–']);
  });

  it('takes a figure off and says what it sent', async () => {
    serve(shown([tile('t1'), tile('t2')]));
    test.answers['PUT /api/objects/board/7'] = { revision: 2 };
    const user = userEvent.setup();
    test.show(<BoardSheet id={7} />);
    await user.click(await screen.findByRole('button', { name: 'Arrange it' }));
    await user.click(screen.getAllByRole('button', { name: 'Show it as: Leaks' })[0] as HTMLElement);
    await user.click(await screen.findByRole('menuitem', { name: 'Take it off the board' }));
    await waitFor(() => expect(test.sent().some((s) => s.method === 'PUT')).toBe(true));
    const sent = test.sent().find((s) => s.method === 'PUT');
    expect((sent?.body as { content: Board }).content.tiles.map((t) => t.id)).toEqual(['t2']);
  });

  it('explains a figure beside it: both days, the formula, and why it is told so', async () => {
    serve(shown([tile('t1')]));
    window.history.replaceState(null, '', '/evidence/boards/7?tile=t1');
    test.show(<BoardSoundings id={7} />);
    await screen.findByText('The number of its rows');
    expect(screen.getByText('4 of 50')).toBeTruthy();
    expect(screen.getByText('Everything was counted.')).toBeTruthy();
    expect(screen.getByRole('link', { name: /^Its rows on/ }).getAttribute('href')).toBe(
      '/evidence/figures/a.b?day=2026-12-01',
    );
  });
});

describe('a board elsewhere', () => {
  it('is a line a figure beside other things', () => {
    test.show(<BoardGlance tiles={[tile('t1'), tile('t2', { figure: null })]} compare="month" />);
    expect(screen.getAllByRole('listitem')).toHaveLength(1);
    expect(screen.getByText('◆ +5 on last month')).toBeTruthy();
  });

  it('leads nowhere for whoever has no account', () => {
    test.show(<SharedBoard shown={shown([tile('t1')])} />);
    expect(screen.getByText('All of them.')).toBeTruthy();
    expect(screen.queryByRole('link')).toBeNull();
  });
});
