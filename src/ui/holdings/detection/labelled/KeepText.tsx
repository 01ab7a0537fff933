import { useMutation } from '@tanstack/react-query';
import type * as holdingsSetsApi from '../../../../pages/api/holdings/sets/index.ts';
import type { AnswerOf } from '../../../../server/http/endpoint.ts';
import { useState } from 'react';
import type { Trial } from '../../../../server/holdings/detection/detectors/trial.ts';
import { useMay } from '../../../desk/account-context.ts';
import { go } from '../../../desk/location.ts';
import { request } from '../../../desk/request.ts';
import { tell, tellFailure } from '../../../desk/toasts.ts';
import { Button } from '../../../parts/Button.tsx';
import { setLink } from '../../links.ts';
import { useSets } from '../detectors/use-detectors.ts';
import css from '../../holdings.module.css';

/** Keeps the tried text in a labelled set, with what was found as its first marks. */
export function KeepText({ trial, name }: { readonly trial: Trial; readonly name: string }) {
  const may = useMay('holdings.edit');
  const { data: sets } = useSets();
  const [chosen, choose] = useState<number>();
  const keep = useMutation({
    mutationFn: async () => {
      const set =
        chosen ??
        sets?.[0]?.id ??
        (
          await request<AnswerOf<typeof holdingsSetsApi.POST>>('POST', '/api/holdings/sets', {
            name: 'Our texts',
          })
        ).id;
      await request('POST', `/api/holdings/sets/${set}/texts`, {
        name,
        text: trial.text,
        marks: trial.findings.map((f) => ({ start: f.start, end: f.end, label: f.detector })),
      });
      return set;
    },
    onSuccess: (set) => {
      tell('Kept, with what was found marked. Look over the marks: they say what is right.');
      go(setLink(set));
    },
    onError: tellFailure,
  });
  if (!may) return null;
  return (
    <p className={css['keep']}>
      {sets && sets.length > 1 && (
        <select
          aria-label="Labelled set to keep it in"
          className={css['select']}
          value={chosen ?? sets[0]?.id}
          onChange={(e) => choose(Number(e.target.value))}
        >
          {sets.map((s) => (
            <option key={s.id} value={s.id}>
              {s.name}
            </option>
          ))}
        </select>
      )}
      <Button busy={keep.isPending} onClick={() => keep.mutate()}>
        Keep it as a labelled text
      </Button>
    </p>
  );
}
