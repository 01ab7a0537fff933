import type { GateHold } from '../core/websites/trackers/fix.ts';

/** What has to wait, as those ask who stand in the way of a page's scripts. */
export interface HeldBack {
  readonly holds: readonly GateHold[];
  /** Hears of what is kept back. */
  tell(what: 'held' | 'reduced', name: string, purpose: string): void;
  /** The purpose an address waits for, `undefined` where it may go: as it is, or as `reduced` says. */
  heldUrl(address: unknown): string | undefined;
  /** Whether an address has to wait, which is told then. */
  holdsUrl(address: unknown): boolean;
  /** An address without what identifies, where it may go only so. */
  reduced(address: unknown): string | undefined;
  /** Whether a write has to wait, which is told then. */
  holdsWrite(kind: GateHold['kind'], name: string): boolean;
  /** Is done once a purpose is allowed. */
  wait(purpose: string, release: () => void): void;
  /** A frame or a tree of its own, in which something may be marked from now on. */
  enter(root: Document | ShadowRoot): void;
}
