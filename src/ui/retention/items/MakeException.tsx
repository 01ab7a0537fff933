import { useState } from 'react';
import { KEPT, type ExceptionContent } from '../../../core/retention/rules/exception.ts';
import { FOR_GOOD, type Keep } from '../../../core/retention/rules/term.ts';
import { THEN, type Then } from '../../../core/retention/verdict/retention-verdict.ts';
import { parseDay } from '../../../core/text/day.ts';
import type * as exceptionsApi from '../../../pages/api/retention/exceptions/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { request } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { countWords } from '../../desk/words.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { ChoiceField } from '../../parts/ChoiceField.tsx';
import { useSending } from '../../parts/use-sending.ts';

const UNITS = { days: 'days', months: 'months', years: 'years', good: 'whatever the rules say' } as const;

/** Has some items kept longer or shorter than the rules say, with a reason, and up to a day. */
export function MakeException({
  items,
  onClose,
}: {
  readonly items: readonly number[];
  readonly onClose: () => void;
}) {
  const [unit, setUnit] = useState<keyof typeof UNITS>('good');
  const [count, setCount] = useState('1');
  const [after, setAfter] = useState('changed');
  const [then, setThen] = useState<Then>('ask');
  const [until, setUntil] = useState('');
  const [reason, setReason] = useState('');
  const { busy, refused, error, send } = useSending();
  const keep: Keep = unit === 'good' ? FOR_GOOD : { count: Number(count), unit };
  const day = until.trim() === '' ? null : parseDay(until);
  const make = async () => {
    const content: ExceptionContent = keep === FOR_GOOD ? KEPT : { ...KEPT, keep, after, then };
    const made = await request<AnswerOf<typeof exceptionsApi.POST>>('POST', '/api/retention/exceptions', {
      items,
      content,
      reason,
      until: day ?? (until.trim() === '' ? null : until),
    });
    tell(`${countWords(made.items, 'item')} set.`);
    onClose();
  };
  return (
    <DialogForm
      title={
        items.length === 1
          ? 'Keep it longer or shorter'
          : `Keep ${countWords(items.length, 'item')} longer or shorter`
      }
      onClose={onClose}
      onSubmit={() => send(make)}
      act="Set it"
      busy={busy}
      refused={error('reason', 'until', 'content.keep') ? undefined : refused?.message}
    >
      <ChoiceField
        label="Kept for"
        value={unit}
        options={Object.entries(UNITS).map(([value, words]) => ({ value, words }))}
        onChange={(v) => setUnit(v as keyof typeof UNITS)}
      />
      {unit !== 'good' && (
        <>
          <Field label={`How many ${unit}`} error={error('content.keep', 'content.keep.count')}>
            <input
              value={count}
              inputMode="numeric"
              maxLength={3}
              onChange={(e) => setCount(e.target.value)}
            />
          </Field>
          <ChoiceField
            label="Counted from"
            value={after}
            options={[
              { value: 'changed', words: 'its last change' },
              { value: 'created', words: 'the day it was created' },
            ]}
            onChange={setAfter}
          />
          <ChoiceField
            label="Then"
            value={then}
            options={Object.entries(THEN).map(([value, words]) => ({ value, words }))}
            onChange={(v) => setThen(v as Then)}
          />
        </>
      )}
      <Field label="Why" error={error('reason')}>
        <input autoFocus value={reason} maxLength={400} onChange={(e) => setReason(e.target.value)} />
      </Field>
      <Field label="Stands up to and with (no day: until it is taken back)" error={error('until')}>
        <input value={until} placeholder="30 Jun 2027" onChange={(e) => setUntil(e.target.value)} />
      </Field>
      <p>It is more specific than any rule; a hold and what the law asks stand all the same.</p>
    </DialogForm>
  );
}
