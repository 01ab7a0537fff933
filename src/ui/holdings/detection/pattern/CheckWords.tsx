import type { Check } from '../../../../core/holdings/detection/detector/detector.ts';
import { CHECK_DIGITS } from '../../../../core/holdings/detection/detector/check-digit-list.ts';
import type { Option } from '../../../parts/ChoiceEditor.tsx';
import { Slot, type SlotKind } from '../../../parts/Slot.tsx';
import { shortCode } from '../../../parts/LongCode.tsx';
import { linesOf, patternFault, some } from './slot-text.ts';
import { StepsSlot } from './StepsSlot.tsx';

export const CHECK_OPTIONS: readonly Option[] = [
  { value: 'check digit', words: 'it stands its check digit' },
  { value: 'length', words: 'its length' },
  { value: 'range', words: 'it lies in a range', detail: 'of numbers' },
  { value: 'date', words: 'its digits hold a date' },
  { value: 'begins with', words: 'what it begins with' },
  { value: 'is none of', words: 'it is none of some values' },
  { value: 'is one of', words: 'it is one of some values', detail: 'a list of your own' },
  { value: 'does not match', words: 'it is not written like' },
  { value: 'entropy', words: 'its signs are mixed', detail: 'as in a key' },
];

export function newCheck(check: Check['check']): Check {
  const ends = { passes: 0, fails: 'drop' } as const;
  switch (check) {
    case 'check digit':
      return { check, by: 'luhn', ...ends };
    case 'length':
      return { check, of: 'digits', from: 4, to: 20, ...ends };
    case 'range':
      return { check, from: 0, to: 999_999, ...ends };
    case 'date':
      return { check, digits: 'ddmmyyxxxx', ...ends };
    case 'begins with':
      return { check, any: ['1'], ...ends };
    case 'is none of':
    case 'is one of':
      return { check, values: ['000000'], ...ends };
    case 'does not match':
      return { check, pattern: '0+', ...ends };
    case 'entropy':
      return { check, from: 3, ...ends };
  }
}

/** A check as the end of a sentence. */
export function CheckWords({
  check: c,
  fixed,
  error,
  set,
}: {
  readonly check: Check;
  readonly fixed: boolean;
  readonly error: string | undefined;
  readonly set: (check: Check) => void;
}) {
  const slot = (label: string, words: string, edit: SlotKind, code = false) => (
    <Slot label={label} words={words} edit={edit} fixed={fixed} error={error} code={code} />
  );
  const number = (label: string, value: number, put: (n: number) => Check, most = 1e9) =>
    slot(label, String(value), {
      kind: 'number',
      unit: '',
      least: 0,
      most,
      value,
      set: (n) => set(put(n)),
    });
  const list = (label: string, values: readonly string[], put: (v: string[]) => Check) =>
    slot(label, some(values), {
      kind: 'text',
      long: true,
      most: 200_000,
      value: values.join('\n'),
      hint: 'One a line.',
      check: (t) => (linesOf(t).length === 0 ? 'At least one.' : ''),
      set: (t) => set(put(linesOf(t))),
    });
  return (
    <>
      {c.check === 'check digit' && (
        <>
          it stands its check digit,{' '}
          {slot('Check digit', c.by, {
            kind: 'choice',
            value: c.by,
            options: CHECK_DIGITS.map((value) => ({ value, words: value })),
            set: (by) => set({ ...c, by }),
          })}
        </>
      )}
      {c.check === 'length' && (
        <>
          it has {number('Least length', c.from, (from) => ({ ...c, from }), 1000)} to{' '}
          {number('Greatest length', c.to, (to) => ({ ...c, to }), 1000)}{' '}
          {slot('Counted', c.of, {
            kind: 'choice',
            value: c.of,
            options: [
              { value: 'digits', words: 'digits' },
              { value: 'characters', words: 'characters' },
            ],
            set: (of) => set({ ...c, of: of as 'digits' }),
          })}
        </>
      )}
      {c.check === 'range' && (
        <>
          it lies from {number('From', c.from, (from) => ({ ...c, from }))} to{' '}
          {number('To', c.to, (to) => ({ ...c, to }))}
        </>
      )}
      {c.check === 'date' && (
        <>
          its digits hold a date, as{' '}
          {slot(
            'Order of the date',
            c.digits,
            {
              kind: 'text',
              most: 20,
              value: c.digits,
              hint: 'd, m and y for its digits, x for any other: ddmmyyxxxx.',
              check: (t) => (/^[dmyx]{6,20}$/.test(t) ? '' : 'Letters d, m, y and x, 6 to 20 of them.'),
              set: (digits) => set({ ...c, digits }),
            },
            true,
          )}
        </>
      )}
      {c.check === 'begins with' && <>it begins with {list('Beginnings', c.any, (any) => ({ ...c, any }))}</>}
      {(c.check === 'is none of' || c.check === 'is one of') && (
        <>
          it is {c.check === 'is one of' ? 'one' : 'none'} of{' '}
          {list('Values', c.values, (values) => ({ ...c, values }))}
        </>
      )}
      {c.check === 'does not match' && (
        <>
          it is not written like{' '}
          {slot(
            'Pattern',
            shortCode(c.pattern),
            {
              kind: 'text',
              most: 12_000,
              value: c.pattern,
              check: patternFault,
              set: (pattern) => set({ ...c, pattern }),
            },
            true,
          )}
        </>
      )}
      {c.check === 'entropy' && (
        <>
          its signs are as mixed as chance would have them,{' '}
          {slot('Bits a sign', `${c.from} bits a sign`, {
            kind: 'text',
            most: 5,
            value: String(c.from),
            check: (t) =>
              Number(t) >= 0 && Number(t) <= 8 && t.trim() !== '' ? '' : 'A number from 0 to 8.',
            set: (t) => set({ ...c, from: Number(t) }),
          })}{' '}
          or more
        </>
      )}
      ; else{' '}
      {slot('Otherwise', c.fails === 'drop' ? 'it is no match' : 'it is less sure', {
        kind: 'choice',
        value: c.fails === 'drop' ? 'drop' : 'steps',
        options: [
          { value: 'drop', words: 'it is no match' },
          { value: 'steps', words: 'it is less sure' },
        ],
        set: (v) => set({ ...c, fails: v === 'drop' ? 'drop' : -3 }),
      })}
      {c.fails !== 'drop' && (
        <>
          {' '}
          by <StepsSlot steps={c.fails} fixed={fixed} set={(fails) => set({ ...c, fails })} />
        </>
      )}
      {(c.passes !== 0 || !fixed) && (
        <>
          {'; passed, '}
          {slot('When passed', c.passes === 0 ? 'nothing changes' : 'it is surer', {
            kind: 'choice',
            value: c.passes === 0 ? '0' : '3',
            options: [
              { value: '0', words: 'nothing changes' },
              { value: '3', words: 'it is surer' },
            ],
            set: (v) => set({ ...c, passes: Number(v) }),
          })}
          {c.passes !== 0 && (
            <>
              {' '}
              by <StepsSlot steps={c.passes} fixed={fixed} set={(passes) => set({ ...c, passes })} />
            </>
          )}
        </>
      )}
    </>
  );
}
