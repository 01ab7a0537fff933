import type { Framework } from './framework.ts';

/** What another version says otherwise, control by control. */
export interface VersionDifference {
  readonly control: string;
  readonly ref: string;
  readonly name: string;
  readonly is: 'new' | 'gone' | 'changed';
  /** What changed, by field. */
  readonly fields: readonly { readonly field: string; readonly before: string; readonly after: string }[];
}

const COMPARED = ['ref', 'name', 'duty', 'kind', 'risk', 'guidance', 'measures', 'family'] as const;

export function versionDifferences(before: Framework, after: Framework): readonly VersionDifference[] {
  const old = new Map(before.controls.map((c) => [c.id, c]));
  const now = new Map(after.controls.map((c) => [c.id, c]));
  const words = (value: unknown) => (Array.isArray(value) ? value.join(', ') : String(value));
  return [...new Set([...old.keys(), ...now.keys()])].flatMap((id): readonly VersionDifference[] => {
    const [a, b] = [old.get(id), now.get(id)];
    const shown = b ?? a;
    if (!shown) return [];
    const at = { control: id, ref: shown.ref, name: shown.name };
    if (!a) return [{ ...at, is: 'new', fields: [] }];
    if (!b) return [{ ...at, is: 'gone', fields: [] }];
    const fields = COMPARED.flatMap((field) => {
      const [x, y] = [words(a[field]), words(b[field])];
      return x === y ? [] : [{ field, before: x, after: y }];
    });
    return fields.length === 0 ? [] : [{ ...at, is: 'changed', fields }];
  });
}
