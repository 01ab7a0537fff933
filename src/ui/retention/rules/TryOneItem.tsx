import { useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import type * as itemsApi from '../../../pages/api/holdings/items/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { queryString, request } from '../../desk/request.ts';
import { Dialog } from '../../parts/Dialog.tsx';
import { Field } from '../../parts/Field.tsx';
import { VerdictText } from '../items/VerdictText.tsx';
import { useItemRetention } from '../use-retention.ts';
import css from '../retention.module.css';

/** Any one item: why it is here still, and when it would go if the rule were in force as its draft stands. */
export function TryOneItem({ rule, onClose }: { readonly rule: string; readonly onClose: () => void }) {
  const [text, setText] = useState('');
  const [chosen, setChosen] = useState<{ readonly id: string; readonly name: string }>();
  const typed = useDeferredValue(text.trim());
  const found = useQuery({
    queryKey: ['try-items', typed],
    enabled: typed.length > 1,
    queryFn: () =>
      request<AnswerOf<typeof itemsApi.GET>>(
        'GET',
        `/api/holdings/items${queryString({ lens: `name holding "${typed.replaceAll('"', '')}"`, size: '8' })}`,
      ),
  });
  return (
    <Dialog title="Try on one item" onClose={onClose}>
      <Field label="Part of its name">
        <input
          autoFocus
          value={text}
          maxLength={120}
          placeholder="manifest-2026-07-02"
          onChange={(e) => setText(e.target.value)}
        />
      </Field>
      {typed.length > 1 && found.data && (
        <ul className={css['choices']} aria-label="Items of that name">
          {found.data.rows.map((i) => (
            <li key={i.id}>
              <button
                type="button"
                aria-pressed={chosen?.id === i.id}
                onClick={() => setChosen({ id: i.id, name: i.name })}
              >
                <b>{i.name}</b> <span>{i.place || i.source}</span>
              </button>
            </li>
          ))}
          {found.data.rows.length === 0 && <li>Nothing is called that.</li>}
        </ul>
      )}
      {chosen && <Tried key={chosen.id} id={chosen.id} name={chosen.name} rule={rule} />}
    </Dialog>
  );
}

function Tried({ id, name, rule }: { readonly id: string; readonly name: string; readonly rule: string }) {
  const then = useItemRetention(id, rule);
  const now = useItemRetention(id);
  if (then.isError) return <p role="alert">◆ {then.error.message}</p>;
  if (!then.data || !now.data) return <p>Weighing …</p>;
  return (
    <section className={css['tried']} aria-label={`The verdict on ${name}`} aria-live="polite">
      <h3>{name}</h3>
      <h4>If this rule were in force</h4>
      <VerdictText verdict={then.data} />
      <h4>As it is now</h4>
      <VerdictText verdict={now.data} />
    </section>
  );
}
