import { useMutation, useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import type * as judgementsApi from '../../../pages/api/holdings/judgements.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { queryString, request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords } from '../../desk/words.ts';
import { queryClient } from '../../desk/changed.ts';
import { Button } from '../../parts/Button.tsx';
import { Dialog } from '../../parts/Dialog.tsx';
import { Field } from '../../parts/Field.tsx';
import css from '../estate.module.css';

/** Judges every match of a detector whose masked value reads like a pattern. */
export function JudgeMany({
  detector,
  name,
  onClose,
}: {
  readonly detector: string;
  readonly name: string;
  readonly onClose: () => void;
}) {
  const [pattern, setPattern] = useState('');
  const [reason, setReason] = useState('');
  const typed = useDeferredValue(pattern.trim());
  const { data } = useQuery({
    queryKey: ['judgements', detector, typed],
    queryFn: () =>
      request<AnswerOf<typeof judgementsApi.GET>>(
        'GET',
        `/api/holdings/judgements${queryString({ detector, pattern: typed })}`,
      ),
    enabled: typed !== '',
  });
  const judge = useMutation({
    mutationFn: (holds: boolean) =>
      request<AnswerOf<typeof judgementsApi.POST>>('POST', '/api/holdings/judgements', {
        detector,
        pattern,
        holds,
        reason,
      }),
    onSuccess: ({ judged }, holds) => {
      tell(`${countWords(judged, 'match', 'matches')} judged ${holds ? 'right' : 'wrong'}.`);
      void queryClient.invalidateQueries({ queryKey: ['judgements'] });
      void queryClient.invalidateQueries({ queryKey: ['items'] });
      onClose();
    },
    onError: tellFailure,
  });
  const n = typed === '' ? 0 : (data?.matching ?? 0);
  return (
    <Dialog title={`Judge findings of ${name}`} onClose={onClose}>
      <div className={css['form']}>
        <Field label="Masked values that read" hint="* stands for anything, such as t•••@•••.example or 00*.">
          <input
            autoFocus
            value={pattern}
            onChange={(e) => setPattern(e.target.value)}
            spellCheck={false}
            autoComplete="off"
          />
        </Field>
        <Field label="Why" hint="Kept with each of them.">
          <input value={reason} onChange={(e) => setReason(e.target.value)} maxLength={400} />
        </Field>
        <p role="status">
          {typed === '' ? 'Nothing is judged yet.' : `${countWords(n, 'match reads', 'matches read')} so.`}
        </p>
        <div className={css['formActs']}>
          <Button disabled={n === 0} busy={judge.isPending} onClick={() => judge.mutate(false)}>
            They are wrong
          </Button>
          <Button disabled={n === 0} busy={judge.isPending} onClick={() => judge.mutate(true)}>
            They are right
          </Button>
          <Button kind="quiet" onClick={onClose}>
            Leave it
          </Button>
        </div>
      </div>
    </Dialog>
  );
}
