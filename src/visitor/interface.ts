/** Of a purpose, for this visitor, now. `starts on`: not answered, and running, as the law of the place allows. */
export type PurposeState = 'allowed' | 'refused' | 'waits' | 'starts on';

/** Where a visitor's choice stands. */
export interface ConsentState {
  /** The visitor has answered, and the answer still holds. */
  readonly answered: boolean;
  /** ISO 3166 code of where the visitor is; `ZZ` where nobody knows. */
  readonly region: string;
  /** What the law asks for there. */
  readonly regime: string;
  readonly purposes: Readonly<Record<string, PurposeState>>;
}

/** Something in the visitor's browser that a script of the site cannot take away. */
export interface Left {
  readonly name: string;
  readonly host: string;
  readonly purpose: string;
}

/** What a page may use, as `window.yare`. */
export interface Yare {
  readonly site: string;
  /** Of the notice in force; 0 where there is none. */
  readonly version: number;
  /** Opens the notice, with the choice as it stands. */
  open(): void;
  /** Purposes that may run now. */
  allowed(): readonly string[];
  state(): ConsentState;
  /** Tells of every change from now on; returns what ends it. */
  onChange(listener: (allowed: readonly string[]) => void): () => void;
  /** As `onChange`, and tells how it stands at once. */
  subscribe(listener: (state: ConsentState) => void): () => void;
  /** Does something once the purpose is allowed: at once where it is, later, or never. */
  when(purpose: string, work: () => void): void;
  /** The state once the visitor has answered, or as it stands after so many milliseconds. */
  answer(ms: number): Promise<ConsentState>;
  /** What the last withdrawal could not delete. */
  left(): readonly Left[];
}

declare global {
  interface Window {
    yare?: Yare;
    /** Work for when the script is there; a page may put it before the script. */
    yareReady?: { push(work: (yare: Yare) => void): unknown };
  }
}
