import { useStore } from '@nanostores/react';
import { leadingWords } from '../../../../core/holdings/detection/pattern/leading-words.ts';
import type { Finding } from '../../../../core/holdings/detection/detector/finding.ts';
import type { PatternDetector } from '../../../../core/holdings/detection/detector/detector.ts';
import { tell } from '../../../desk/toasts.ts';
import { Button } from '../../../parts/Button.tsx';
import { draftInHand, withContext } from '../detectors/draft-in-hand.ts';
import css from '../../holdings.module.css';

/** What would mend a false alarm or a near miss, each in one act on the draft in hand. */
export function Mend({ match, text }: { readonly match: Finding; readonly text: string }) {
  const hand = useStore(draftInHand);
  const { content, set } = hand ?? {};
  if (!set || content?.kind !== 'pattern' || content.id !== match.detector) return null;
  const value = text.slice(match.start, match.end);
  const missed = 'lacked' in match;
  const words = leadingWords(text, match.start);
  const put = (next: PatternDetector, told: string) => {
    set(next);
    tell(told, { undo: () => set(content) });
  };
  const sure = missed ? 'Surer' : 'Less sure';
  return (
    <div className={css['mend']}>
      {words && (
        <Button onClick={() => put(withContext(content, words, !missed), `${sure} after “${words}” now.`)}>
          {sure} after “{words}”
        </Button>
      )}
      {match.heading !== undefined && match.heading.trim() !== '' && (
        <Button
          onClick={() =>
            put(
              {
                ...content,
                context: [
                  ...content.context,
                  {
                    where: 'heading',
                    within: 60,
                    words: [match.heading?.trim() ?? ''],
                    steps: missed ? 3 : -4,
                  },
                ],
              },
              `${sure} under “${match.heading}” now.`,
            )
          }
        >
          {sure} under “{match.heading}”
        </Button>
      )}
      {!missed && (
        <Button
          onClick={() =>
            put(
              { ...content, exclude: { ...content.exclude, values: [...content.exclude.values, value] } },
              'This value never counts now.',
            )
          }
        >
          Never count this value
        </Button>
      )}
    </div>
  );
}
