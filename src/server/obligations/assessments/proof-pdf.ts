import type { Content } from 'pdfmake/interfaces.js';
import { readinessOf, wholePoints, type Points } from '../../../core/obligations/readiness/readiness.ts';
import { provedMeasures, type Proof, type ProvedMeasure } from '../../../core/obligations/work/proof.ts';
import { dayText } from '../../../core/text/day.ts';
import {
  code,
  DIM,
  figures,
  heading,
  makeDocument,
  MARK,
  paragraph,
  table,
  title,
} from '../../files/document.ts';

const ready = (points: Points) => {
  const of = readinessOf(points);
  return of === null ? '-' : String(Math.floor(of));
};
const points = (parts: number) => wholePoints(parts).toFixed(1);

/** An assessment for somebody who never saw the program: what was asked, done, tested, and what is left out. */
export function proofPdf(proof: Proof): Promise<Buffer> {
  const { framework: f } = proof;
  const left = proof.controls.filter((c) => !c.applies);
  const measures = provedMeasures(proof);
  const day = dayText(proof.day);
  return makeDocument({
    title: `${f.name}: ${proof.cycle}`,
    foot: `${f.name}, ${proof.cycle}, ${day}`,
    content: [
      title(`${f.name}: how far we are`),
      paragraph(`${f.title}, ${f.issuer}, as of ${dayText(f.version)}. Cycle ${proof.cycle}, on ${day}.`),
      figures([
        { value: Math.floor(readinessOf(proof.tally) ?? 0), words: 'readiness, of 100' },
        { value: proof.controls.length - left.length, words: 'controls that apply' },
        {
          value: measures.filter((m) => m.test === 'passed').length,
          words: `of ${measures.length} measures passed their test`,
        },
        { value: left.length, words: 'controls left out, with reasons' },
      ]),
      ...facts(proof),
      heading('How to read it'),
      paragraph(
        'A control is what the law or the standard asks. It weighs its duty (required or by choice) times its kind (prevents, detects, corrects) times its risk from 1 to 5: its points. They are shared evenly by the measures that answer it. A measure gives its share only where its test passed, by somebody other than who did it, by the program itself or by the provider, and while its evidence counts. Readiness is the points given of those that apply.',
      ),
      heading('By family'),
      table(
        [300, 90, 90],
        ['Family', 'Of 100', 'Points'],
        proof.families.map((x) => [
          paragraph(x.name, 9),
          paragraph(ready(x.tally), 9),
          paragraph(`${points(x.tally.given)} of ${points(x.tally.applicable)}`, 9),
        ]),
      ),
      heading('Control by control'),
      ...proof.controls.filter((c) => c.applies).flatMap((c) => controlOf(c, proof)),
      heading('Measure by measure'),
      ...measures.flatMap(measureOf),
      heading('What is left out'),
      paragraph(`The framework has in here: ${f.covers}${f.whole ? '' : ' It is a part of the text.'}`, 9),
      ...(left.length === 0
        ? [paragraph('No control was left out.', 9)]
        : left.map((c) =>
            paragraph(`${c.control.ref} ${c.control.name}. Why: ${c.reason || 'not said'}`, 9),
          )),
      ...measures
        .filter((m) => m.work.state === 'not applicable')
        .map((m) => paragraph(`Measure “${m.measure.name}” does not apply. Why: ${m.work.reason}`, 9)),
      heading('Proof'),
      ...ledgerOf(proof),
    ],
  });
}

function facts({ lead, due, scope }: Proof): Content[] {
  return [
    paragraph(
      [
        `Led by ${lead}${due === null ? '' : `, due ${dayText(due)}`}.`,
        ...scope.map((s) => `${s.what}: ${s.words}.`),
      ].join(' '),
      9,
      DIM,
    ),
  ];
}

function controlOf(c: Proof['controls'][number], { measures }: Proof): Content[] {
  return [
    paragraph(`${c.control.ref}  ${c.control.name}`, 10),
    paragraph(
      `${c.control.duty}, ${c.control.kind}, risk ${c.control.risk} of 5: ${points(c.given)} of ${c.points} points. ${c.control.guidance}`,
      8,
      DIM,
    ),
    ...c.measures
      .filter((m) => m.applies)
      .map((m) =>
        paragraph(
          `${m.gives ? '+' : '-'} ${measures.get(m.id)?.measure.name ?? m.id}: ${points(m.share)} points${m.gives ? '' : `, not given: ${m.why ?? ''}`}`,
          8,
          m.gives ? undefined : MARK,
        ),
      ),
  ];
}

function measureOf(m: ProvedMeasure): Content[] {
  const { work } = m;
  const words = (label: string, text: string) => (text === '' ? [] : [paragraph(`${label}: ${text}`, 8)]);
  return [
    paragraph(
      `${m.measure.name} (${m.measure.whose === 'ours' ? 'ours' : 'a provider’s'}, ${work.state})`,
      10,
    ),
    ...words('Done by', m.doneBy),
    ...words('How', work.how),
    m.test === null
      ? paragraph('Not tested.', 8, MARK)
      : paragraph(
          `Test ${m.test} by ${m.testedBy || 'nobody'}${m.testedOn === '' ? '' : ` on ${dayText(m.testedOn)}`}. ${m.tested}`,
          8,
          m.test === 'failed' ? MARK : undefined,
        ),
    ...m.evidence.flatMap((e) => [
      paragraph(
        `Evidence: ${e.name}${e.until === null ? '' : `, counts until ${dayText(e.until)}`}, added on ${dayText(e.addedAt.slice(0, 10))}${e.addedBy === null ? '' : ` by ${e.addedBy}`}`,
        8,
      ),
      code(`SHA-256 ${e.hash}`, 7, DIM),
    ]),
  ];
}

function ledgerOf({ ledger }: Proof): Content[] {
  if (!ledger) return [paragraph('Nothing was sealed in the ledger yet.', 9, MARK)];
  return [
    paragraph(
      `Every act told here stands in a ledger that is sealed as it grows: Merkle trees (RFC 6962) whose heads are chained. Its head ${ledger.number} was sealed at ${ledger.sealedAt}. Whoever was given it can later have it shown that no entry before it was changed or left out: ./yare verify-ledger with an export of the ledger counts to this head.`,
      9,
    ),
    code(ledger.head, 8),
  ];
}
