import type { RequestClock } from './law/clock.ts';
import {
  changesHoldings,
  identityNeed,
  needsGathering,
  type KnownBy,
  type Outcome,
  type RequestKind,
} from './request.ts';

/** All of a request that decides what comes next. */
export interface RequestFacts {
  readonly kind: RequestKind;
  readonly outcome: Outcome | null;
  readonly knownBy: KnownBy | null;
  /** How far it is known who asks: not asked yet, asked, or what their answers came to. */
  readonly identity: 'not asked' | 'asked' | 'answered' | 'agrees' | 'differs' | 'nothing held';
  readonly search: 'never' | 'running' | 'done' | 'failed';
  /** People of the same name that nobody has told apart yet. */
  readonly bearers: number;
  readonly tasks: { readonly open: number; readonly late: number; readonly all: number };
  readonly items: {
    readonly theirs: number;
    /** Nobody said whether they are theirs. */
    readonly ask: number;
    readonly toLookOver: number;
    readonly unread: number;
  };
  readonly package: { readonly leftovers: number; readonly stale: boolean } | null;
  /** Deleting or correcting. */
  readonly changes: { readonly waiting: number; readonly failed: number; readonly done: number } | null;
  readonly answered: boolean;
  /** Receipt has to be confirmed by law, and was not. */
  readonly toConfirm: boolean;
  readonly clock: RequestClock;
}

export const STEPS = [
  'known',
  'told apart',
  'found',
  'looked over',
  'package',
  'tasks',
  'carried out',
  'answered',
] as const;
export type Step = (typeof STEPS)[number];

/** Something that has to happen before the request can be closed. */
export interface Need {
  readonly step: Step;
  readonly words: string;
  /** It is late, or went wrong. */
  readonly wrong: boolean;
}

const many = (n: number, one: string, more = `${one}s`) => `${n} ${n === 1 ? one : more}`;

const IDENTITY: Readonly<Record<RequestFacts['identity'], string>> = {
  'not asked': 'ask who it is',
  asked: 'not yet known who it is',
  answered: 'their answers are being compared',
  agrees: 'say that it is them',
  differs: 'their answers differ from what is held: who is it?',
  'nothing held': 'nothing held tells whether their answers are right: who is it?',
};

/** What has to happen still, in order. */
export function needsOf(f: RequestFacts): readonly Need[] {
  const needs: Need[] = [];
  const add = (step: Step, words: string, wrong = false) => needs.push({ step, words, wrong });
  if (f.outcome !== null) return [];
  if (f.knownBy === null && identityNeed(f.kind) !== 'not needed')
    add('known', IDENTITY[f.identity], f.identity === 'differs');
  if (f.search === 'failed') add('found', 'the search failed', true);
  if (searches(f.kind)) {
    if (f.search === 'never') add('found', 'look for what is held');
    if (f.search === 'running') add('found', 'being looked for');
    if (f.bearers > 0)
      add('told apart', `${many(f.bearers, 'other person', 'other people')} of that name: which?`);
    else if (f.items.ask > 0) add('told apart', `${many(f.items.ask, 'item')} to say whose`);
    if (f.items.unread > 0) add('found', `${many(f.items.unread, 'item')} could not be read`, true);
  }
  if (needsGathering(f.kind) && f.search === 'done') {
    if (f.items.toLookOver > 0) add('looked over', `${many(f.items.toLookOver, 'item')} to look over`);
    else if (f.items.theirs > 0) {
      if (!f.package) add('package', 'make the package');
      else if (f.package.stale) add('package', 'make the package anew: something changed');
      else if (f.package.leftovers > 0)
        add(
          'package',
          `${many(f.package.leftovers, 'covered value stands', 'covered values stand')} in the package`,
          true,
        );
    }
  }
  if (f.tasks.open > 0)
    add('tasks', `${f.tasks.all - f.tasks.open} of ${f.tasks.all} tasks done`, f.tasks.late > 0);
  if (changesHoldings(f.kind) && f.search === 'done' && f.items.theirs > 0) {
    if (!f.changes)
      add('carried out', f.kind === 'delete' ? 'agree to what goes' : 'agree to what is put right');
    else {
      if (f.changes.failed > 0) add('carried out', `${many(f.changes.failed, 'change')} failed`, true);
      if (f.changes.waiting > 0) add('carried out', `${many(f.changes.waiting, 'change')} to be carried out`);
    }
  }
  if (!f.answered) add('answered', 'answer it');
  return needs;
}

/** Whether what is held has to be found for it. */
export function searches(kind: RequestKind): boolean {
  return kind !== 'withdraw' && kind !== 'no sale';
}

/** Why it cannot be closed so; `undefined` where it can. Nothing is closed without its answer. */
export function whyNotClosed(f: RequestFacts, outcome: Outcome): string | undefined {
  if (f.outcome !== null) return `It is closed already: ${f.outcome}.`;
  if (!f.answered) return 'Nothing is closed without its answer: write to the person first.';
  if (outcome !== 'answered') return undefined;
  const [first] = needsOf(f);
  return first ? `It is not done: ${first.words}.` : undefined;
}

/** `6 days left`, `late by 2 days` */
export function leftWords({ isLate, daysLeft, isPaused }: RequestClock): string {
  if (isLate) return daysLeft === -1 ? 'late since yesterday' : `late by ${-daysLeft} days`;
  const left = daysLeft === 0 ? 'due today' : daysLeft === 1 ? '1 day left' : `${daysLeft} days left`;
  return isPaused ? `${left}, and the clock stands` : left;
}
