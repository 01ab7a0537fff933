import { ANYONE, EVERYONE, EVERYONE_HERE } from '../estate/estate-line.ts';
import type { Denial, PairReach, Way } from './reach.ts';
import { highest, STRENGTHS } from './strength.ts';

/** How people, groups and places are called, by id. */
export interface ReachNames {
  person(id: string): string;
  place(id: string): string;
}

const BY = {
  root: 'as root, whom nothing is closed to',
  owner: 'as its owner',
  user: 'by an entry of their own',
  group: 'by their groups',
  other: 'as everybody else',
} as const;

/** A way in a line: `Trainees › Port clerks › granted at July: change`. */
export function wayWords(way: Way, names: ReachNames): string {
  const strength = way.is === 'owner' ? '' : `: ${way.strength}`;
  return `${stepWords(way, names)}${strength}${endWords(way)}`;
}

/** The same where its strength stands beside it: `Trainees › Port clerks › granted here`, as of the place it leads to. */
export function wayPath(way: Way, names: ReachNames, here?: string): string {
  return `${stepWords(way, names, here)}${endWords(way)}`;
}

function stepWords(way: Way, names: ReachNames, here?: string): string {
  if (way.is === 'owner') return `owner of ${names.place(way.at)}`;
  if (way.is === 'file system') return BY[way.by];
  const given = way.is === 'link' ? 'link' : 'granted';
  const where = way.at === here ? 'here' : `at ${names.place(way.at)}`;
  return [...whom(way.to, way.through, names), `${given} ${where}`].join(' › ');
}

function endWords(way: Way): string {
  if (way.is === 'owner' || way.is === 'file system') return '';
  return `${way.until === null ? '' : ` until ${way.until}`}${way.beaten ? ', denied' : ''}`;
}

function whom(to: string, through: readonly string[], names: ReachNames): readonly string[] {
  if (to === EVERYONE || to === EVERYONE_HERE || to === ANYONE) return [to];
  return through.map((g) => names.person(g));
}

function denialWords({ step, at, to, through }: Denial, names: ReachNames): string {
  const of = whom(to, through, names);
  return `To ${step} it is denied at ${names.place(at)}${of.length > 0 ? ` (${of.join(' › ')})` : ''}.`;
}

/** What somebody can do at a place, what decided, and what stands against it, in sentences. */
export function reachWords(found: PairReach, names: ReachNames): readonly string[] {
  const { strength, steps, ways, denials, stoppedAt, closed, unknown } = found;
  const missing = STRENGTHS.slice(0, strength === null ? 0 : STRENGTHS.indexOf(strength)).filter(
    (_, i) => (steps & (1 << i)) === 0,
  );
  return [
    ...(unknown === null ? [] : [`Nobody can say for certain: ${unknown}.`]),
    strength === null ? 'They cannot see it.' : `They can ${strength} it.`,
    ...(missing.length > 0 ? [`But not ${missing.join(', nor ')} it.`] : []),
    ...(closed && ways.length > 0
      ? [`Their account is not open; it would be ${highest(upTo(ways))}.`]
      : closed
        ? ['Their account is not open.']
        : []),
    ...(stoppedAt === null ? [] : [`They do not get past ${names.place(stoppedAt)}.`]),
    ...ways.map((w) => wayWords(w, names)),
    ...denials.map((d) => denialWords(d, names)),
  ];
}

/** Of ways that nothing denies. */
function upTo(ways: readonly Way[]): number {
  return ways.reduce(
    (all, w) => ('beaten' in w && w.beaten ? all : all | (1 << STRENGTHS.indexOf(w.strength))),
    0,
  );
}
