import type { Framework, Measure } from './framework.ts';
import type { Around } from './around.ts';
import { fileFaults } from './framework-faults.ts';

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

/** Of one framework that takes nothing from others, beside measures of these ids. */
export function frameworkFaults(framework: Framework, known: ReadonlySet<string>): readonly LibraryFault[] {
  const around: Around = {
    framework: () => undefined,
    versions: () => [],
    measureOf: (id) => (known.has(id) ? 'ships' : undefined),
    ships: () => false,
  };
  return fileFaults(framework, around).map(({ at, message }) => ({ at, message }));
}

function twice(all: readonly string[]): readonly string[] {
  return [...new Set(all.filter((one, i) => all.indexOf(one) !== i))];
}
