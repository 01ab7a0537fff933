import type { AiAct } from '../../../core/cases/ai/ai-record.ts';
import { AI_CLASSES } from '../../../core/cases/ai/ai-act.ts';
import type { AiContent } from '../../../core/cases/ai/ai-system.ts';
import type { ViewedAi } from '../../../server/cases/ai/view-ai.ts';
import { Figure, FigureRow } from '../../parts/Figure.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { NeedsSection } from '../dossiers/DossierParts.tsx';
import { useDossier } from '../dossiers/use-dossiers.ts';

/** Its class, what follows from that, and what comes next. */
export function AiSoundings({ id }: { readonly id: string }) {
  const { view: v } = useDossier<AiContent, ViewedAi, AiAct>('ai', id);
  if (!v) return null;
  const { classed, needs } = v.progress;
  const seen = classed.duties.filter((d) => v.record.duties[d.article]).length;
  return (
    <>
      <SoundingsSection title="May it be used?">
        <FigureRow>
          <Figure value={AI_CLASSES[classed.class]} words="class" mark={classed.class === 'prohibited'} />
          {classed.duties.length > 0 && (
            <Figure value={`${seen}/${classed.duties.length}`} words="duties seen to" />
          )}
        </FigureRow>
        {classed.open.length > 0 && <p>{classed.open.length} questions are open.</p>}
      </SoundingsSection>
      <NeedsSection needs={needs} />
    </>
  );
}
