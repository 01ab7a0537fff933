/** One thing Find can lead to. */
export interface Found {
  /** As the ledger or the area calls such a thing. */
  readonly kind: string;
  readonly words: string;
  readonly detail: string;
  readonly link: string;
}
