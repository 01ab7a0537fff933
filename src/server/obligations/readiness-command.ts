import { readFile } from 'node:fs/promises';
import { AssessmentFile, assessedOf, assessmentFaults } from '../../core/obligations/assessment-file.ts';
import { Framework } from '../../core/obligations/framework/framework.ts';
import { frameworkFaults } from '../../core/obligations/framework/library.ts';
import { nextMeasures } from '../../core/obligations/readiness/next-measures.ts';
import {
  assess,
  PARTS,
  readinessOf,
  wholePoints,
  type Points,
  type Tally,
} from '../../core/obligations/readiness/readiness.ts';
import { parseDay } from '../../core/text/day.ts';
import { asCommand, readArgs, UsageError } from '../processes/command.ts';
import { shippedLibrary } from './library/shipped-library.ts';

export const READINESS_HELP = `./yare readiness ASSESSMENT.json [--on DATE] [--json]

  Says how far an assessment is, in all and by family, what would raise it most for the effort, and why each measure gives
  nothing (docs/frameworks.md). Nothing is changed.

  --on DATE   the day on which it is asked; today without it
  --json      one JSON value on standard output

  Ends with 0 when it was counted, 1 when the file names what is not there, 2 when it could not begin.
`;

/** Counts an assessment from the command line; the exit code. */
export function readinessCommand(args: readonly string[], now = new Date()): Promise<number> {
  return asCommand(READINESS_HELP, () => run(args, now));
}

const ARGS = {
  allowPositionals: true,
  options: { help: { type: 'boolean' }, on: { type: 'string' }, json: { type: 'boolean' } },
} as const;

async function run(args: readonly string[], now: Date): Promise<number> {
  const { values, positionals } = readArgs(args, ARGS);
  if (values.help) {
    process.stdout.write(READINESS_HELP);
    return 0;
  }
  const [path, ...more] = positionals;
  if (path === undefined || more.length > 0) throw new UsageError('Name one file with an assessment.');
  const day = values.on === undefined ? now.toISOString().slice(0, 10) : parseDay(values.on);
  if (day === undefined) throw new UsageError(`“${values.on ?? ''}” is no day: --on 2026-11-30.`);
  const file = AssessmentFile.parse(await readJson(path));
  const shipped = shippedLibrary();
  const framework = typeof file.framework === 'string' ? shipped.framework(file.framework) : file.framework;
  if (!framework) throw new Error(`${path}: framework: none of the name ${String(file.framework)} ships.`);
  const measures = new Map([...shipped.measures, ...file.measures.map((m) => [m.id, m] as const)]);
  const faults = [
    ...assessmentFaults(file, framework),
    ...frameworkFaults(framework, new Set(measures.keys())).map((f) => ({
      field: `framework ${f.at}`,
      message: f.message,
    })),
  ];
  for (const { field, message } of faults) process.stderr.write(`◆ ${field}: ${message}\n`);
  const whose = new Map([...measures].map(([id, m]) => [id, m.whose]));
  const readiness = assess(assessedOf(file, framework), whose, file.weights, day);
  const answer = {
    framework: framework.id,
    version: framework.version,
    on: day,
    ...tallyOf(readiness.tally),
    families: [...readiness.families].map(([family, tally]) => ({ family, ...tallyOf(tally) })),
    controls: readiness.controls.map(({ control, applies, points, tally, measures: standing }) => ({
      control: control.id,
      applies,
      points,
      given: pointsOf(tally).given,
      measures: standing.map((m) => ({ measure: m.id, share: exact(m.share), gives: m.gives, why: m.why })),
    })),
    next: nextMeasures([readiness], measures).map((n) => ({
      measure: n.measure.id,
      gain: exact(n.gain),
      hours: n.measure.hours,
      serves: n.serves.map((s) => s.control),
    })),
  };
  process.stdout.write(values.json ? `${JSON.stringify(answer)}\n` : forPeople(framework, answer));
  return faults.length > 0 ? 1 : 0;
}

async function readJson(file: string): Promise<unknown> {
  try {
    return JSON.parse(await readFile(file, 'utf8')) as unknown;
  } catch (error) {
    throw new Error(`${file}: it cannot be read as JSON: ${(error as Error).message}`, { cause: error });
  }
}

/** As a fraction in lowest terms, so that nobody has to round as we do. */
function exact(parts: number): string {
  const divisor = gcd(parts, PARTS);
  const under = PARTS / divisor;
  return under === 1 ? String(parts / divisor) : `${parts / divisor}/${under}`;
}

function gcd(a: number, b: number): number {
  return b === 0 ? a || 1 : gcd(b, a % b);
}

const pointsOf = (p: Points) => ({ given: exact(p.given), applicable: exact(p.applicable) });

function tallyOf(tally: Tally) {
  return {
    readiness: readinessOf(tally),
    ...pointsOf(tally),
    ours: pointsOf(tally.ours),
    provider: pointsOf(tally.provider),
    unanswered: exact(tally.unanswered),
  };
}

interface Told {
  readonly readiness: number | null;
  readonly on: string;
  readonly families: readonly { readonly family: string; readonly readiness: number | null }[];
  readonly next: readonly { readonly measure: string; readonly gain: string; readonly hours: number }[];
}

function forPeople(framework: Framework, { readiness, on, families, next }: Told): string {
  const rounded = (n: number | null) => (n === null ? 'nothing applies' : `${Math.floor(n)} of 100`);
  const name = (id: string) => framework.families.find((f) => f.id === id)?.name ?? id;
  const gained = (fraction: string) => {
    const [over = 0, under = 1] = fraction.split('/').map(Number);
    return wholePoints((over / under) * PARTS).toFixed(1);
  };
  return [
    `${framework.name}, on ${on}: ${rounded(readiness)}.`,
    ...families.map((f) => `  ${name(f.family)}: ${rounded(f.readiness)}`),
    ...(next.length > 0 ? ['What to do next:'] : ['Nothing is left that a measure would gain.']),
    ...next.slice(0, 10).map((n) => `  ${n.measure}: +${gained(n.gain)} points for ${n.hours} hours`),
    '',
  ].join('\n');
}
