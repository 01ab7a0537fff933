import type { Account } from '../core/accounts/authority.ts';
import type { Action } from '../core/accounts/action.ts';
import type { Context } from './context.ts';
import type { Checking } from './desk/checking.ts';
import type { Elsewhere } from './desk/elsewhere.ts';
import type { Found } from './desk/found.ts';
import type { Witness } from './evidence/verify.ts';
import type { Figure } from './figures/figure.ts';
import type { JobKind } from './jobs/runner.ts';
import type { Within } from '../core/accounts/scope.ts';
import type { PlainKind } from './rules/plain-object.ts';
import type { Key, RuleKind } from './rules/rule-kind.ts';
import type { Reportable } from './reports/reportable.ts';
import type { RunKind } from './runs/run-kind.ts';
import type { Queries } from './store/pool.ts';

/** Work that a worker does now and then, never twice at once in one process. */
export interface Upkeep {
  readonly name: string;
  readonly everyMs: number;
  work(ctx: Context): Promise<unknown>;
}

/** What listens for other systems. */
export interface Intake {
  /** Takes no more, and keeps what it took. */
  close(): Promise<void>;
}

/** Where Find looks. */
export interface Finder {
  /** What somebody must be allowed to do to find there. */
  readonly action: Action;
  /** `all` where it looks for each word by itself, in any order; else it is asked again for one of several. */
  readonly words?: 'all';
  /** A few objects whose name holds `text`, the best first. */
  find(ctx: Context, text: string, account: Account): Promise<readonly Found[]>;
}

/** A kind of its rules, and what somebody must be allowed to do with them. */
export interface AreaRule {
  readonly kind: RuleKind<unknown>;
  /** To know of them. */
  readonly see: Action;
  readonly edit: Action;
  /** To move them between their states, and to agree that they do. */
  readonly force: Action;
  /** Kinds of what accounts can be kept to, of which moving one is about all. */
  readonly wholeOf?: readonly string[];
}

/** A kind of its objects that are no rules, and what somebody must be allowed to do with them. */
export interface AreaObject {
  readonly kind: PlainKind<unknown>;
  readonly see: Action;
  readonly edit: Action;
  /** What one belongs to, of what accounts can be kept to. */
  readonly within?: (store: Queries, key: Key) => Promise<readonly Within[]>;
  /** Kinds of what accounts can be kept to, of which each is about all. */
  readonly wholeOf?: readonly string[];
  /** Where not everybody whose roles include it may have each of them: throws a RefusedError (404) for the others. */
  readonly guard?: (store: Queries, key: Key, account: Account, does: 'see' | 'edit') => Promise<unknown>;
}

/** One object that an account can be kept to. */
export interface ScopeOption {
  readonly id: string;
  readonly words: string;
}

/** What an area brings to the server: `server/AREA/area.ts`. */
export interface ServerArea {
  readonly area: string;
  /** What a worker does before it takes work. */
  readonly begin?: (ctx: Context) => Promise<void>;
  /** What it listens with for what other systems tell by their own ways. */
  readonly intake?: (ctx: Context) => Promise<readonly Intake[]>;
  readonly jobs?: readonly JobKind[];
  /** What is estimated first and then takes long; their jobs come with them. */
  readonly runs?: readonly RunKind<unknown>[];
  readonly rules?: readonly AreaRule[];
  readonly objects?: readonly AreaObject[];
  /** By kind of what accounts can be kept to: those there are. */
  readonly scopes?: Readonly<Record<string, (store: Queries) => Promise<readonly ScopeOption[]>>>;
  readonly upkeep?: readonly Upkeep[];
  readonly finders?: readonly Finder[];
  readonly figures?: readonly Figure[];
  /** What of it reports can tell of, row by row. */
  readonly reports?: readonly Reportable[];
  /** What of it is looked at by itself. */
  readonly checking?: readonly Checking[];
  /** What other systems have to grant too, before some of its permissions do anything there. */
  readonly elsewhere?: (ctx: Context) => Promise<readonly Elsewhere[]>;
  /** Records of its own that the ledger keeps digests of. */
  readonly witnesses?: readonly Witness[];
}
