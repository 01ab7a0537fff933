import { useState } from 'react';
import type { SlotAdd } from '../../core/rules/sentence.ts';
import css from './ChoiceEditor.module.css';

export interface Option {
  readonly value: string;
  readonly words: string;
  readonly detail?: string;
  /** Why it cannot be chosen; absent where it can. */
  readonly whyNot?: string;
}

const FILTER_FROM = 7;

interface ListProps {
  readonly label: string;
  readonly options: readonly Option[];
  readonly isChosen: (value: string) => boolean;
  readonly many: boolean;
  readonly first: string | undefined;
  readonly onPress: (value: string) => void;
  readonly onEnter: (value: string) => void;
  /** Reads what is typed that is none of them. */
  readonly add?: SlotAdd | undefined;
}

/** Type to filter, arrows to move. One list behind both editors. */
function OptionList({ label, options, isChosen, many, first, onPress, onEnter, add }: ListProps) {
  const [text, setText] = useState('');
  const found = options.filter((o) => o.words.toLowerCase().includes(text.trim().toLowerCase()));
  const typed = add && text.trim() !== '' ? add.read(text) : undefined;
  const isNew = typed !== undefined && 'value' in typed && !options.some((o) => o.value === typed.value);
  const shown = isNew ? [...found, { value: typed.value, words: `Take in “${text.trim()}”` }] : found;
  const [at, setAt] = useState(() =>
    Math.max(
      0,
      options.findIndex((o) => o.value === first),
    ),
  );
  const active = Math.min(at, shown.length - 1);
  // What is typed may hold a space itself.
  const isTyping = add !== undefined && text !== '';
  const takeIn = (value: string) => {
    onPress(value);
    setText('');
  };
  const keys = (e: React.KeyboardEvent) => {
    const option = shown[active];
    if (e.key === 'ArrowDown') setAt(Math.min(shown.length - 1, active + 1));
    else if (e.key === 'ArrowUp') setAt(Math.max(0, active - 1));
    else if (e.key === 'Enter') {
      if (option && isNew && option.value === typed.value) takeIn(option.value);
      else if (option && (many || !option.whyNot)) onEnter(option.value);
    } else if (e.key === ' ' && many && option && !option.whyNot && !isTyping) onPress(option.value);
    else return;
    e.preventDefault();
  };
  const wide = add !== undefined || options.length >= FILTER_FROM;
  const list = (
    <ul
      role="listbox"
      id="slot-list"
      aria-label={label}
      aria-multiselectable={many || undefined}
      tabIndex={wide ? -1 : 0}
      className={css['list']}
      {...(wide ? {} : { ref: focusOnce, onKeyDown: keys, 'aria-activedescendant': `slot-option-${active}` })}
    >
      {shown.map((o, i) => (
        <li
          key={o.value}
          id={`slot-option-${i}`}
          role="option"
          aria-selected={isChosen(o.value)}
          data-active={i === active || undefined}
          className={css['option']}
          onPointerMove={() => setAt(i)}
          aria-disabled={o.whyNot !== undefined || undefined}
          onClick={() =>
            o.whyNot !== undefined
              ? undefined
              : isNew && o.value === typed.value
                ? takeIn(o.value)
                : onPress(o.value)
          }
        >
          <span aria-hidden className={css['tick']}>
            {isChosen(o.value) ? '✓' : ''}
          </span>
          <span>{o.words}</span>
          {o.detail && <small>{o.detail}</small>}
          {o.whyNot && <em>{o.whyNot}</em>}
        </li>
      ))}
      {shown.length === 0 && (
        <li className={css['none']}>
          {typed && 'wrong' in typed
            ? typed.wrong
            : text === '' && add
              ? add.hint
              : 'Nothing is called that.'}
        </li>
      )}
    </ul>
  );
  if (!wide) return list;
  return (
    <>
      <input
        ref={focusOnce}
        className={css['filter']}
        role="combobox"
        aria-expanded
        aria-controls="slot-list"
        aria-activedescendant={`slot-option-${active}`}
        aria-label={`Filter: ${label}`}
        placeholder={add ? add.hint : 'Type to filter'}
        value={text}
        onChange={(e) => setText(e.target.value)}
        onKeyDown={keys}
      />
      {list}
    </>
  );
}

function focusOnce(element: HTMLElement | null): void {
  element?.focus({ preventScroll: true });
}

export function ChoiceEditor({
  label,
  options,
  value,
  onChoose,
}: {
  readonly label: string;
  readonly options: readonly Option[];
  readonly value: string;
  readonly onChoose: (value: string) => void;
}) {
  return (
    <OptionList
      label={label}
      options={options}
      isChosen={(v) => v === value}
      many={false}
      first={value}
      onPress={onChoose}
      onEnter={onChoose}
    />
  );
}

export function ManyEditor({
  label,
  options,
  value,
  add,
  onChange,
  onDone,
}: {
  readonly label: string;
  readonly options: readonly Option[];
  readonly value: readonly string[];
  readonly add?: SlotAdd | undefined;
  readonly onChange: (value: readonly string[]) => void;
  readonly onDone: () => void;
}) {
  const toggle = (v: string) =>
    onChange(
      value.includes(v)
        ? value.filter((x) => x !== v)
        : [...new Set([...options.map((o) => o.value), v])].filter((x) => x === v || value.includes(x)),
    );
  return (
    <>
      <OptionList
        label={label}
        options={options}
        isChosen={(v) => value.includes(v)}
        many
        first={value[0]}
        onPress={toggle}
        onEnter={() => onDone()}
        add={add}
      />
      <p className={css['hint']}>Space takes in or out · Enter is done</p>
    </>
  );
}
