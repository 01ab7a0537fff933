import { dayText, parseDay } from '../../text/day.ts';
import { cellParts, listedCell } from '../../text/listed-cell.ts';
import type { CellFault, TableColumns, TableFields } from '../tables/table-fields.ts';
import {
  ActivityContent,
  BASES,
  NEW_ACTIVITY,
  SAFEGUARDS,
  SPECIAL_BASES,
  type Recipient,
} from './activity.ts';

/** Columns of records of processing as a table, in the order in which they are written. */
export const ACTIVITY_FIELDS = {
  name: { words: 'Activity', names: ['name', 'title', 'process', 'processing'], needed: true },
  role: { words: 'Role', names: ['controller or processor'], needed: false },
  purpose: { words: 'Purpose', names: ['purposes', 'why'], needed: false },
  basis: { words: 'Legal basis', names: ['basis', 'lawful basis'], needed: false },
  special: { words: 'Reason of Art. 9', names: ['art. 9', 'special categories'], needed: false },
  offences: { words: 'Law on offences', names: ['art. 10', 'offences'], needed: false },
  people: { words: 'Whose data', names: ['data subjects', 'people', 'categories of people'], needed: false },
  data: { words: 'Kinds of data', names: ['data', 'personal data', 'categories of data'], needed: false },
  systems: { words: 'Systems', names: ['system', 'where'], needed: false },
  recipients: { words: 'Recipients', names: ['recipient', 'given to'], needed: false },
  retention: { words: 'Kept for', names: ['retention', 'time limits'], needed: false },
  measures: { words: 'Measures', names: ['security', 'security measures'], needed: false },
  owner: { words: 'Owner', names: ['responsible', 'contact'], needed: false },
  review: { words: 'Next review', names: ['review', 'review date'], needed: false },
} as const satisfies TableFields<keyof ActivityContent>;
export type ActivityField = keyof typeof ACTIVITY_FIELDS;

/** What records name by ids and tables by their names. */
export interface RecordNames {
  /** By id. */
  readonly detectors: ReadonlyMap<string, string>;
  readonly systems: ReadonlyMap<string, string>;
}

/** A record as the cells of a row; what `readActivities` reads as the same record. */
export function activityRow(c: ActivityContent, names: RecordNames): readonly string[] {
  const named = (ids: readonly string[], of: ReadonlyMap<string, string>) =>
    listedCell(ids.map((id) => of.get(id) ?? id));
  const cells: Readonly<Record<ActivityField, string>> = {
    name: c.name,
    role: c.role,
    purpose: c.purpose,
    basis: BASES[c.basis],
    special: c.special === 'none' ? '' : SPECIAL_BASES[c.special],
    offences: c.offences,
    people: listedCell(c.people),
    data: named(c.data, names.detectors),
    systems: named(c.systems, names.systems),
    recipients: listedCell(c.recipients.map(recipientText)),
    retention: c.retention,
    measures: c.measures,
    owner: c.owner,
    review: c.review === '' ? '' : dayText(c.review),
  };
  return (Object.keys(ACTIVITY_FIELDS) as ActivityField[]).map((f) => cells[f]);
}

/** As `Lookwell Ltd | US | standard clauses`. */
export function recipientText({ name, country, safeguard }: Recipient): string {
  const told = [name, country, safeguard === 'none' ? '' : safeguard];
  while (told.at(-1) === '') told.pop();
  return told.join(' | ');
}

/** What `recipientText` wrote; `undefined` for what cannot be read. */
export function recipientOf(text: string): Recipient | undefined {
  const [name = '', country = '', safeguard = '', ...more] = text.split('|').map((p) => p.trim());
  const known = safeguard === '' ? 'none' : safeguard;
  if (more.length > 0 || name === '' || !/^(?:[A-Z]{2})?$/.test(country) || !Object.hasOwn(SAFEGUARDS, known))
    return undefined;
  return { name, country, safeguard: known as Recipient['safeguard'] };
}

export interface ReadActivities {
  readonly activities: readonly ActivityContent[];
  readonly faults: readonly CellFault[];
}

/**
 * Reads records from a table; what has no column stays as it is in `before` (by name in small letters), or as in a new record. Every fault is
 * told, with its cell.
 */
export function readActivities(
  rows: readonly (readonly string[])[],
  columns: TableColumns<ActivityField>,
  names: RecordNames,
  before: ReadonlyMap<string, ActivityContent> = new Map(),
): ReadActivities {
  const activities: ActivityContent[] = [];
  const faults: CellFault[] = [];
  const seen = new Map<string, number>();
  const detectors = byName(names.detectors);
  const systems = byName(names.systems);
  for (const [row, cells] of rows.entries()) {
    if (cells.every((c) => c.trim() === '')) continue;
    const fault = (field: ActivityField, words: string) =>
      faults.push({ row, column: columns[field] ?? null, words });
    const cell = (field: ActivityField) => {
      const at = columns[field];
      return at === undefined ? undefined : (cells[at] ?? '').trim();
    };
    const name = cell('name') ?? '';
    const told: Record<string, unknown> = { ...(before.get(name.toLowerCase()) ?? NEW_ACTIVITY), name };
    let whole = true;
    const take = (field: ActivityField, read: (text: string) => unknown, none: string) => {
      const text = cell(field);
      if (text === undefined) return;
      const value = read(text);
      if (value === undefined) {
        whole = false;
        fault(field, none);
      } else told[field] = value;
    };
    const choice = (words: Readonly<Record<string, string>>, usual: string) => (text: string) =>
      text === '' ? usual : choiceOf(words, text);
    take(
      'role',
      choice({ controller: 'controller', processor: 'processor' }, 'controller'),
      'controller or processor.',
    );
    take('basis', choice(BASES, NEW_ACTIVITY.basis), oneOf(BASES));
    take('special', choice(SPECIAL_BASES, 'none'), `${oneOf(SPECIAL_BASES)} Or nothing.`);
    for (const field of ['purpose', 'offences', 'retention', 'measures', 'owner'] as const)
      take(field, (text) => text, '');
    take('people', cellParts, '');
    const ids = (of: ReadonlyMap<string, string>, field: 'data' | 'systems', what: string) => {
      const text = cell(field);
      if (text === undefined) return;
      const known = cellParts(text).map((p) => [p, of.get(p.toLowerCase())] as const);
      const unknown = known.filter(([, id]) => id === undefined).map(([p]) => p);
      if (unknown.length > 0) {
        whole = false;
        fault(field, `There is no ${what} “${unknown.join('”, “')}”.`);
      } else told[field] = known.map(([, id]) => id);
    };
    ids(detectors, 'data', 'detector');
    ids(systems, 'systems', 'system');
    take(
      'recipients',
      (text) => {
        const all = cellParts(text).map(recipientOf);
        return all.includes(undefined) ? undefined : all;
      },
      'A recipient reads name | two letters of a country | safeguard.',
    );
    take(
      'review',
      (text) => (text === '' ? '' : (parseDay(text) ?? undefined)),
      'A day such as 20 Nov 2026.',
    );
    const twice = seen.get(name.toLowerCase());
    if (twice !== undefined) {
      fault('name', `The same as in row ${twice + 2}.`);
      continue;
    }
    seen.set(name.toLowerCase(), row);
    const parsed = ActivityContent.safeParse(told);
    if (parsed.success) {
      if (whole) activities.push(parsed.data);
    } else
      for (const issue of parsed.error.issues) fault(String(issue.path[0]) as ActivityField, issue.message);
  }
  return { activities, faults };
}

function byName(names: ReadonlyMap<string, string>): ReadonlyMap<string, string> {
  return new Map([
    ...[...names].map(([id, name]) => [name.toLowerCase(), id] as const),
    ...[...names].map(([id]) => [id.toLowerCase(), id] as const),
  ]);
}

/** The key whose words a text is, or which it is itself, or whose article it names. */
function choiceOf(words: Readonly<Record<string, string>>, text: string): string | undefined {
  const plain = text.toLowerCase();
  const article = /\d+\(\d\)(?:\([a-j]\))?/.exec(plain)?.[0];
  return (
    Object.keys(words).find((k) => k === plain || (words[k] as string).toLowerCase() === plain) ??
    (article === undefined ? undefined : Object.keys(words).find((k) => words[k]?.includes(article)))
  );
}

function oneOf(words: Readonly<Record<string, string>>): string {
  return `One of: ${Object.keys(words)
    .filter((k) => k !== 'none')
    .join(', ')}.`;
}
