import type { EstateLine, GrantLine } from '../estate/estate-line.ts';
import { EVERYONE } from '../estate/estate-line.ts';
import { STRENGTHS, type Strength } from '../reach/strength.ts';

/** A folder of mail, as its server tells of it (RFC 4314). */
export interface MailFolder {
  /** Steps from the account down, separated by `/`. */
  readonly path: string;
  /** What each identifier may do, in letters; one that begins with `-` takes rights away. Absent where it is not told. */
  readonly entries?: readonly (readonly [identifier: string, rights: string])[];
  /** What the account that reads may do, in letters. */
  readonly mine: string;
}

export interface MailServer {
  /** What the source is called. */
  readonly source: string;
  /** Which account reads. */
  readonly user: string;
  /**
   * How entries come together, which the standard leaves to the server: `nearest` where one for an account stands for it in
   * the place of those for everybody; `all` where they add up.
   */
  readonly entries: 'nearest' | 'all';
}

/** What each right comes to. Posting to a folder's address, and marks of what was seen, change nothing of what is there. */
const RIGHTS: Readonly<Record<Strength, string>> = { see: 'l', read: 'r', change: 'witekxcd', give: 'a' };

const EVERYBODY = ['anyone', 'authenticated'];

/** Accounts, folders and what is granted. Groups stay unknown: no server tells who is in them. */
export function mailboxLines(server: MailServer, folders: readonly MailFolder[]): readonly EstateLine[] {
  const root = `${server.source}:`;
  const paths = new Set(folders.map((f) => f.path));
  const people = new Set([server.user]);
  const lines: EstateLine[] = [
    {
      ...{ type: 'place', id: root, source: server.source, parent: null, name: server.source },
      ...{ inherits: true, gate: false, owner: null },
    },
  ];
  for (const folder of folders) {
    const id = `${root}${folder.path}`;
    const steps = stepsIn(server, folder);
    const odd = [...steps].flatMap(([to, of]) => (isOdd(of) ? [to] : []));
    const unknown = unknownOf(folder, odd);
    lines.push({
      ...{ type: 'place', id, source: server.source, parent: `${root}${parentIn(paths, folder.path)}` },
      ...{ name: folder.path.split('/').at(-1) ?? '', inherits: false, gate: false, owner: null },
      ...(unknown === undefined ? {} : { unknown }),
    });
    for (const [to, of] of steps) {
      if (to !== EVERYONE) people.add(to);
      lines.push(...grantsOf(id, to, of));
    }
  }
  for (const person of people)
    lines.push({
      ...{ type: 'person', id: person, name: person, state: 'open', until: null, left: null },
      ...(person.includes('@') ? { mail: person } : {}),
      ...{ guest: false, attributes: {} },
    });
  return lines;
}

/** The nearest folder above that there is; '' for the account itself. */
function parentIn(paths: ReadonlySet<string>, path: string): string {
  for (let at = path.lastIndexOf('/'); at > 0; at = path.lastIndexOf('/', at - 1))
    if (paths.has(path.slice(0, at))) return path.slice(0, at);
  return '';
}

function unknownOf({ entries }: MailFolder, odd: readonly string[]): string | undefined {
  if (!entries) return 'its server tells who reaches it only to who may give it to others';
  const groups = entries.flatMap(([id]) => (isGroup(id) ? [id.replace(/^[-!]*\$?/, '')] : []));
  const words =
    groups.length > 0
      ? `its server does not tell who is in ${[...new Set(groups)].join(', ')}, and they are given something`
      : odd.length > 0
        ? `less than everybody else, and more besides, is given to ${odd.join(', ')}`
        : undefined;
  return words?.slice(0, 400);
}

const isGroup = (identifier: string) => /^-?(?:!?\$|#|group[=:])/.test(identifier);

/** What somebody can do, and what everybody else can that they cannot. */
interface Steps {
  readonly can: readonly Strength[];
  readonly lost: readonly Strength[];
}

/** By account, and `everyone`. */
function stepsIn({ user, entries: how }: MailServer, folder: MailFolder): ReadonlyMap<string, Steps> {
  const given = new Map<string, string>();
  const taken = new Map<string, string>();
  const told = (folder.entries ?? []).filter(([id]) => !isGroup(id));
  const isTold = (id: string) => told.some(([other]) => other === id);
  for (const [id, rights] of told) {
    const takes = id.startsWith('-');
    const name = takes ? id.slice(1) : id;
    // Whoever signs in is authenticated: what is said of those stands in the place of what is said of anyone.
    if (how === 'nearest' && name === 'anyone' && isTold(`${takes ? '-' : ''}authenticated`)) continue;
    const to = EVERYBODY.includes(name) ? EVERYONE : name === 'owner' ? user : name;
    const of = takes ? taken : given;
    of.set(to, (of.get(to) ?? '') + rights);
  }
  const [all, none] = [given.get(EVERYONE) ?? '', taken.get(EVERYONE) ?? ''];
  const everybody = strengthsOf(without(all, none));
  const stepsOf = (to: string): Steps => {
    const [own, less] = [given.get(to), taken.get(to) ?? ''];
    const letters =
      how === 'all' ? without(all + (own ?? ''), none + less) : without(own ?? without(all, none), less);
    const can = strengthsOf(to === user && folder.mine !== '' ? folder.mine : letters);
    return { can, lost: everybody.filter((s) => !can.includes(s)) };
  };
  const accounts = new Set([...given.keys(), ...taken.keys(), ...(folder.mine === '' ? [] : [user])]);
  accounts.delete(EVERYONE);
  return new Map([
    ...(everybody.length > 0 ? [[EVERYONE, { can: everybody, lost: [] }] as const] : []),
    ...[...accounts].map((to) => [to, stepsOf(to)] as const),
  ]);
}

const without = (letters: string, others: string) => [...letters].filter((l) => !others.includes(l)).join('');

const strengthsOf = (letters: string) =>
  STRENGTHS.filter((s) => [...RIGHTS[s]].some((l) => letters.includes(l)));

/** Denying takes a strength and all above it: one that is lost below another that is kept cannot be told so. */
const isOdd = ({ can, lost }: Steps) =>
  lost.some((l) => can.some((c) => STRENGTHS.indexOf(c) > STRENGTHS.indexOf(l)));

function grantsOf(place: string, to: string, { can, lost }: Steps): readonly GrantLine[] {
  const grant = (strength: Strength, deny: boolean): GrantLine => ({
    ...{ type: 'grant', place, to, strength, deny, only: !deny, until: null, by: null, at: null },
  });
  const from = lost.find((l) => can.every((c) => STRENGTHS.indexOf(c) < STRENGTHS.indexOf(l)));
  return [...can.map((s) => grant(s, false)), ...(from === undefined ? [] : [grant(from, true)])];
}
