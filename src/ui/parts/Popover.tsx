import { useState, type ReactNode } from 'react';
import { useFloatingPanel } from './use-floating-panel.ts';
import css from './Popover.module.css';

interface PopoverProps {
  readonly label: string;
  /** What the button reads. */
  readonly words: ReactNode;
  readonly className?: string | undefined;
  /** Shown while it is open; `close` gives focus back to the button. */
  readonly children: (close: () => void) => ReactNode;
}

/** A button with a small window of its own beside it; Esc and a press elsewhere close it. */
export function Popover({ label, words, className, children }: PopoverProps) {
  const [open, setOpen] = useState(false);
  const { button, setButton, setPanel, style } = useFloatingPanel(open, () => setOpen(false));
  const close = () => {
    setOpen(false);
    button.current?.focus();
  };
  return (
    <>
      <button
        ref={setButton}
        type="button"
        className={className ?? css['button']}
        aria-label={typeof words === 'string' ? `${label}: ${words}` : label}
        aria-haspopup="dialog"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
      >
        {words}
      </button>
      {open && (
        <div
          ref={setPanel}
          style={style}
          role="dialog"
          aria-label={label}
          className={css['panel']}
          onKeyDown={(e) => {
            if (e.key !== 'Escape') return;
            e.stopPropagation();
            close();
          }}
        >
          {children(close)}
        </div>
      )}
    </>
  );
}
