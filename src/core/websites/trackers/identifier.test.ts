import fc from 'fast-check';
import { createHash } from 'node:crypto';
import { describe, expect, it, test } from 'vitest';
import { Identifiers, looksLikeIdentifier } from './identifier.ts';
import type { TrackerKey } from './tracker.ts';

const UID: TrackerKey = { kind: 'cookie', name: 'uid', host: 'a.example' };
const VALUE = '9c1f2ab47de0553188';
const known = () => {
  const ids = new Identifiers();
  ids.add(VALUE, UID);
  return ids;
};
const sent = (url: string, body = '', headers: Record<string, string> = {}) =>
  known()
    .sentIn({ url, body, headers })
    .map((s) => [s.name, s.where, s.as]);
const digest = (name: string) => createHash(name).update(VALUE).digest('hex');

describe('a stored value that goes out', () => {
  test.each([
    ['as a parameter', [`https://b.example/p.gif?u=${VALUE}&x=1`], ['u', 'itself']],
    ['inside a parameter', [`https://b.example/p.gif?d=v1.${VALUE}.7`], ['d', 'itself']],
    ['in the path', [`https://b.example/u/${VALUE}/p.gif`], ['path', 'itself']],
    ['as MD5', [`https://b.example/p?h=${digest('md5')}`], ['h', 'MD5']],
    ['as SHA-1', [`https://b.example/p?h=${digest('sha1')}`], ['h', 'SHA-1']],
    [
      'as SHA-256, in capitals',
      [`https://b.example/p?h=${digest('sha256').toUpperCase()}`],
      ['h', 'SHA-256'],
    ],
    ['in base64', [`https://b.example/p?h=${encodeURIComponent(btoa(VALUE))}`], ['h', 'base64']],
    ['in the body', ['https://b.example/p', `{"v":"${VALUE}"}`], ['body', 'itself']],
    [
      'in a header of its own',
      ['https://b.example/p', '', { 'x-visitor': VALUE }],
      ['header x-visitor', 'itself'],
    ],
  ] as const)('%s is found', (_words, [url, body, headers], [where, as]) => {
    expect(sent(url, body, headers)).toEqual([['uid', where, as]]);
  });

  test.each([
    ['another number', 'https://b.example/p?u=1c1f2ab47de0553188', {}],
    [
      'the browser’s own headers',
      'https://b.example/p',
      { cookie: `uid=${VALUE}`, referer: `https://a.example/?u=${VALUE}` },
    ],
    ['nothing', 'https://b.example/p', {}],
    ['what is no address', '::', {}],
  ])('%s is not', (_words, url, headers) => {
    expect(sent(url, '', headers as Record<string, string>)).toEqual([]);
  });

  it('is found in parts of a stored value too', () => {
    const ids = new Identifiers();
    ids.add(encodeURIComponent(JSON.stringify({ id: VALUE, n: 3 })), UID);
    expect(ids.sentIn({ url: `https://b.example/?i=${VALUE}`, body: '', headers: {} })).toHaveLength(1);
  });
});

test.each([
  [VALUE, true],
  ['1763891234', false],
  ['1763891234567', false],
  ['2026-11-23T10:00', false],
  ['preferences', false],
  ['accept', false],
  ['a1b2', false],
  ['https://a.example/page/1', false],
  ['aaaaaaaaaaaaaaa1', false],
])('%s looks like an identifier: %s', (token, looks) => {
  expect(looksLikeIdentifier(token)).toBe(looks);
});

it('never takes a value for another', () => {
  const hex = fc.stringMatching(/^[0-9a-f]{20}$/);
  fc.assert(
    fc.property(hex, hex, (a, b) => {
      const ids = new Identifiers();
      ids.add(a, UID);
      const found = ids.sentIn({ url: `https://b.example/?u=${b}`, body: '', headers: {} });
      expect(found.length > 0).toBe(a === b && looksLikeIdentifier(a));
    }),
  );
});
