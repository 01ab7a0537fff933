import { kindOf, NEITHER } from '../words/unit-kind.ts';

/** Whether `at` lies between the halves of a surrogate pair. */
export const isWithinPair = (text: string, at: number) =>
  (text.charCodeAt(at) & 0xfc00) === 0xdc00 && (text.charCodeAt(at - 1) & 0xfc00) === 0xd800;

/** Whether a word or number ends at `at`, with the marks on its last letter. */
export function endsWord(text: string, at: number): boolean {
  const kind = kindOf(text.charCodeAt(at - 1));
  return kind !== NEITHER && /[\p{L}\p{N}]\p{M}*$/u.test(text.slice(Math.max(0, at - 4), at));
}

/** Whether a word that has its letters goes on with this unit. */
export const goesOn = (unit: number) =>
  unit === 95 || (kindOf(unit) !== NEITHER && /[\p{M}\p{N}]/u.test(String.fromCharCode(unit)));
