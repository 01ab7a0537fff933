import type { Role, Roles, TriedWay } from './notice-reading.ts';
import { roleOfWords } from './control-words.ts';
import { lastWords, sameWay, type NoticeWay } from './notice-way.ts';

type Answer = TriedWay & { readonly ran: number };

/**
 * Which way through a notice is which. Words that plainly say it decide; else what was seen does: after the refusal the
 * fewest trackers run, after the acceptance the most. `before`: how many ran before any answer.
 */
export function noticeRoles(tried: readonly TriedWay[], before: number): Roles {
  const answers = tried.filter((t): t is Answer => t.outcome === 'answers' && t.ran !== null);
  const save = savingWay(answers);
  const accept = acceptance(answers);
  const refuse = refusal(answers, accept);
  return {
    accept: accept && { way: accept.way, ...told(accept, 'accept', answers, before) },
    refuse: refuse && { way: refuse.way, ...told(refuse, 'refuse', answers, before) },
    choose: save,
  };
}

function acceptance(answers: readonly Answer[]): Answer | null {
  const said = best(saying(answers, 'accept'), mostFirst);
  if (said) return said;
  // One that says it refuses is no acceptance, whatever runs; nor is saving with all switches off.
  return best(
    answers.filter((t) => !says(t, 'refuse') && !setsOff(t)),
    mostFirst,
  );
}

function refusal(answers: readonly Answer[], accept: Answer | null): Answer | null {
  const said = best(saying(answers, 'refuse'), fewestFirst);
  if (said) return said;
  // Whoever does not accept has refused, also where as much runs afterwards: that is what a sweep looks for.
  const left = accept ? others(answers, accept) : answers;
  return best(
    left.filter((t) => !says(t, 'accept') && !setsOn(t)),
    fewestFirst,
  );
}

/** The control that ends the notice with the switches as they stand: what runs after it follows them. */
function savingWay(answers: readonly Answer[]): Role | null {
  const pairs = answers
    .filter((t) => setsOff(t))
    .map((off) => {
      const on = answers.find((t) => setsOn(t) && alike(t, off));
      return { off, gain: on ? on.ran - off.ran : null };
    });
  const said = pairs.find(({ off }) => roleOfWords(lastWords(off.way)) === 'save');
  if (said) return { way: said.off.way, why: 'It says that it saves what is chosen', by: 'words' };
  const [only, second] = pairs;
  if (only && !second && only.gain === null)
    return { way: only.off.way, why: 'Nothing else beside the switches ends the notice', by: 'trial' };
  const follows = pairs
    .filter(({ gain }) => gain !== null && gain > 0)
    .toSorted((a, b) => (b.gain ?? 0) - (a.gain ?? 0))[0];
  if (!follows) return null;
  return {
    way: follows.off.way,
    why: `With all switches on, ${follows.gain} more ${follows.gain === 1 ? 'tracker' : 'trackers'} ran after it than with all off`,
    by: 'trial',
  };
}

function told(t: Answer, choice: 'accept' | 'refuse', answers: readonly Answer[], before: number) {
  const count = `${t.ran} ${t.ran === 1 ? 'tracker' : 'trackers'}`;
  const tried = `of ${answers.length} ${answers.length === 1 ? 'way' : 'ways'} tried`;
  if (says(t, choice))
    return {
      why: `It says so; ${count} ran after it, ${before} before any answer`,
      by: 'words' as const,
    };
  const all = answers.map((a) => a.ran);
  const edge = choice === 'accept' ? Math.max(...all) : Math.min(...all);
  const same = new Set(all).size === 1 && answers.length > 1;
  const rank = same
    ? `${tried}, all let the same run, and it is the ${choice === 'accept' ? 'larger' : 'smaller'}`
    : answers.length === 1
      ? 'the only way to answer'
      : t.ran === edge
        ? `the ${choice === 'accept' ? 'most' : 'fewest'} ${tried}`
        : tried;
  return { why: `${count} ran after it, ${rank}; ${before} ran before any answer`, by: 'trial' as const };
}

function says(t: TriedWay, role: 'accept' | 'refuse'): boolean {
  return roleOfWords(lastWords(t.way)) === role;
}

function saying(answers: readonly Answer[], role: 'accept' | 'refuse'): readonly Answer[] {
  return answers.filter((t) => says(t, role));
}

function setsOff({ way }: TriedWay): boolean {
  return way.some((a) => a.act === 'set' && a.on.length === 0);
}

function setsOn({ way }: TriedWay): boolean {
  return way.some((a) => a.act === 'set' && a.on.length > 0);
}

/** The answers that end with another control. */
function others(answers: readonly Answer[], one: Answer): readonly Answer[] {
  return answers.filter((t) => t !== one && (setsOff(t) || !sameWay(bare(t.way), bare(one.way))));
}

function alike(a: TriedWay, b: TriedWay): boolean {
  return sameWay(bare(a.way), bare(b.way));
}

/** A way but for how its switches are set. */
function bare(way: NoticeWay): NoticeWay {
  return way.filter((a) => a.act === 'press');
}

type Order = (a: Answer, b: Answer) => number;
/** At last by their words, so that the order in which they were tried tells nothing. */
const byWords: Order = (a, b) => (JSON.stringify(a.way) < JSON.stringify(b.way) ? -1 : 1);
const mostFirst: Order = (a, b) =>
  b.ran - a.ran || a.way.length - b.way.length || b.size - a.size || byWords(a, b);
const fewestFirst: Order = (a, b) =>
  a.ran - b.ran || a.way.length - b.way.length || a.size - b.size || byWords(a, b);

function best(list: readonly Answer[], order: Order): Answer | null {
  return list.toSorted(order)[0] ?? null;
}
