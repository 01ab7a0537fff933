import type { Account } from '../../../core/accounts/authority.ts';
import {
  proposeRisks,
  weighRisk,
  type ProposedRisk,
  type WeighedRisk,
} from '../../../core/cases/impact/risk.ts';
import {
  impactProgress,
  refusalToApprove,
  type ImpactProgress,
} from '../../../core/cases/impact/impact-progress.ts';
import type { ImpactRecord } from '../../../core/cases/impact/impact-act.ts';
import type { Threshold } from '../../../core/cases/impact/threshold.ts';
import type { LinkedFacts } from '../../../core/cases/linked/linked.ts';
import { accountNames } from '../../accounts/account-names.ts';
import type { Context } from '../../context.ts';
import { knowNow, stepsOf, type DossierStep } from '../dossiers/dossiers.ts';
import { linkOptions } from '../dossiers/linked-facts.ts';
import { IMPACT, impactFacts } from './impact-kind.ts';

export interface ViewedImpact {
  readonly id: number;
  readonly threshold: Threshold;
  readonly progress: ImpactProgress;
  readonly record: ImpactRecord;
  readonly facts: LinkedFacts;
  readonly weighed: readonly WeighedRisk[];
  /** Risks that are not among those that are written. */
  readonly proposed: readonly ProposedRisk[];
  readonly steps: readonly DossierStep[];
  /** Of those who decided something. */
  readonly names: Readonly<Record<number, string>>;
  readonly options: Awaited<ReturnType<typeof linkOptions>>;
  /** Why the viewer cannot approve it; `null` where they can. */
  readonly mayNotApprove: string | null;
  readonly today: string;
}

/** All of an assessment but what is written. Throws a RefusedError (404). */
export async function viewImpact(ctx: Context, account: Account, id: number): Promise<ViewedImpact> {
  const known = await knowNow(ctx, IMPACT, id);
  const facts = impactFacts(known);
  const [steps, names, options] = await Promise.all([
    stepsOf(ctx.store, IMPACT.object, id),
    accountNames(ctx.store),
    linkOptions(ctx),
  ]);
  const { record, content, today } = known;
  const by = [record.threshold, record.advice, record.approval, record.ended].flatMap((d) => d?.by ?? []);
  return {
    ...{ id, record, steps, options, today, facts: known.facts, threshold: facts.threshold },
    progress: impactProgress(facts),
    weighed: content.risks.map(weighRisk),
    proposed: proposeRisks(
      known.facts,
      facts.threshold.questions.some((q) => q.id === 'intelligence' && q.is),
    ).filter((p) => !content.risks.some((r) => r.what === p.risk.what)),
    names: Object.fromEntries(by.map((b) => [b, names.get(b) ?? 'somebody who left'])),
    mayNotApprove: refusalToApprove(facts, account.id) ?? null,
  };
}
