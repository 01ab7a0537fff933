import { NEW_WORK } from '../../../core/obligations/work/measure-work.ts';
import type { Proof, ProvedMeasure } from '../../../core/obligations/work/proof.ts';
import { providersSay } from '../../../core/obligations/work/provider-file.ts';
import { notFound } from '../../../core/refusal.ts';
import { accountNames } from '../../accounts/account-names.ts';
import type { Context } from '../../context.ts';
import { lastTree } from '../../evidence/ledger.ts';
import { systemNames } from '../../holdings/offers.ts';
import { assessAll, readStanding, type Standing } from '../standing.ts';
import { evidenceIn, type ListedEvidence } from '../work/evidence.ts';

/** Throws a RefusedError (404). */
export async function proofOf(ctx: Context, id: number): Promise<Proof> {
  const standing = await readStanding(ctx.store, ctx.now());
  const cycle = standing.assessments.find((a) => a.id === id)?.cycleId;
  const found = assessAll(standing, cycle).find((a) => a.assessment.id === id);
  if (!found) throw notFound('assessment');
  const { assessment, readiness } = found;
  const { framework, content, cycleId } = assessment;
  const [names, systems, evidence, ledger] = await Promise.all([
    accountNames(ctx.store),
    systemNames(ctx.store),
    evidenceIn(ctx.store, cycleId),
    lastTree(ctx.store),
  ]);
  const person = (of: number | null) => (of === null ? '' : (names.get(of) ?? 'somebody who is gone'));
  const asked = [...new Set(framework.controls.flatMap((c) => c.measures))];
  const { units, providers } = content.scope;
  const named = content.scope.systems.map((s) => systems.get(s) ?? 'one that is gone').join(', ');
  return {
    ...{ framework, cycle: assessment.cycle, day: standing.day, at: ctx.now().toISOString() },
    ...{ lead: person(content.lead) || 'nobody', due: content.due, tally: readiness.tally },
    scope: [
      { what: 'Units', words: units },
      { what: 'Systems', words: named },
      { what: 'Providers', words: providers },
    ].filter((s) => s.words !== ''),
    families: framework.families.flatMap((f) => {
      const tally = readiness.families.get(f.id);
      return tally ? [{ name: f.name, tally }] : [];
    }),
    controls: readiness.controls.map(({ control, applies, points, tally, measures }) => ({
      ...{ control, applies, points, given: tally.given, measures },
      reason: content.notApplicable[control.id] ?? '',
    })),
    measures: new Map(
      asked.flatMap((m) => {
        const proved = provedMeasure(standing, cycleId, m, person, evidence.get(m) ?? []);
        return proved ? [[m, proved] as const] : [];
      }),
    ),
    ledger: ledger ? { number: ledger.number, head: ledger.head, sealedAt: ledger.sealedAt } : null,
  };
}

function provedMeasure(
  standing: Standing,
  cycle: number,
  id: string,
  person: (of: number | null) => string,
  evidence: readonly ListedEvidence[],
): ProvedMeasure | undefined {
  const measure = standing.library.measures.get(id);
  if (!measure) return undefined;
  const work = standing.work.get(cycle)?.get(id) ?? NEW_WORK;
  const base = { measure, work, evidence, doneBy: person(work.doneBy) };
  if (measure.test) {
    const live = standing.live.get(id);
    const counted = live?.value === null || live === undefined ? 'nothing to count' : String(live.value);
    const bound = measure.test.atMost ?? measure.test.atLeast ?? 0;
    return {
      ...base,
      ...{ by: 'program', testedBy: 'the program itself', test: live?.test ?? null },
      testedOn: live?.at.slice(0, 10) ?? '',
      tested: `${measure.test.figure} is ${counted}${live?.of == null ? '' : ` of ${live.of}`}; right ${
        measure.test.atMost === undefined ? 'from' : 'up to'
      } ${measure.test.share ? `${Math.round(bound * 100)}%` : bound}`,
    };
  }
  const answers = standing.providers.get(cycle)?.get(id) ?? [];
  const said = measure.whose === 'provider' ? providersSay(answers) : null;
  if (said)
    return {
      ...base,
      ...{ by: 'provider', test: said.test, testedBy: answers.map((a) => a.provider).join(', ') },
      testedOn: answers.map((a) => a.issued).reduce((last, on) => (on > last ? on : last), ''),
      tested: answers.map((a) => `${a.provider}, ${a.test} until ${a.until}: ${a.how}`).join('\n'),
    };
  return {
    ...base,
    ...{ by: work.test === null ? 'nobody' : 'person', test: work.test, tested: work.tested },
    ...{ testedBy: person(work.testedBy), testedOn: work.testedOn ?? '' },
  };
}
