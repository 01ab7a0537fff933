import { together } from '../../src/core/obligations/readiness/readiness.ts';
import { NEW_ASSESSMENT } from '../../src/core/obligations/work/assessment-content.ts';
import { NEW_WORK, type MeasureWork } from '../../src/core/obligations/work/measure-work.ts';
import { frameworkLibrary, keepOwnFramework } from '../../src/server/obligations/library/own-frameworks.ts';
import { shippedLibrary } from '../../src/server/obligations/library/shipped-library.ts';
import { assessAll, readStanding } from '../../src/server/obligations/standing.ts';
import { writeWork } from '../../src/server/obligations/work/measure-work-object.ts';
import { toDatetime } from '../../src/server/store/columns.ts';
import { FERRY_SAFETY_CODE } from './ferry-safety-code.ts';
import type { Demo, DemoArea } from '../demo.ts';
import { line } from '../ledger.ts';
import { Random } from '../random.ts';

interface Cycle {
  readonly name: string;
  readonly daysAgo: number;
  /** Frameworks, with the day by which they are due and the version that was taken. */
  readonly frameworks: readonly {
    readonly id: string;
    readonly version?: string;
    readonly dueInDays: number;
  }[];
  /** How many of its measures are done. */
  readonly done: number;
}

const CYCLES: readonly Cycle[] = [
  {
    ...{ name: 'group, 2026', daysAgo: 330, done: 0.9 },
    frameworks: [
      { id: 'gdpr', dueInDays: 31 },
      { id: 'eprivacy', dueInDays: 31 },
    ],
  },
  {
    ...{ name: 'crew offices, 2026', daysAgo: 210, done: 0.6 },
    frameworks: [
      { id: 'iso-27701', dueInDays: 120 },
      { id: FERRY_SAFETY_CODE.id, dueInDays: 14 },
    ],
  },
  {
    ...{ name: 'cruises, US', daysAgo: 150, done: 0.75 },
    frameworks: [{ id: 'ccpa', version: '2023-03-29', dueInDays: 60 }],
  },
];

const DOERS = [
  'Priya Nand',
  'Tove Lindqvist',
  'Osei Darko',
  'Magnus Reyer',
  'Sanne Holt',
  'Lotte Bruun',
] as const;
const HOW = [
  'Done with the unit; the list lies with the evidence.',
  'Written, read by two units, and put where staff look.',
  'Set up on all ships and in the terminals, then looked at.',
] as const;

/** Five assessments in three cycles: done and tested by people, while the program tests what it sees. */
export const OBLIGATIONS: DemoArea = { area: 'obligations', load };

async function load(demo: Demo): Promise<void> {
  const { tx, lines } = demo;
  const random = new Random(19);
  const officer = demo.person('Ines Abara');
  await keepOwnFramework(tx, demo.at(300), officer, FERRY_SAFETY_CODE);
  const library = await frameworkLibrary(tx);
  for (const { name, daysAgo, frameworks, done } of CYCLES) {
    const when = demo.at(daysAgo);
    const cycle = await tx.run('INSERT INTO assessment_cycle (name, made_by, made_at) VALUES (?, ?, ?)', [
      ...[name, officer, toDatetime(when)],
    ]);
    const asked = new Set<string>();
    for (const { id, version, dueInDays } of frameworks) {
      const framework = library.framework(id, version);
      if (!framework) throw new Error(`There is no framework ${id}.`);
      for (const c of framework.controls) for (const m of c.measures) asked.add(m);
      const content = {
        ...NEW_ASSESSMENT,
        ...{ lead: officer, due: dayOf(demo.at(-dueInDays)) },
        notApplicable:
          id === 'gdpr' ? { '27': 'We sit in the Union.', '47': 'The group has no member elsewhere.' } : {},
      };
      const made = await tx.run(
        'INSERT INTO assessment (cycle_id, framework, version, content, started_by, started_at) VALUES (?, ?, ?, ?, ?, ?)',
        [cycle.id, id, framework.version, JSON.stringify(content), officer, toDatetime(when)],
      );
      lines.push(
        line(when, officer, 'assessment.start', 'assessment', made.id, { framework: id, cycle: cycle.id }),
      );
    }
    for (const measure of asked) {
      const own = FERRY_SAFETY_CODE.measures?.some((m) => m.id === measure);
      await writeWork(tx, cycle.id, measure, workOf(demo, random, measure, own ? 1 : done));
    }
    await sayProviders(demo, cycle.id, asked);
  }
  await keepHistory(demo);
}

function workOf(demo: Demo, random: Random, measure: string, done: number): MeasureWork {
  const owner = demo.person(random.pick(DOERS));
  const others = DOERS.map((d) => demo.person(d)).filter((p) => p !== owner);
  const due = dayOf(demo.at(-random.below(90) + 5));
  if (!random.chance(done))
    return random.chance(0.45)
      ? { ...NEW_WORK, state: 'in work', owner, due, plan: 'Begun with the units it touches.' }
      : { ...NEW_WORK, ...(random.chance(0.6) ? { owner, due } : {}) };
  const finished: MeasureWork = { ...NEW_WORK, state: 'done', owner, doneBy: owner, how: random.pick(HOW) };
  if (shippedLibrary().measures.get(measure)?.test || (done < 1 && random.chance(0.07))) return finished;
  return {
    ...finished,
    test: done === 1 || random.chance(0.95) ? 'passed' : 'failed',
    testedBy: random.pick(others),
    testedOn: dayOf(demo.at(3 + random.below(120))),
    tested: 'A sample of ten was looked at.',
  };
}

/** Two providers said of their measures what holds for a while; one of them ends soon. */
async function sayProviders(demo: Demo, cycle: number, asked: ReadonlySet<string>): Promise<void> {
  const theirs = [...asked].filter((m) => shippedLibrary().measures.get(m)?.whose === 'provider');
  for (const { provider, days, from, to } of [
    { provider: 'Paylock', days: 12, from: 0, to: 6 },
    { provider: 'Streamhull', days: 240, from: 4, to: 12 },
  ])
    for (const measure of theirs.slice(from, to))
      await demo.tx.run(
        `INSERT INTO provider_answer (cycle_id, measure, provider_hash, provider, passed, how, until, issued, evidence_id, taken_at)
         VALUES (?, ?, UNHEX(SHA2(?, 256)), ?, 1, ?, ?, ?, 0, ?)`,
        [
          ...[cycle, measure, provider.toLowerCase(), provider, 'As its yearly report of assurance tells.'],
          ...[dayOf(demo.at(-days)), dayOf(demo.at(60)), toDatetime(demo.at(58))],
        ],
      );
}

/** A point a week since each began: from a beginning to what it is. */
async function keepHistory(demo: Demo): Promise<void> {
  const standing = await readStanding(demo.tx, demo.now);
  for (const { assessment, readiness } of assessAll(standing)) {
    const { given, applicable } = together([readiness.tally]);
    const began = CYCLES.find((c) => c.name === assessment.cycle)?.daysAgo ?? 0;
    const rows = [];
    for (let ago = began; ago > 0; ago -= 7) {
      const way = 1 - ago / began;
      const share = 0.72 + 0.28 * way + 0.03 * Math.sin(ago / 9);
      rows.push([assessment.id, dayOf(demo.at(ago)), Math.round(Math.min(1, share) * given), applicable]);
    }
    if (rows.length > 0)
      await demo.tx.run('INSERT INTO assessment_day (assessment_id, day, given, applicable) VALUES ?', [
        rows,
      ]);
  }
}

const dayOf = (at: Date) => at.toISOString().slice(0, 10);
