import type { AssessmentFile } from '../../../core/obligations/assessment-file.ts';
import { wholePoints } from '../../../core/obligations/readiness/readiness.ts';
import { NEW_WORK } from '../../../core/obligations/work/measure-work.ts';
import type { Context } from '../../context.ts';
import { workbook, XLSX } from '../../holdings/offers.ts';
import { attachment } from '../../http/attachment.ts';
import { accountNames } from '../../accounts/account-names.ts';
import { assessAll, countedIn, readStanding } from '../standing.ts';
import { evidenceIn } from '../work/evidence.ts';
import { findAssessment } from './assessment-object.ts';

/** All that was done, as a table for people. */
async function proofTable(ctx: Context, id: number) {
  const { cycleId } = await findAssessment(ctx.store, id);
  const standing = await readStanding(ctx.store, ctx.now());
  const found = assessAll(standing, cycleId).find((a) => a.assessment.id === id);
  const names = await accountNames(ctx.store);
  const { measures } = standing.library;
  const person = (of: number | null) => (of === null ? '' : (names.get(of) ?? 'somebody who is gone'));
  const evidence = await evidenceIn(ctx.store, cycleId);
  const files = (measure: string) =>
    (evidence.get(measure) ?? [])
      .map((f) => `${f.name} (SHA-256 ${f.hash}${f.until === null ? '' : `, until ${f.until}`})`)
      .join('; ');
  const rows = (found?.readiness.controls ?? []).flatMap(({ control, applies, measures: standingOf }) =>
    standingOf.map((m) => {
      const work = standing.work.get(cycleId)?.get(m.id) ?? NEW_WORK;
      const live = measures.get(m.id)?.test ? standing.live.get(m.id) : undefined;
      return [
        ...[
          control.ref,
          control.name,
          applies ? 'yes' : (found?.assessment.content.notApplicable[control.id] ?? 'no'),
        ],
        ...[
          measures.get(m.id)?.name ?? m.id,
          measures.get(m.id)?.whose ?? 'ours',
          work.state,
          person(work.doneBy),
          work.how,
        ],
        live
          ? `the program: ${live.test ?? 'nothing counted'} (${live.value ?? '–'})`
          : (work.test ?? 'not tested'),
        ...[
          live ? '' : person(work.testedBy),
          live ? live.at.slice(0, 10) : (work.testedOn ?? ''),
          work.tested,
        ],
        ...[files(m.id), wholePoints(m.share).toFixed(2), m.gives ? 'yes' : `no: ${m.why ?? ''}`],
      ];
    }),
  );
  return rows;
}

const HEADINGS = [
  ...[
    'Reference',
    'Control',
    'Applies, or why not',
    'Measure',
    'Whose',
    'State',
    'Done by',
    'How it was done',
  ],
  ...['Test', 'Tested by', 'Tested on', 'How it was tested', 'Evidence', 'Points', 'Given'],
] as const;

/** An assessment as a workbook, or as the file that `./yare readiness` counts. */
export async function exportAssessment(ctx: Context, id: number, as: 'xlsx' | 'json'): Promise<Response> {
  const { framework, content, cycleId } = await findAssessment(ctx.store, id);
  const name = `assessment-${framework.id}`;
  if (as === 'xlsx')
    return attachment(`${name}.xlsx`, XLSX, await workbook('Proof', HEADINGS, await proofTable(ctx, id)));
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
  return attachment(`${name}.json`, 'application/json', JSON.stringify(file, null, 2));
}
