import { autoUpdate, flip, offset, shift, useFloating } from '@floating-ui/react-dom';
import { useEffect, useRef, type CSSProperties, type RefObject } from 'react';

interface FloatingPanel {
  readonly button: RefObject<HTMLButtonElement | null>;
  readonly panel: RefObject<HTMLDivElement | null>;
  readonly setButton: (element: HTMLButtonElement | null) => void;
  readonly setPanel: (element: HTMLDivElement | null) => void;
  /** Where the panel stands. */
  readonly style: CSSProperties;
}

/** A panel that stands beside its button while it is open; `onOutside` hears of a press anywhere else. */
export function useFloatingPanel(open: boolean, onOutside: () => void): FloatingPanel {
  const button = useRef<HTMLButtonElement>(null);
  const panel = useRef<HTMLDivElement>(null);
  const heard = useRef(onOutside);
  useEffect(() => {
    heard.current = onOutside;
  });
  const { refs, floatingStyles } = useFloating({
    open,
    placement: 'bottom-start',
    // So that a dialog that is shorter than the panel does not cut it off.
    strategy: 'fixed',
    middleware: [offset(4), flip(), shift({ padding: 8 })],
    whileElementsMounted: autoUpdate,
  });
  useEffect(() => {
    if (!open) return;
    const pressed = (e: PointerEvent) => {
      const at = e.target as Node;
      if (!panel.current?.contains(at) && !button.current?.contains(at)) heard.current();
    };
    document.addEventListener('pointerdown', pressed);
    return () => document.removeEventListener('pointerdown', pressed);
  }, [open]);
  return {
    button,
    panel,
    setButton: (element) => {
      button.current = element;
      refs.setReference(element);
    },
    setPanel: (element) => {
      panel.current = element;
      refs.setFloating(element);
    },
    style: floatingStyles,
  };
}
