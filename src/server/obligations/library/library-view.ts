import type { Framework, Measure } from '../../../core/obligations/framework/framework.ts';
import { notFound } from '../../../core/refusal.ts';
import { dayText } from '../../../core/text/day.ts';
import type { Context } from '../../context.ts';
import { assessAll, readStanding } from '../standing.ts';
import { frameworkLibrary, takenOf, type Taken } from './own-frameworks.ts';

/** A framework as the register lists it. */
export interface ListedFramework {
  readonly id: string;
  readonly name: string;
  readonly title: string;
  readonly version: string;
  readonly controls: number;
  readonly whole: boolean;
  readonly regions: readonly string[];
  /** The organisation’s own. */
  readonly own: boolean;
}

export async function listFrameworks({ store }: Context): Promise<readonly ListedFramework[]> {
  const library = await frameworkLibrary(store);
  return library.newest().map(({ id, name, title, version, controls, whole, regions }) => ({
    ...{ id, name, title, version, whole, regions, controls: controls.length, own: library.isOwn(id) },
  }));
}

export interface FrameworkView {
  readonly framework: Framework;
  readonly versions: readonly string[];
  readonly measures: Readonly<Record<string, Pick<Measure, 'name' | 'hours' | 'whose'>>>;
  /** What each other framework shares with it: controls all of whose measures answer the other, too. */
  readonly beside: readonly { readonly id: string; readonly name: string; readonly covered: number }[];
  /** Measures that give their share somewhere now: what is done already. */
  readonly done: readonly string[];
  /** Measures of the framework that it is held beside; null without one. */
  readonly other: { readonly id: string; readonly name: string; readonly measures: readonly string[] } | null;
  /** Of an own one: what it takes from others, and when it was taken in. */
  readonly own: {
    readonly extends: string | null;
    readonly takes: readonly { readonly from: string; readonly controls: number }[];
    readonly taken: readonly Taken[];
  } | null;
}

/** Throws a RefusedError (404). */
export async function viewFramework(
  { store, now }: Context,
  id: string,
  { version, beside }: { readonly version?: string | undefined; readonly beside?: string | undefined } = {},
): Promise<FrameworkView> {
  const standing = await readStanding(store, now());
  const { library } = standing;
  const framework = library.framework(id, version);
  if (!framework) throw notFound('framework');
  const asked = measuresOf(framework);
  const held = beside === undefined ? undefined : library.framework(beside);
  const giving = new Set(
    assessAll(standing).flatMap((a) =>
      a.readiness.controls.flatMap((c) => c.measures.flatMap((m) => (m.gives ? [m.id] : []))),
    ),
  );
  const file = library.file(id, version ?? framework.version);
  const named = (of: { readonly framework: string; readonly version: string }) =>
    `${library.framework(of.framework, of.version)?.name ?? of.framework} of ${dayText(of.version)}`;
  return {
    framework,
    versions: library.versions(id).map((f) => f.version),
    measures: Object.fromEntries(
      asked.flatMap((m) => {
        const measure = library.measures.get(m);
        return measure ? [[m, { name: measure.name, hours: measure.hours, whose: measure.whose }]] : [];
      }),
    ),
    beside: library
      .newest()
      .filter((f) => f.id !== id)
      .map((other) => {
        const has = new Set(other.controls.flatMap((c) => c.measures));
        const covered = framework.controls.filter((c) => c.measures.every((m) => has.has(m))).length;
        return { id: other.id, name: other.name, covered };
      })
      .sort((a, b) => b.covered - a.covered),
    done: asked.filter((m) => giving.has(m)),
    other: held ? { id: held.id, name: held.name, measures: measuresOf(held) } : null,
    own: file
      ? {
          extends: file.extends ? named(file.extends) : null,
          takes: (file.takes ?? []).map((t) => ({ from: named(t), controls: t.controls.length })),
          taken: await takenOf(store, id),
        }
      : null,
  };
}

function measuresOf({ controls }: Framework): readonly string[] {
  return [...new Set(controls.flatMap((c) => c.measures))];
}
