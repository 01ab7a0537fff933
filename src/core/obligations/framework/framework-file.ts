import { z } from 'zod';
import {
  Control,
  Family,
  Framework,
  Id,
  Measure,
  MOST_CONTROLS,
  MOST_FAMILIES,
  type Framework as Whole,
} from './framework.ts';
import type { Around } from './around.ts';

/** A framework as a file has it: its own controls and measures, and what it takes from others. */
export const FrameworkFile = z.strictObject({
  ...Framework.shape,
  /** All of another; a control of its own takes the place of that one’s of the same id. */
  extends: z.strictObject({ framework: Id, version: z.iso.date() }).optional(),
  /** Single controls of others. Their ids are, here, `gdpr.5-1-a`. */
  takes: z
    .array(
      z.strictObject({
        framework: Id,
        version: z.iso.date(),
        controls: z.array(Id).min(1, 'Name a control.').max(MOST_CONTROLS),
      }),
    )
    .max(100)
    .optional(),
  families: z.array(Family).max(MOST_FAMILIES),
  controls: z.array(Control).max(MOST_CONTROLS),
  /** Its own, besides those that are there. */
  measures: z.array(Measure).max(5000).optional(),
});
export type FrameworkFile = z.infer<typeof FrameworkFile>;

/** A file with all that it takes in place. Of one with faults (`fileFaults`) it is what can be made of it. */
export function resolvedFramework(
  { extends: base, takes, measures: _, ...file }: FrameworkFile,
  around: Pick<Around, 'framework'>,
): Whole {
  const from = base && around.framework(base.framework, base.version);
  const taken = (takes ?? []).flatMap((t) => {
    const of = around.framework(t.framework, t.version);
    const wanted = new Set(t.controls);
    return of
      ? of.controls
          .filter((c) => wanted.has(c.id))
          .map((c) => ({
            family: { id: `${of.id}.${c.family}`, name: nameOf(of, c.family) },
            control: {
              ...c,
              id: `${of.id}.${c.id}`,
              family: `${of.id}.${c.family}`,
              ref: `${of.name} ${c.ref}`.slice(0, 120),
            },
          }))
      : [];
  });
  return {
    ...file,
    families: overlaid([...(from?.families ?? []), ...taken.map((t) => t.family)], file.families),
    controls: overlaid([...(from?.controls ?? []), ...taken.map((t) => t.control)], file.controls),
  };
}

const nameOf = (of: Whole, family: string) =>
  `${of.name}: ${of.families.find((f) => f.id === family)?.name ?? family}`.slice(0, 120);

/** Those of `below`, each once, with those of `above` in the place of the same id, else after them. */
function overlaid<T extends { readonly id: string }>(below: readonly T[], above: readonly T[]): T[] {
  const all = new Map(below.map((one) => [one.id, one]));
  for (const one of above) all.set(one.id, one);
  return [...all.values()];
}
