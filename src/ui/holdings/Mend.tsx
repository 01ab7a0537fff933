import { useStore } from '@nanostores/react';
import { leadingWords } from '../../core/holdings/mend.ts';
import type { Finding } from '../../core/holdings/finding.ts';
import type { Context } from '../../core/holdings/detector.ts';
import { tell } from '../desk/toasts.ts';
import { Button } from '../parts/Button.tsx';
import { draftInHand } from './draft-in-hand.ts';
import css from './holdings.module.css';

/** What would mend a false alarm or a near miss, each in one act on the draft in hand. */
export function Mend({ match, text }: { readonly match: Finding; readonly text: string }) {
  const hand = useStore(draftInHand);
  const { content, set } = hand ?? {};
  if (!set || content?.kind !== 'pattern' || content.id !== match.detector) return null;
  const value = text.slice(match.start, match.end);
  const missed = 'lacked' in match;
  const words = leadingWords(text, match.start);
  const add = (context: Context, told: string) => {
    set({ ...content, context: [...content.context, context] });
    tell(told, { undo: () => set(content) });
  };
  return (
    <div className={css['mend']}>
      {words && (
        <Button
          onClick={() =>
            missed
              ? add({ where: 'before', within: 40, words: [words], steps: 3 }, `Surer after “${words}” now.`)
              : add(
                  { where: 'before', within: 40, words: [words], steps: -4 },
                  `Less sure after “${words}” now.`,
                )
          }
        >
          {missed ? `Surer after “${words}”` : `Less sure after “${words}”`}
        </Button>
      )}
      {match.heading !== undefined && match.heading.trim() !== '' && (
        <Button
          onClick={() =>
            add(
              { where: 'heading', within: 60, words: [match.heading?.trim() ?? ''], steps: missed ? 3 : -4 },
              `${missed ? 'Surer' : 'Less sure'} under “${match.heading}” now.`,
            )
          }
        >
          {missed ? 'Surer' : 'Less sure'} under “{match.heading}”
        </Button>
      )}
      {!missed && (
        <Button
          onClick={() => {
            set({ ...content, exclude: { ...content.exclude, values: [...content.exclude.values, value] } });
            tell('This value never counts now.', { undo: () => set(content) });
          }}
        >
          Never count this value
        </Button>
      )}
    </div>
  );
}
