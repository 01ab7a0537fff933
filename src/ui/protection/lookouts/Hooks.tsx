import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type * as hooksApi from '../../../pages/api/protection/lookouts/hooks.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { setQuery } from '../../desk/location.ts';
import { queryString, request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { Button } from '../../parts/Button.tsx';
import { CopyText } from '../../parts/CopyText.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';
import css from '../protection.module.css';

const PATH = '/api/protection/lookouts/hooks';

/** Webhooks that lookouts can call: those there are, and another one. */
export function Hooks() {
  const hooks = useQuery({
    queryKey: ['alert-hooks'],
    queryFn: () => request<AnswerOf<typeof hooksApi.GET>>('GET', PATH),
  });
  const [name, setName] = useState('');
  const [url, setUrl] = useState('');
  const [secret, setSecret] = useState<string>();
  const { busy, refused, error, send } = useSending();
  const stop = async (id: number) => {
    try {
      await request('DELETE', `${PATH}${queryString({ id })}`);
      tell('Nothing is sent there any more.');
    } catch (e) {
      tellFailure(e);
    } finally {
      await hooks.refetch();
    }
  };
  return (
    <DialogForm
      title="Webhooks of lookouts"
      onClose={() => setQuery({ new: null })}
      onSubmit={() =>
        send(async () => {
          setSecret((await request<{ secret: string }>('POST', PATH, { name, url })).secret);
          setName('');
          setUrl('');
          await hooks.refetch();
        })
      }
      act="Add it"
      busy={busy}
      refused={error('name', 'url') ? undefined : refused?.message}
    >
      {hooks.data?.map((h) => (
        <p key={h.id}>
          <b>{h.name}</b> <span className={css['name']}>{h.url}</span>{' '}
          <Button onClick={() => void stop(h.id)} aria-label={`Stop ${h.name}`}>
            Stop
          </Button>
        </p>
      ))}
      {secret && (
        <>
          <p>Calls are signed with this secret, which is shown once:</p>
          <CopyText text={secret} label="The secret" />
        </>
      )}
      <Field label="What it is called" error={error('name')}>
        <input autoFocus value={name} maxLength={120} onChange={(e) => setName(e.target.value)} />
      </Field>
      <Field label="Its address" error={error('url')}>
        <input
          value={url}
          maxLength={2000}
          placeholder="https://house.example/alerts"
          onChange={(e) => setUrl(e.target.value)}
        />
      </Field>
    </DialogForm>
  );
}
