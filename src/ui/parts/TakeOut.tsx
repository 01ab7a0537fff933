import { X } from 'lucide-react';
import { Button } from './Button.tsx';
import css from './TakeOut.module.css';

/** Takes one of several out of a sentence. */
export function TakeOut({ what, act }: { readonly what: string; readonly act: () => void }) {
  return (
    <Button kind="quiet" className={css['takeOut']} aria-label={`Take out ${what}`} onClick={act}>
      <X size={13} aria-hidden />
    </Button>
  );
}
