/** By the numbers of the framework. */
export const TCF_PURPOSES: readonly number[] = Array.from({ length: 11 }, (_, i) => i + 1);
/** Purposes that the framework’s policies (version 4 and later) leave to consent alone. */
export const CONSENT_ONLY: readonly number[] = [1, 3, 4, 5, 6];

/** What a publisher can say of a purpose in the place of what vendors declare. */
export const RESTRICTIONS = ['as declared', 'never', 'consent only', 'interest only'] as const;
export type Restriction = (typeof RESTRICTIONS)[number];
export const RESTRICTION_WORDS: Readonly<Record<Restriction, string>> = {
  'as declared': 'as each vendor declares',
  never: 'never, by any vendor',
  'consent only': 'by consent only',
  'interest only': 'by legitimate interest only',
};

/** Purposes of the framework that the notice asks for. */
export function askedPurposes(
  { covers }: { readonly covers: Readonly<Record<string, readonly number[]>> },
  asked: readonly string[],
): readonly number[] {
  return TCF_PURPOSES.filter((p) => asked.some((code) => covers[code]?.includes(p)));
}

export function restrictionOf(
  { restrictions }: { readonly restrictions: Readonly<Record<string, Restriction>> },
  purpose: number,
): Restriction {
  return restrictions[purpose] ?? 'as declared';
}
