// @vitest-environment jsdom
import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { AUDITOR, sheetTest } from '../../../tests/sheet.tsx';
import { Find } from './Find.tsx';

const test = sheetTest('/account');
const found = (kind: string, n: number) => ({
  ...{ kind, words: `${kind} no. ${n}`, detail: '<b>somewhere</b>', link: `/account/${kind}-${n}` },
});
const options = () => within(screen.getByRole('listbox')).getAllByRole('option');

beforeEach(() => {
  test.answers['GET /api/find'] = [found('item', 1), found('role', 1), found('item', 2)];
});

describe('Find', () => {
  it('tells what was found, the best first, and narrows it to a kind', async () => {
    const onClose = vi.fn();
    const user = userEvent.setup();
    test.show(<Find onClose={onClose} />);
    await user.type(screen.getByRole('combobox'), 'zz');
    await screen.findByText('item no. 2');
    expect(options().map((o) => o.textContent)).toEqual([
      'item no. 1<b>somewhere</b>item',
      'role no. 1<b>somewhere</b>role',
      'item no. 2<b>somewhere</b>item',
    ]);
    await user.click(screen.getByRole('button', { name: 'item 2' }));
    expect(options()).toHaveLength(2);
    await user.type(screen.getByRole('combobox'), '{ArrowDown}{ArrowDown}{ArrowDown}');
    expect(options().map((o) => o.getAttribute('aria-selected'))).toEqual(['false', 'true']);
    await user.keyboard('{Enter}');
    expect(onClose).toHaveBeenCalledOnce();
  });

  it('offers commands and pages of the guide, each once, also those that are called alike', async () => {
    const complained = vi.spyOn(console, 'error');
    test.answers['GET /api/find'] = [];
    const user = userEvent.setup();
    test.show(<Find onClose={() => {}} />);
    await user.type(screen.getByRole('combobox'), 'incidents');
    const said = options().map((o) => o.textContent);
    expect(said).toContain('IncidentsGuideguide');
    expect(new Set(said).size).toBe(said.length);
    // A list with two of one key would show one of them again after it is gone.
    expect(complained).not.toHaveBeenCalled();
    await user.clear(screen.getByRole('combobox'));
    await user.type(screen.getByRole('combobox'), 'no such thing');
    await screen.findByText(/Nothing is called/);
    complained.mockRestore();
  });

  it('has no command for what somebody may not do', async () => {
    const user = userEvent.setup();
    test.answers['GET /api/find'] = [];
    test.show(<Find onClose={() => {}} />, { ...AUDITOR, roles: [] });
    await user.type(screen.getByRole('combobox'), 'go to');
    expect(screen.queryByText('Go to Holdings')).toBeNull();
  });
});
