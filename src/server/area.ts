import type { Account } from '../core/accounts/authority.ts';
import type { Action } from '../core/accounts/action.ts';
import type { Context } from './context.ts';
import type { Found } from './desk/found.ts';
import type { Witness } from './evidence/verify.ts';
import type { Figure } from './figures/figure.ts';
import type { JobKind } from './jobs/runner.ts';
import type { RuleKind } from './rules/rule-kind.ts';

/** Work that a worker does now and then, never twice at once in one process. */
export interface Upkeep {
  readonly name: string;
  readonly everyMs: number;
  work(ctx: Context): Promise<unknown>;
}

/** Where Find looks. */
export interface Finder {
  /** What somebody must be allowed to do to find there. */
  readonly action: Action;
  /** A few objects whose name holds `text`, the best first. */
  find(ctx: Context, text: string, account: Account): Promise<readonly Found[]>;
}

/** What an area brings to the server: `server/AREA/area.ts`. */
export interface ServerArea {
  readonly area: string;
  /** What a worker does before it takes work. */
  readonly begin?: (ctx: Context) => Promise<void>;
  readonly jobs?: readonly JobKind[];
  /** Kinds of its rules, and what somebody must be allowed to do to know how many there are. */
  readonly rules?: readonly {
    readonly kind: Pick<RuleKind<unknown>, 'object'>;
    readonly see: Action;
  }[];
  readonly upkeep?: readonly Upkeep[];
  readonly finders?: readonly Finder[];
  readonly figures?: readonly Figure[];
  /** Records of its own that the ledger keeps digests of. */
  readonly witnesses?: readonly Witness[];
}
