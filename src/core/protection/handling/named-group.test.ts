import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { GroupKind } from './channel.ts';
import { isAmong, isMember, memberFault, NamedGroup } from './named-group.ts';

describe('a member', () => {
  it.each<[GroupKind, string, string, boolean]>([
    ['destinations', 'example.org', 'example.org', true],
    ['destinations', 'example.org', 'WWW.Example.ORG', true],
    ['destinations', 'example.org', 'https://files.example.org:8443/up?x=1', true],
    ['destinations', 'example.org', 'ann@mail.example.org', true],
    ['destinations', 'example.org', 'notexample.org', false],
    ['destinations', 'example.org', 'example.org.evil.example', false],
    ['destinations', 'example.org', 'https://evil.example/example.org', false],
    ['destinations', 'example.org', 'https://example.org@evil.example/', false],
    ['destinations', '=example.org', 'example.org', true],
    ['destinations', '=example.org', 'www.example.org', false],
    ['destinations', 'example.org/upload', 'https://example.org/upload/a', true],
    ['destinations', 'example.org/upload', 'https://example.org/uploads', false],
    ['destinations', 'example.org/upload', 'https://example.org/', false],
    ['destinations', 'havn.example', 'xn--havn-1ra.example', false],
    ['destinations', 'bølge.example', 'xn--blge-gra.example', true],
    ['destinations', 'example.org', '', false],
    ['programs', 'sheet.exe', 'SHEET.EXE', true],
    ['programs', 'sheet*', 'sheet-64.exe', true],
    ['printers', 'Halmsund *', 'halmsund 2nd floor', true],
    ['drives', 'Kaltdrive 8F21', 'Kaltdrive 8F21', true],
    ['drives', 'Kaltdrive *', 'kaltdrive 0C77', true],
    ['drives', 'Kaltdrive *', 'Otherdrive 0C77', false],
    ['shares', '//port/lists', '\\\\PORT\\lists\\2026\\a.xlsx', true],
    ['shares', '//port/lists', '//port/lists2/a.xlsx', false],
    ['paths', '/home/shared/', '/home/shared/a', true],
    ['paths', '/', '/anything', true],
    ['paths', '/home/shared', '/home/sharedx', false],
    ['networks', 'Ship', 'ship', true],
    ['networks', '10.4.0.0/16', '10.4.255.1', true],
    ['networks', '10.4.0.0/16', '10.5.0.1', false],
    ['networks', '10.4.0.0/16', '::ffff:10.4.0.1', false],
    ['networks', '2001:db8::/32', '2001:db8:1::7', true],
    ['networks', '2001:db8::/32', '2001:db9::7', false],
    ['networks', '0.0.0.0/0', '1.2.3.4', true],
    ['networks', '10.4.0.0/16', 'Ship', false],
  ])('of %s %s and %s: %s', (kind, member, thing, is) => expect(isMember(kind, member, thing)).toBe(is));

  it.each<[GroupKind, string, RegExp]>([
    ['destinations', 'not a domain', /no domain/],
    ['destinations', '.example.org', /no domain/],
    ['networks', '10.4.0.0/33', /no address range/],
    ['networks', '300.1.1.1/8', /no address range/],
    ['shares', 'port/lists', /no share/],
    ['programs', 'a\u0000b', /control character/],
  ])('of %s is refused as “%s”', (kind, member, why) => expect(memberFault(kind, member)).toMatch(why));

  it('is told by its place in the group', () => {
    const made = NamedGroup.safeParse({
      ...{ name: 'Ours', kind: 'destinations', ours: true, members: ['a.example', 'b c'] },
    });
    expect(made.error?.issues[0]?.path).toEqual(['members', 1]);
  });

  it('never throws, whatever is written', () =>
    fc.assert(
      fc.property(
        fc.constantFrom<GroupKind>('destinations', 'networks', 'shares', 'paths', 'drives'),
        fc.string({ unit: 'grapheme', maxLength: 60 }),
        fc.string({ unit: 'grapheme', maxLength: 60 }),
        (kind, member, thing) => {
          memberFault(kind, member);
          isMember(kind, member, thing);
        },
      ),
    ));

  it('is found among many as by asking each', () => {
    const parts = ['a', 'b', 'www', 'up', 'x y', 'ø'];
    const written = fc.oneof(
      fc
        .array(fc.constantFrom(...parts, 'example', 'org'), { minLength: 1, maxLength: 4 })
        .map((p) => p.join('.')),
      fc.array(fc.constantFrom(...parts), { maxLength: 3 }).map((p) => `/${p.join('/')}`),
      fc.array(fc.constantFrom(...parts), { maxLength: 3 }).map((p) => `//${p.join('/')}/`),
      fc.constantFrom('=example.org', 'example.org/up', 'https://www.example.org/up/a?b', 'me@a.example.org'),
      fc.constantFrom('Kaltdrive *', 'kaltdrive 7', '*', '10.0.0.0/8', '10.1.2.3', 'C:\\a\\b', ''),
    );
    fc.assert(
      fc.property(
        fc.constantFrom<GroupKind>(
          'destinations',
          'programs',
          'printers',
          'drives',
          'shares',
          'networks',
          'paths',
        ),
        fc.array(written, { maxLength: 12 }),
        written,
        (kind, members, thing) => {
          const slowly = thing !== '' && members.some((m) => isMember(kind, m, thing));
          expect(isAmong({ kind, members }, thing)).toBe(slowly);
        },
      ),
      { numRuns: 2000 },
    );
  });

  it('of address ranges holds what has the same first bits', () =>
    fc.assert(
      fc.property(fc.ipV4(), fc.ipV4(), fc.integer({ min: 0, max: 32 }), (a, b, size) => {
        const number = (x: string) => x.split('.').reduce((n, p) => n * 256 + Number(p), 0);
        const of = 2 ** (32 - size);
        expect(isMember('networks', `${a}/${size}`, b)).toBe(
          Math.floor(number(a) / of) === Math.floor(number(b) / of),
        );
      }),
    ));
});
