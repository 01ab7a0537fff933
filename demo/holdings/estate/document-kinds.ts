import { train } from '../../../src/core/holdings/detection/learned/learned.ts';
import type { OwnDetector } from '../../../src/core/holdings/detection/detector/own-detector.ts';
import { insertText, listTexts } from '../../../src/server/holdings/detection/detectors/detector-texts.ts';
import { DETECTOR, insertDetector } from '../../../src/server/holdings/detection/detectors/own-detectors.ts';
import { storeTraining } from '../../../src/server/holdings/detection/learned/trainings.ts';
import { insertRuleVersion } from '../../../src/server/rules/rule-versions.ts';
import type { Demo } from '../../demo.ts';
import { line } from '../../ledger.ts';
import { placeRule } from '../../place-rule.ts';
import type { Random } from '../../random.ts';
import {
  application,
  assistanceRequest,
  incident,
  invoice,
  lostProperty,
  mail,
  manifest,
  payroll,
  roster,
  schoolTrip,
  SHIPS,
  type Table,
} from './papers.ts';
import { demoPerson } from './person.ts';

const SAMPLES = 22;
const DAY = '2025-05-14';

const tableText = ({ title, rows }: Table) => [title, '', ...rows.map((r) => r.join('\t'))].join('\n');

/** Kinds of documents of the ferry line, and how one reads. */
const KINDS: readonly {
  readonly id: string;
  readonly name: string;
  readonly about: string;
  readonly text: (random: Random) => string;
}[] = [
  {
    id: 'boarding-manifest',
    name: 'Boarding manifest',
    about: 'Who sails on which ship.',
    text: (r) => tableText(manifest(r, r.pick(SHIPS), DAY, 12 + r.below(20), 6)),
  },
  {
    id: 'assistance-request',
    name: 'Assistance request',
    about: 'What passengers need on board, and why.',
    text: (r) => assistanceRequest(r, DAY),
  },
  {
    id: 'job-application',
    name: 'Application',
    about: 'Letters and CVs of those who want to work here.',
    text: (r) => application(r, DAY),
  },
  {
    id: 'payroll-sheet',
    name: 'Payroll',
    about: 'What crew are paid each month.',
    text: (r) =>
      tableText(
        payroll(
          r,
          Array.from({ length: 12 }, () => demoPerson(r)),
          '2025-05',
        ),
      ),
  },
  {
    id: 'fare-invoice',
    name: 'Fare invoice',
    about: 'What hauliers are charged.',
    text: (r) => invoice(r, r.below(900), DAY),
  },
  {
    id: 'school-trip-list',
    name: 'School trip list',
    about: 'Children who sail with their class.',
    text: (r) => tableText(schoolTrip(r, DAY)),
  },
];

/** Learned detectors, in force, that sort documents by kind. */
export async function loadDocumentKinds(demo: Demo): Promise<void> {
  const { random } = demo;
  const samples = KINDS.map(({ id, text }) =>
    Array.from({ length: SAMPLES }, (_, i) => ({ name: `${id}-${i + 1}.txt`, text: text(random) })),
  );
  const others = [
    ...Array.from({ length: 8 }, (_, i) => ({
      name: `roster-${i}.txt`,
      text: tableText(roster(random, [demoPerson(random), demoPerson(random)], random.pick(SHIPS), '20')),
    })),
    ...Array.from({ length: 8 }, (_, i) => ({
      name: `lost-${i}.txt`,
      text: lostProperty(random, '2025-05')
        .map((r) => r.join('\t'))
        .join('\n'),
    })),
    ...Array.from({ length: 8 }, (_, i) => ({
      name: `mail-${i}.txt`,
      text: mail(random, 'halmsund', DAY).body,
    })),
    ...Array.from({ length: 6 }, (_, i) => ({ name: `incident-${i}.txt`, text: incident(random, DAY) })),
  ];
  for (const [i, kind] of KINDS.entries()) {
    const negative = [...samples.flatMap((s, j) => (j === i ? [] : s.slice(0, 6))), ...others];
    await loadKind(demo, kind, samples[i] ?? [], negative);
  }
}

type Sample = { readonly name: string; readonly text: string };

async function loadKind(
  demo: Demo,
  { id, name, about }: (typeof KINDS)[number],
  positive: readonly Sample[],
  negative: readonly Sample[],
): Promise<void> {
  const { ctx, tx, lines } = demo;
  const at = (daysAgo: number) => demo.at(daysAgo);
  const [officer, steward] = [demo.person('Ines Abara'), demo.person('Osei Darko')];
  const content: OwnDetector = {
    kind: 'learned',
    id,
    name,
    about,
    costs: { falseAlarm: 2, miss: 1 },
    threshold: null,
    training: 1,
  };
  await insertDetector(tx, at(60), steward, content, '');
  for (const s of positive) await insertText(tx, ctx, steward, id, 'example', s, 'file', at(60));
  for (const s of negative) await insertText(tx, ctx, steward, id, 'counter-example', s, 'file', at(60));
  const texts = await listTexts(tx, id);
  const byName = new Map([...positive, ...negative].map((s) => [s.name, s.text]));
  const training = train(
    texts.map((t) => ({ name: t.name, text: byName.get(t.name) ?? '', positive: t.role === 'example' })),
    1,
    content.costs,
  );
  await storeTraining(tx, ctx, steward, id, texts, training, 1, at(59));
  await insertRuleVersion(tx, at(58), DETECTOR, id, 1, content, steward);
  await placeRule(tx, DETECTOR, id, {
    stage: { state: 'in force', version: 1, since: at(58).toISOString() },
    versions: 1,
    editedAt: at(58),
    editedBy: steward,
  });
  lines.push(
    line(at(60), steward, 'detector.add', 'detector', id, { name, kind: 'learned' }),
    line(at(59), steward, 'detector.train', 'detector', id, {
      number: 1,
      examples: positive.length,
      counterExamples: negative.length,
    }),
    line(at(58), officer, 'detector.put-in-force', 'detector', id, { version: 1 }),
  );
}
