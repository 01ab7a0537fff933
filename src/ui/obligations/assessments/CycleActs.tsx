import { useState } from 'react';
import { request } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { countWords } from '../../desk/words.ts';
import { sendFile } from '../../holdings/offers.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { MenuButton } from '../../parts/MenuButton.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { useMay } from '../../desk/account-context.ts';
import css from '../obligations.module.css';

interface CycleProps {
  readonly id: number;
  readonly name: string;
}

/** What is done with a cycle as a whole. */
export function CycleActs({ id, name }: CycleProps) {
  const [mayEdit, mayWork] = [useMay('obligations.edit'), useMay('obligations.work')];
  const [open, setOpen] = useState<'next' | 'provider'>();
  const acts = [
    ...(mayEdit ? [{ id: 'next', words: 'Begin the next cycle …', act: () => setOpen('next') }] : []),
    ...(mayWork
      ? [{ id: 'provider', words: 'Take in a provider’s file …', act: () => setOpen('provider') }]
      : []),
  ];
  if (acts.length === 0) return null;
  const close = () => setOpen(undefined);
  return (
    <>
      <MenuButton label={`Acts for ${name}`} acts={acts} />
      {open === 'next' && <NextCycle id={id} name={name} onClose={close} />}
      {open === 'provider' && <TakeProvider id={id} name={name} onClose={close} />}
    </>
  );
}

function NextCycle({ id, name, onClose }: CycleProps & { readonly onClose: () => void }) {
  const [next, setNext] = useState(nextName(name));
  const [due, setDue] = useState('');
  const { busy, refused, error, send } = useSending();
  const begin = async () => {
    await request('POST', `/api/obligations/cycles/${id}/copy`, {
      ...{ name: next, due: due === '' ? null : due },
    });
    tell(`${next} has begun, with what still holds.`);
    onClose();
  };
  return (
    <DialogForm
      title={`Begin the cycle after ${name}`}
      onClose={onClose}
      onSubmit={() => send(begin)}
      act="Begin it"
      busy={busy}
      refused={['name', 'cycle', 'due'].some((f) => error(f)) ? undefined : refused?.message}
    >
      <p className={css['note']}>
        It has the same assessments by the newest version of each framework, their scope and what does not
        apply; and the work that still holds comes along with its evidence.
      </p>
      <Field label="What the cycle is called" error={error('name') ?? error('cycle')}>
        <input value={next} maxLength={120} onChange={(e) => setNext(e.target.value)} />
      </Field>
      <Field label="Due" error={error('due')}>
        <input type="date" value={due} onChange={(e) => setDue(e.target.value)} />
      </Field>
    </DialogForm>
  );
}

/** “group, 2027” after “group, 2026”. */
export function nextName(name: string): string {
  const counted = name.replace(/\d{4}(?!.*\d{4})/, (year) => String(Number(year) + 1));
  return counted === name ? `${name}, next` : counted;
}

function TakeProvider({ id, name, onClose }: CycleProps & { readonly onClose: () => void }) {
  const [file, setFile] = useState<File>();
  const { busy, refused, send } = useSending();
  const take = async () => {
    if (!file) return;
    const { provider, passed, failed } = await request<{ provider: string; passed: number; failed: number }>(
      'POST',
      `/api/obligations/cycles/${id}/provider`,
      { upload: await sendFile(file) },
    );
    tell(`${provider}: ${countWords(passed, 'measure')} passed${failed > 0 ? `, ${failed} failed` : ''}.`);
    onClose();
  };
  return (
    <DialogForm
      title="Take in a provider’s file"
      onClose={onClose}
      onSubmit={() => send(take)}
      act="Take it in"
      busy={busy}
      disabled={!file}
      refused={refused?.message}
    >
      <p className={css['note']}>
        What it says counts in {name} until the day it names, with the file as its evidence.
      </p>
      <Field label="File (yare-provider-1, JSON)">
        <input type="file" accept=".json" onChange={(e) => setFile(e.target.files?.[0])} />
      </Field>
      {refused && refused.refusal.fields.length > 0 && (
        <ul className={css['plain']}>
          {refused.refusal.fields.slice(0, 12).map((f, i) => (
            <li key={i} className={css['mark']}>
              ◆ <b>{f.field}</b>: {f.message}
            </li>
          ))}
        </ul>
      )}
    </DialogForm>
  );
}
