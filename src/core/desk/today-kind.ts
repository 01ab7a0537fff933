/** A kind of thing that needs a hand. */
export interface TodayKind {
  /** As the list calls it. */
  readonly words: string;
  /** `wrong` stands apart in colour; `open` waits for somebody to decide. */
  readonly tone: 'wrong' | 'news' | 'open';
  /** From 0; what is wanted first comes first. */
  readonly place: number;
  /** What one does there, as the button says: `Sort them`. */
  readonly does?: string;
}
