/** What has to happen next, the first thing first. */
export interface Need {
  readonly words: string;
  /** What is done about it; absent where writing does. */
  readonly step?: string;
  /** A time is over, or something must not stay as it is. */
  readonly wrong: boolean;
  /** ISO 8601; the day by which. */
  readonly by?: string;
}

export const need = (words: string, more: Partial<Need> = {}): Need => ({ words, wrong: false, ...more });

/** One that has a day; wrong once that day is over. */
export const dueNeed = (words: string, by: string, today: string, more: Partial<Need> = {}): Need =>
  need(words, { by, wrong: by < today, ...more });

/** Something was decided, and what it was decided on is not as it was. */
export const lookAgain = (what: string): Need =>
  need(`look again: ${what}`, { step: 'look again', wrong: true });

/** The same for what came since, the first of it in words. */
export const lookAgainAt = (changes: readonly string[]): Need =>
  lookAgain(`${changes[0] ?? ''}${changes.length > 1 ? `, and ${changes.length - 1} more` : ''}`);
