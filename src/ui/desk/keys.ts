import { useEffect } from 'react';
import { setQuery } from './location.ts';

/** A key of the screen at hand: as pressed, and what it does. */
export interface Key {
  /** `?`, `/`, `Ctrl K`, `[`. */
  readonly press: string;
  readonly does: string;
  readonly act: () => void;
}

/** `n` asks for something new: its dialog, by the address. */
export function newKey(does: string, asked: string): readonly Key[] {
  return [{ press: 'n', does, act: () => setQuery({ new: asked }, 'push') }];
}

/** Listens for keys while the component stands. Plain keys rest while somebody types. */
export function useKeys(keys: readonly Key[]): void {
  useEffect(() => {
    const pressed = (event: KeyboardEvent) => {
      if (event.defaultPrevented || event.altKey) return;
      const ctrl = event.ctrlKey || event.metaKey;
      const name = ctrl ? `Ctrl ${event.key.toUpperCase()}` : event.key;
      const key = keys.find((k) => k.press === name);
      if (!key || (!ctrl && isTyping(event.target))) return;
      event.preventDefault();
      key.act();
    };
    window.addEventListener('keydown', pressed);
    return () => window.removeEventListener('keydown', pressed);
  }, [keys]);
}

/** Where letters are text, or choose in a list. */
const TAKES_LETTERS =
  'input, textarea, select, dialog, [role=dialog], [role=listbox], [role=menu], [contenteditable]';

function isTyping(target: EventTarget | null): boolean {
  return target instanceof Element && target.closest(TAKES_LETTERS) !== null;
}
