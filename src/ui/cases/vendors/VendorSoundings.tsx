import type { VendorAct } from '../../../core/cases/vendors/vendor-act.ts';
import type { VendorContent } from '../../../core/cases/vendors/vendor.ts';
import type { ViewedVendor } from '../../../server/cases/vendors/view-vendor.ts';
import { percentWords } from '../../desk/words.ts';
import { Figure, FigureRow } from '../../parts/Figure.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { NeedsSection } from '../dossiers/DossierParts.tsx';
import { useDossier } from '../dossiers/use-dossiers.ts';

/** How closely it is looked at, how it answered, and what comes next. */
export function VendorSoundings({ id }: { readonly id: string }) {
  const { view: v } = useDossier<VendorContent, ViewedVendor, VendorAct>('vendors', id);
  if (!v) return null;
  const { progress, clauses, facts } = v;
  const found = clauses.filter((c) => c.said?.there).length;
  const hosts = [...new Set(facts.trackers.map((t) => t.site))];
  return (
    <>
      <SoundingsSection title="Can it be trusted with it?">
        <FigureRow>
          <Figure value={String(progress.tier.tier)} words="tier" />
          <Figure
            value={progress.score?.score == null ? '–' : percentWords(progress.score.score)}
            words="is so"
          />
          {clauses.length > 0 && (
            <Figure
              value={`${found}/${clauses.length}`}
              words="clauses"
              mark={clauses.some((c) => c.said?.there === false)}
            />
          )}
        </FigureRow>
        {facts.trackers.length > 0 && (
          <p>
            {facts.trackers.length} trackers of theirs on {hosts.join(', ')}.
          </p>
        )}
      </SoundingsSection>
      <NeedsSection needs={progress.needs} />
    </>
  );
}
