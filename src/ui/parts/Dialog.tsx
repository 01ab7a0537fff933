import { X } from 'lucide-react';
import { useEffect, useRef, type ReactNode } from 'react';
import css from './Dialog.module.css';

interface DialogProps {
  readonly title: string;
  readonly onClose: () => void;
  readonly children: ReactNode;
  /** Without its own heading line. */
  readonly bare?: boolean;
  /** As wide as the desk lets it be. */
  readonly wide?: boolean;
}

/** A window over the desk; Esc and the ground behind it close it, and focus goes back to where it was. */
export function Dialog({ title, onClose, children, bare = false, wide = false }: DialogProps) {
  const ref = useRef<HTMLDialogElement>(null);
  useEffect(() => {
    const dialog = ref.current;
    const before = document.activeElement;
    dialog?.showModal();
    // What is to be filled in comes before the cross that closes it.
    dialog?.querySelector<HTMLElement>('input:not([type="hidden"]), select, textarea')?.focus();
    return () => {
      dialog?.close();
      if (before instanceof HTMLElement) before.focus();
    };
  }, []);
  return (
    <dialog
      ref={ref}
      className={css['dialog']}
      aria-label={title}
      data-wide={wide || undefined}
      onCancel={(e) => {
        e.preventDefault();
        onClose();
      }}
      onClick={(e) => e.target === ref.current && onClose()}
    >
      <div className={css['body']}>
        {!bare && (
          <div className={css['head']}>
            <h2>{title}</h2>
            <button type="button" aria-label="Close" onClick={onClose}>
              <X size={16} aria-hidden />
            </button>
          </div>
        )}
        {children}
      </div>
    </dialog>
  );
}
