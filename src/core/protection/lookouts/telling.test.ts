import { expect, it } from 'vitest';
import { firstLookout, LookoutContent, watchesOn, WholeLookout } from './lookout-content.ts';
import { tellAt, tellingDay } from './telling.ts';

const tell = (from: string, to: string, zone = 'Europe/Copenhagen') =>
  LookoutContent.shape.tell.parse({ mail: [], hooks: [], mostADay: 3, quiet: { from, to, zone } });

it.each<[string, ReturnType<typeof tell>, string, string]>([
  ['by day', tell('22:00', '07:00'), '2026-12-01T11:00:00.000Z', '2026-12-01T11:00:00.000Z'],
  ['late in the evening', tell('22:00', '07:00'), '2026-12-01T22:30:00.000Z', '2026-12-02T06:00:00.000Z'],
  ['after midnight', tell('22:00', '07:00'), '2026-12-02T01:00:00.000Z', '2026-12-02T06:00:00.000Z'],
  ['at their first minute', tell('22:00', '07:00'), '2026-12-01T21:00:00.000Z', '2026-12-02T06:00:00.000Z'],
  ['at their end', tell('22:00', '07:00'), '2026-12-02T06:00:00.000Z', '2026-12-02T06:00:00.000Z'],
  ['over noon', tell('12:00', '13:30'), '2026-07-01T10:15:00.000Z', '2026-07-01T11:30:00.000Z'],
  [
    'in the night that loses an hour',
    tell('22:00', '02:30'),
    '2026-03-28T22:00:00.000Z',
    '2026-03-29T01:30:00.000Z',
  ],
  [
    'in the night that has one twice',
    tell('22:00', '02:30'),
    '2026-10-25T00:10:00.000Z',
    '2026-10-25T00:30:00.000Z',
  ],
  [
    'in that hour the second time',
    tell('22:00', '02:30'),
    '2026-10-25T01:10:00.000Z',
    '2026-10-25T01:30:00.000Z',
  ],
])('is told %s when nobody sleeps', (_, told, at, then) =>
  expect(tellAt(told, new Date(at)).toISOString()).toBe(then),
);

it('is told at once where no hours are quiet, and counted by the day where they are', () => {
  const at = new Date('2026-12-01T23:30:00.000Z');
  const { tell: anytime } = firstLookout('x');
  expect(tellAt(anytime, at)).toEqual(at);
  expect([tellingDay(anytime, at), tellingDay(tell('22:00', '07:00'), at)]).toEqual([
    '2026-12-01',
    '2026-12-02',
  ]);
});

it('watches between its days', () => {
  const days = { from: '2026-12-01', until: '2026-12-03' };
  expect(['2026-11-30', '2026-12-01', '2026-12-03', '2026-12-04'].map((d) => watchesOn(days, d))).toEqual([
    ...[false, true, true, false],
  ]);
  expect(watchesOn({ from: null, until: null }, '1999-01-01')).toBe(true);
});

it.each([
  [{ from: '2026-12-02', until: '2026-12-01' }, 'until'],
  [{ tell: tell('07:00', '07:00') }, 'tell.quiet.to'],
  [{ tell: { ...tell('07:00', '08:00'), mail: ['nobody'] } }, 'tell.mail.0'],
  [{ name: ' ' }, 'name'],
])('says what is wrong with %o', (over, field) =>
  expect(WholeLookout.safeParse({ ...firstLookout('x'), ...over }).error?.issues[0]?.path.join('.')).toBe(
    field,
  ),
);
