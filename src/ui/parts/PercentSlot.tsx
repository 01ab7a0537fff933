import { percentWords } from '../desk/words.ts';
import { Slot } from './Slot.tsx';

/** A share in (0, 1) as a slot of whole per cents. */
export function PercentSlot({
  label,
  share,
  fixed,
  least = 1,
  most = 99,
  unit = '%',
  set,
}: {
  readonly label: string;
  readonly share: number;
  readonly fixed: boolean;
  readonly least?: number;
  readonly most?: number;
  readonly unit?: string;
  readonly set: (share: number) => void;
}) {
  return (
    <Slot
      label={label}
      words={percentWords(share)}
      fixed={fixed}
      edit={{
        kind: 'number',
        unit,
        least,
        most,
        value: Math.round(share * 100),
        set: (n) => set(n / 100),
      }}
    />
  );
}
