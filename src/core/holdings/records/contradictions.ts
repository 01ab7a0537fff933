import { EEA } from '../../eea.ts';
import { builtInDetectors } from '../detection/library/library.ts';
import { dayText } from '../../text/day.ts';
import type { ActivityContent } from './activity.ts';

/** A system with what surveys found in its sources. */
export interface FoundInSystem {
  readonly id: string;
  readonly name: string;
  readonly hasSteward: boolean;
  /** Ids of its sources that were read. */
  readonly sources: readonly string[];
  /** By detector, how many items hold it. */
  readonly data: ReadonlyMap<string, number>;
  readonly items: number;
}

export interface RecordedActivity {
  readonly id: string;
  readonly content: ActivityContent;
}

export type ContradictionKind =
  'unnamed' | 'unrecorded' | 'never found' | 'basis' | 'transfer' | 'no steward' | 'no system' | 'review due';

/** Something in which the records and the estate, or the records and the law, do not agree. */
export interface Contradiction {
  readonly kind: ContradictionKind;
  /** Tells it apart, also tomorrow. */
  readonly key: string;
  readonly words: string;
  /** The law behind it, or why it matters. */
  readonly because: string;
  readonly activity?: string;
  readonly system?: string;
  /** The items it is about, as the line of a lens. */
  readonly lens?: string;
}

/** What the law treats as more than ordinary data, by the category of a detector. */
const HEIGHTENED: Readonly<Record<string, string>> = {
  health: 'a special category, Art. 9(1)',
  'special category': 'a special category, Art. 9(1)',
  offence: 'data on criminal offences, Art. 10',
  child: 'data of children, recital 38',
};

/** Detectors of the health category that are numbers of the insured, which say nothing of health. */
const NOT_SPECIAL = new Set([
  'gb-nhs',
  'de-krankenversichertennummer',
  'us-mbi',
  'au-medicare',
  'ca-bc-phn',
  'ehic',
]);

export function heightened(detector: string): string | undefined {
  if (NOT_SPECIAL.has(detector)) return undefined;
  return HEIGHTENED[builtInDetectors().find((d) => d.id === detector)?.category ?? ''];
}

function isSpecial(detector: string): boolean {
  return heightened(detector)?.startsWith('a special') ?? false;
}

/** Where no transfer is one to a third country. */
const INSIDE = new Set(EEA);
/** Countries of which the European Commission decided that their protection is adequate (Art. 45), as of 2025. */
const ADEQUATE = new Set('AD AR CA CH FO GB GG IL IM JE JP KR NZ UY'.split(' '));

export function needsSafeguard(country: string): boolean {
  return country !== '' && !INSIDE.has(country) && !ADEQUATE.has(country);
}

/** Everything in which records and estate contradict each other, on a day in ISO 8601; the gravest first. */
export function contradictions(
  activities: readonly RecordedActivity[],
  systems: readonly FoundInSystem[],
  nameOf: (detector: string) => string,
  today: string,
): readonly Contradiction[] {
  return [
    ...systems.flatMap((s) => unnamedIn(s, activities, nameOf)),
    ...activities.flatMap((a) => basisOf(a, nameOf)),
    ...activities.flatMap(transfersOf),
    ...systems.flatMap((s) => unrecorded(s, activities)),
    ...activities.flatMap((a) => neverFound(a, systems, nameOf)),
    ...activities.flatMap((a) => systemsOf(a, systems)),
    ...systems
      .filter((s) => !s.hasSteward && s.items > 0)
      .map((s): Contradiction => ({
        kind: 'no steward',
        key: `no steward ${s.id}`,
        system: s.id,
        words: `Nobody looks after the data of ${s.name}`,
        because: 'Somebody has to answer for it, Art. 5(2).',
        ...lensOf(s),
      })),
    ...activities
      .filter(({ content }) => content.review !== '' && content.review < today)
      .map(({ id, content }): Contradiction => ({
        kind: 'review due',
        key: `review due ${id}`,
        activity: id,
        words: `${content.name} was to be looked at again by ${dayText(content.review)}`,
        because: 'Records are kept up to date, Art. 30 and 5(2).',
      })),
  ];
}

/** A system holds what the law protects more, and no activity there names it. */
function unnamedIn(
  system: FoundInSystem,
  activities: readonly RecordedActivity[],
  nameOf: (detector: string) => string,
): readonly Contradiction[] {
  const mine = activities.filter((a) => a.content.systems.includes(system.id));
  // Where no activity uses it at all, that is told instead.
  if (mine.length === 0) return [];
  const named = new Set(mine.flatMap((a) => a.content.data));
  return [...system.data]
    .filter(([detector, items]) => items > 0 && heightened(detector) !== undefined && !named.has(detector))
    .sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1))
    .map(([detector, items]) => ({
      kind: 'unnamed',
      key: `unnamed ${system.id} ${detector}`,
      system: system.id,
      words: `${system.name} holds ${nameOf(detector)} in ${items} ${items === 1 ? 'item' : 'items'}, which no activity names`,
      because: `Kinds of data stand in the record, Art. 30(1)(c); this is ${heightened(detector)}.`,
      ...lensOf(system, detector),
    }));
}

function unrecorded(
  system: FoundInSystem,
  activities: readonly RecordedActivity[],
): readonly Contradiction[] {
  if (system.data.size === 0 || activities.some((a) => a.content.systems.includes(system.id))) return [];
  return [
    {
      kind: 'unrecorded',
      key: `unrecorded ${system.id}`,
      system: system.id,
      words: `${system.name} holds personal data, and no activity uses it`,
      because: 'Every activity is recorded, Art. 30(1).',
      ...lensOf(system),
    },
  ];
}

/** What an activity names was never found where it says that it is; told of systems that were read alone. */
function neverFound(
  { id, content }: RecordedActivity,
  systems: readonly FoundInSystem[],
  nameOf: (detector: string) => string,
): readonly Contradiction[] {
  const mine = systems.filter((s) => content.systems.includes(s.id));
  if (mine.length === 0 || mine.some((s) => s.items === 0)) return [];
  return content.data
    .filter((d) => !mine.some((s) => (s.data.get(d) ?? 0) > 0))
    .map((d) => ({
      kind: 'never found',
      key: `never found ${id} ${d}`,
      activity: id,
      words: `${content.name} names ${nameOf(d)}, which was never found in ${mine.map((s) => s.name).join(', ')}`,
      because: 'A record says what is done, not what might be, Art. 5(1)(d).',
    }));
}

/** The basis cannot carry what the activity names. */
function basisOf(
  { id, content }: RecordedActivity,
  nameOf: (detector: string) => string,
): readonly Contradiction[] {
  const special = content.data.filter(isSpecial);
  const offences = content.data.filter((d) => heightened(d)?.startsWith('data on criminal'));
  const fault = (what: string, words: string, because: string): Contradiction => ({
    kind: 'basis',
    key: `basis ${id} ${what}`,
    activity: id,
    words: `${content.name}: ${words}`,
    because,
  });
  return [
    ...(special.length > 0 && content.special === 'none'
      ? [
          fault(
            'special',
            `${special.map(nameOf).join(', ')} ${special.length === 1 ? 'needs' : 'need'} a reason of Art. 9(2)`,
            'Special categories may not be used without one, Art. 9(1).',
          ),
        ]
      : []),
    ...(offences.length > 0 && content.offences.trim() === ''
      ? [fault('offences', `${offences.map(nameOf).join(', ')} needs a law that allows it`, 'Art. 10.')]
      : []),
    ...(content.special === 'explicit consent' && content.basis !== 'consent'
      ? [
          fault(
            'consent',
            'explicit consent for special categories beside another basis for the rest',
            'Whoever withdraws consent cannot be held to the rest; say which data rests on what, Art. 7(3).',
          ),
        ]
      : []),
  ];
}

function transfersOf({ id, content }: RecordedActivity): readonly Contradiction[] {
  return content.recipients
    .filter((r) => needsSafeguard(r.country) && r.safeguard === 'none')
    .map((r) => ({
      kind: 'transfer',
      key: `transfer ${id} ${r.name}`,
      activity: id,
      words: `${content.name} gives data to ${r.name} in ${r.country} without a safeguard`,
      because: 'Art. 44 to 46: a third country without a decision on adequacy.',
    }));
}

function systemsOf(
  { id, content }: RecordedActivity,
  systems: readonly FoundInSystem[],
): readonly Contradiction[] {
  if (content.systems.some((s) => systems.some((k) => k.id === s))) return [];
  return [
    {
      kind: 'no system',
      key: `no system ${id}`,
      activity: id,
      words: `${content.name} says no system in which it happens`,
      because: 'Without one nothing of it can be checked.',
    },
  ];
}

function lensOf({ sources }: FoundInSystem, detector?: string): { readonly lens?: string } {
  if (sources.length === 0) return {};
  const places = sources.map((s) => `place in "${s}"`).join(' or ');
  const where = sources.length > 1 ? `(${places})` : places;
  return { lens: detector === undefined ? places : `data one of "${detector}" and ${where}` };
}
