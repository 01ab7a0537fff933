import type { Fairness } from '../../../core/websites/notice/fairness.ts';
import { GroundList } from '../../parts/Explanation.tsx';

/** Findings of fairness; what is not met with its article and what to do. */
export function FairnessList({ findings }: { readonly findings: readonly Fairness[] }) {
  return (
    <GroundList
      grounds={findings
        .toSorted((a, b) => Number(a.met) - Number(b.met))
        .map((f) => ({
          mark: f.met ? '✓' : '◆',
          words: f.met ? f.words : `${f.words}. ${f.fix} (${f.law})`,
        }))}
    />
  );
}
