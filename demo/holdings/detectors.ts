import { randomBytes } from 'node:crypto';
import { PatternDetector, type Context } from '../../src/core/holdings/detection/detector/detector.ts';
import { train } from '../../src/core/holdings/detection/learned/learned.ts';
import type { OwnDetector } from '../../src/core/holdings/detection/detector/own-detector.ts';
import { patternFromExamples } from '../../src/core/holdings/detection/pattern/pattern-example.ts';
import type { Stage } from '../../src/core/rules/rule.ts';
import { insertText, listTexts } from '../../src/server/holdings/detection/detectors/detector-texts.ts';
import { insertLabelledText } from '../../src/server/holdings/detection/labelled/labelled-sets.ts';
import { DETECTOR, insertDetector } from '../../src/server/holdings/detection/detectors/own-detectors.ts';
import { storeBuild } from '../../src/server/holdings/detection/roster/roster-builds.ts';
import { buildRoster } from '../../src/server/holdings/detection/roster/roster-table.ts';
import { storeTraining } from '../../src/server/holdings/detection/learned/trainings.ts';
import { insertRuleVersion } from '../../src/server/rules/rule-versions.ts';
import { toDatetime } from '../../src/server/store/columns.ts';
import { demoCertificates } from './certificates.ts';
import { demoTexts } from './labelled-texts.ts';
import type { Demo } from '../demo.ts';
import { line } from '../ledger.ts';
import { placeRule } from '../place-rule.ts';

interface DemoDetector {
  /** Contents of its versions, then of its draft. */
  readonly contents: readonly OwnDetector[];
  /** Versions that were frozen. */
  readonly versions: number;
  readonly daysAgo: readonly number[];
  readonly state: 'draft' | 'rehearsing' | 'in force';
}

const before = (words: readonly string[], steps: number, within = 40): Context => ({
  where: 'before',
  within,
  words: [...words],
  steps,
});

const SALTMILES = PatternDetector.parse({
  kind: 'pattern',
  id: 'saltmiles-number',
  name: 'Saltmiles number',
  about: 'Card number of the loyalty club.',
  category: 'travel',
  source: 'Saltmiles card scheme, 2019',
  anchor: { by: 'pattern', pattern: patternFromExamples(['SM-4417 0928 3']) },
  start: 2,
});
const BOOKING = PatternDetector.parse({
  kind: 'pattern',
  id: 'booking-reference',
  name: 'Booking reference',
  about: 'Two letters of the port and six digits.',
  category: 'travel',
  source: 'Booking system',
  anchor: { by: 'pattern', pattern: patternFromExamples(['BS104417', 'HK204418']) },
  start: -1,
  context: [
    before(['booking', 'booking is', 'reference', 'Buchungsnummer'], 4),
    before(['part', 'part no'], -4, 20),
  ],
});
const CREW = PatternDetector.parse({
  kind: 'pattern',
  id: 'crew-number',
  name: 'Crew number',
  about: 'Five digits, as on the crew card.',
  category: 'identity',
  source: 'Payroll',
  anchor: { by: 'pattern', pattern: patternFromExamples(['20417']) },
  start: 2,
});
const PATTERNS: readonly DemoDetector[] = [
  {
    contents: [
      SALTMILES,
      { ...SALTMILES, checks: [{ check: 'check digit', by: 'luhn', passes: 3, fails: 'drop' }] },
    ],
    versions: 2,
    daysAgo: [70, 31],
    state: 'in force',
  },
  { contents: [BOOKING], versions: 1, daysAgo: [6], state: 'rehearsing' },
  { contents: [CREW], versions: 0, daysAgo: [1], state: 'draft' },
];

export const INCIDENT_FORM = `BRINDLE STRAIT FERRIES
Incident report

To be filled in by the officer of the watch within two hours and handed to port operations.

Ship:
Berth or position:
Date and time:
Persons involved, with name, age and address:
Injuries, and whether a doctor was called:
Witnesses, with telephone numbers:

What happened, in the order in which it happened:

Damage to the ship, the quay or to vehicles on board:

Measures that were taken at once:

I declare that this report is complete and true to the best of my knowledge. I know that it may be passed to the insurer and to the maritime authority.

Name in block letters, rank and signature`;

/** Detectors of the ferry line in every kind and state, with the data that stands behind them, and a labelled set. */
export async function loadDetectors(demo: Demo): Promise<void> {
  const { ctx, tx, random, lines } = demo;
  const steward = demo.person('Osei Darko');
  const at = (daysAgo: number) => demo.at(daysAgo);
  for (const d of PATTERNS) await load(demo, d);
  await loadRoster(demo);
  await loadLikeness(demo);
  await loadLearned(demo);
  const { id } = await tx.run('INSERT INTO labelled_set (name, made_by, made_at) VALUES (?, ?, ?)', [
    'Passenger and crew papers',
    steward,
    toDatetime(at(35)),
  ]);
  for (const t of demoTexts(random)) await insertLabelledText(tx, ctx, steward, id, t);
  lines.push(
    line(at(35), steward, 'labelled-set.add', 'labelled set', id, { name: 'Passenger and crew papers' }),
  );
}

async function load(demo: Demo, { contents, versions, daysAgo, state }: DemoDetector): Promise<void> {
  const { tx, lines } = demo;
  const [officer, steward] = [demo.person('Ines Abara'), demo.person('Osei Darko')];
  const at = (daysAgo: number) => demo.at(daysAgo);
  const [first] = contents as readonly [OwnDetector];
  const draft = contents.at(-1) as OwnDetector;
  const began = at(daysAgo[0] as number);
  await insertDetector(tx, began, steward, first, '');
  lines.push(
    line(began, steward, 'detector.add', 'detector', first.id, { name: first.name, kind: first.kind }),
  );
  for (let v = 1; v <= versions; v++) {
    const when = at(daysAgo[v - 1] as number);
    await insertRuleVersion(tx, when, DETECTOR, first.id, v, contents[v - 1] as OwnDetector, steward);
    const act = state === 'rehearsing' && v === versions ? 'rehearse' : 'put-in-force';
    lines.push(line(when, officer, `detector.${act}`, 'detector', first.id, { version: v }));
  }
  const since = at(daysAgo.at(-1) as number).toISOString();
  const stage: Stage =
    state === 'draft'
      ? { state }
      : state === 'rehearsing'
        ? { state, version: versions, since, over: null }
        : { state, version: versions, since };
  await placeRule(tx, DETECTOR, first.id, {
    content: draft,
    stage,
    versions,
    editedAt: new Date(since),
    editedBy: steward,
  });
}

const GIVEN = [
  'Anna',
  'Bo',
  'Clara',
  'Dennis',
  'Elin',
  'Frederik',
  'Gudrun',
  'Henrik',
  'Ida',
  'Jörg',
  'Karin',
  'Leif',
  'Maja',
  'Niels',
  'Olga',
  'Paul',
  'Rikke',
  'Sven',
  'Tilda',
  'Uwe',
  'Vera',
  'Walter',
];
const FAMILY = [
  'Abel',
  'Bjerg',
  'Carlsen',
  'Dreyer',
  'Ekström',
  'Falk',
  'Gram',
  'Hedberg',
  'Iversen',
  'Jonasson',
  'Kjær',
  'Ljung',
  'Møller',
  'Nordin',
  'Oxholm',
  'Prahl',
  'Quist',
  'Ravn',
  'Steen',
  'Thorup',
];

async function loadRoster(demo: Demo): Promise<void> {
  const { ctx, tx, random, lines } = demo;
  const steward = demo.person('Osei Darko');
  const at = (daysAgo: number) => demo.at(daysAgo);
  const content: OwnDetector = {
    kind: 'roster',
    id: 'crew-list',
    name: 'Crew list',
    about: 'The 620 people on the payroll, by staff number or work e-mail.',
    keys: ['Staff number', 'Work e-mail'],
    beside: ['Family name', 'Ship'],
    corroboration: 0,
    within: 120,
    keepFrom: 0.75,
  };
  await load(demo, { contents: [content], versions: 1, daysAgo: [26], state: 'in force' });
  const rows = Array.from({ length: 620 }, (_, i) => {
    const [given, family] = [random.pick(GIVEN), random.pick(FAMILY)];
    const plain = `${given}.${family}${i}`
      .toLowerCase()
      .normalize('NFKD')
      .replace(/ø/g, 'o')
      .replace(/æ/g, 'ae');
    return [
      `BS${4_100_000 + i * 13}`,
      given,
      family,
      `${plain.replace(/[^a-z0-9.]/g, '')}@crew.brindlestrait.example`,
      random.pick(['MS Hale', 'MS Brindle', 'MS Corrie', 'Ashore']),
    ].join(';');
  });
  const table = ['Staff number;Given name;Family name;Work e-mail;Ship', ...rows].join('\n');
  const key = randomBytes(16);
  const { id, name, keys, beside } = content;
  const built = await buildRoster(
    Buffer.from(table),
    'crew.csv',
    { id, name, version: 1, keys, beside },
    key,
    () => {},
  );
  await storeBuild(tx, ctx, steward, content, built, key, 'crew.csv', at(2));
  lines.push(
    line(at(2), steward, 'detector.build', 'detector', id, {
      rows: built.coverage.rows,
      usable: built.coverage.usable,
    }),
  );
}

async function loadLikeness(demo: Demo): Promise<void> {
  const { ctx, tx, lines } = demo;
  const [officer, steward] = [demo.person('Ines Abara'), demo.person('Osei Darko')];
  const at = (daysAgo: number) => demo.at(daysAgo);
  const content = {
    kind: 'likeness' as const,
    id: 'incident-report',
    name: 'Incident report',
    about: 'The form that ships fill in after an accident.',
    templates: [] as { name: string; digest: string }[],
    from: 0.6,
  };
  await insertDetector(tx, at(44), steward, content, '');
  const digest = await insertText(
    tx,
    ctx,
    steward,
    content.id,
    'template',
    { name: 'incident-report.docx', text: INCIDENT_FORM },
    'file',
    at(44),
  );
  const whole = { ...content, templates: [{ name: 'incident-report.docx', digest }] };
  await insertRuleVersion(tx, at(44), DETECTOR, content.id, 1, whole, steward);
  await placeRule(tx, DETECTOR, content.id, {
    content: whole,
    stage: { state: 'in force', version: 1, since: at(44).toISOString() },
    versions: 1,
    editedAt: at(44),
    editedBy: steward,
  });
  lines.push(
    line(at(44), steward, 'detector.add', 'detector', content.id, { name: content.name, kind: content.kind }),
    line(at(44), officer, 'detector.put-in-force', 'detector', content.id, { version: 1 }),
  );
}

async function loadLearned(demo: Demo): Promise<void> {
  const { ctx, tx, random, lines } = demo;
  const [officer, steward] = [demo.person('Ines Abara'), demo.person('Osei Darko')];
  const at = (daysAgo: number) => demo.at(daysAgo);
  const content: OwnDetector = {
    kind: 'learned',
    id: 'medical-certificate',
    name: 'Medical certificate',
    about: 'Certificates of fitness or illness that crew hand in, in four languages.',
    costs: { falseAlarm: 3, miss: 1 },
    threshold: null,
    training: 1,
  };
  await insertDetector(tx, at(12), steward, content, '');
  const samples = demoCertificates(random);
  for (const s of samples)
    await insertText(
      tx,
      ctx,
      steward,
      content.id,
      s.positive ? 'example' : 'counter-example',
      s,
      'file',
      at(12),
    );
  const texts = await listTexts(tx, content.id);
  const byName = new Map(samples.map((s) => [s.name, s]));
  const training = train(
    texts.map((t) => ({
      name: t.name,
      text: byName.get(t.name)?.text ?? '',
      positive: t.role === 'example',
    })),
    1,
    content.costs,
  );
  await storeTraining(tx, ctx, steward, content.id, texts, training, 1, at(11));
  await insertRuleVersion(tx, at(10), DETECTOR, content.id, 1, content, steward);
  await placeRule(tx, DETECTOR, content.id, {
    stage: { state: 'rehearsing', version: 1, since: at(10).toISOString(), over: null },
    versions: 1,
    editedAt: at(10),
    editedBy: steward,
  });
  lines.push(
    line(at(12), steward, 'detector.add', 'detector', content.id, { name: content.name, kind: content.kind }),
    line(at(11), steward, 'detector.train', 'detector', content.id, {
      number: 1,
      examples: 60,
      counterExamples: 60,
    }),
    line(at(10), officer, 'detector.rehearse', 'detector', content.id, { version: 1 }),
  );
}
