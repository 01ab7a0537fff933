// @vitest-environment jsdom
import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, it, vi } from 'vitest';
import { useKeys, type Key } from './keys.ts';

const act = vi.fn();
const KEYS: readonly Key[] = [
  { press: 'n', does: 'New', act },
  { press: 'Ctrl K', does: 'Find', act },
];

function Screen() {
  useKeys(KEYS);
  return (
    <>
      <button>Free</button>
      <input aria-label="Text" />
      <ul role="listbox" aria-label="Choice" tabIndex={0} />
      <div role="dialog" aria-label="Panel">
        <button>Within</button>
      </div>
    </>
  );
}

it('plain keys act on the screen and rest where letters are typed or choose; others act everywhere', async () => {
  const user = userEvent.setup();
  render(<Screen />);
  const acts = async (element: HTMLElement, keys: string) => {
    act.mockClear();
    element.focus();
    await user.keyboard(keys);
    return act.mock.calls.length;
  };
  const places = [
    screen.getByRole('button', { name: 'Free' }),
    screen.getByLabelText('Text'),
    screen.getByLabelText('Choice'),
    screen.getByRole('button', { name: 'Within' }),
  ];
  const plain: number[] = [];
  for (const place of places) plain.push(await acts(place, 'n'));
  expect(plain).toEqual([1, 0, 0, 0]);
  const ctrl: number[] = [];
  for (const place of places) ctrl.push(await acts(place, '{Control>}k{/Control}'));
  expect(ctrl).toEqual([1, 1, 1, 1]);
});
