import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import type { Staff } from '../../src/core/accounts/staff/staff.ts';
import { belongsTo, withinOf } from '../../src/core/accounts/staff/staff.ts';
import type { GrantLine, LinkLine, PlaceLine } from '../../src/core/access/estate/estate-line.ts';
import type { Strength } from '../../src/core/access/reach/strength.ts';
import type { UseLine } from '../../src/server/access/readers/reader.ts';
import type { LibraryLine } from '../../standins/library/library-book.ts';
import type { Random } from '../random.ts';
import { directoryId, groupId } from './directory-book.ts';

/** Shares that the library tells of: name, folder, who owns it, and who works in it. */
const SHARES = [
  ['Port share', 'port', 'magnus.reyer', 'Port operations'],
  ['Crew share', 'crew', 'osei.darko', 'Crew office'],
  ['Care share', 'care', 'lotte.bruun', 'Passenger care'],
  ['Freight share', 'freight', 'magnus.reyer', 'Freight'],
  ['Payroll share', 'payroll', 'osei.darko', 'Payroll'],
  ['Accounts share', 'accounts', 'magnus.reyer', 'Finance'],
  ['Marketing share', 'marketing', 'priya.nand', 'Web and marketing'],
  ['Portal forms', 'portal', 'magnus.reyer', 'IT and shares'],
] as const;

/** What was given at which folder, to whom, how many days ago, by whom; `own` ends what is taken over from above. */
interface Given {
  readonly at: string;
  readonly own?: true;
  readonly to?: readonly (readonly [who: string, strength: Strength, daysAgo: number, by?: string])[];
  readonly deny?: readonly (readonly [who: string, strength: Strength, daysAgo: number])[];
  readonly links?: readonly (readonly [
    to: 'anyone' | readonly string[],
    strength: Strength,
    daysAgo: number,
    by: string,
    endsInDays: number | null,
  ])[];
}

const GIVEN: readonly Given[] = [
  {
    at: 'Port share',
    to: [
      ['IT and shares', 'give', 390],
      ['Records', 'read', 300],
    ],
  },
  {
    at: 'Port share/All staff',
    own: true,
    to: [
      ['All staff', 'change', 371],
      ['IT and shares', 'give', 371],
    ],
    links: [['anyone', 'read', 96, 'jonas.ekdal', null]],
  },
  {
    at: 'Port share/Manifests',
    to: [
      ['Web and marketing', 'read', 203],
      ['karl.wede', 'change', 260],
    ],
  },
  {
    at: 'Port share/Manifests/2026',
    own: true,
    to: [
      ['Port operations', 'change', 149],
      ['All staff', 'read', 149],
      ['karl.wede', 'give', 148],
      ['amira.sand', 'give', 44],
    ],
    links: [[['sailing.board'], 'read', 145, 'jonas.ekdal', null]],
  },
  {
    at: 'Port share/Incident reports',
    own: true,
    to: [
      ['Port operations', 'change', 340],
      ['Internal audit', 'read', 212],
      ['karl.wede', 'change', 250],
      ['amira.sand', 'change', 44],
    ],
    deny: [['Trainees', 'change', 120]],
  },
  { at: 'Crew share', to: [['IT and shares', 'give', 390]] },
  {
    at: 'Crew share/Certificates',
    own: true,
    to: [
      ['Crew office', 'change', 388],
      ['At sea', 'read', 64],
    ],
  },
  {
    at: 'Crew share/Payroll',
    own: true,
    to: [
      ['Payroll', 'change', 388],
      ['Finance', 'read', 77],
    ],
  },
  {
    at: 'Crew share/Applications',
    own: true,
    to: [['Crew office', 'change', 388]],
    links: [['anyone', 'read', 133, 'osei.darko', null]],
  },
  { at: 'Care share', to: [['IT and shares', 'give', 390]] },
  {
    at: 'Care share/Assistance requests',
    own: true,
    to: [
      ['Passenger care', 'change', 322],
      ['Ashore', 'read', 53, 'lotte.bruun'],
    ],
  },
  { at: 'Care share/School trips', own: true, to: [['Passenger care', 'change', 322]] },
  { at: 'Freight share/Rates', to: [['All staff', 'read', 280]] },
  { at: 'Payroll share', to: [['Finance', 'read', 333]] },
  { at: 'Marketing share', links: [['anyone', 'read', 58, 'priya.nand', 40]] },
  { at: 'Portal forms', to: [['All staff', 'change', 390]] },
];

const DAY = 86_400_000;
/** Of those who work in a share so many use each folder of it in a season. */
const USED = 0.4;

export interface LibraryEstate {
  readonly lines: readonly LibraryLine[];
  /** Grants that were taken away again: they stood from one day to another. */
  readonly past: readonly {
    readonly grant: GrantLine;
    readonly from: Date;
    readonly to: Date;
    readonly takenBy: string;
  }[];
}

/** What the library of the ferry line tells: every folder and file of its shares, who was given what, and who used it. */
export function libraryEstate(root: string, staff: Staff, now: Date, random: Random): LibraryEstate {
  const at = (daysAgo: number) => new Date(now.getTime() - daysAgo * DAY);
  const places = new Map<string, PlaceLine>();
  for (const [name, folder, owner] of SHARES) walk(join(root, folder), name, owner, places);
  const idOf = (who: string) =>
    staff.groups.some((g) => g.name === who) ? groupId(who) : guestOr(who, staff);
  const grants: GrantLine[] = [];
  const links: LinkLine[] = [];
  const give = (
    place: string,
    to: string,
    strength: Strength,
    daysAgo: number,
    by = 'magnus.reyer',
    deny = false,
  ): GrantLine => ({
    ...{ type: 'grant', place, to: idOf(to), strength, deny, only: false, until: null, by },
    at: at(daysAgo).toISOString(),
  });
  for (const [name, , owner, team] of SHARES) grants.push(give(name, team, 'change', 390, owner));
  for (const g of GIVEN) {
    const place = places.get(g.at);
    if (!place) continue;
    if (g.own) places.set(g.at, { ...place, inherits: false });
    for (const [to, strength, daysAgo, by] of g.to ?? []) grants.push(give(g.at, to, strength, daysAgo, by));
    for (const [to, strength, daysAgo] of g.deny ?? [])
      grants.push(give(g.at, to, strength, daysAgo, 'magnus.reyer', true));
    for (const [i, [to, strength, daysAgo, by, ends]] of (g.links ?? []).entries())
      links.push({
        ...{ type: 'link', id: `l${links.length + i + 1}`, place: g.at, strength, by },
        to: to === 'anyone' ? to : to.map(idOf),
        until: ends === null ? null : at(-ends).toISOString().slice(0, 10),
        at: at(daysAgo).toISOString(),
      });
  }
  // School trips were given to people by name, one after the other.
  const care = staff.members.filter((m) => m.groups.includes('Ashore') || m.groups.includes('Freight'));
  for (const [i, m] of care.slice(0, 6).entries())
    grants.push(give('Care share/School trips', directoryId(m.address), 'read', 200 - i * 21, 'lotte.bruun'));
  return {
    lines: [...places.values(), ...grants, ...links, ...uses(places, staff, now, random)],
    past: pastGrants(places, staff, at, random),
  };
}

/** Guests of the board of a harbour have no name in the tables above. */
function guestOr(who: string, staff: Staff): string {
  if (who !== 'sailing.board') return who;
  const guest = staff.members.find((m) => m.groups.includes('Guests'));
  return guest ? directoryId(guest.address) : who;
}

function walk(folder: string, id: string, owner: string | null, into: Map<string, PlaceLine>): void {
  const steps = id.split('/');
  into.set(id, {
    ...{
      type: 'place',
      id,
      source: steps[0] ?? id,
      name: steps.at(-1) ?? id,
      inherits: true,
      gate: false,
      owner,
    },
    parent: steps.length > 1 ? steps.slice(0, -1).join('/') : null,
  });
  for (const entry of readdirSync(folder, { withFileTypes: true }).sort((a, b) => (a.name < b.name ? -1 : 1)))
    if (entry.isDirectory()) walk(join(folder, entry.name), `${id}/${entry.name}`, null, into);
    else if (entry.isFile())
      into.set(`${id}/${entry.name}`, {
        ...{ type: 'place', id: `${id}/${entry.name}`, source: steps[0] ?? id, name: entry.name, parent: id },
        ...{ inherits: true, gate: false, owner: null },
      });
}

/** Those who work in a share use it, and a few others what is open to all. */
function uses(
  places: ReadonlyMap<string, PlaceLine>,
  staff: Staff,
  now: Date,
  random: Random,
): readonly UseLine[] {
  const within = withinOf(staff);
  const found: UseLine[] = [];
  const teams = new Map<string, string>(SHARES.map(([name, , , team]) => [name, team]));
  const folders = [...places.values()].filter((p) => [...places.values()].some((c) => c.parent === p.id));
  for (const { id, source } of folders) {
    const team = teams.get(source) ?? '';
    for (const m of staff.members) {
      if (m.left !== null && m.name !== 'Karl Wede') continue;
      const isOfTeam = belongsTo(m.groups, within).has(team) && !m.groups.includes('Trainees');
      const isOther = id === 'Port share/All staff' && !m.groups.includes('Guests');
      if (!random.chance(isOfTeam ? USED : isOther ? 0.02 : 0)) continue;
      const daysAgo =
        m.name === 'Karl Wede' ? 62 + random.below(20) : random.below(random.chance(0.8) ? 80 : 300);
      found.push({
        ...{ type: 'use', person: directoryId(m.address), place: id },
        day: new Date(now.getTime() - daysAgo * DAY).toISOString().slice(0, 10),
      });
    }
  }
  return found;
}

const BY = ['magnus.reyer', 'jonas.ekdal', 'tove.lindqvist', 'osei.darko', 'lotte.bruun'] as const;

/** A year of grants that came and went. */
function pastGrants(
  places: ReadonlyMap<string, PlaceLine>,
  staff: Staff,
  at: (daysAgo: number) => Date,
  random: Random,
): LibraryEstate['past'] {
  const folders = [...places.values()].filter(
    (p) => p.id.split('/').length <= 3 && !/[.][a-z0-9]{1,5}$/i.test(p.name ?? ''),
  );
  const here = staff.members.filter((m) => m.left === null);
  return Array.from({ length: 90 }, () => {
    const begins = 20 + random.below(340);
    const ends = random.below(begins - 5);
    const by = random.pick(BY);
    const group = random.chance(0.4);
    const to = group ? groupId(random.pick(staff.groups).name) : directoryId(random.pick(here).address);
    return {
      grant: {
        ...{ type: 'grant', place: random.pick(folders).id, to, strength: random.pick(['read', 'change']) },
        ...{ deny: false, only: false, until: null, by, at: at(begins).toISOString() },
      } as GrantLine,
      ...{ from: at(begins), to: at(ends), takenBy: random.chance(0.7) ? by : 'magnus.reyer' },
    };
  });
}
