import type { AssessmentFile } from '../../../core/obligations/assessment-file.ts';
import { oscalResults } from '../../../core/obligations/oscal/write-results.ts';
import { readinessOf, wholePoints } from '../../../core/obligations/readiness/readiness.ts';
import { provedMeasures, type Proof } from '../../../core/obligations/work/proof.ts';
import type { Context } from '../../context.ts';
import { writeSheets, type SheetText } from '../../files/workbook-sheets.ts';
import { XLSX } from '../../holdings/offers.ts';
import { attachment } from '../../http/attachment.ts';
import { safeCell } from '../../http/csv.ts';
import { countedIn, readStanding } from '../standing.ts';
import { findAssessment } from './assessment-object.ts';
import { proofOf } from './proof.ts';
import { proofPdf } from './proof-pdf.ts';

export const PROOF_FORMS = ['pdf', 'xlsx', 'oscal', 'json'] as const;
export type ProofForm = (typeof PROOF_FORMS)[number];

/** An assessment for somebody outside: to read, to work with, or to count again with `./yare readiness`. */
export async function exportAssessment(ctx: Context, id: number, as: ProofForm): Promise<Response> {
  if (as === 'json') return countable(ctx, id);
  const proof = await proofOf(ctx, id);
  const name = `assessment-${proof.framework.id}-${proof.day}`;
  switch (as) {
    case 'pdf':
      return attachment(`${name}.pdf`, 'application/pdf', await proofPdf(proof));
    case 'xlsx':
      return attachment(`${name}.xlsx`, XLSX, await writeSheets(proofSheets(proof)));
    case 'oscal':
      return attachment(
        `${name}.oscal.json`,
        'application/oscal+json',
        JSON.stringify(oscalResults(proof), null, 2),
      );
  }
}

async function countable(ctx: Context, id: number): Promise<Response> {
  const { framework, content, cycleId } = await findAssessment(ctx.store, id);
  const standing = await readStanding(ctx.store, ctx.now());
  const work = countedIn(standing, cycleId);
  const { measures } = standing.library;
  const asked = [...new Set(framework.controls.flatMap((c) => c.measures))];
  const file: AssessmentFile = {
    format: 'yare-assessment-1',
    framework,
    measures: asked.flatMap((m) => measures.get(m) ?? []),
    weights: standing.weights,
    notApplicable: Object.entries(content.notApplicable).map(([control, reason]) => ({ control, reason })),
    work: asked.flatMap((measure) => {
      const counted = work.get(measure);
      const reason = standing.work.get(cycleId)?.get(measure)?.reason ?? '';
      return counted ? [{ measure, ...counted, reason }] : [];
    }),
  };
  return attachment(`assessment-${framework.id}.json`, 'application/json', JSON.stringify(file, null, 2));
}

/** What is in the workbook: what it is of, control by control, measure by measure, the evidence, and what is left out. */
function proofSheets(proof: Proof): readonly SheetText[] {
  const { framework: f, ledger } = proof;
  const ready = readinessOf(proof.tally);
  const measures = provedMeasures(proof);
  const points = (parts: number) => wholePoints(parts).toFixed(2);
  const sheets: readonly SheetText[] = [
    {
      name: 'About',
      rows: [
        ['What', 'Words'],
        ['Framework', `${f.title}, ${f.issuer}, as of ${f.version}`],
        ['Cycle', proof.cycle],
        ['On', proof.day],
        ['Led by', proof.lead],
        ['Due', proof.due ?? 'no day'],
        ...proof.scope.map((s) => [s.what, s.words]),
        ['Readiness', ready === null ? 'nothing applies' : `${Math.floor(ready)} of 100`],
        ['Points', `${points(proof.tally.given)} of ${points(proof.tally.applicable)}`],
        ['In the framework here', f.covers],
        [
          'How it is counted',
          'A control weighs duty × kind × risk; its points are shared evenly by its measures that apply; a measure gives its share where its test passed and its evidence counts.',
        ],
        [
          'Ledger',
          ledger
            ? `Head ${ledger.number}, sealed at ${ledger.sealedAt}: ${ledger.head}`
            : 'Nothing was sealed yet',
        ],
      ],
    },
    {
      name: 'Controls',
      rows: [
        ['Reference', 'Control', 'Applies', 'Why not', 'Measure', 'Points', 'Given', 'Why not given'],
        ...proof.controls.flatMap((c) =>
          c.measures.map((m) => [
            ...[c.control.ref, c.control.name, c.applies ? 'yes' : 'no', c.reason],
            proof.measures.get(m.id)?.measure.name ?? m.id,
            ...[points(m.share), m.gives ? 'yes' : 'no', c.applies ? (m.why ?? '') : ''],
          ]),
        ),
      ],
    },
    {
      name: 'Measures',
      rows: [
        [
          ...['Measure', 'Whose', 'State', 'Why not', 'Done by', 'How'],
          ...['Test', 'Tested by', 'On', 'How it was tested'],
        ],
        ...measures.map((m) => [
          ...[m.measure.name, m.measure.whose, m.work.state, m.work.reason, m.doneBy, m.work.how],
          ...[m.test ?? 'not tested', m.testedBy, m.testedOn, m.tested],
        ]),
      ],
    },
    {
      name: 'Evidence',
      rows: [
        ['Measure', 'File', 'SHA-256', 'Counts until', 'Added on', 'By'],
        ...measures.flatMap((m) =>
          m.evidence.map((e) => [
            ...[m.measure.name, e.name, e.hash, e.until ?? 'no end', e.addedAt.slice(0, 10), e.addedBy ?? ''],
          ]),
        ),
      ],
    },
    {
      name: 'Left out',
      rows: [
        ['What', 'Why'],
        ...proof.controls
          .filter((c) => !c.applies)
          .map((c) => [`${c.control.ref} ${c.control.name}`, c.reason]),
        ...measures
          .filter((m) => m.work.state === 'not applicable')
          .map((m) => [`Measure: ${m.measure.name}`, m.work.reason]),
      ],
    },
  ];
  return sheets.map((s) => ({ name: s.name, rows: s.rows.map((r) => r.map(safeCell)) }));
}
