import { useState } from 'react';
import type { ListedItem } from '../../server/desk/today-list.ts';
import { tell } from '../desk/toasts.ts';
import { dayWords } from '../desk/words.ts';
import { DialogForm } from '../parts/DialogForm.tsx';
import { Field } from '../parts/Field.tsx';
import { localMoment } from '../parts/local-moment.ts';
import { useSending } from '../parts/use-sending.ts';
import { startOfDay } from './start-of-day.ts';
import { changeItem } from './use-today.ts';
import css from './today.module.css';

/** Puts something off until a day of one’s choice. */
export function PutOffDialog({ item, onClose }: { readonly item: ListedItem; readonly onClose: () => void }) {
  const [day, setDay] = useState(localMoment(startOfDay(7)).slice(0, 10));
  const { busy, refused, error, send } = useSending();
  const wrong = error('until');
  return (
    <DialogForm
      title="Put it off"
      onClose={onClose}
      onSubmit={() =>
        send(async () => {
          const until = new Date(`${day}T00:00`);
          await changeItem('PUT', 'put-off', item, { until: until.toISOString() });
          tell(`It is put off until ${dayWords(until.toISOString())}.`, {
            undo: () => changeItem('DELETE', 'put-off', item),
          });
          onClose();
        })
      }
      act="Put it off"
      busy={busy}
      refused={wrong ? undefined : refused?.message}
    >
      <p className={css['detail']}>{item.words}. Others still see it.</p>
      <Field label="Until" error={wrong}>
        <input type="date" autoFocus required value={day} onChange={(e) => setDay(e.target.value)} />
      </Field>
    </DialogForm>
  );
}
