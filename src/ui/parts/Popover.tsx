import { autoUpdate, flip, offset, shift, useFloating } from '@floating-ui/react-dom';
import { useEffect, useRef, useState, type ReactNode } from 'react';
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
  const button = useRef<HTMLButtonElement>(null);
  const panel = useRef<HTMLDivElement>(null);
  const { refs, floatingStyles } = useFloating({
    open,
    placement: 'bottom-start',
    middleware: [offset(4), flip(), shift({ padding: 8 })],
    whileElementsMounted: autoUpdate,
  });
  const close = () => {
    setOpen(false);
    button.current?.focus();
  };
  useEffect(() => {
    if (!open) return;
    const outside = (e: PointerEvent) => {
      if (!panel.current?.contains(e.target as Node) && !button.current?.contains(e.target as Node))
        setOpen(false);
    };
    document.addEventListener('pointerdown', outside);
    return () => document.removeEventListener('pointerdown', outside);
  }, [open]);
  return (
    <>
      <button
        ref={(el) => {
          button.current = el;
          refs.setReference(el);
        }}
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
          ref={(el) => {
            panel.current = el;
            refs.setFloating(el);
          }}
          style={floatingStyles}
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
