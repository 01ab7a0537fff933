import fc from 'fast-check';
import { expect, it } from 'vitest';
import { leftToRead, mergedReading, type ReadWith } from './reading.ts';

const d = (id: string, version = 1, rehearsed = false): ReadWith => ({ id, version, rehearsed });
const MANY = ['iban', 'phone', 'vin', 'imei', 'ipv4'].map((id) => d(id));
const whole = (id: string) => id === 'certificate';

it.each<[string, ReadWith[], ReadWith[], ReturnType<typeof leftToRead>]>([
  ['nothing where nothing changed', MANY, [...MANY], { read: 'nothing' }],
  ['one that is new', MANY, [...MANY, d('bic')], { read: 'some', detectors: ['bic'], dropped: [] }],
  [
    'one in another version',
    [...MANY, d('bic', 1)],
    [...MANY, d('bic', 2)],
    { read: 'some', detectors: ['bic'], dropped: [d('bic', 1)] },
  ],
  [
    'one in rehearsal, beside the one in force',
    [...MANY, d('bic')],
    [...MANY, d('bic'), d('bic', 2, true)],
    { read: 'some', detectors: ['bic'], dropped: [] },
  ],
  ['none for one that was retired', [...MANY, d('bic')], MANY, { read: 'no more', dropped: [d('bic')] }],
  ['all for one that tells people apart', MANY, [...MANY, d('email')], { read: 'all' }],
  ['all where such a one was retired', [...MANY, d('email')], MANY, { read: 'all' }],
  [
    'not all where such a one is only rehearsed',
    MANY,
    [...MANY, d('email', 2, true)],
    { read: 'some', detectors: ['email'], dropped: [] },
  ],
  ['all for one that tells kinds of documents', MANY, [...MANY, d('certificate')], { read: 'all' }],
  ['all where most are new', [d('iban')], MANY, { read: 'all' }],
])('%s', (_, before, now, left) => expect(leftToRead(before, now, whole)).toEqual(left));

it('names whatever an item was not read with, and drops what it was read with too much', () => {
  const Some = fc.uniqueArray(
    fc.record({
      id: fc.constantFrom('iban', 'phone', 'vin', 'imei', 'email'),
      version: fc.nat(2),
      rehearsed: fc.boolean(),
    }),
    { selector: (x) => `${x.id} ${x.version} ${x.rehearsed}` },
  );
  fc.assert(
    fc.property(Some, Some, (before, now) => {
      const left = leftToRead(before, now, () => false);
      const missing = now.filter((n) => !before.some((b) => JSON.stringify(b) === JSON.stringify(n)));
      if (left.read === 'nothing' || left.read === 'no more') expect(missing).toEqual([]);
      if (left.read === 'some') expect(new Set(left.detectors)).toEqual(new Set(missing.map((m) => m.id)));
      if (left.read === 'some' || left.read === 'no more')
        expect(left.dropped.every((x) => before.some((b) => JSON.stringify(b) === JSON.stringify(x)))).toBe(
          true,
        );
    }),
  );
});

it('passes over a version that cannot matter in this item, whoever it tells of', () => {
  const idle = (was: ReadWith) => was.id === 'email' || was.id === 'certificate';
  const [before, now] = [
    [...MANY, d('email', 1), d('certificate', 1)],
    [...MANY, d('email', 2), d('certificate', 2)],
  ];
  expect(leftToRead(before, now, whole, 50, idle)).toEqual({
    read: 'no more',
    dropped: [d('email', 1), d('certificate', 1)],
  });
  expect(leftToRead(before, [...now, d('bic')], whole, 50, idle)).toMatchObject({
    read: 'some',
    detectors: ['bic'],
  });
  expect(leftToRead(before, now, whole, 50)).toEqual({ read: 'all' });
});

it('of many in use, one that is asked for alone is not most of them', () => {
  expect(leftToRead([], [d('bic')], whole, 150)).toEqual({ read: 'some', detectors: ['bic'], dropped: [] });
  expect(leftToRead([], [d('email')], whole, 150)).toEqual({ read: 'all' });
});

it('keeps what others were read with where some are read again', () =>
  expect(mergedReading([d('iban'), d('bic', 1), d('vin')], [d('bic', 2)], ['bic'])).toEqual([
    d('bic', 2),
    d('iban'),
    d('vin'),
  ]));
