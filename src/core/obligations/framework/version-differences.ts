import type { Framework, Measure } from './framework.ts';

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

/** What another version says otherwise; measures by their names, as far as they are known. */
export function versionDifferences(
  before: Framework,
  after: Framework,
  measures: ReadonlyMap<string, Pick<Measure, 'name'>> = new Map(),
): readonly VersionDifference[] {
  const named = ({ controls }: Framework) =>
    controls.map((c) => ({ ...c, measures: c.measures.map((m) => measures.get(m)?.name ?? m) }));
  return differences(named(before), named(after), COMPARED).map(({ one, is, fields }) => ({
    ...{ control: one.id, ref: one.ref, name: one.name, is, fields },
  }));
}

interface Difference<T> {
  readonly one: T;
  readonly is: 'new' | 'gone' | 'changed';
  readonly fields: VersionDifference['fields'];
}

/** What is new, gone, or otherwise in one of these fields, known again by its id. */
function differences<T extends { readonly id: string }>(
  before: readonly T[],
  after: readonly T[],
  compared: readonly (keyof T)[],
): readonly Difference<T>[] {
  const old = new Map(before.map((one) => [one.id, one]));
  const now = new Map(after.map((one) => [one.id, one]));
  return [...new Set([...old.keys(), ...now.keys()])].flatMap((id): readonly Difference<T>[] => {
    const [a, b] = [old.get(id), now.get(id)];
    if (!a) return b ? [{ one: b, is: 'new', fields: [] }] : [];
    if (!b) return [{ one: a, is: 'gone', fields: [] }];
    const fields = compared.flatMap((field) => {
      const [x, y] = [asWords(a[field]), asWords(b[field])];
      return x === y ? [] : [{ field: String(field), before: x, after: y }];
    });
    return fields.length === 0 ? [] : [{ one: b, is: 'changed', fields }];
  });
}

function asWords(value: unknown): string {
  if (value === undefined) return '';
  if (Array.isArray(value)) return value.join('; ');
  return typeof value === 'object' ? JSON.stringify(value) : String(value as string | number);
}

/** What a file says otherwise of its own measures. */
export interface MeasureDifference {
  readonly measure: string;
  readonly name: string;
  readonly is: 'new' | 'gone' | 'changed';
  readonly fields: VersionDifference['fields'];
}

const OF_MEASURE = ['name', 'steps', 'evidence', 'hours', 'whose', 'where', 'test'] as const;

export function measureDifferences(
  before: readonly Measure[],
  after: readonly Measure[],
): readonly MeasureDifference[] {
  return differences(before, after, OF_MEASURE).map(({ one, is, fields }) => ({
    ...{ measure: one.id, name: one.name, is, fields },
  }));
}
