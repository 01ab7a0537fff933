import type { Framework, Measure } from '../../../core/obligations/framework/framework.ts';
import { notFound } from '../../../core/refusal.ts';
import { ShippedLibrary } from './shipped-library.ts';

/** A framework as the register lists it. */
export interface ListedFramework {
  readonly id: string;
  readonly name: string;
  readonly title: string;
  readonly version: string;
  readonly controls: number;
  readonly whole: boolean;
  readonly regions: readonly string[];
}

export function listFrameworks(): readonly ListedFramework[] {
  return ShippedLibrary.get()
    .newest()
    .map(({ id, name, title, version, controls, whole, regions }) => ({
      ...{ id, name, title, version, whole, regions, controls: controls.length },
    }));
}

export interface FrameworkView {
  readonly framework: Framework;
  readonly versions: readonly string[];
  readonly measures: Readonly<Record<string, Pick<Measure, 'name' | 'hours' | 'whose'>>>;
  /** What each other framework shares with it: controls all of whose measures answer the other, too. */
  readonly beside: readonly { readonly id: string; readonly name: string; readonly covered: number }[];
}

/** Throws a RefusedError (404). */
export function viewFramework(id: string, version?: string): FrameworkView {
  const shipped = ShippedLibrary.get();
  const framework = shipped.framework(id, version);
  if (!framework) throw notFound('framework');
  const asked = [...new Set(framework.controls.flatMap((c) => c.measures))];
  return {
    framework,
    versions: shipped.versions(id).map((f) => f.version),
    measures: Object.fromEntries(
      asked.flatMap((m) => {
        const measure = shipped.measures.get(m);
        return measure ? [[m, { name: measure.name, hours: measure.hours, whose: measure.whose }]] : [];
      }),
    ),
    beside: shipped
      .newest()
      .filter((f) => f.id !== id)
      .map((other) => {
        const has = new Set(other.controls.flatMap((c) => c.measures));
        const covered = framework.controls.filter((c) => c.measures.every((m) => has.has(m))).length;
        return { id: other.id, name: other.name, covered };
      })
      .sort((a, b) => b.covered - a.covered),
  };
}

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
