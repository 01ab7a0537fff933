import { Attribute, Change, Client, type Entry } from 'ldapts';
import type { AccessAddress } from '../../../core/access/sources/access-source.ts';
import type { GroupLine, PersonLine } from '../../../core/access/estate/estate-line.ts';
import { reachable } from '../../http/checked-request.ts';
import type { Settings } from '../../settings.ts';
import { asReaderError } from './http-reader.ts';
import { ReaderError, StepRefused, type AccessReader, type SourceLine } from './reader.ts';

type LdapAddress = Extract<AccessAddress, { kind: 'ldap' }>;

/** Machines are left out here: of a class that a directory does not know, “not” would leave out everybody (RFC 4511, 4.5.1.7). */
const PEOPLE = '(|(objectClass=person)(objectClass=account)(objectClass=user))';
const GROUPS =
  '(|(objectClass=groupOfNames)(objectClass=groupOfUniqueNames)(objectClass=posixGroup)(objectClass=groupOfURLs)(objectClass=group))';
const PAGE = 500;
const PATIENCE_MS = 30_000;
const DAY = 86_400_000;
/** 100 ns since 1601: how some directories write an instant. */
const FILETIME_EPOCH_MS = 11_644_473_600_000;

/** RFC 2798, RFC 4519, RFC 2307; and what directories of other makers call the same. */
const OF_PEOPLE = [
  'objectClass',
  ...['cn', 'displayName', 'mail', 'uid', 'uidNumber', 'gidNumber', 'title', 'ou', 'departmentNumber'],
  ...['department', 'employeeType', 'shadowExpire', 'userAccountControl', 'accountExpires'],
  ...['pwdAccountLockedTime', 'sAMAccountName'],
];
const OF_GROUPS = ['cn', 'member', 'uniqueMember', 'memberUid', 'memberURL', 'gidNumber'];

/** People and groups of a directory by LDAP (RFC 4511), in pages (RFC 2696); they are known by their names there, in small letters. */
export async function ldapReader(
  settings: Settings,
  address: LdapAddress,
  password: string,
): Promise<AccessReader> {
  const url = new URL(address.url);
  const isTls = url.protocol === 'ldaps:';
  const port = Number(url.port || (isTls ? 636 : 389));
  // Looked up once, so that the name cannot lead elsewhere a moment later.
  const to = await reachable(settings, new URL(`http://${url.hostname}:${port}`)).catch(asReaderError);
  const host = to === 'localhost' ? '127.0.0.1' : to.includes(':') ? `[${to}]` : to;
  const client = new Client({
    url: `${url.protocol}//${host}:${port}`,
    timeout: PATIENCE_MS,
    connectTimeout: 10_000,
    ...(isTls ? { tlsOptions: { servername: url.hostname } } : {}),
  });
  try {
    await client.bind(address.user, password);
  } catch (error) {
    throw new ReaderError(bindFault(url, error));
  }
  return {
    lines: (signal) => directoryLines(client, url, address.base, signal),
    async apply(_id, step) {
      if (step.is !== 'member') throw new StepRefused('a directory knows memberships alone');
      return writeMember(client, step.group, step.member, step.act);
    },
    close: () => client.unbind().catch(() => {}),
  };
}

function bindFault(url: URL, error: unknown): string {
  const { name, message } = error as Error;
  if (name === 'InvalidCredentialsError') return `${url.host} does not take this name and password.`;
  return `${url.host} could not be asked: ${message.trim()}.`;
}

async function* directoryLines(
  client: Client,
  url: URL,
  base: string,
  signal: AbortSignal,
): AsyncGenerator<SourceLine> {
  const byUid = new Map<string, string>();
  for await (const entry of entriesOf(client, url, base, PEOPLE, OF_PEOPLE, signal)) {
    if (texts(entry, 'objectClass').some((c) => c.toLowerCase() === 'computer')) continue;
    const line = personLine(entry);
    const uid = text(entry, 'uid') ?? text(entry, 'sAMAccountName');
    if (uid !== undefined) byUid.set(uid, line.id);
    yield { line };
  }
  for await (const entry of entriesOf(client, url, base, GROUPS, OF_GROUPS, signal)) {
    const members = [
      ...[...texts(entry, 'member'), ...texts(entry, 'uniqueMember')].map(known),
      ...texts(entry, 'memberUid').flatMap((uid) => byUid.get(uid) ?? []),
    ];
    for (const described of texts(entry, 'memberURL')) {
      const found = await membersByUrl(client, url, described, signal);
      if (found) members.push(...found);
      else yield { fault: `${known(entry.dn)} describes its members in a way that cannot be read.` };
    }
    const gid = number(entry, 'gidNumber');
    const line: GroupLine = {
      ...{ type: 'group', id: known(entry.dn), name: text(entry, 'cn') ?? entry.dn, where: [] },
      members: [...new Set(members)],
      ...(gid === undefined ? {} : { gid }),
    };
    yield { line };
  }
}

async function* entriesOf(
  client: Client,
  url: URL,
  base: string,
  filter: string,
  attributes: string[],
  signal: AbortSignal,
  scope: 'base' | 'one' | 'sub' = 'sub',
): AsyncGenerator<Entry> {
  try {
    const pages = client.searchPaginated(base, { scope, filter, attributes, paged: { pageSize: PAGE } });
    for await (const { searchEntries } of pages) {
      signal.throwIfAborted();
      yield* searchEntries;
    }
  } catch (error) {
    if (signal.aborted) throw error;
    throw new ReaderError(`${url.host} could not be read to its end: ${(error as Error).message.trim()}.`);
  }
}

/** Of a dynamic group: `ldap:///ou=people,dc=line,dc=example??sub?(ou=Port)` (RFC 4516). `undefined` for what is none. */
async function membersByUrl(
  client: Client,
  url: URL,
  described: string,
  signal: AbortSignal,
): Promise<readonly string[] | undefined> {
  const [, path] = /^ldap:\/\/\/(.*)$/i.exec(described) ?? [];
  const [base, , scope = 'base', filter = '(objectClass=*)'] = (path ?? '')
    .split('?')
    .map((part) => decodeURIComponent(part));
  if (path === undefined || !base || !/^(?:base|one|sub)?$/.test(scope) || !filter.startsWith('('))
    return undefined;
  const found: string[] = [];
  for await (const entry of entriesOf(
    client,
    url,
    base,
    filter,
    ['1.1'],
    signal,
    (scope || 'base') as 'base' | 'one' | 'sub',
  ))
    found.push(known(entry.dn));
  return found;
}

/** Names of entries are the same in whatever letters (RFC 4514). */
function known(dn: string): string {
  return dn.toLowerCase().replace(/\s*,\s*/g, ',');
}

function personLine(entry: Entry): PersonLine {
  const mail = text(entry, 'mail');
  const login = text(entry, 'uid') ?? text(entry, 'sAMAccountName');
  const unit = text(entry, 'ou') ?? text(entry, 'departmentNumber') ?? text(entry, 'department');
  const title = text(entry, 'title');
  const [uid, gid] = [number(entry, 'uidNumber'), number(entry, 'gidNumber')];
  const isDisabled =
    ((number(entry, 'userAccountControl') ?? 0) & 2) !== 0 ||
    text(entry, 'pwdAccountLockedTime') !== undefined;
  return {
    ...{
      type: 'person',
      id: known(entry.dn),
      name: text(entry, 'displayName') ?? text(entry, 'cn') ?? entry.dn,
    },
    ...(mail === undefined ? {} : { mail }),
    ...{ state: isDisabled ? 'disabled' : 'open', until: lastDay(entry), left: null },
    guest: /guest|extern/i.test(text(entry, 'employeeType') ?? ''),
    ...(uid === undefined ? {} : { uid }),
    ...(gid === undefined ? {} : { gid }),
    attributes: {
      ...(login === undefined ? {} : { login }),
      ...(unit === undefined ? {} : { unit }),
      ...(title === undefined ? {} : { title }),
    },
  };
}

/** The last day on which an account is open: the day before the one on which it expires. */
function lastDay(entry: Entry): string | null {
  const days = number(entry, 'shadowExpire');
  if (days !== undefined && days > 0) return new Date((days - 1) * DAY).toISOString().slice(0, 10);
  const told = text(entry, 'accountExpires');
  if (told === undefined || !/^\d{1,18}$/.test(told) || told === '0') return null;
  const at = Number(BigInt(told) / 10_000n) - FILETIME_EPOCH_MS;
  return at > 0 && at < 32_503_680_000_000 ? new Date(at - 1).toISOString().slice(0, 10) : null;
}

function texts(entry: Entry, name: string): readonly string[] {
  const value = entry[name];
  const all: readonly (string | Buffer)[] = Array.isArray(value) ? value : value === undefined ? [] : [value];
  return all.map((v) => (typeof v === 'string' ? v : v.toString('utf8'))).filter((v) => v !== '');
}

function text(entry: Entry, name: string): string | undefined {
  return texts(entry, name)[0]?.slice(0, 1000);
}

function number(entry: Entry, name: string): number | undefined {
  const told = text(entry, name);
  return told !== undefined && /^\d{1,10}$/.test(told) ? Number(told) : undefined;
}

/** Puts somebody in a group, or takes them out of it; with the attribute that the group has for it. */
async function writeMember(
  client: Client,
  group: string,
  member: string,
  act: 'add' | 'take',
): Promise<'done' | 'already'> {
  try {
    const { searchEntries } = await client.search(group, {
      scope: 'base',
      filter: '(objectClass=*)',
      attributes: ['objectClass', 'member', 'uniqueMember', 'memberUid'],
    });
    const [entry] = searchEntries;
    if (!entry) throw new StepRefused('the directory has no such group any more');
    const classes = texts(entry, 'objectClass').map((c) => c.toLowerCase());
    if (classes.includes('groupofurls')) throw new StepRefused('who is in it is described, and not named');
    const type = classes.includes('groupofuniquenames')
      ? 'uniqueMember'
      : classes.includes('posixgroup')
        ? 'memberUid'
        : 'member';
    const value = type === 'memberUid' ? await uidOf(client, member) : member;
    const there = texts(entry, type).find((m) => (type === 'memberUid' ? m === value : known(m) === member));
    if ((there !== undefined) === (act === 'add')) return 'already';
    await client.modify(
      group,
      new Change({
        operation: act === 'add' ? 'add' : 'delete',
        modification: new Attribute({ type, values: [act === 'add' ? value : (there ?? value)] }),
      }),
    );
    return 'done';
  } catch (error) {
    if (error instanceof StepRefused) throw error;
    const { name, message } = error as Error;
    if (name === 'NoSuchObjectError') throw new StepRefused('the directory has no such group any more');
    throw new StepRefused(`the directory refused it: ${message.trim()}`, /Busy|Unavailable/.test(name));
  }
}

async function uidOf(client: Client, dn: string): Promise<string> {
  const { searchEntries } = await client.search(dn, { scope: 'base', attributes: ['uid'] });
  const uid = searchEntries[0] && text(searchEntries[0], 'uid');
  if (uid === undefined) throw new StepRefused('they have no sign-in name that the group could take');
  return uid;
}
