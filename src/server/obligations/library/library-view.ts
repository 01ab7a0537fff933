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
