import { useContext, useEffect, useState } from 'react';
import { tell } from '../desk/toasts.ts';
import { withCapital } from '../../core/text/as-sentence.ts';
import { Button } from './Button.tsx';
import { lazyPart } from './lazy-part.tsx';
import { DayInput } from './RangeField.tsx';
import { SlotLeaving } from './slot-leaving.ts';
import css from './ValueEditors.module.css';

const Calendar = lazyPart('the calendar', async () => (await import('./Calendar.tsx')).Calendar);

interface Common {
  readonly label: string;
  readonly onDone: () => void;
}

/** A length of time in a unit. */
export interface Period {
  readonly count: number;
  readonly unit: 'days' | 'months' | 'years';
}

export function NumberEditor({
  label,
  unit,
  least,
  most,
  value,
  set,
  onDone,
}: Common & { unit: string; least: number; most: number; value: number; set: (v: number) => void }) {
  const [text, setText] = useState(String(value));
  const number = Number(text);
  const wrong = text.trim() === '' || !Number.isInteger(number) || number < least || number > most;
  return (
    <Form
      wrong={wrong ? `A whole number from ${least} to ${most}.` : ''}
      changed={text !== String(value)}
      onSave={() => set(number)}
      onDone={onDone}
    >
      <input
        className={css['number']}
        autoFocus
        inputMode="numeric"
        aria-label={label}
        aria-invalid={wrong}
        value={text}
        onChange={(e) => setText(e.target.value)}
        onFocus={(e) => e.target.select()}
      />
      <span>{unit}</span>
    </Form>
  );
}

export function DateEditor({
  label,
  value,
  set,
  none,
  onDone,
}: Common & { value: string; set: (v: string) => void; none?: string }) {
  const [text, setText] = useState(value);
  return (
    <Form
      wrong={text === '' && none === undefined ? 'Choose a day.' : ''}
      changed={text !== value}
      onSave={() => set(text)}
      onDone={onDone}
    >
      <div className={css['dateEditor']}>
        <DayInput label={label} value={text} first onChange={setText} />
        <Calendar value={text} onChoose={setText} />
        {none !== undefined && (
          <Button
            onClick={() => {
              set('');
              onDone();
            }}
          >
            {withCapital(none)}
          </Button>
        )}
      </div>
    </Form>
  );
}

export function PeriodEditor({
  label,
  value,
  set,
  also = [],
  onDone,
}: Common & {
  value: Period | undefined;
  set: (v: Period) => void;
  also?: readonly { readonly value: string; readonly words: string; readonly choose: () => void }[];
}) {
  const [count, setCount] = useState(String(value?.count ?? 1));
  const [unit, setUnit] = useState(value?.unit ?? 'years');
  const number = Number(count);
  const wrong = !Number.isInteger(number) || number < 1 || number > 999;
  return (
    <Form
      wrong={wrong ? 'A whole number from 1 to 999.' : ''}
      changed={count !== String(value?.count ?? 1) || unit !== (value?.unit ?? 'years')}
      onSave={() => set({ count: number, unit })}
      onDone={onDone}
    >
      <input
        className={css['number']}
        autoFocus
        inputMode="numeric"
        aria-label={label}
        value={count}
        onChange={(e) => setCount(e.target.value)}
      />
      <select
        aria-label="Unit"
        className={css['input']}
        value={unit}
        onChange={(e) => setUnit(e.target.value as Period['unit'])}
      >
        <option value="days">days</option>
        <option value="months">months</option>
        <option value="years">years</option>
      </select>
      {also.map((o) => (
        <Button
          key={o.value}
          onClick={() => {
            o.choose();
            onDone();
          }}
        >
          {withCapital(o.words)}
        </Button>
      ))}
    </Form>
  );
}

export function TextEditor({
  label,
  value,
  set,
  long = false,
  rich = false,
  most,
  colour = false,
  check,
  hint,
  onDone,
}: Common & {
  value: string;
  set: (v: string) => void;
  long?: boolean;
  rich?: boolean;
  most: number;
  colour?: boolean;
  check?: (text: string) => string;
  hint?: string;
}) {
  const [text, setText] = useState(value);
  const tooLong = text.length > most;
  const badColour = colour && !/^#[0-9a-f]{6}$/i.test(text);
  const wrong = tooLong
    ? `${most} characters at most; this has ${text.length}.`
    : badColour
      ? 'A colour as # and six hexadecimal digits, such as #14403d.'
      : (check?.(text) ?? '');
  return (
    <Form wrong={wrong} changed={text !== value} onSave={() => set(text)} onDone={onDone} stacked={long}>
      {hint && <p className={css['hint']}>{hint}</p>}
      {colour && (
        <input
          type="color"
          aria-label={`${label}, picked`}
          value={badColour ? '#000000' : text}
          onChange={(e) => setText(e.target.value)}
        />
      )}
      {rich ? (
        <RichTextArea label={label} value={value} onChange={setText} />
      ) : long ? (
        <textarea
          autoFocus
          rows={5}
          aria-label={label}
          className={css['area']}
          value={text}
          onChange={(e) => setText(e.target.value)}
          onKeyDown={(e) => e.key === 'Enter' && !e.ctrlKey && e.stopPropagation()}
        />
      ) : (
        <input
          autoFocus
          aria-label={label}
          className={css['input']}
          value={text}
          onChange={(e) => setText(e.target.value)}
          onFocus={(e) => e.target.select()}
        />
      )}
    </Form>
  );
}

const RichTextArea = lazyPart('the editor', async () => (await import('./RichTextArea.tsx')).RichTextArea);

function Form({
  wrong,
  changed,
  onSave,
  onDone,
  stacked = false,
  children,
}: {
  readonly wrong: string;
  readonly changed: boolean;
  readonly onSave: () => void;
  readonly onDone: () => void;
  readonly stacked?: boolean;
  readonly children: React.ReactNode;
}) {
  const save = () => {
    if (wrong) return;
    onSave();
    onDone();
  };
  const leaving = useContext(SlotLeaving);
  useEffect(() => {
    if (!leaving) return;
    leaving.current = () => {
      if (!changed) return;
      if (wrong) tell(`Not kept: ${wrong}`, { kind: 'trouble' });
      else onSave();
    };
    return () => {
      leaving.current = undefined;
    };
  });
  return (
    <form
      className={css['form']}
      data-stacked={stacked || undefined}
      onSubmit={(e) => {
        e.preventDefault();
        save();
      }}
      onKeyDown={(e) => {
        if (e.key === 'Enter' && e.ctrlKey) {
          e.preventDefault();
          save();
        }
      }}
    >
      {children}
      <Button type="submit" kind="primary" disabled={wrong !== ''}>
        Keep
      </Button>
      {wrong && <p className={css['wrong']}>◆ {wrong}</p>}
    </form>
  );
}
