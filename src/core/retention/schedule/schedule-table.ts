import type { CellFault, TableColumns, TableFields } from '../../holdings/offers.ts';
import { lensFaults } from '../../lens/lens-faults.ts';
import { LensTextError, lensText, parseLens } from '../../lens/lens-text.ts';
import { cellParts, listedCell } from '../../text/listed-cell.ts';
import {
  AGREE,
  newRetentionRule,
  RetentionRuleDraft,
  SILENT,
  type RetentionNames,
} from '../rules/retention-rule.ts';
import { afterWords, FOR_GOOD, keepWords, NOT_CHOSEN, UNKNOWN, type Keep } from '../rules/term.ts';
import { placeWords, readPlace } from '../scope/scope.ts';
import { THEN } from '../verdict/retention-verdict.ts';

/** Columns of the schedule as a table, in the order in which they are written. */
export const SCHEDULE_FIELDS = {
  name: { words: 'Rule', names: ['name', 'title', 'record', 'category', 'what'], needed: true },
  lens: { words: 'Which items', names: ['lens', 'condition', 'where it holds'], needed: false },
  places: { words: 'Where', names: ['place', 'places', 'location', 'source'], needed: false },
  of: { words: 'Of', names: ['owner', 'unit', 'of people'], needed: false },
  notOf: { words: 'Not of', names: ['except of'], needed: false },
  keep: { words: 'Keep for', names: ['keep', 'period', 'retention', 'time', 'duration'], needed: false },
  after: { words: 'Counted from', names: ['after', 'from', 'trigger', 'clock', 'event'], needed: false },
  yearEnd: { words: 'From the end of the year', names: ['end of year', 'year end'], needed: false },
  unknown: { words: 'Where that is not known', names: ['unknown', 'otherwise'], needed: false },
  then: { words: 'Then', names: ['action', 'disposal', 'what follows'], needed: false },
  answerDays: { words: 'Days for an answer', names: ['answer'], needed: false },
  silent: { words: 'No answer goes to', names: ['no answer'], needed: false },
  agree: { words: 'Agreed to by', names: ['approval', 'approvers'], needed: false },
  undoDays: { words: 'Days to put it back', names: ['quarantine', 'put back'], needed: false },
  because: { words: 'Because', names: ['reason', 'why', 'note', 'notes'], needed: false },
  duty: { words: 'Duty', names: ['law', 'article', 'legal basis', 'authority'], needed: false },
} as const satisfies TableFields<string>;
export type ScheduleField = keyof typeof SCHEDULE_FIELDS;

/** A rule as the cells of a row; what `readSchedule` reads as the same rule. */
export function scheduleRow(
  r: RetentionRuleDraft,
  { sources, groups, clocks }: RetentionNames,
): readonly string[] {
  const who = (marks: readonly string[]) =>
    listedCell(marks.map((m) => groups.find((g) => g.value === m)?.words ?? m));
  const line = lensText(r.lens);
  const cells: Readonly<Record<ScheduleField, string>> = {
    name: r.name,
    lens: line === 'everything' ? '' : line,
    places: listedCell(r.places.map((p) => placeWords(p, sources))),
    of: who(r.of),
    notOf: who(r.notOf),
    keep: r.keep === NOT_CHOSEN ? '' : keepWords(r.keep),
    after: afterWords(r.after, clocks),
    yearEnd: r.yearEnd ? 'yes' : '',
    unknown: r.unknown === 'never begins' ? '' : UNKNOWN[r.unknown],
    then: THEN[r.then],
    answerDays: String(r.answerDays),
    silent: SILENT[r.silent],
    agree: AGREE[r.agree],
    undoDays: String(r.undoDays),
    because: r.because,
    duty: r.duty,
  };
  return FIELDS.map((f) => cells[f]);
}

const FIELDS = Object.keys(SCHEDULE_FIELDS) as ScheduleField[];

export interface ReadSchedule {
  /** In the order of the rows; of one that is there already, with what the table does not tell as it was. */
  readonly rules: readonly RetentionRuleDraft[];
  readonly faults: readonly CellFault[];
}

/** Rules from a table, by the columns of its fields. `before`: those there are, by their name in small letters. */
export function readSchedule(
  rows: readonly (readonly string[])[],
  columns: TableColumns<ScheduleField>,
  names: RetentionNames,
  before: ReadonlyMap<string, RetentionRuleDraft> = new Map(),
): ReadSchedule {
  const rules: RetentionRuleDraft[] = [];
  const faults: CellFault[] = [];
  const seen = new Map<string, number>();
  for (const [row, cells] of rows.entries()) {
    const column = (f: ScheduleField) => columns[f] ?? null;
    const cell = (f: ScheduleField) => {
      const at = columns[f];
      return at === undefined ? undefined : (cells[at] ?? '').trim();
    };
    const fault = (f: ScheduleField, words: string) => faults.push({ row, column: column(f), words });
    const name = cell('name') ?? '';
    if (name === '') {
      fault('name', 'Give it a name.');
      continue;
    }
    const twin = seen.get(name.toLowerCase());
    if (twin !== undefined) fault('name', `It stands in row ${twin + 2}, too.`);
    seen.set(name.toLowerCase(), row);
    const read = readCells(cell, fault, names);
    const draft = { ...(before.get(name.toLowerCase()) ?? newRetentionRule(name)), ...read, name };
    const parsed = RetentionRuleDraft.safeParse(draft);
    if (parsed.success) rules.push(parsed.data);
    else
      for (const issue of parsed.error.issues) {
        const field = String(issue.path[0]);
        if (field in SCHEDULE_FIELDS) fault(field as ScheduleField, issue.message);
        else faults.push({ row, column: null, words: issue.message });
      }
  }
  return { rules, faults };
}

function readCells(
  cell: (field: ScheduleField) => string | undefined,
  fault: (field: ScheduleField, words: string) => unknown,
  { items, sources, groups, clocks }: RetentionNames,
): Partial<RetentionRuleDraft> {
  const found: { -readonly [K in keyof RetentionRuleDraft]?: RetentionRuleDraft[K] } = {};
  const lens = cell('lens');
  if (lens !== undefined)
    try {
      found.lens = parseLens(lens === '' ? 'everything' : lens);
      for (const f of lensFaults(found.lens, items)) fault('lens', f.words);
    } catch (error) {
      if (!(error instanceof LensTextError)) throw error;
      fault('lens', error.message);
    }
  const places = cell('places');
  if (places !== undefined)
    found.places = cellParts(places).flatMap((text) => {
      const read = readPlace(text, sources);
      if ('value' in read) return [read.value];
      fault('places', `“${text}”: ${read.wrong}`);
      return [];
    });
  for (const field of ['of', 'notOf'] as const) {
    const who = cell(field);
    if (who === undefined) continue;
    found[field] = cellParts(who).flatMap((text) => {
      const group = groups.find((g) => g.words.toLowerCase() === text.toLowerCase() || g.value === text);
      if (group) return [group.value];
      if (/^[^\s@]+@[^\s@]+$/.test(text)) return [text.toLowerCase()];
      fault(field, `“${text}” is no unit, no group and no e-mail address.`);
      return [];
    });
  }
  const keep = cell('keep');
  if (keep !== undefined) {
    const read = readKeep(keep);
    if (read === undefined) fault('keep', 'Such as 90 days, 6 months, 10 years or for good.');
    else found.keep = read;
  }
  const after = cell('after');
  if (after !== undefined && after !== '') {
    const ways = [
      { value: 'changed', words: 'the last change' },
      { value: 'created', words: 'its creation' },
      ...clocks,
    ];
    const way = ways.find((w) => sameWords(w.words, after) || sameWords(w.value, after));
    if (way) found.after = way.value;
    else fault('after', `One of: ${ways.map((w) => w.words).join(', ')}.`);
  }
  const yearEnd = cell('yearEnd');
  if (yearEnd !== undefined) {
    if (/^(yes|true|x|1)$/i.test(yearEnd)) found.yearEnd = true;
    else if (/^(no|false|0|)$/i.test(yearEnd)) found.yearEnd = false;
    else fault('yearEnd', 'Yes, or nothing.');
  }
  const pick = <T extends string>(field: ScheduleField, of: Readonly<Record<T, string>>): T | undefined => {
    const text = cell(field);
    if (text === undefined || text === '') return undefined;
    const entry = (Object.entries(of) as [T, string][]).find(
      ([value, words]) => sameWords(words, text) || sameWords(value, text),
    );
    if (!entry) fault(field, `One of: ${Object.values(of).join('; ')}.`);
    return entry?.[0];
  };
  const [unknown, then, silent, agree] = [
    pick('unknown', UNKNOWN),
    pick('then', THEN),
    pick('silent', SILENT),
    pick('agree', AGREE),
  ];
  if (unknown) found.unknown = unknown;
  if (then) found.then = then;
  if (silent) found.silent = silent;
  if (agree) found.agree = agree;
  for (const field of ['answerDays', 'undoDays'] as const) {
    const text = cell(field);
    if (text === undefined || text === '') continue;
    if (/^\d{1,3}$/.test(text)) found[field] = Number(text);
    else fault(field, 'A whole number of days.');
  }
  for (const field of ['because', 'duty'] as const) {
    const text = cell(field);
    if (text !== undefined) found[field] = text;
  }
  return found;
}

function sameWords(a: string, b: string): boolean {
  const plain = (text: string) => text.toLowerCase().replaceAll('’', "'").trim();
  return plain(a) === plain(b);
}

function readKeep(text: string): Keep | undefined {
  if (text === '') return NOT_CHOSEN;
  if (/^(for good|permanent|permanently|forever)$/i.test(text)) return FOR_GOOD;
  const [, count, unit = ''] = /^(\d{1,3})\s*(days?|d|months?|m|years?|y)$/i.exec(text) ?? [];
  if (count === undefined) return undefined;
  const letter = unit.toLowerCase().charAt(0);
  return { count: Number(count), unit: letter === 'd' ? 'days' : letter === 'm' ? 'months' : 'years' };
}
