/** An object that changed, by the words of the ledger. */
export interface ChangedObject {
  readonly object: string;
  /** `null` for many. */
  readonly id: string | null;
}

/** Of a kind that has more ids than `most`, only that it changed. */
export function fewChanges(changed: readonly ChangedObject[], most: number): readonly ChangedObject[] {
  const ids = new Map<string, Set<string> | null>();
  for (const { object, id } of changed) {
    const known = ids.get(object);
    if (known === null) continue;
    const all = (known ?? new Set<string>()).add(id ?? '');
    ids.set(object, id === null || all.size > most ? null : all);
  }
  return [...ids].flatMap(([object, all]): ChangedObject[] =>
    all === null ? [{ object, id: null }] : [...all].map((id) => ({ object, id })),
  );
}
