import { useMutation } from '@tanstack/react-query';
import type { Trial } from '../../../../server/holdings/detection/detectors/trial.ts';
import { useMay } from '../../../desk/account-context.ts';
import { request } from '../../../desk/request.ts';
import { tell, tellFailure } from '../../../desk/toasts.ts';
import { Button } from '../../../parts/Button.tsx';
import css from '../../holdings.module.css';

/** What a learned detector says of the text, the words that moved it, and the person’s verdict on that. */
export function LearnedVerdict({
  trial,
  id,
  name,
}: {
  readonly trial: Trial;
  readonly id: string;
  readonly name: string;
}) {
  const may = useMay('holdings.edit');
  const [verdict] = trial.verdicts;
  const teach = useMutation({
    mutationFn: (role: 'example' | 'counter-example') =>
      request('POST', `/api/holdings/detectors/${id}/texts`, {
        role,
        of: { name, text: trial.text, origin: 'verdict' },
      }),
    onSuccess: (_, role) => {
      tell(
        `Kept as ${role === 'example' ? 'an example' : 'a counter-example'}. The next training learns from it.`,
      );
    },
    onError: tellFailure,
  });
  if (!verdict) return <p className={css['hint']}>○ It is not trained yet.</p>;
  return (
    <>
      <p>
        Scored <b>{verdict.confidence.toFixed(2)}</b>
        {verdict.why ? `: ${verdict.why}.` : ', above its threshold.'}
      </p>
      {may && (
        <p className={css['keep']}>
          <Button busy={teach.isPending} onClick={() => teach.mutate('example')}>
            It is one
          </Button>
          <Button busy={teach.isPending} onClick={() => teach.mutate('counter-example')}>
            It is none
          </Button>
          <span className={css['hint']}>Your verdict keeps the text, for the next training.</span>
        </p>
      )}
      <h3 className={css['smallHead']}>The words that moved it most</h3>
      <ul className={css['telling']}>
        {trial.telling.map((t) => (
          <li key={t.word} data-against={t.weight < 0 || undefined}>
            <span>{t.word}</span>
            <span>
              {t.weight >= 0 ? `for, +${t.weight.toFixed(2)}` : `against, −${Math.abs(t.weight).toFixed(2)}`}
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}
