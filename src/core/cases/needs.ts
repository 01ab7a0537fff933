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

/** `late since 3 Oct 2026` or `by 3 Oct 2026` is said of it by whoever shows it; here alone whether it is. */
export const dueNeed = (words: string, by: string, today: string, more: Partial<Need> = {}): Need =>
  need(words, { by, wrong: by < today, ...more });
