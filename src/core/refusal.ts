/** One thing wrong with what was sent: where, what, and what would do. */
export interface FieldError {
  /** Dotted path of the field; empty for the whole. */
  readonly field: string;
  readonly message: string;
}

/** The one shape of every refused or failed answer of the desk's endpoints. */
export interface Refusal {
  readonly error: string;
  readonly fields: readonly FieldError[];
  /** What was kept despite the failure; empty when nothing was sent. */
  readonly kept?: string;
  readonly requestId?: string;
  /** What the caller needs to go on, such as the newer value in a conflict. */
  readonly detail?: unknown;
}

/** Thrown by the server layer when input cannot be taken as it is; endpoints answer it with its status. */
export class RefusedError extends Error {
  constructor(
    message: string,
    readonly fields: readonly FieldError[] = [],
    readonly status: 400 | 401 | 403 | 404 | 409 | 413 | 422 | 429 = 400,
    readonly detail?: unknown,
  ) {
    super(message);
    this.name = 'RefusedError';
  }
}

export function notFound(what: string): RefusedError {
  return new RefusedError(`There is no such ${what}. It may have been removed, or the link is old.`, [], 404);
}
