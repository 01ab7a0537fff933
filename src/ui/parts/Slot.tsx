import { useRef, useState, type ReactNode } from 'react';
import type { SlotAdd } from '../../core/rules/sentence.ts';
import { useFloatingPanel } from './use-floating-panel.ts';
import { SlotLeaving } from './slot-leaving.ts';
import { ChoiceEditor, ManyEditor, type Option } from './ChoiceEditor.tsx';
import { DateEditor, NumberEditor, PeriodEditor, TextEditor, type Period } from './ValueEditors.tsx';
import css from './Slot.module.css';

/** What a slot holds and how it is edited. */
export type SlotKind =
  | {
      readonly kind: 'choice';
      readonly options: readonly Option[];
      readonly value: string;
      readonly set: (value: string) => void;
    }
  | {
      readonly kind: 'many';
      readonly options: readonly Option[];
      readonly value: readonly string[];
      readonly set: (value: readonly string[]) => void;
      /** Reads what is typed that is none of them. */
      readonly add?: SlotAdd;
    }
  | {
      readonly kind: 'number';
      readonly unit: string;
      readonly least: number;
      readonly most: number;
      readonly value: number;
      readonly set: (value: number) => void;
    }
  | {
      readonly kind: 'date';
      readonly value: string;
      readonly set: (value: string) => void;
      /** What it reads where there is no day; absent where there has to be one. */
      readonly none?: string;
    }
  | {
      readonly kind: 'period';
      readonly value: Period | undefined;
      readonly set: (value: Period) => void;
      /** What may stand there instead of a time. */
      readonly also?: readonly (Option & { readonly choose: () => void })[];
    }
  | {
      readonly kind: 'text';
      readonly long?: boolean;
      /** Edited with its manners, kept in the small markup of texts that visitors read. */
      readonly rich?: boolean;
      readonly most: number;
      readonly value: string;
      readonly set: (value: string) => void;
      readonly colour?: boolean;
      /** What is wrong with what is typed; empty where nothing is. */
      readonly check?: (text: string) => string;
      readonly hint?: string;
    };

interface SlotProps {
  readonly label: string;
  /** The value as it reads in the sentence. */
  readonly words: ReactNode;
  readonly edit: SlotKind;
  readonly error?: string | undefined;
  /** Reads only, as for someone who may not edit. */
  readonly fixed?: boolean | undefined;
  readonly title?: string | undefined;
  /** Written by a machine or for one. */
  readonly code?: boolean | undefined;
}

/**
 * A part of a sentence that is edited in place: Enter opens it, Esc leaves it as it was, going elsewhere keeps what was
 * typed.
 */
export function Slot({ label, words, edit, error, fixed = false, title, code = false }: SlotProps) {
  const [open, setOpen] = useState(false);
  const leaving = useRef<(() => void) | undefined>(undefined);
  const leave = () => {
    leaving.current?.();
    setOpen(false);
  };
  const { button, panel, setButton, setPanel, style } = useFloatingPanel(open, leave);
  const close = (refocus: boolean) => {
    setOpen(false);
    if (refocus) button.current?.focus();
  };
  if (fixed)
    return (
      <b className={css['fixed']} data-code={code || undefined}>
        {words}
      </b>
    );
  return (
    <span className={css['wrap']}>
      <button
        ref={setButton}
        type="button"
        className={css['slot']}
        data-code={code || undefined}
        title={title}
        aria-label={`${label}: ${typeof words === 'string' ? words : ''}`}
        aria-haspopup="dialog"
        aria-expanded={open}
        data-wrong={error ? true : undefined}
        onClick={() => (open ? leave() : setOpen(true))}
      >
        {words || <i>{label.toLowerCase()}?</i>}
      </button>
      {error && <span className={css['error']}> ◆ {error}</span>}
      {open && (
        <div
          ref={setPanel}
          style={style}
          role="dialog"
          aria-label={label}
          className={css['panel']}
          onKeyDown={(e) => {
            if (e.key === 'Escape') {
              e.stopPropagation();
              // A dialog around it stays open.
              e.preventDefault();
              close(true);
            }
          }}
          onBlur={(e) => {
            if (
              e.relatedTarget &&
              !panel.current?.contains(e.relatedTarget) &&
              e.relatedTarget !== button.current
            )
              leave();
          }}
        >
          <SlotLeaving value={leaving}>
            <Editor edit={edit} label={label} done={() => close(true)} />
          </SlotLeaving>
        </div>
      )}
    </span>
  );
}

function Editor({
  edit,
  label,
  done,
}: {
  readonly edit: SlotKind;
  readonly label: string;
  readonly done: () => void;
}) {
  switch (edit.kind) {
    case 'choice':
      return (
        <ChoiceEditor
          label={label}
          options={edit.options}
          value={edit.value}
          onChoose={(v) => {
            edit.set(v);
            done();
          }}
        />
      );
    case 'many':
      return (
        <ManyEditor
          label={label}
          options={edit.options}
          value={edit.value}
          onChange={edit.set}
          onDone={done}
          add={edit.add}
        />
      );
    case 'number':
      return <NumberEditor label={label} {...edit} onDone={done} />;
    case 'date':
      return <DateEditor label={label} {...edit} onDone={done} />;
    case 'period':
      return <PeriodEditor label={label} {...edit} onDone={done} />;
    case 'text':
      return <TextEditor label={label} {...edit} onDone={done} />;
  }
}
