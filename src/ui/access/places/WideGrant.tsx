import { useQuery } from '@tanstack/react-query';
import type * as rehearseApi from '../../../pages/api/access/changes/rehearse.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { useMay } from '../../desk/account-context.ts';
import { request } from '../../desk/request.ts';
import { numberWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { Figure, FigureRow } from '../../parts/Figure.tsx';
import { makeChange } from '../changes/make-change.ts';
import { useGrants } from '../use-access.ts';
import css from '../access.module.css';

/** A grant here to more people than this, of whom fewer than a tenth used it, is worth a thought. */
const MANY = 20;
const FEW = 0.1;

/** What would follow if the broadest grant here that few use were taken away. */
export function WideGrant({ place }: { readonly place: string }) {
  const grants = useGrants(place);
  const mayChange = useMay('access.change');
  const wide = (grants.data ?? [])
    .filter(
      (g) => g.here && g.is === 'grant' && (g.to.people ?? 0) > MANY && g.used < (g.to.people ?? 0) * FEW,
    )
    .sort((a, b) => (b.to.people ?? 0) - (a.to.people ?? 0))[0];
  const line = wide?.line ?? undefined;
  const rehearsed = useQuery({
    queryKey: ['access-grants', place, 'without', line],
    enabled: line !== undefined,
    queryFn: () =>
      request<AnswerOf<typeof rehearseApi.POST>>('POST', '/api/access/changes/rehearse', {
        wish: { act: 'take', lines: [line] },
      }),
  });
  if (!wide || !line || !rehearsed.data) return null;
  const r = rehearsed.data;
  const items = Object.values(r.exposure).reduce((n, e) => n + e.items, 0);
  return (
    <section className={css['rehearsed']} aria-label={`If ${wide.to.name} were taken away here`}>
      <h2>If “{wide.to.name}” were taken away here</h2>
      <FigureRow>
        <Figure
          value={`−${numberWords(r.lose)}`}
          words={r.lose === 1 ? 'person loses it' : 'people lose it'}
        />
        <Figure value={numberWords(r.loseUsed)} words="of them used it in 90 days" />
        <Figure value={numberWords(r.keep)} words="keep it another way" />
        <Figure value={numberWords(items)} words="items less exposed" />
        {mayChange && (
          <Button onClick={() => void makeChange({ act: 'take', lines: [line] })}>
            Rehearse this change
          </Button>
        )}
      </FigureRow>
    </section>
  );
}
