import { roleOfWords } from '../../../../core/websites/reading/control-words.ts';
import {
  fits,
  keepCorrections,
  type NoticeReading,
  type NoticeSwitch,
  type Role,
  type TriedWay,
} from '../../../../core/websites/reading/notice-reading.ts';
import { noticeRoles } from '../../../../core/websites/reading/notice-roles.ts';
import type { NoticeAct, NoticeWay } from '../../../../core/websites/reading/notice-way.ts';
import { switchPurpose } from '../../../../core/websites/reading/switch-purpose.ts';
import { logFailure } from '../../../processes/failure-log.ts';
import { several } from '../../../processes/several.ts';
import type { SwitchToTry } from '../../../../core/websites/reading/switch-run.ts';
import type { FoundControl } from './find-boxes.ts';
import type { BoxThere } from './notice-hand.ts';
import { tryWay, type FirstLook, type SeenBox, type Trial, type TrialGround } from './way-trial.ts';

export interface ReadingPlan {
  readonly ground: TrialGround;
  /** How the notice was read before; kept to while it is the same. */
  readonly kept: NoticeReading | null;
  /** Browsers at once. */
  readonly parallel: number;
  /** Unix milliseconds after which nothing more is tried. */
  readonly until: number;
  readonly now: () => Date;
}

/** `own`: the organisation's own notice, which needs no reading. */
export type NoticeFound =
  | { readonly found: 'none' }
  | { readonly found: 'own'; readonly switches: readonly SwitchToTry[] }
  | { readonly found: 'kept' | 'read'; readonly reading: NoticeReading };

const MOST_TRIALS = 36;
const MOST_BOXES = 3;
const MOST_CONTROLS = 6;
const MOST_NAMED = 12;

/**
 * Finds the site's notice by what it is, and what each way through it does: every control is tried in a clean profile, and
 * what runs afterwards tells which refuses and which accepts. Words that plainly say it spare the trial.
 */
export async function readNotice(
  plan: ReadingPlan,
  look: FirstLook,
  signal: AbortSignal,
  progress: (tried: number) => void,
): Promise<NoticeFound> {
  if (look.own) return { found: 'own', switches: look.own };
  const { kept } = plan;
  const fitting = kept && look.boxes.find((b) => fits(kept, wordsOn(b)));
  if (fitting) return { found: 'kept', reading: kept };
  const reader = new Reader(plan, look, signal, progress);
  let best: { reading: NoticeReading; worth: number } | undefined;
  for (const box of look.boxes.slice(0, MOST_BOXES)) {
    const reading = await reader.read(box);
    if (reading.roles.accept === null && reading.roles.refuse === null) continue;
    const worth = worthOf(reading, box);
    if (worth <= 0) continue;
    if (!best || worth > best.worth) best = { reading, worth };
    // What decides over trackers, or plainly says that it does, is the notice.
    if (worth >= SURELY) break;
  }
  if (!best) return { found: 'none' };
  return { found: 'read', reading: kept ? keepCorrections(kept, best.reading) : best.reading };
}

const SURELY = 2;

/** A notice decides what runs, asks for consent, or takes one answer or another; a box that only goes away does none of it. */
function worthOf({ tried, roles }: NoticeReading, box: BoxThere): number {
  const answers = tried.flatMap((t) => (t.outcome === 'answers' && t.ran !== null ? [t.ran] : []));
  const ran = new Set(answers);
  const said = roles.accept?.by === 'words' || roles.refuse?.by === 'words';
  return (ran.size > 1 ? 2 : 0) + (answers.length > 1 ? 0.5 : 0) + (box.asks ? (said ? 2 : 1) : 0);
}

class Reader {
  #spent = 0;

  constructor(
    readonly plan: ReadingPlan,
    readonly look: FirstLook,
    readonly signal: AbortSignal,
    readonly progress: (tried: number) => void,
  ) {}

  async read(box: SeenBox): Promise<NoticeReading> {
    const tried: TriedWay[] = [];
    const plain = plainControls(box);
    const spared = Object.values(plain ?? {});
    const first = await this.#layer([], box, tried, box.late, spared);
    const switches = [...box.switches];
    const known = new Set(box.controls.map((c) => `${c.words}\n${c.nth}`));
    for (const { way, opened } of first) {
      // What was there before does the same there.
      const fresh = opened.controls.filter((c) => !known.has(`${c.words}\n${c.nth}`));
      const saves = opened.switches.length > 0 && box.switches.length === 0;
      const controls = fresh.length > 0 || !saves ? fresh : opened.controls;
      for (const c of controls) known.add(`${c.words}\n${c.nth}`);
      for (const s of opened.switches) if (!switches.some((x) => x.words === s.words)) switches.push(s);
      await this.#layer(way, { ...opened, controls }, tried, box.late);
    }
    return {
      readAt: this.plan.now().toISOString(),
      words: box.words,
      place: box.over ? 'over' : 'beside',
      late: box.late,
      controls: wordsOn(box),
      before: this.look.before.size,
      tried: tried.slice(0, 60),
      roles: { ...noticeRoles(tried, this.look.before.size), ...(plain ? saidRoles(plain) : {}) },
      switches: switches.slice(0, 24).map(({ words, about, on, locked }): NoticeSwitch => {
        return { words, about, on, locked, purpose: switchPurpose(words, about), by: 'words' };
      }),
    };
  }

  /** Tries each control of a box that is reached by `to`, with its switches off and on; those that open more of it. */
  async #layer(
    to: NoticeWay,
    box: BoxThere,
    tried: TriedWay[],
    late: boolean,
    spared: readonly FoundControl[] = [],
  ): Promise<readonly { way: NoticeWay; opened: BoxThere }[]> {
    const free = box.switches.filter((s) => !s.locked).map((s) => s.words);
    const sets: readonly NoticeAct[] = free.length > 0 ? [{ act: 'set', on: [] }] : [];
    const ways = box.controls
      .filter((c) => !spared.includes(c))
      .slice(0, MOST_CONTROLS)
      .map((c): NoticeWay => {
        const role = roleOfWords(c.words);
        // One that says all or nothing asks no switch.
        const asks = role === 'accept' || role === 'refuse' ? [] : sets;
        return [...to, ...asks, { act: 'press', words: c.words, nth: c.nth }];
      });
    const trials = await this.#tryAll(ways, tried, late);
    const following = ways.filter(
      (way, i) => trials[i]?.outcome === 'answers' && way.some((a) => a.act === 'set'),
    );
    // The only one that ends it is what saves; how much runs with all switches on is known from an answer without them.
    const known = tried.some((t) => t.ran !== null && t.way.every((a) => a.act === 'press'));
    if (following.length > 1 || (following.length === 1 && !known))
      await this.#tryAll(
        following.map((way) => way.map((a) => (a.act === 'set' ? { ...a, on: free } : a))),
        tried,
        late,
      );
    return trials.flatMap((t, i) => {
      const way = ways[i];
      // What opens under switches is reached without them.
      return way && t?.box ? [{ way: way.filter((a) => a.act === 'press'), opened: t.box }] : [];
    });
  }

  async #tryAll(
    ways: readonly NoticeWay[],
    tried: TriedWay[],
    late: boolean,
  ): Promise<readonly (Trial | undefined)[]> {
    const trials = await several(ways, this.plan.parallel, async (way): Promise<Trial | undefined> => {
      if (this.signal.aborted || Date.now() >= this.plan.until || this.#spent >= MOST_TRIALS)
        return undefined;
      this.#spent++;
      const trial = await tryWay(this.plan.ground, way, late).catch((error: unknown) => {
        logFailure('a way through a notice could not be tried', error);
        return undefined;
      });
      this.progress(this.#spent);
      return trial;
    });
    // In their order, whichever was done first.
    trials.forEach((t, i) => {
      if (t) tried.push(toldOf(ways[i] as NoticeWay, t));
    });
    return trials;
  }
}

/** The controls that plainly accept and refuse, where a box that asks for consent has one of each. */
function plainControls(box: BoxThere): { accept: FoundControl; refuse: FoundControl } | undefined {
  const saying = (role: 'accept' | 'refuse') => box.controls.find((c) => roleOfWords(c.words) === role);
  const [accept, refuse] = [saying('accept'), saying('refuse')];
  return box.asks && accept && refuse ? { accept, refuse } : undefined;
}

function saidRoles({ accept, refuse }: { accept: FoundControl; refuse: FoundControl }) {
  const role = ({ words, nth }: FoundControl): Role => {
    return { way: [{ act: 'press', words, nth }], why: 'It says so', by: 'words' };
  };
  return { accept: role(accept), refuse: role(refuse) };
}

function toldOf(way: NoticeWay, { outcome, ran, size }: Trial): TriedWay {
  const answered = outcome === 'answers';
  return {
    way: [...way],
    outcome: outcome === 'not there' ? 'nothing' : outcome,
    ran: answered ? ran.size : null,
    some: answered ? [...ran.values()].slice(0, MOST_NAMED) : [],
    size,
  };
}

function wordsOn(box: BoxThere): string[] {
  return box.controls.map((c) => c.words).slice(0, 20);
}
