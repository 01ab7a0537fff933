import { useStore } from '@nanostores/react';
import { leadingWords } from '../../../../core/holdings/detection/pattern/leading-words.ts';
import type { ShownCase } from '../../../../server/holdings/detection/labelled/labelled-sets.ts';
import { tell } from '../../../desk/toasts.ts';
import { Button } from '../../../parts/Button.tsx';
import { draftInHand, withContext } from './draft-in-hand.ts';
import css from '../../holdings.module.css';

const MOST = 4;

/** The words that lead to most of the cases, each of which can be made to tell in one act. */
export function LedBy({ cases, missed }: { readonly cases: readonly ShownCase[]; readonly missed: boolean }) {
  const hand = useStore(draftInHand);
  const { content, set } = hand ?? {};
  if (!set || content?.kind !== 'pattern') return null;
  const counts = new Map<string, number>();
  for (const c of cases) {
    const words = leadingWords(c.before + c.value, c.before.length).toLowerCase();
    if (words) counts.set(words, (counts.get(words) ?? 0) + 1);
  }
  const known = new Set(content.context.flatMap((c) => c.words ?? []).map((w) => w.toLowerCase()));
  const most = [...counts]
    .filter(([words, n]) => n > 1 && !known.has(words))
    .sort((a, b) => b[1] - a[1])
    .slice(0, MOST);
  if (most.length === 0) return null;
  return (
    <p className={css['mend']}>
      {most.map(([words, n]) => (
        <Button
          key={words}
          onClick={() => {
            set(withContext(content, words, !missed));
            tell(`${missed ? 'Surer' : 'Less sure'} after “${words}” now.`, { undo: () => set(content) });
          }}
        >
          {missed ? 'Surer' : 'Less sure'} after “{words}” ({n})
        </Button>
      ))}
    </p>
  );
}
