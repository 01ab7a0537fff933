import type { Control, Framework, Measure } from '../framework/framework.ts';
import type { MeasureStanding, Tally } from '../readiness/readiness.ts';
import type { MeasureWork } from './measure-work.ts';

/** All that an outsider needs to judge an assessment: what was done, by whom, who tested it, and what shows it. */
export interface Proof {
  readonly framework: Framework;
  readonly cycle: string;
  /** The day it is of, and the instant at which it was made. */
  readonly day: string;
  readonly at: string;
  readonly lead: string;
  readonly due: string | null;
  readonly scope: readonly { readonly what: string; readonly words: string }[];
  readonly tally: Tally;
  readonly families: readonly { readonly name: string; readonly tally: Tally }[];
  readonly controls: readonly ProvedControl[];
  readonly measures: ReadonlyMap<string, ProvedMeasure>;
  /** The last sealed head of the ledger, by which every act here can be shown to have stood so. */
  readonly ledger: { readonly number: number; readonly head: string; readonly sealedAt: string } | null;
}

export interface ProvedControl {
  readonly control: Control;
  readonly applies: boolean;
  /** Why it does not. */
  readonly reason: string;
  readonly points: number;
  readonly given: number;
  readonly measures: readonly MeasureStanding[];
}

export interface ProvedMeasure {
  readonly measure: Measure;
  readonly work: MeasureWork;
  readonly doneBy: string;
  /** Who tested it: a person, the program, or providers. */
  readonly testedBy: string;
  readonly testedOn: string;
  readonly test: 'passed' | 'failed' | null;
  /** How it was tested, or what the program counted. */
  readonly tested: string;
  readonly by: 'person' | 'program' | 'provider' | 'nobody';
  readonly evidence: readonly {
    readonly id: number;
    readonly name: string;
    readonly hash: string;
    readonly until: string | null;
    readonly addedAt: string;
    readonly addedBy: string | null;
  }[];
}

/** Measures of a proof that apply somewhere in it, each once, by name. */
export function provedMeasures({ controls, measures }: Proof): readonly ProvedMeasure[] {
  const ids = new Set(controls.flatMap((c) => (c.applies ? c.measures.map((m) => m.id) : [])));
  return [...ids]
    .flatMap((id) => measures.get(id) ?? [])
    .sort((a, b) => a.measure.name.localeCompare(b.measure.name));
}
