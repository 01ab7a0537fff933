import { useEffect, useRef } from 'react';
import type { LikenessPart } from '../../../../core/holdings/detection/likeness/likeness.ts';
import type { Trial } from '../../../../server/holdings/detection/detectors/trial.ts';
import { percentWords } from '../../../desk/words.ts';
import css from '../../holdings.module.css';

const MOST = 6000;

/** The known document and the text side by side, with what they have in common. */
export function LikenessSides({ trial }: { readonly trial: Trial }) {
  const { likeness } = trial;
  if (!likeness) return <p className={css['hint']}>Nothing in it comes from a document it knows.</p>;
  const counts = likeness.measure >= likeness.from;
  return (
    <>
      <p>
        <b>{percentWords(likeness.measure)}</b> of {likeness.template},{' '}
        {likeness.how === 'copy' ? 'as a copy' : 'as an excerpt'};{' '}
        {counts
          ? `✓ it counts from ${percentWords(likeness.from)} on`
          : `○ below the ${percentWords(likeness.from)} from which it counts`}
        . Marked is what they have in common.
      </p>
      <div className={css['sides']}>
        <section aria-label="The known document">
          <h3>{likeness.template}</h3>
          <Parts text={likeness.templateText} parts={likeness.inTemplate} />
        </section>
        <section aria-label="What is tried">
          <h3>What is tried</h3>
          <Parts text={trial.text} parts={likeness.inText} />
        </section>
      </div>
    </>
  );
}

function Parts({ text, parts }: { readonly text: string; readonly parts: readonly LikenessPart[] }) {
  const box = useRef<HTMLDivElement>(null);
  // The first of what they have in common is in view.
  useEffect(() => {
    const mark = box.current?.querySelector('mark');
    if (box.current && mark) box.current.scrollTop = mark.offsetTop - 20;
  }, [text, parts]);
  const shown: React.ReactNode[] = [];
  let at = 0;
  for (const p of parts) {
    if (p.start < at || p.end > MOST) continue;
    shown.push(text.slice(at, p.start), <mark key={p.start}>{text.slice(p.start, p.end)}</mark>);
    at = p.end;
  }
  shown.push(text.slice(at, MOST));
  return (
    <div ref={box} className={css['shown']} role="group" aria-label="Text" tabIndex={0}>
      {shown}
    </div>
  );
}
