import { useStore } from '@nanostores/react';
import { X } from 'lucide-react';
import { dismiss, tellFailure, toasts } from './toasts.ts';
import css from './Toasts.module.css';

export function Toasts() {
  const all = useStore(toasts);
  return (
    <div className={css['toasts']} role="status" aria-live="polite">
      {all.map((t) => (
        <div key={t.id} className={css['toast']} data-kind={t.kind}>
          <span>
            {t.kind === 'trouble' && '◆ '}
            {t.words}
          </span>
          {t.undo && (
            <button
              type="button"
              className={css['undo']}
              onClick={() => {
                dismiss(t.id);
                Promise.resolve(t.undo?.()).catch(tellFailure);
              }}
            >
              Undo
            </button>
          )}
          {t.act && (
            <button
              type="button"
              className={css['undo']}
              onClick={() => {
                dismiss(t.id);
                t.act?.do();
              }}
            >
              {t.act.words}
            </button>
          )}
          <button type="button" className={css['close']} aria-label="Close" onClick={() => dismiss(t.id)}>
            <X size={14} aria-hidden />
          </button>
        </div>
      ))}
    </div>
  );
}
