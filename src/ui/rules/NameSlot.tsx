import { Slot } from '../parts/Slot.tsx';

interface NameSlotProps {
  readonly name: string;
  readonly set: (name: string) => void;
  /** For someone who may not edit. */
  readonly fixed: boolean;
  readonly error?: string | undefined;
  /** Characters. */
  readonly most?: number;
}

/** What something is called, changed in place at the head of its sheet. */
export function NameSlot({ name, set, fixed, error, most = 120 }: NameSlotProps) {
  return (
    <Slot
      label="Name"
      words={name}
      fixed={fixed}
      error={error}
      edit={{ kind: 'text', most, value: name, set }}
    />
  );
}
