import { z } from 'zod';
import { EstateReader, type Estate } from '../../core/access/estate/estate.ts';
import { reachWords, wayWords, type ReachNames } from '../../core/access/reach/reach-words.ts';
import { Reach, type PairReach } from '../../core/access/reach/reach.ts';
import { highest, stepsIn, STRENGTHS } from '../../core/access/reach/strength.ts';
import { parseDay } from '../../core/text/day.ts';
import { asCommand, linesOf, readArgs, UsageError } from '../processes/command.ts';

export const REACH_HELP = `./yare reach ESTATE.jsonl (--person ID | --place ID | --pairs FILE) [--on DATE] [--json]

  Says who reaches what, by which way, and what stands against it, by the people, groups, places and grants of the file
  (docs/estate.md). Nothing is changed.

  --person ID      all places that one person reaches
  --place ID       everybody who reaches one place, with every way
  --pairs FILE     a JSON line for each pair that is asked, {"person": "…", "place": "…"}; - for standard input
  --on DATE        the day on which it is asked; today without it
  --json           JSON lines on standard output

  Ends with 0 when all was answered, 1 when a line could not be taken (it is named on standard error), 2 when it could not
  begin.
`;

/** Answers from the command line; the exit code. */
export function reachCommand(args: readonly string[], now = new Date()): Promise<number> {
  return asCommand(REACH_HELP, () => run(args, now));
}

const ARGS = {
  allowPositionals: true,
  options: {
    help: { type: 'boolean' },
    person: { type: 'string' },
    place: { type: 'string' },
    pairs: { type: 'string' },
    on: { type: 'string' },
    json: { type: 'boolean' },
  },
} as const;

async function run(args: readonly string[], now: Date): Promise<number> {
  const { values, positionals } = readArgs(args, ARGS);
  if (values.help) {
    process.stdout.write(REACH_HELP);
    return 0;
  }
  const [file, more] = positionals;
  if (file === undefined || more !== undefined)
    throw new UsageError('Say where the estate is: ./yare reach ESTATE.jsonl.');
  const asked = [values.person, values.place, values.pairs].filter((a) => a !== undefined);
  if (asked.length !== 1) throw new UsageError('Ask one thing: --person ID, --place ID or --pairs FILE.');
  const on = values.on === undefined ? now.toISOString().slice(0, 10) : parseDay(values.on);
  if (on === undefined) throw new UsageError(`“${values.on ?? ''}” is no day: --on 2026-11-29.`);
  const reader = new EstateReader();
  for await (const line of linesOf(file)) reader.add(line);
  const estate = reader.done();
  for (const { line, words } of estate.faults)
    process.stderr.write(`◆ ${line === 0 ? '' : `line ${line}: `}${words}\n`);
  const answers = new Answers(estate, new Reach(estate, on), values.json ?? false);
  let isWhole = estate.faults.length === 0;
  if (values.person !== undefined) answers.person(values.person);
  else if (values.place !== undefined) answers.place(values.place);
  else {
    let number = 0;
    for await (const line of linesOf(values.pairs ?? '-')) {
      number++;
      if (line.trim() !== '' && !answers.pair(line, number)) isWhole = false;
    }
  }
  return isWhole ? 0 : 1;
}

const Pair = z.strictObject({ person: z.string(), place: z.string() });
/** Places of a person that are written at once. */
const AT_ONCE = 10_000;

class Answers {
  readonly #names: ReachNames;

  constructor(
    readonly estate: Estate,
    readonly reach: Reach,
    readonly json: boolean,
  ) {
    const { people, tree } = estate;
    this.#names = {
      person: (id) => people.group(id)?.name ?? people.persons[people.number(id) ?? -1]?.name ?? id,
      place: (id) => tree.places[tree.number(id) ?? -1]?.name ?? id,
    };
  }

  person(id: string): void {
    const person = this.#person(id);
    const { tree } = this.estate;
    for (let from: number | null = 0; from !== null;) {
      const page = this.reach.ofPerson(person, AT_ONCE, from);
      if (from === 0 && this.json) this.#write({ person: id, counts: page.counts, unknown: page.unknown });
      else if (from === 0)
        process.stdout.write(
          `${this.#names.person(id)}: ${STRENGTHS.map((s) => `${s} ${page.counts[s]}`).join(', ')}, unknown ${page.unknown}\n`,
        );
      for (const { place, steps } of page.first) {
        const at = tree.places[place]?.id ?? '';
        if (this.json) this.#write({ place: at, strength: highest(steps), steps: stepsIn(steps) });
        else process.stdout.write(`${highest(steps)?.padEnd(6)} ${at}\n`);
      }
      from = page.next;
    }
  }

  place(id: string): void {
    const at = this.#place(id);
    const { people, tree } = this.estate;
    const [anybody] = this.reach.whoReaches(at);
    const unknown = this.reach.unknownAt(at);
    const anyone = this.reach.openToAnyone(at);
    if (this.json) this.#write({ place: id, people: anybody?.size ?? 0, unknown, anyone });
    else
      process.stdout.write(
        `${tree.places[at]?.name ?? id}: ${anybody?.size ?? 0} people${unknown === null ? '' : `; nobody can say for certain: ${unknown}`}\n`,
      );
    anybody?.forEach((n) => {
      const person = people.persons[n];
      if (!person) return;
      const found = this.reach.pair(person, at);
      if (this.json) this.#write(answerOf(person.id, id, found));
      else
        process.stdout.write(
          `${found.strength?.padEnd(6)} ${this.#names.person(person.id)}  ${found.ways.map((w) => wayWords(w, this.#names)).join('; ')}\n`,
        );
    });
    if (!this.json)
      for (const l of anyone)
        process.stdout.write(
          `${l.strength.padEnd(6)} whoever has the link ${l.id}, made at ${this.#names.place(l.at)}\n`,
        );
  }

  /** Whether it could be answered. */
  pair(line: string, number: number): boolean {
    let asked: z.infer<typeof Pair>;
    try {
      asked = Pair.parse(JSON.parse(line));
      const found = this.reach.pair(this.#person(asked.person), this.#place(asked.place));
      if (this.json) this.#write(answerOf(asked.person, asked.place, found));
      else
        process.stdout.write(
          `${this.#names.person(asked.person)} at ${this.#names.place(asked.place)}\n${reachWords(
            found,
            this.#names,
          )
            .map((w) => `  ${w}`)
            .join('\n')}\n`,
        );
      return true;
    } catch (error) {
      const words =
        error instanceof z.ZodError || error instanceof SyntaxError
          ? 'It is no pair, {"person": "…", "place": "…"}.'
          : (error as Error).message;
      if (this.json) this.#write({ line: number, refused: words });
      else process.stdout.write(`◆ line ${number}: ${words}\n`);
      return false;
    }
  }

  #person(id: string) {
    const { people } = this.estate;
    const person = people.persons[people.number(id) ?? -1];
    if (!person) throw new Error(`There is no person “${id}” in the estate.`);
    return person;
  }

  #place(id: string): number {
    const at = this.estate.tree.number(id);
    if (at === undefined) throw new Error(`There is no place “${id}” in the estate.`);
    return at;
  }

  #write(value: object): void {
    process.stdout.write(`${JSON.stringify(value)}\n`);
  }
}

function answerOf(person: string, place: string, { steps, ...found }: PairReach) {
  return { person, place, ...found, steps: stepsIn(steps) };
}
