// @vitest-environment jsdom
import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { AUDITOR, sheetTest } from '../../../../tests/sheet.tsx';
import { FIRST_PURPOSES } from '../../../core/websites/notice/purpose.ts';
import { PurposesSheet } from './PurposesSheet.tsx';

const test = sheetTest('/websites/purposes');
const use = { trackers: 3, known: 1, tags: 2, notices: ['a.example'], records: 40, versions: 2 };
const research = { code: 'research', name: 'Research', essential: false, shares: false };

function show(account = test.officer) {
  test.answers['GET /api/websites/purposes'] = [...FIRST_PURPOSES, research];
  test.answers['GET /api/websites/purpose-uses'] = Object.fromEntries(
    FIRST_PURPOSES.map((p) => [p.code, use]),
  );
  test.answers['PUT /api/websites/purposes'] = {};
  return test.show(<PurposesSheet />, account);
}
const names = (at: number) =>
  (test.sent()[at]?.body as { purposes: { name: string }[] }).purposes.map((p) => p.name);

describe('purposes', () => {
  it('tell before a new name what it touches, and take it with what was seen', async () => {
    const user = userEvent.setup();
    show();
    await user.click(await screen.findByRole('button', { name: /^Name of Measurement/ }));
    expect(screen.getByText(/3 trackers and 2 tags keep it.*40 records keep what was shown/)).toBeTruthy();
    await user.clear(screen.getByRole('textbox'));
    await user.keyboard('Advertising');
    expect(screen.getByText(/There is a purpose “Advertising” already/)).toBeTruthy();
    await user.clear(screen.getByRole('textbox'));
    await user.keyboard('Counting{Enter}');
    await waitFor(() => expect(test.sent()).toHaveLength(1));
    expect(names(0)).toEqual(['Essential', 'Preferences', 'Counting', 'Advertising', 'Research']);
    expect((test.sent()[0]?.body as { saw: unknown[] }).saw).toEqual([...FIRST_PURPOSES, research]);
  });

  it('are ordered by buttons that the keyboard reaches', async () => {
    const user = userEvent.setup();
    show();
    await user.click(await screen.findByRole('button', { name: 'Move Advertising up' }));
    await waitFor(() => expect(test.sent()).toHaveLength(1));
    expect(names(0)).toEqual(['Essential', 'Preferences', 'Advertising', 'Measurement', 'Research']);
    expect(screen.getByRole('button', { name: 'Move Essential up' })).toHaveProperty('disabled', true);
  });

  it('are taken out only where nothing points at them', async () => {
    const user = userEvent.setup();
    show();
    expect(await screen.findByRole('button', { name: 'Take out Research' })).toBeTruthy();
    expect(screen.queryByRole('button', { name: 'Take out Measurement' })).toBeNull();
    await user.click(screen.getByRole('button', { name: 'Take out Research' }));
    await waitFor(() => expect(names(0)).toHaveLength(4));
  });

  it('are read by who may only read', async () => {
    show(AUDITOR);
    await screen.findByText('Measurement');
    expect(screen.queryByRole('button', { name: /Move|Take out|Add a purpose/ })).toBeNull();
  });
});
