import type { EstateLine } from '../src/core/access/estate/estate-line.ts';
import { EstateReader, type Estate } from '../src/core/access/estate/estate.ts';
import { rehearsed } from '../src/core/access/change/access-rehearsal.ts';
import { Reach } from '../src/core/access/reach/reach.ts';
import { figure, median } from './figure.ts';

const PLACES = Number(process.env['BENCH_PLACES'] ?? 1_000_000);
const PEOPLE = 10_000;
const GROUPS = 5000;
const DEEP = 12;
const TIMES = 41;

/** The same numbers each time. */
function numbers(seed: number): (n: number) => number {
  let at = seed;
  return (n) => {
    at = (at * 48_271) % 2_147_483_647;
    return at % n;
  };
}

/** So many places; one in five with grants of its own, some of which inherit nothing; groups nested twelve deep. */
function estate(places: number): Estate {
  const random = numbers(11);
  const reader = new EstateReader();
  const open = { state: 'open', until: null, left: null, attributes: {} } as const;
  for (let p = 0; p < PEOPLE; p++)
    reader.take({ type: 'person', id: `p${p}`, guest: p % 100 === 0, ...open });
  for (let g = 0; g < GROUPS; g++) {
    const members = Array.from({ length: 10 }, () => `p${random(PEOPLE)}`);
    // A chain of twelve groups, one in the other.
    if (g % DEEP !== 0) members.push(`g${g - 1}`);
    reader.take({ type: 'group', id: `g${g}`, members, where: [] });
  }
  const given = { until: null, by: null, at: null } as const;
  for (let i = 0; i < places; i++) {
    const own = random(5) === 0;
    const parent = i === 0 ? null : Math.floor((i - 1) / (8 + (i % 5)));
    const place: EstateLine = {
      ...{
        type: 'place',
        id: `x${i}`,
        source: 's',
        parent: parent === null ? null : `x${parent}`,
        gate: false,
        owner: null,
      },
      inherits: !(own && random(2) === 0),
    };
    reader.take(place);
    if (!own && i > 0) continue;
    for (let n = 0; n < 3; n++)
      reader.take({
        ...{
          type: 'grant',
          place: `x${i}`,
          to: random(4) === 0 ? `p${random(PEOPLE)}` : `g${random(GROUPS)}`,
        },
        ...{
          strength: (['read', 'change', 'give'] as const)[random(3)] ?? 'read',
          deny: random(20) === 0,
          only: false,
          ...given,
        },
      });
  }
  reader.take({
    type: 'grant',
    place: 'x1',
    to: 'everyone here',
    strength: 'read',
    deny: false,
    only: false,
    ...given,
  });
  return reader.done();
}

function timed(work: () => unknown): number {
  const begun = performance.now();
  work();
  return performance.now() - begun;
}

function measure(name: string, places: number): void {
  let made: Estate | undefined;
  figure('access', `${name}_loaded`, timed(() => (made = estate(places))) / 1000, 's');
  const all = made as unknown as Estate;
  let reach: Reach | undefined;
  figure('access', `${name}_ready`, timed(() => (reach = new Reach(all, '2026-11-30'))) / 1000, 's');
  const ready = reach as unknown as Reach;
  const random = numbers(5);
  // The first question waits for what all share.
  figure(
    'access',
    `${name}_first_place`,
    timed(() => ready.whoReaches(random(places))),
    'ms',
  );
  const [byPlace, byPerson, answers]: [number[], number[], number[]] = [[], [], []];
  for (let i = 0; i < TIMES; i++) {
    byPlace.push(timed(() => ready.whoReaches(random(places))));
    const person = all.people.persons[random(PEOPLE)];
    if (!person) continue;
    byPerson.push(
      timed(() => {
        const { counts } = ready.ofPerson(person, 1000);
        answers.push(counts.see + counts.read + counts.change + counts.give);
      }),
    );
  }
  figure('access', `${name}_who_reaches_a_place`, median(byPlace), 'ms');
  figure('access', `${name}_who_reaches_a_place_worst`, Math.max(...byPlace), 'ms');
  figure('access', `${name}_what_a_person_reaches`, median(byPerson), 'ms');
  figure('access', `${name}_what_a_person_reaches_worst`, Math.max(...byPerson), 'ms');
  const step = { is: 'member', act: 'add', group: 'g7', member: 'p77' } as const;
  figure(
    'access',
    `${name}_one_membership_changed`,
    timed(() => {
      const told = rehearsed(ready, [step]);
      told.after.whoReaches(random(places));
    }),
    'ms',
  );
  figure('access', `${name}_places_reached`, median(answers), 'places');
}

const tenth = PLACES / 10;
measure(`${tenth}_places`, tenth);
measure(`${PLACES}_places`, PLACES);
