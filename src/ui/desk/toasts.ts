import { atom } from 'nanostores';

export interface Toast {
  readonly id: number;
  readonly words: string;
  readonly kind: 'done' | 'trouble';
  /** Takes back what was done. */
  readonly undo?: (() => void | Promise<void>) | undefined;
  /** Something else to do about it. */
  readonly act?: { readonly words: string; readonly do: () => void } | undefined;
}

export const toasts = atom<readonly Toast[]>([]);

const SHOWN_MS = 8000;
let last = 0;

export function tell(
  words: string,
  { kind = 'done', undo, act }: Partial<Pick<Toast, 'kind' | 'undo' | 'act'>> = {},
): void {
  const id = ++last;
  toasts.set([...toasts.get().slice(-2), { id, words, kind, undo, act }]);
  setTimeout(() => dismiss(id), SHOWN_MS);
}

export function dismiss(id: number): void {
  toasts.set(toasts.get().filter((t) => t.id !== id));
}

/** For what failed in passing, where no field is at hand. */
export function tellFailure(error: unknown): void {
  tell(error instanceof Error ? error.message : 'That did not work.', { kind: 'trouble' });
}
