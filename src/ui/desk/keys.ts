import { useEffect } from 'react';

/** A key of the screen at hand: as pressed, and what it does. */
export interface Key {
  /** `?`, `/`, `Ctrl K`, `[`. */
  readonly press: string;
  readonly does: string;
  readonly act: () => void;
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

function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName))
  );
}
