import type { Staff, StaffGroup, StaffMember } from '../../src/core/accounts/staff/staff.ts';
import { demoPerson } from '../holdings/estate/person.ts';
import { CLERKS } from '../../standins/office/clerks.ts';
import { Random } from '../random.ts';
import { emailOf, PEOPLE } from './people.ts';

const SHIPS = ['MS Hale', 'MS Brindle', 'MS Corrie', 'MS Sandvik Bay', 'MS Ottermere'] as const;
const TERMINALS = ['Halmsund', 'Østervig', 'Kaltenhagen', 'Marrow Quay'] as const;
const ON_BOARD = ['deck', 'engine', 'hotel'] as const;
const OFFICES = [
  'Passenger care',
  'Port operations',
  'Crew office',
  'IT and shares',
  'Web and marketing',
  'Freight',
  'Finance',
  'Privacy office',
  'Records',
  'Internal audit',
] as const;

/** Forty groups, up to four deep. */
const GROUPS: readonly StaffGroup[] = [
  { name: 'All staff', within: [] },
  { name: 'Ashore', within: ['All staff'] },
  { name: 'At sea', within: ['All staff'] },
  ...OFFICES.map((name) => ({ name, within: ['Ashore'] })),
  ...TERMINALS.map((t) => ({ name: `Terminal ${t}`, within: ['Port operations'] })),
  { name: 'Payroll', within: ['Crew office'] },
  ...SHIPS.map((name) => ({ name, within: ['At sea'] })),
  ...SHIPS.flatMap((s) => ON_BOARD.map((of) => ({ name: `${s}, ${of}`, within: [s] }))),
  { name: 'Trainees', within: ['All staff'] },
  { name: 'Guests', within: [] },
];

/** Where most of them work, with how many. */
const PLACES: readonly (readonly [group: string, people: number])[] = [
  ['Passenger care', 34],
  ['Crew office', 18],
  ['Payroll', 7],
  ['IT and shares', 12],
  ['Web and marketing', 14],
  ['Freight', 21],
  ['Finance', 16],
  ['Records', 5],
  ...TERMINALS.map((t) => [`Terminal ${t}`, 26] as const),
  ...SHIPS.flatMap((s) => ON_BOARD.map((of) => [`${s}, ${of}`, of === 'hotel' ? 48 : 12] as const)),
];
const OFFICE_OF: Readonly<Record<string, string>> = {
  'Port operations': 'Port operations',
  'Crew and payroll': 'Crew office',
  'Privacy officer': 'Privacy office',
};
const ALL = 618;
const DAY = 86_400_000;

/** Whom the demo shows: a clerk who left with the account still open, the trainee who was given their access, and a colleague. */
const PORT_PEOPLE = [
  { name: 'Karl Wede', group: 'Terminal Halmsund', groups: ['Terminal Halmsund'], leftDaysAgo: 61 },
  {
    name: 'Amira Sand',
    group: 'Terminal Halmsund',
    groups: ['Terminal Halmsund', 'Trainees'],
    leftDaysAgo: null,
  },
  { name: 'Jonas Ekdal', group: 'Terminal Østervig', groups: ['Terminal Østervig'], leftDaysAgo: null },
] as const;

/** Of the firm that helps with computers, with accounts of their own. */
const SUPPORT = ['Devika Rao', 'Nikhil Menon'] as const;

/** The people of the ferry line; some are trainees or guests, some have left. */
export function demoStaff(now: Date): Staff {
  const random = new Random(618);
  const members = new Map<string, StaffMember>();
  const add = (name: string, group: string, more: Partial<StaffMember> = {}) => {
    const plain = addressOf(name);
    let address = plain;
    for (let n = 2; members.has(address); n++) address = plain.replace('@', `${n}@`);
    const member = { address, name, unit: group, groups: [group], left: null, ...more };
    members.set(member.address, member);
  };
  for (const p of PEOPLE) add(p.name, OFFICE_OF[p.title] ?? p.title);
  for (const c of CLERKS) if (!members.has(c.address)) add(c.name, c.group, { address: c.address });
  for (const { name, group, groups, leftDaysAgo } of PORT_PEOPLE)
    add(name, group, {
      groups: [...groups],
      left:
        leftDaysAgo === null ? null : new Date(now.getTime() - leftDaysAgo * DAY).toISOString().slice(0, 10),
    });
  for (const [group, people] of PLACES)
    for (let i = 0; i < people && members.size < ALL; i++) {
      const { name } = demoPerson(random);
      const isTrainee = random.chance(0.05);
      add(name, group, {
        groups: isTrainee ? [group, 'Trainees'] : [group],
        left: random.chance(0.03)
          ? new Date(now.getTime() - random.below(200) * DAY).toISOString().slice(0, 10)
          : null,
      });
    }
  for (const name of SUPPORT)
    add(name, 'Pilotage IT Support', {
      address: addressOf(name).replace(/@.*/, '@pilotage.example'),
      groups: ['Guests', 'IT and shares'],
    });
  while (members.size < ALL) add(demoPerson(random).name, 'Guests', { unit: 'Sailing Board of Marrow' });
  return { members: [...members.values()], groups: GROUPS };
}

export function addressOf(name: string): string {
  const plain = name
    .normalize('NFKD')
    .toLowerCase()
    .replace(/\p{M}/gu, '')
    .replaceAll('ø', 'o')
    .replaceAll('æ', 'ae')
    .replaceAll('ß', 'ss')
    .replace(/[^a-z]+/g, '.');
  return emailOf(plain.replaceAll('.', ' ')).replaceAll(' ', '.');
}
