import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { ListedItem } from '../../server/desk/today-list.ts';
import { request } from '../desk/request.ts';
import { tell } from '../desk/toasts.ts';
import { DialogForm } from '../parts/DialogForm.tsx';
import { Field } from '../parts/Field.tsx';
import { useSending } from '../parts/use-sending.ts';
import { changeItem } from './use-today.ts';
import css from './today.module.css';

/** Hands something on to one person, who has it before all others. */
export function HandOnDialog({ item, onClose }: { readonly item: ListedItem; readonly onClose: () => void }) {
  const { kind, key } = item;
  const people = useQuery({
    queryKey: ['today people', kind, key],
    queryFn: () =>
      request<readonly { readonly id: number; readonly name: string }[]>(
        'GET',
        `/api/today/people?${new URLSearchParams({ kind, key }).toString()}`,
      ),
  });
  const [to, setTo] = useState('');
  const [words, setWords] = useState('');
  const { busy, refused, error, send } = useSending();
  const [wrong, wrongWords] = [error('to'), error('words')];
  const chosen = to || String(people.data?.[0]?.id ?? '');
  return (
    <DialogForm
      title="Hand it on"
      onClose={onClose}
      onSubmit={() =>
        send(async () => {
          await changeItem('PUT', 'hand-on', item, { to: Number(chosen), words });
          tell(`It is with ${people.data?.find((p) => String(p.id) === chosen)?.name ?? 'them'}.`, {
            undo: () => changeItem('DELETE', 'hand-on', item),
          });
          onClose();
        })
      }
      act="Hand it on"
      busy={busy || !people.data || people.data.length === 0}
      refused={wrong || wrongWords ? undefined : (refused?.message ?? people.error?.message)}
    >
      <p className={css['detail']}>{item.words}</p>
      {people.data?.length === 0 ? (
        <p>Nobody else may do it: their roles do not include it.</p>
      ) : (
        <Field label="To" error={wrong}>
          <select autoFocus value={chosen} onChange={(e) => setTo(e.target.value)}>
            {(people.data ?? []).map((p) => (
              <option key={p.id} value={p.id}>
                {p.name}
              </option>
            ))}
          </select>
        </Field>
      )}
      <Field label="What they should know" error={wrongWords}>
        <textarea rows={2} maxLength={300} value={words} onChange={(e) => setWords(e.target.value)} />
      </Field>
    </DialogForm>
  );
}
