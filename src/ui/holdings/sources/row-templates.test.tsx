// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import type { RowTemplate } from '../../../core/holdings/sources/row-template.ts';
import { sheetTest } from '../../../../tests/sheet.tsx';
import { RowTemplates } from './RowTemplates.tsx';

const t = sheetTest('/holdings/sources/3');
const TABLES = [
  {
    table: 'booking',
    columns: [
      { name: 'sailed', isDay: true },
      { name: 'email', isDay: false },
      { name: 'made', isDay: true },
    ],
  },
  { table: 'ports', columns: [{ name: 'name', isDay: false }] },
];
const BOOKING: RowTemplate = { table: 'booking', day: 'sailed', by: 'month', blank: ['email'] };
const show = (templates: readonly RowTemplate[], fixed = false) => {
  const onSet = vi.fn();
  t.answers['GET /api/holdings/sources/3/tables'] = TABLES;
  t.show(<RowTemplates source="3" templates={templates} fixed={fixed} onSet={onSet} />);
  return onSet;
};
const choose = async (slot: RegExp, option: string) => {
  await userEvent.click(await screen.findByRole('button', { name: slot }));
  await userEvent.click(await screen.findByRole('option', { name: option }));
};

describe('rows by their day', () => {
  it('name a table that has a column of days', async () => {
    const onSet = show([]);
    screen.getByText(/nothing of them is let go/);
    await userEvent.click(screen.getByRole('button', { name: 'Name a table …' }));
    await choose(/^Its rows count as made and changed on/, 'made');
    await userEvent.click(screen.getByRole('button', { name: 'Tell its rows apart' }));
    expect(onSet).toHaveBeenCalledWith([{ table: 'booking', day: 'made', by: 'month', blank: [] }]);
  });

  it('say so where no other table has one, or the tables cannot be read', async () => {
    show([BOOKING]);
    await userEvent.click(screen.getByRole('button', { name: 'Name a table …' }));
    await screen.findByDisplayValue('No other table of it has a column of days.');
    expect(screen.getByRole('button', { name: 'Tell its rows apart' })).toHaveProperty('disabled', true);
  });

  it('are read as a sentence whose parts are changed in place', async () => {
    const onSet = show([BOOKING]);
    await choose(/^Period of booking/, 'year');
    expect(onSet).toHaveBeenLastCalledWith([{ ...BOOKING, by: 'year' }]);
    await choose(/^Day of booking/, 'made');
    expect(onSet).toHaveBeenLastCalledWith([{ ...BOOKING, day: 'made' }]);
    await userEvent.click(screen.getByRole('button', { name: 'Take booking out' }));
    expect(onSet).toHaveBeenLastCalledWith([]);
  });

  it('are only read by who may not change the source', () => {
    show([BOOKING], true);
    screen.getByText('email');
    expect(screen.queryByRole('button')).toBeNull();
  });
});
