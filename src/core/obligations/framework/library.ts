import type { Control, Framework, Measure } from './framework.ts';

/** Frameworks, and the measures that answer them. */
export interface Library {
  readonly frameworks: readonly Framework[];
  readonly measures: readonly Measure[];
}

/** What is wrong with a library: where, and what. */
export interface LibraryFault {
  /** `gdpr 5-1-a`, `measure train-staff`. */
  readonly at: string;
  readonly message: string;
}

/** All faults that no single file shows: what is named and is not there, is there twice, or is named by nothing. */
export function libraryFaults({ frameworks, measures }: Library): readonly LibraryFault[] {
  const known = new Set(measures.map((m) => m.id));
  const used = new Set(frameworks.flatMap((f) => f.controls.flatMap((c) => c.measures)));
  return [
    ...twice(frameworks.map((f) => `${f.id} ${f.version}`)).map((at) => ({
      at,
      message: 'There are two of this framework and version.',
    })),
    ...twice(measures.map((m) => m.id)).map((id) => ({
      at: `measure ${id}`,
      message: 'There are two of it.',
    })),
    ...frameworks.flatMap((f) => frameworkFaults(f, known)),
    ...measures.flatMap(({ id }) =>
      used.has(id) ? [] : [{ at: `measure ${id}`, message: 'It answers no control.' }],
    ),
  ];
}

/** Of one framework, beside measures of these ids. */
export function frameworkFaults(framework: Framework, known: ReadonlySet<string>): readonly LibraryFault[] {
  const families = new Set(framework.families.map((f) => f.id));
  const at = (c: Control) => `${framework.id} ${c.id}`;
  return [
    ...twice(framework.controls.map((c) => c.id)).map((id) => ({
      at: `${framework.id} ${id}`,
      message: 'There are two controls of this id.',
    })),
    ...twice(framework.families.map((f) => f.id)).map((id) => ({
      at: `${framework.id} family ${id}`,
      message: 'There are two families of this id.',
    })),
    ...framework.families.flatMap(({ id }) =>
      framework.controls.some((c) => c.family === id)
        ? []
        : [{ at: `${framework.id} family ${id}`, message: 'No control is in it.' }],
    ),
    ...framework.controls.flatMap((c) => [
      ...(families.has(c.family) ? [] : [{ at: at(c), message: `There is no family ${c.family}.` }]),
      ...(c.measures.length > 0 ? [] : [{ at: at(c), message: 'No measure answers it.' }]),
      ...twice(c.measures).map((id) => ({ at: at(c), message: `It names the measure ${id} twice.` })),
      ...c.measures.flatMap((id) =>
        known.has(id) ? [] : [{ at: at(c), message: `There is no measure ${id}.` }],
      ),
    ]),
  ];
}

function twice(all: readonly string[]): readonly string[] {
  return [...new Set(all.filter((one, i) => all.indexOf(one) !== i))];
}
