/** Why a tracker runs. Essential needs no consent; every other purpose waits for it. */
export interface Purpose {
  readonly code: string;
  readonly name: string;
  readonly essential: boolean;
  /** Data goes to others for their own use: what a Global Privacy Control signal forbids. */
  readonly shares: boolean;
}

/** The four a new organisation starts with. */
export const FIRST_PURPOSES: readonly Purpose[] = [
  { code: 'essential', name: 'Essential', essential: true, shares: false },
  { code: 'preferences', name: 'Preferences', essential: false, shares: false },
  { code: 'measurement', name: 'Measurement', essential: false, shares: false },
  { code: 'advertising', name: 'Advertising', essential: false, shares: true },
];

export function purposeName(purposes: readonly Purpose[], code: string | null): string {
  if (code === null) return 'not sorted';
  return purposes.find((p) => p.code === code)?.name ?? code;
}
