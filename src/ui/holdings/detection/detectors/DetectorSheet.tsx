import { useMutation } from '@tanstack/react-query';
import type * as holdingsDetectorsApi from '../../../../pages/api/holdings/detectors/index.ts';
import type { AnswerOf } from '../../../../server/http/endpoint.ts';
import type { DetectorUse } from '../../../../server/holdings/detection/detectors/own-detectors.ts';
import type { DescribedDetector } from '../../../../server/holdings/detection/detectors/trial.ts';
import { useMay } from '../../../desk/account-context.ts';
import { go } from '../../../desk/location.ts';
import { request } from '../../../desk/request.ts';
import { tell, tellFailure } from '../../../desk/toasts.ts';
import { Button } from '../../../parts/Button.tsx';
import { LongCode } from '../../../parts/LongCode.tsx';
import { Sentence } from '../../../parts/Sentence.tsx';
import { SheetHead } from '../../../parts/SheetHead.tsx';
import { Failure, Loading } from '../../../parts/states.tsx';
import { detectorLink } from '../../links.ts';
import { OwnDetectorSheet } from './OwnDetectorSheet.tsx';
import { StepFigure } from './StepFigure.tsx';
import { UsedBy } from './UsedBy.tsx';
import { useDetector } from './use-detectors.ts';
import css from '../../holdings.module.css';

/** One detector: one’s own to edit, or one that ships, to read and to copy. */
export function DetectorSheet({ id }: { readonly id: string }) {
  const found = useDetector(id);
  if (found.isError && !found.data)
    return <Failure error={found.error} onRetry={() => void found.refetch()} />;
  if (!found.data) return <Loading what="the detector" />;
  return found.data.origin === 'own' ? (
    <OwnDetectorSheet of={found.data} />
  ) : (
    <BuiltInSheet of={found.data} usedBy={found.data.usedBy} />
  );
}

/** As sentences, with the source of its shape and the texts that test it. */
function BuiltInSheet({
  of: { detector, lines, examples, counterExamples },
  usedBy,
}: {
  readonly of: DescribedDetector;
  readonly usedBy: readonly DetectorUse[];
}) {
  const mayEdit = useMay('holdings.edit');
  const copy = useMutation({
    mutationFn: () =>
      request<AnswerOf<typeof holdingsDetectorsApi.POST>>('POST', '/api/holdings/detectors', {
        name: `${detector.name}, ours`,
        copyOf: detector.id,
      }),
    onSuccess: ({ id }) => {
      tell('A draft of your own: change it, try it, put it in force.');
      go(detectorLink(id));
    },
    onError: tellFailure,
  });
  return (
    <>
      <SheetHead
        title={detector.name}
        actions={
          <>
            {mayEdit && (
              <Button kind="primary" busy={copy.isPending} onClick={() => copy.mutate()}>
                Copy it to change it
              </Button>
            )}
            <Button onClick={() => location.assign(`/api/holdings/detectors/export?id=${detector.id}`)}>
              Export
            </Button>
          </>
        }
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
          <span className={css['line']}>
            {line.words}
            {line.code !== undefined && <LongCode code={line.code} />}
            {line.rest}
          </span>
          {line.steps !== undefined && line.steps !== 0 && <StepFigure steps={line.steps} />}
        </Sentence>
      ))}
      <UsedBy uses={usedBy} />
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
