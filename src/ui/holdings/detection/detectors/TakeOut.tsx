import { X } from 'lucide-react';
import { Button } from '../../../parts/Button.tsx';
import css from '../../holdings.module.css';

export function TakeOut({ what, act }: { readonly what: string; readonly act: () => void }) {
  return (
    <Button kind="quiet" className={css['takeOut']} aria-label={`Take out ${what}`} onClick={act}>
      <X size={13} aria-hidden />
    </Button>
  );
}
