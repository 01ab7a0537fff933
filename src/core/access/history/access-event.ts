import type { Strength } from '../reach/strength.ts';
import { ANYONE, type GrantLine, type LinkLine } from '../estate/estate-line.ts';
import { rowIdentity, type EstateRow } from '../estate/estate-row.ts';
import type { RowChanges } from '../estate/estate-rows.ts';

/** One thing that was given, taken away or set, as the history of access tells it. */
export interface AccessEvent {
  readonly kind: 'grant' | 'link' | 'member' | 'inherits' | 'owner' | 'person';
  readonly act: 'add' | 'take' | 'set';
  /** ISO 8601 where the source says when; null where it is only known when it was seen. */
  readonly at: string | null;
  /** Id of the place; empty where it is at none. */
  readonly place: string;
  /** Id of whom it is about; of a link those it is for, where they are one. */
  readonly who: string;
  readonly strength: Strength | '';
  /** Who did it, as the source names them. */
  readonly by: string;
  readonly words: string;
}

/** What came and went, as events; names by id for their words. */
export function eventsOf(
  { came, went }: RowChanges,
  names: { person(id: string): string },
): readonly AccessEvent[] {
  const events: AccessEvent[] = [];
  const before = new Map(went.map((row) => [rowIdentity(row), row]));
  const stays = new Set(came.map(rowIdentity));
  for (const row of went) if (!stays.has(rowIdentity(row))) events.push(...single(row, 'take', names));
  for (const row of came) {
    const was = before.get(rowIdentity(row));
    events.push(...(was ? altered(was, row, names) : single(row, 'add', names)));
  }
  return events;
}

const NOTHING = { at: null, place: '', who: '', strength: '', by: '' } as const;

function single(
  row: EstateRow,
  act: 'add' | 'take',
  names: { person(id: string): string },
): readonly AccessEvent[] {
  // When something was taken away, and by whom, no line tells.
  const given = ({ at, by }: GrantLine | LinkLine) =>
    act === 'add' ? { at: at === null ? null : instant(at), by: by ?? '' } : { at: null, by: '' };
  switch (row.type) {
    case 'grant':
      return [
        {
          ...{ kind: 'grant', act, ...given(row), place: row.place, who: row.to, strength: row.strength },
          words: `${row.deny ? 'denies ' : ''}${names.person(row.to)}, ${row.strength}${untilWords(row)}`,
        },
      ];
    case 'link':
      return [
        {
          ...{ kind: 'link', act, ...given(row), place: row.place, strength: row.strength },
          who: typeof row.to === 'string' ? row.to : (row.to.length === 1 && row.to[0]) || '',
          words: `link for ${linkFor(row, names)}, ${row.strength}${untilWords(row)}`,
        },
      ];
    case 'member':
      return [
        {
          ...{ ...NOTHING, kind: 'member', act, who: row.member },
          words: `${names.person(row.member)} in ${names.person(row.group)}`,
        },
      ];
    case 'person':
      return [{ ...NOTHING, kind: 'person', act, who: row.id, words: `account of ${row.name ?? row.id}` }];
    case 'group':
    case 'place':
      return [];
  }
}

function altered(
  was: EstateRow,
  row: EstateRow,
  names: { person(id: string): string },
): readonly AccessEvent[] {
  if (was.type === 'place' && row.type === 'place') {
    const set = (kind: 'inherits' | 'owner', who: string, words: string): AccessEvent => ({
      ...{ ...NOTHING, kind, act: 'set', place: row.id, who, words },
    });
    return [
      ...(was.inherits === row.inherits
        ? []
        : [set('inherits', '', row.inherits ? 'inherits again' : 'own grants begin')]),
      ...(was.owner === row.owner
        ? []
        : [
            set(
              'owner',
              row.owner ?? '',
              row.owner === null ? 'has no owner any more' : `is owned by ${names.person(row.owner)}`,
            ),
          ]),
    ];
  }
  if (was.type === 'link' && row.type === 'link') {
    const words = `link for ${linkFor(row, names)}, ${row.strength}${untilWords(row)}`;
    return words === `link for ${linkFor(was, names)}, ${was.strength}${untilWords(was)}`
      ? []
      : [{ ...NOTHING, kind: 'link', act: 'set', place: row.place, strength: row.strength, words }];
  }
  if (was.type === 'person' && row.type === 'person') {
    const said = [
      ...(was.state === row.state ? [] : [row.state === 'open' ? 'opened' : 'disabled']),
      ...(was.left === row.left ? [] : [row.left === null ? 'works here again' : `left on ${row.left}`]),
      ...(was.until === row.until ? [] : [row.until === null ? 'no end' : `open until ${row.until}`]),
    ];
    return said.length === 0
      ? []
      : [
          {
            ...{ ...NOTHING, kind: 'person', act: 'set', who: row.id },
            words: `account of ${row.name ?? row.id}: ${said.join(', ')}`,
          },
        ];
  }
  return [];
}

function linkFor({ to }: LinkLine, names: { person(id: string): string }): string {
  if (to === ANYONE) return 'anyone who has it';
  if (typeof to === 'string') return to;
  return to.length > 3 ? `${to.length} people and groups` : to.map((t) => names.person(t)).join(', ');
}

function untilWords({ until }: { readonly until: string | null }): string {
  return until === null ? '' : ` until ${until}`;
}

function instant(text: string): string | null {
  const at = Date.parse(text);
  return Number.isNaN(at) ? null : new Date(at).toISOString();
}
