import { QueryClient } from '@tanstack/react-query';
import type { ChangedObject } from '../../core/desk/changed-object.ts';
import { AREAS } from '../areas.ts';

/** What is shown is read again where it is told to have changed, and when the window is looked at again. */
export const queryClient = new QueryClient({
  defaultOptions: { queries: { retry: 1, staleTime: 2000, refetchOnWindowFocus: true } },
});

/** Kinds of objects that a query reads, by the first part of its key. */
const READS = new Map(AREAS.flatMap((a) => Object.entries(a.reads ?? {})));

/** Kinds that change all the time are read again no more often than this. */
const REST_MS = 2000;

const readAt = new Map<string, number>();
const waiting = new Map<string, ReturnType<typeof setTimeout>>();

/** Reads again what shows any of these. `now`: what was done here is shown at once. */
export function readAgain(changed: readonly ChangedObject[], now = false): void {
  for (const kind of new Set(changed.map((c) => c.object))) {
    if (waiting.has(kind) && !now) continue;
    const rest = now ? 0 : Math.max(0, (readAt.get(kind) ?? -Infinity) + REST_MS - performance.now());
    clearTimeout(waiting.get(kind));
    waiting.set(
      kind,
      setTimeout(() => {
        waiting.delete(kind);
        readAt.set(kind, performance.now());
        void queryClient.invalidateQueries({ predicate: (q) => shows(q.queryKey, kind) });
      }, rest),
    );
  }
}

/** Whether a query shows objects of a kind. */
export function shows(queryKey: readonly unknown[], kind: string): boolean {
  return READS.get(String(queryKey[0]))?.includes(kind) ?? false;
}

/** After a break, nobody knows what was missed. */
export function readAllAgain(): void {
  void queryClient.invalidateQueries({ predicate: (q) => READS.has(String(q.queryKey[0])) });
}
