import type { ImpactAct } from '../../../core/cases/impact/impact-act.ts';
import { isHigh } from '../../../core/cases/impact/risk.ts';
import type { ViewedImpact } from '../../../server/cases/impact/view-impact.ts';
import type { ImpactContent } from '../../../core/cases/impact/impact.ts';
import { Figure, FigureRow } from '../../parts/Figure.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { NeedsSection } from '../dossiers/DossierParts.tsx';
import { useDossier } from '../dossiers/use-dossiers.ts';

/** What remains of the risks, what holds, and what comes next. */
export function ImpactSoundings({ id }: { readonly id: string }) {
  const { view: v } = useDossier<ImpactContent, ViewedImpact, ImpactAct>('impact', id);
  if (!v) return null;
  const { progress, threshold, weighed } = v;
  return (
    <>
      <SoundingsSection title="What remains of the risks?">
        {weighed.length === 0 ? (
          <p>No risk is named yet.</p>
        ) : (
          <FigureRow>
            <Figure value={progress.before} words="without measures" />
            <Figure value={progress.now} words="now" mark={isHigh(progress.now)} />
            <Figure value={progress.planned} words="with all" mark={isHigh(progress.planned)} />
          </FigureRow>
        )}
        <p>
          {threshold.criteria.length} of the nine criteria{' '}
          {threshold.criteria.length === 1 ? 'holds' : 'hold'}.
        </p>
      </SoundingsSection>
      <NeedsSection needs={progress.needs} />
    </>
  );
}
