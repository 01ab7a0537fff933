import { asciiHost } from '../../text/domain.ts';
import { matchesGlob } from '../../text/glob.ts';
import { z } from 'zod';
import { GROUP_KINDS, type GroupKind } from './channel.ts';

/** Things of one kind that rules name together. */
export const NamedGroup = z
  .strictObject({
    name: z.string().trim().min(1, 'Give it a name.').max(120),
    kind: z.enum(GROUP_KINDS),
    /** What belongs to the organisation: what goes there does not leave it. */
    ours: z.boolean(),
    members: z.array(z.string().trim().min(1).max(400)).max(20_000, 'At most 20,000 members'),
  })
  .superRefine(({ kind, members }, ctx) => {
    const at = members.findIndex((m) => memberFault(kind, m) !== undefined);
    if (at >= 0)
      ctx.addIssue({
        code: 'custom',
        path: ['members', at],
        message: memberFault(kind, members[at] as string) ?? '',
      });
  });
export type NamedGroup = z.infer<typeof NamedGroup>;

/** How a member of each kind is written. */
export const MEMBER_WORDS: Readonly<Record<GroupKind, string>> = {
  destinations:
    'a domain with all below it (example.org), one host alone (=www.example.org), or part of it (www.example.org/upload)',
  programs: 'a program’s file (sheet.exe), or part of it with *',
  printers: 'a printer’s name, or part of it with *',
  drives: 'maker and serial (Kaltdrive 8F21), or all of a maker (Kaltdrive *)',
  shares: 'a share and a folder (//port/lists), with all below it',
  networks: 'a network’s name, or an address range (10.4.0.0/16)',
  paths: 'a folder (/home/shared), with all below it',
};

/** What is wrong with a member as it is written; `undefined` where nothing is. */
export function memberFault(kind: GroupKind, member: string): string | undefined {
  if (/[\u0000-\u001f\u007f]/.test(member)) return 'It holds a control character.';
  switch (kind) {
    case 'destinations': {
      const host = hostPart(member);
      return host !== '' && /^[a-z0-9_.-]+$/i.test(asciiHost(host)) && !host.startsWith('.')
        ? undefined
        : `“${member}” is no domain. Write ${MEMBER_WORDS.destinations}.`;
    }
    case 'networks':
      return /^[0-9a-f:.]+\/\d+$/i.test(member) && !range(member)
        ? `“${member}” is no address range. Write one such as 10.4.0.0/16.`
        : undefined;
    case 'shares':
      return /^(\/\/|\\\\)[^/\\]+/.test(member)
        ? undefined
        : `“${member}” is no share. Write one such as //port/lists.`;
    default:
      return undefined;
  }
}

/** Groups that were asked before, made ready: a device asks the same one at every act. */
const READY = new WeakMap<readonly string[], (thing: string) => boolean>();

/** Whether a group of this kind holds a thing; both written in capitals or not. As `isMember` says of each member. */
export function isAmong({ kind, members }: Pick<NamedGroup, 'kind' | 'members'>, thing: string): boolean {
  if (thing === '') return false;
  const ready = READY.get(members) ?? madeReady(kind, members);
  READY.set(members, ready);
  return ready(thing);
}

/** Members by what of a thing has to be alike, so that only those are looked at that can stand for it. */
function madeReady(kind: GroupKind, members: readonly string[]): (thing: string) => boolean {
  const byKey = new Map<string, string[]>();
  for (const member of members) {
    const key = keyOfMember(kind, member);
    const alike = byKey.get(key);
    if (alike) alike.push(member);
    else byKey.set(key, [member]);
  }
  return (thing) =>
    keysOfThing(kind, thing).some((key) => byKey.get(key)?.some((m) => isMember(kind, m, thing)) ?? false);
}

/** Stands for members that any thing may be meant by. */
const ANY = '*';

function keyOfMember(kind: GroupKind, member: string): string {
  switch (kind) {
    case 'destinations':
      return plainHost(member);
    case 'shares':
    case 'paths':
      return slashes(member);
    case 'networks':
      return range(member) ? ANY : plain(member);
    case 'programs':
    case 'printers':
    case 'drives':
      return member.includes('*') ? ANY : plain(member);
  }
}

/** Every key that a member which stands for the thing can have. */
function keysOfThing(kind: GroupKind, thing: string): readonly string[] {
  switch (kind) {
    case 'destinations': {
      const labels = plainHost(addressOf(thing)).split('.');
      return labels.map((_, i) => labels.slice(i).join('.'));
    }
    case 'shares':
    case 'paths': {
      const path = slashes(thing);
      const ends = [...path.matchAll(/\//g)].map((m) => m.index);
      return [path, ...ends.flatMap((at) => [path.slice(0, at), path.slice(0, at + 1)])];
    }
    default:
      return [plain(thing), ANY];
  }
}

/** Whether one member stands for a thing. */
export function isMember(kind: GroupKind, member: string, thing: string): boolean {
  switch (kind) {
    case 'destinations':
      return isAtDestination(member, thing);
    case 'shares':
    case 'paths':
      return isBelow(slashes(thing), slashes(member));
    case 'networks': {
      const of = range(member);
      return of ? (of.holds(thing) ?? false) : plain(member) === plain(thing);
    }
    case 'programs':
    case 'printers':
    case 'drives':
      return matchesGlob(plain(member), plain(thing));
  }
}

const plain = (text: string) => text.trim().normalize('NFC').toLowerCase();
const slashes = (path: string) =>
  plain(path)
    .replaceAll('\\', '/')
    .replace(/(?<=.)\/+$/, '');

function isBelow(path: string, above: string): boolean {
  return path === above || path.startsWith(above.endsWith('/') ? above : `${above}/`);
}

function hostPart(written: string): string {
  return (
    written
      .replace(/^=/, '')
      .replace(/^[a-z]+:\/\//i, '')
      .split(/[/:?#]/)[0] ?? ''
  );
}

const plainHost = (written: string) => asciiHost(hostPart(written)).toLowerCase().replace(/\.$/, '');

/** Of a mail address, the domain. */
function addressOf(thing: string): string {
  return thing.includes('@') && !thing.includes('/') ? thing.slice(thing.lastIndexOf('@') + 1) : thing;
}

/** Of a mail address, the domain; of a web address, host and path. */
function isAtDestination(member: string, thing: string): boolean {
  const bare = addressOf(thing).replace(/^[a-z]+:\/\//i, '');
  const [host, wanted] = [plainHost(bare), plainHost(member)];
  if (!host || !wanted) return false;
  if (host !== wanted && (member.startsWith('=') || !host.endsWith(`.${wanted}`))) return false;
  const path = member
    .replace(/^=/, '')
    .replace(/^[a-z]+:\/\//i, '')
    .slice(hostPart(member).length)
    .replace(/^:\d+/, '');
  if (path === '' || path === '/') return true;
  const theirs = bare.slice(hostPart(bare).length).replace(/^:\d+/, '').split(/[?#]/)[0] ?? '';
  return isBelow(theirs, path.replace(/\/$/, ''));
}

interface AddressRange {
  holds(address: string): boolean | undefined;
}

/** IPv4 and IPv6 in one form of 128 bits (RFC 4291, 2.5.5.2). */
function bits(address: string): bigint | undefined {
  if (/^\d{1,3}(\.\d{1,3}){3}$/.test(address)) {
    const parts = address.split('.').map(Number);
    if (parts.some((p) => p > 255)) return undefined;
    return (0xffffn << 32n) | parts.reduce((n, p) => (n << 8n) | BigInt(p), 0n);
  }
  if (!/^[0-9a-f:]+$/i.test(address) || !address.includes(':')) return undefined;
  const [head = '', tail, more] = address.split('::');
  if (more !== undefined) return undefined;
  const words = (text: string) => (text === '' ? [] : text.split(':'));
  const [before, after] = [words(head), words(tail ?? '')];
  const filled =
    tail === undefined
      ? before
      : [...before, ...Array(Math.max(0, 8 - before.length - after.length)).fill('0'), ...after];
  if (filled.length !== 8 || filled.some((w) => !/^[0-9a-f]{1,4}$/i.test(w as string))) return undefined;
  return filled.reduce<bigint>((n, w) => (n << 16n) | BigInt(`0x${w as string}`), 0n);
}

function range(member: string): AddressRange | undefined {
  const [, address = '', length = ''] = /^([0-9a-f:.]+)\/(\d{1,3})$/i.exec(member.trim()) ?? [];
  const base = bits(address);
  if (base === undefined) return undefined;
  const is4 = address.includes('.');
  const size = Number(length);
  if (size > (is4 ? 32 : 128)) return undefined;
  const shift = BigInt(is4 ? 32 - size : 128 - size);
  return {
    holds: (thing) => {
      const at = bits(thing.trim());
      return at === undefined ? undefined : at >> shift === base >> shift;
    },
  };
}
