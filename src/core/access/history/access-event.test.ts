import { describe, expect, it } from 'vitest';
import { EstateLine } from '../estate/estate-line.ts';
import type { EstateRow } from '../estate/estate-row.ts';
import { eventsOf } from './access-event.ts';

const row = (line: object) => EstateLine.parse(line) as EstateRow;
const names = { person: (id: string) => (id === 'tove' ? 'Tove' : id) };
const told = (came: readonly EstateRow[], went: readonly EstateRow[] = []) =>
  eventsOf({ came, went }, names).map((e) => [e.act, e.kind, e.words, e.by, e.at] as const);

const grant = (more: object = {}) =>
  row({
    type: 'grant',
    place: 'july',
    to: 'tove',
    strength: 'read',
    by: 'magnus',
    at: '2026-07-04T09:13:00Z',
    ...more,
  });
const link = (more: object = {}) =>
  row({ type: 'link', id: 'l', place: 'july', strength: 'read', to: 'anyone', ...more });
const person = (more: object = {}) => row({ type: 'person', id: 'tove', name: 'Tove', ...more });
const place = (more: object = {}) => row({ type: 'place', id: 'july', source: 's', ...more });

describe('what came and went, as events', () => {
  it.each<[string, readonly EstateRow[], readonly EstateRow[], readonly (readonly unknown[])[]]>([
    [
      'a grant, when and by whom its source says',
      [grant()],
      [],
      [['add', 'grant', 'Tove, read', 'magnus', '2026-07-04T09:13:00.000Z']],
    ],
    [
      'one that is taken away: nobody says when, or who did',
      [],
      [grant()],
      [['take', 'grant', 'Tove, read', '', null]],
    ],
    [
      'a denial until a day',
      [grant({ deny: true, until: '2026-12-24', at: 'yesterday' })],
      [],
      [['add', 'grant', 'denies Tove, read until 2026-12-24', 'magnus', null]],
    ],
    ['a grant that somebody else made by now is the same', [grant({ by: 'jonas' })], [grant()], []],
    ['a link for anyone', [link()], [], [['add', 'link', 'link for anyone who has it, read', '', null]]],
    [
      'a link that gets an end',
      [link({ until: '2026-12-24' })],
      [link()],
      [['set', 'link', 'link for anyone who has it, read until 2026-12-24', '', null]],
    ],
    [
      'a link for some',
      [link({ to: ['tove', 'x'] })],
      [],
      [['add', 'link', 'link for Tove, x, read', '', null]],
    ],
    [
      'a membership',
      [{ type: 'member', group: 'port', member: 'tove' }],
      [],
      [['add', 'member', 'Tove in port', '', null]],
    ],
    [
      'an inheritance that ends',
      [place({ inherits: false })],
      [place()],
      [['set', 'inherits', 'own grants begin', '', null]],
    ],
    ['an owner', [place({ owner: 'tove' })], [place()], [['set', 'owner', 'is owned by Tove', '', null]]],
    [
      'an account that is closed as somebody leaves',
      [person({ state: 'disabled', left: '2026-09-30' })],
      [person()],
      [['set', 'person', 'account of Tove: disabled, left on 2026-09-30', '', null]],
    ],
    ['another title is none', [person({ attributes: { title: 'x' } })], [person()], []],
    ['a place that came is none', [place()], [], []],
  ])('%s', (_, came, went, events) => expect(told(came, went)).toEqual(events));
});
