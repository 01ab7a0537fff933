import { useQuery } from '@tanstack/react-query';
import type { DescribedDetector } from '../../server/holdings/trial.ts';
import { request } from '../desk/request.ts';
import { go } from '../desk/location.ts';
import { Button } from '../parts/Button.tsx';
import { Sentence } from '../parts/Sentence.tsx';
import { SheetHead } from '../parts/SheetHead.tsx';
import { Failure, Loading } from '../parts/states.tsx';
import { StepFigure } from './StepFigure.tsx';
import css from './holdings.module.css';

/** One detector as sentences, with the source of its shape and the texts that test it. */
export function DetectorSheet({ id }: { readonly id: string }) {
  const found = useQuery({
    queryKey: ['detector', id],
    queryFn: () => request<DescribedDetector>('GET', `/api/detectors/${encodeURIComponent(id)}`),
    staleTime: Infinity,
  });
  if (found.isError) return <Failure error={found.error} onRetry={() => void found.refetch()} />;
  if (!found.data) return <Loading what="detector" />;
  const { detector, lines, examples, counterExamples } = found.data;
  return (
    <>
      <SheetHead
        title={detector.name}
        actions={<Button onClick={() => go('/holdings')}>All detectors</Button>}
        detail={
          <>
            <span className={css['id']}>{detector.id}</span> · version {detector.version} ·{' '}
            {detector.category}
            {detector.country && ` · ${detector.country}`} · from {detector.source}
          </>
        }
      />
      {detector.about && <p className={css['about']}>{detector.about}</p>}
      {lines.map((line, i) => (
        <Sentence key={i} label={line.label}>
          <span className={css['line']}>{line.words}</span>
          {line.steps !== undefined && line.steps !== 0 && <StepFigure steps={line.steps} />}
        </Sentence>
      ))}
      <section className={css['texts']}>
        <h2>Finds</h2>
        <ul>
          {examples.map((e) => (
            <li key={e}>
              <Marked text={e} />
            </li>
          ))}
        </ul>
        <h2>Stays silent at</h2>
        <ul>
          {counterExamples.map((e) => (
            <li key={e}>{e}</li>
          ))}
        </ul>
      </section>
    </>
  );
}

function Marked({ text }: { readonly text: string }) {
  const [before = '', rest = ''] = text.split('⟦');
  const [value = '', after = ''] = rest.split('⟧');
  return (
    <>
      {before}
      <mark>{value}</mark>
      {after}
    </>
  );
}
