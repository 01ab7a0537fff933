import { X } from 'lucide-react';
import type { ItemFigures } from '../../../core/holdings/items/item-figures.ts';
import { ITEM_FACTS } from '../../../core/holdings/items/item-facts.ts';
import { AGES, ageWords, type Age } from '../../../core/holdings/lenses/lens-form.ts';
import type { LensVocabulary } from '../../../core/lens/fact.ts';
import { lensFaults } from '../../../core/lens/lens-faults.ts';
import { LensTextError, lensText, parseLens } from '../../../core/lens/lens-text.ts';
import { lensWords } from '../../../core/lens/lens-words.ts';
import { numberWords } from '../../desk/words.ts';
import type { Option } from '../../parts/ChoiceEditor.tsx';
import { Slot } from '../../parts/Slot.tsx';
import type { LookedLens } from './use-lens.ts';
import css from '../estate.module.css';

interface LensSentenceProps {
  readonly lens: LookedLens;
  readonly vocabulary: LensVocabulary;
  readonly figures: ItemFigures | undefined;
}

/** The lens as a sentence, each slot changed in place; everything follows. */
export function LensSentence({ lens: { form, set }, vocabulary, figures }: LensSentenceProps) {
  const words = (fact: string, values: readonly string[], any: string) =>
    values.length === 0
      ? any
      : orWords(values.map((v) => vocabulary.value(fact, v) ?? `“${v}”, which is gone`));
  const options = (
    fact: string,
    counted: readonly { value: string; count: number }[] = [],
    chosen: readonly string[],
  ): Option[] => {
    const known = counted.filter((c) => c.value !== '');
    return [
      ...chosen.filter((v) => !known.some((c) => c.value === v)).map((value) => ({ value, count: 0 })),
      ...known,
    ].map(({ value, count }) => ({
      value,
      words: vocabulary.value(fact, value) ?? value,
      detail: `${numberWords(count)} of these`,
    }));
  };
  const places = [...new Set([form.place, ...(figures?.sources ?? []).map((s) => s.value)])].filter(Boolean);
  return (
    <div className={css['lens']}>
      Items that hold{' '}
      <Slot
        label="What they hold"
        words={words('data', form.data, 'anything')}
        edit={{
          kind: 'many',
          value: form.data,
          options: options('data', figures?.data, form.data),
          set: (data) => set({ data }),
        }}
      />{' '}
      and are{' '}
      <Slot
        label="Kind of document"
        words={words('document', form.documents, 'of any kind')}
        edit={{
          kind: 'many',
          value: form.documents,
          options: options('document', figures?.documents, form.documents),
          set: (documents) => set({ documents }),
        }}
      />
      , in{' '}
      <Slot
        label="Place"
        words={
          form.place === ''
            ? 'any source'
            : (vocabulary.value('place', form.place) ?? `“${form.place}”, which is gone`)
        }
        edit={{
          kind: 'choice',
          value: form.place,
          options: [
            { value: '', words: 'any source' },
            ...places.map((value) => ({ value, words: vocabulary.value('place', value) ?? value })),
          ],
          set: (place) => set({ place }),
        }}
      />
      , of{' '}
      <Slot
        label="Age"
        words={ageWords(form.age)}
        edit={{
          kind: 'choice',
          value: form.age,
          options: [...new Set([...AGES, form.age])].map((value) => ({ value, words: ageWords(value) })),
          set: (age) => set({ age: age as Age }),
        }}
      />
      {form.rest.map((part, i) => (
        <span key={lensText(part)}>
          {' '}
          and{' '}
          <Slot
            label="Condition"
            words={lensWords(part, vocabulary)}
            edit={{
              kind: 'text',
              most: 2000,
              value: lensText(part),
              hint: HINT,
              check: (line) => complaint(line, vocabulary),
              set: (line) => set({ rest: form.rest.map((r, j) => (i === j ? parseLens(line) : r)) }),
            }}
          />
          <button
            type="button"
            className={css['takeOut']}
            aria-label={`Take out: ${lensWords(part, vocabulary)}`}
            onClick={() => set({ rest: form.rest.filter((_, j) => i !== j) })}
          >
            <X size={12} aria-hidden />
          </button>
        </span>
      ))}
      <span className={css['add']}>
        {' '}
        · add{' '}
        <Slot
          label="Add a condition"
          words="a condition"
          edit={{
            kind: 'text',
            most: 2000,
            value: '',
            hint: HINT,
            check: (line) => complaint(line, vocabulary),
            set: (line) => line.trim() !== '' && set({ rest: [...form.rest, parseLens(line)] }),
          }}
        />
      </span>
    </div>
  );
}

const HINT = `Such as: people at least 100 · name holding "list" · owner one of "tove" · not data one of "email" · confidence:email at least 95. Joined by and, or, not. Of: ${ITEM_FACTS.map((f) => f.id).join(', ')}.`;

function complaint(line: string, vocabulary: LensVocabulary): string {
  if (line.trim() === '') return '';
  try {
    return lensFaults(parseLens(line), vocabulary)[0]?.words ?? '';
  } catch (error) {
    if (error instanceof LensTextError) return error.message;
    throw error;
  }
}

function orWords(words: readonly string[]): string {
  if (words.length > 3) return `${words.slice(0, 2).join(', ')} or ${words.length - 2} more`;
  return words.length < 2 ? (words[0] ?? '') : `${words.slice(0, -1).join(', ')} or ${words.at(-1)}`;
}
