import { useCallback, useState } from 'react';

/** A value that this browser remembers; one that cannot be read is as if it were not there. */
export function useRemembered<T>(name: string, first: T): [T, (value: T) => void] {
  const [value, setValue] = useState<T>(() => {
    try {
      const kept = localStorage.getItem(`yare.${name}`);
      return kept === null ? first : (JSON.parse(kept) as T);
    } catch {
      return first;
    }
  });
  const set = useCallback(
    (next: T) => {
      setValue(next);
      try {
        localStorage.setItem(`yare.${name}`, JSON.stringify(next));
      } catch {
        // Storage is full or closed: it is remembered until the page is left.
      }
    },
    [name],
  );
  return [value, set];
}
