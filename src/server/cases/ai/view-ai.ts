import { AI_QUESTIONS, proposeAiAnswers, type AiQuestion } from '../../../core/cases/ai/ai-act.ts';
import { aiProgress, type AiProgress } from '../../../core/cases/ai/ai-progress.ts';
import type { AiRecord } from '../../../core/cases/ai/ai-record.ts';
import { aiText } from '../../../core/cases/ai/ai-system.ts';
import {
  proposeRisks,
  weighRisk,
  type ProposedRisk,
  type WeighedRisk,
} from '../../../core/cases/impact/risk.ts';
import type { LinkedFacts } from '../../../core/cases/linked/linked.ts';
import { accountNames } from '../../accounts/account-names.ts';
import type { Context } from '../../context.ts';
import { IMPACT } from '../impact/impact-kind.ts';
import { VENDOR } from '../vendors/vendor-kind.ts';
import { knowNow, listDossiers, stepsOf, type DossierStep } from '../dossiers/dossiers.ts';
import { linkOptions } from '../dossiers/linked-facts.ts';
import { AI_SYSTEM } from './ai-kind.ts';

export interface ViewedAi {
  readonly id: number;
  readonly progress: AiProgress;
  readonly record: AiRecord;
  readonly facts: LinkedFacts;
  /** All questions, with what speaks to each. */
  readonly questions: readonly (AiQuestion & { readonly proposed: string | null })[];
  readonly weighed: readonly WeighedRisk[];
  readonly proposed: readonly ProposedRisk[];
  readonly steps: readonly DossierStep[];
  readonly names: Readonly<Record<number, string>>;
  readonly options: Awaited<ReturnType<typeof linkOptions>>;
  readonly vendors: readonly { readonly value: string; readonly words: string }[];
  readonly assessments: readonly { readonly value: string; readonly words: string; readonly state: string }[];
  readonly today: string;
}

/** All of an AI system but what is written. Throws a RefusedError (404). */
export async function viewAi(ctx: Context, id: number): Promise<ViewedAi> {
  const known = await knowNow(ctx, AI_SYSTEM, id);
  const { record, content, facts, today } = known;
  const [steps, names, options, vendors, assessments] = await Promise.all([
    stepsOf(ctx.store, AI_SYSTEM.object, id),
    accountNames(ctx.store),
    linkOptions(ctx),
    listDossiers(ctx.store, VENDOR),
    listDossiers(ctx.store, IMPACT),
  ]);
  const spoken = proposeAiAnswers(aiText(content));
  const by = [record.approval, ...record.life, ...Object.values(record.duties)].flatMap((s) => s?.by ?? []);
  return {
    ...{ id, record, facts, steps, options, today, progress: aiProgress(known) },
    questions: AI_QUESTIONS.map((q) => ({ ...q, proposed: spoken[q.id] ?? null })),
    weighed: content.risks.map(weighRisk),
    proposed: proposeRisks(facts, true).filter((p) => !content.risks.some((r) => r.what === p.risk.what)),
    names: Object.fromEntries(by.map((b) => [b, names.get(b) ?? 'somebody who left'])),
    vendors: vendors.map((v) => ({ value: String(v.id), words: v.name })),
    assessments: assessments.map((a) => ({ value: String(a.id), words: a.name, state: a.state })),
  };
}
