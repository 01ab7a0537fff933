import { Share } from './share.ts';

/** Reading texts and files for the desk: trials, held-against sets, tables. The threads behind it are two. */
export const READING = new Share('texts are read', { each: 2, all: 6, waiting: 16, waitMs: 15_000 });

/** Looking for what a pattern would hang on, and making detectors ready. */
export const CHECKING = new Share('detectors are checked', { each: 1, all: 2, waiting: 12, waitMs: 60_000 });

/** Recomputing the whole ledger. */
export const VERIFYING = new Share('verifications run', { each: 1, all: 1, waiting: 3, waitMs: 30_000 });

/** Downloads of whole lists. */
export const EXPORTING = new Share('exports run', { each: 2, all: 6, waiting: 4, waitMs: 10_000 });

/** Asking other servers about an address that somebody typed. */
export const ASKING = new Share('addresses are asked', { each: 2, all: 8, waiting: 8, waitMs: 12_000 });
