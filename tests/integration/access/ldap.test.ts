import { spawn, type ChildProcess } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Client } from 'ldapts';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { freePorts } from '../../../launcher/free-port.ts';
import { findProgram } from '../../../launcher/prerequisites.ts';
import type { AccessStep } from '../../../src/core/access/change/access-change.ts';
import { ldapReader } from '../../../src/server/access/readers/ldap.ts';
import {
  ReaderError,
  StepRefused,
  type AccessReader,
  type SourceLine,
} from '../../../src/server/access/readers/reader.ts';
import { testContext } from '../context.ts';

const BASE = 'dc=line,dc=example';
const ADMIN = `cn=admin,${BASE}`;
const PASSWORD = 'kept-from-sight';
const folder = mkdtempSync(join(tmpdir(), 'yare-ldap-'));
const ctx = testContext();
let server: ChildProcess;
let admin: Client;
let port = 0;

beforeAll(async () => {
  [port = 0] = await freePorts(1);
  mkdirSync(join(folder, 'db'));
  writeFileSync(
    join(folder, 'slapd.conf'),
    [
      ...['core', 'cosine', 'inetorgperson', 'nis', 'dyngroup'].map(
        (s) => `include /etc/ldap/schema/${s}.schema`,
      ),
      'modulepath /usr/lib/ldap',
      'moduleload back_mdb',
      `pidfile ${folder}/pid`,
      // A client that does not page is cut short.
      'sizelimit size.soft=50 size.hard=50 size.prtotal=unlimited',
      'database mdb',
      `suffix "${BASE}"`,
      `rootdn "${ADMIN}"`,
      `rootpw ${PASSWORD}`,
      `directory ${folder}/db`,
      'maxsize 100000000',
      `access to * by dn="cn=reader,${BASE}" read by anonymous auth by * none`,
    ].join('\n'),
  );
  server = spawn(
    findProgram('slapd') ?? 'slapd',
    ['-f', join(folder, 'slapd.conf'), '-h', `ldap://127.0.0.1:${port}`, '-d', '0'],
    { stdio: 'ignore' },
  );
  admin = new Client({ url: `ldap://127.0.0.1:${port}` });
  for (let tries = 0; ; tries++)
    try {
      await admin.bind(ADMIN, PASSWORD);
      break;
    } catch (error) {
      if (tries > 100) throw error;
      await new Promise((wake) => setTimeout(wake, 100));
    }
  await admin.add(BASE, { objectClass: ['dcObject', 'organization'], dc: 'line', o: 'Line' });
  for (const ou of ['People', 'Groups'])
    await admin.add(`ou=${ou},${BASE}`, { objectClass: 'organizationalUnit', ou });
  await admin.add(`cn=reader,${BASE}`, {
    objectClass: ['applicationProcess', 'simpleSecurityObject'],
    cn: 'reader',
    userPassword: PASSWORD,
  });
  const person = (uid: string, more: Record<string, string | string[]> = {}) =>
    admin.add(`uid=${uid},ou=People,${BASE}`, {
      objectClass: ['inetOrgPerson', 'posixAccount', 'shadowAccount'],
      ...{ uid, cn: uid, sn: uid, displayName: `${uid} Åberg`, mail: `${uid}@line.example`, ou: 'Deck' },
      ...{ uidNumber: String(5000 + uid.length), gidNumber: '100', homeDirectory: '/', ...more },
    });
  for (let i = 0; i < 120; i++) await person(`hand${i}`);
  await person('tove', { ou: 'Port', title: 'Clerk', uidNumber: '4711' });
  await person('ended', { shadowExpire: '20000' });
  await person('guest', { employeeType: 'Guest' });
  const group = (cn: string, member: string[]) =>
    admin.add(`cn=${cn},ou=Groups,${BASE}`, { objectClass: 'groupOfNames', cn, member });
  const dn = (uid: string) => `uid=${uid},ou=People,${BASE}`;
  await group('Port', [dn('tove'), `cn=Ring A,ou=Groups,${BASE}`]);
  await group('Ring A', [`CN=Ring B, OU=Groups, ${BASE}`]);
  await group('Ring B', [`cn=Ring A,ou=Groups,${BASE}`, dn('hand7')]);
  await admin.add(`cn=unix,ou=Groups,${BASE}`, {
    objectClass: 'posixGroup',
    cn: 'unix',
    gidNumber: '4712',
    memberUid: ['tove', 'hand1'],
  });
  await admin.add(`cn=Deck,ou=Groups,${BASE}`, {
    ...{ objectClass: 'groupOfURLs', cn: 'Deck' },
    memberURL: `ldap:///ou=People,${BASE}??one?(ou=Deck)`,
  });
}, 60_000);
afterAll(async () => {
  await admin.unbind();
  server.kill('SIGTERM');
  await ctx.store.close();
  rmSync(folder, { recursive: true, force: true });
});

const settings = () => ({ ...ctx.settings, ALLOWED_PRIVATE: `localhost:${port}` });
const open = (user: string, password = PASSWORD): Promise<AccessReader> =>
  ldapReader(settings(), { kind: 'ldap', url: `ldap://localhost:${port}`, user, base: BASE }, password);

async function all(reader: AccessReader): Promise<readonly SourceLine[]> {
  const found: SourceLine[] = [];
  for await (const line of reader.lines(new AbortController().signal)) found.push(line);
  await reader.close();
  return found;
}
const id = (uid: string) => `uid=${uid},ou=people,${BASE}`;
const groupId = (cn: string) => `cn=${cn.toLowerCase()},ou=groups,${BASE}`;

describe('a directory that is read by LDAP', () => {
  it('tells of people and groups in pages, of rings, numbers, guests, and accounts that end', async () => {
    const lines = (await all(await open(`cn=reader,${BASE}`))).flatMap((l) => ('line' in l ? [l.line] : []));
    const people = new Map(lines.flatMap((l) => (l.type === 'person' ? [[l.id, l] as const] : [])));
    const groups = new Map(lines.flatMap((l) => (l.type === 'group' ? [[l.id, l] as const] : [])));
    expect(people.size).toBe(123);
    expect(people.get(id('tove'))).toEqual({
      ...{ type: 'person', id: id('tove'), name: 'tove Åberg', mail: 'tove@line.example', state: 'open' },
      ...{ until: null, left: null, guest: false, uid: 4711, gid: 100 },
      attributes: { login: 'tove', unit: 'Port', title: 'Clerk' },
    });
    // Day 20,000 since 1970 is 4 October 2024, on which it opens nothing any more.
    expect(people.get(id('ended'))?.until).toBe('2024-10-03');
    expect(people.get(id('guest'))?.guest).toBe(true);
    expect(groups.get(groupId('Port'))?.members).toEqual([id('tove'), groupId('Ring A')]);
    expect(groups.get(groupId('Ring A'))?.members).toEqual([groupId('Ring B')]);
    expect(groups.get(groupId('unix'))).toMatchObject({ gid: 4712, members: [id('tove'), id('hand1')] });
    expect(groups.get(groupId('Deck'))?.members).toHaveLength(122);
  });

  it.each([
    ['another password', `cn=reader,${BASE}`, 'wrong', 'does not take this name and password'],
    ['a name that is none', `cn=nobody,${BASE}`, PASSWORD, 'does not take this name and password'],
  ])('is told with %s', async (_, user, password, words) => {
    await expect(open(user, password)).rejects.toThrow(words);
  });

  it('is not asked at an address that is not open', async () => {
    const address = { kind: 'ldap', url: 'ldap://10.0.0.9', user: '', base: BASE } as const;
    await expect(ldapReader(ctx.settings, address, '')).rejects.toThrow(ReaderError);
  });

  it('takes memberships once each, and says what it does not take', async () => {
    const reader = await open(ADMIN);
    const step = (act: 'add' | 'take', group: string): AccessStep => ({
      is: 'member',
      act,
      group: groupId(group),
      member: id('hand3'),
    });
    for (const group of ['Port', 'unix']) {
      expect(await reader.apply?.('1', step('add', group))).toBe('done');
      expect(await reader.apply?.('1', step('add', group))).toBe('already');
      const lines = (await all(await open(ADMIN))).flatMap((l) =>
        'line' in l && l.line.type === 'group' ? [l.line] : [],
      );
      expect(lines.find((l) => l.id === groupId(group))?.members).toContain(id('hand3'));
      expect(await reader.apply?.('2', step('take', group))).toBe('done');
      expect(await reader.apply?.('2', step('take', group))).toBe('already');
    }
    await expect(reader.apply?.('3', step('add', 'Deck'))).rejects.toThrow('described, and not named');
    await expect(reader.apply?.('4', step('add', 'Nowhere'))).rejects.toThrow(StepRefused);
    // The last of a group that has to hold somebody.
    await expect(
      reader.apply?.('5', { is: 'member', act: 'take', group: groupId('Ring A'), member: groupId('Ring B') }),
    ).rejects.toThrow('refused');
    await reader.close();
  });
});
