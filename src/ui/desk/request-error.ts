import type { Refusal } from '../../core/refusal.ts';

/** What the desk's endpoints answered when they did not do as asked. */
export class RequestError extends Error {
  constructor(
    /** Of HTTP; 0 when nothing answered. */
    readonly status: number,
    readonly refusal: Refusal,
  ) {
    super(refusal.error);
  }

  /** The message for a field, or for the first of several. */
  field(...names: readonly string[]): string | undefined {
    return this.refusal.fields.find((f) => names.includes(f.field))?.message;
  }
}
