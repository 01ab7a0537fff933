import { confidence, KEEP_FROM, sumOf, type Step } from '../detector/confidence.ts';
import { tokenize, type Token } from '../words/token.ts';
import { segmentAt, type TextDocument } from '../../../text/segment.ts';
import type { Finding, NearMiss } from '../detector/finding.ts';
import { comparable, mask } from '../../../text/mask.ts';
import { SipHash } from './sip-hash.ts';

/** Which columns of a table name a record, and which confirm it. */
export interface RosterColumns {
  /** Each alone names a record. */
  readonly keys: readonly number[];
  readonly corroborating: readonly number[];
}

export interface RosterRules {
  /** Corroborating values that must stand near a key; 0: the key is enough. */
  readonly corroboration: number;
  /** How near, in characters. */
  readonly within: number;
  readonly keepFrom: number;
}

export const ROSTER_RULES: RosterRules = { corroboration: 0, within: 120, keepFrom: KEEP_FROM };

export const LONGEST_KEY = 64;
const MOST_TOKENS = 10;
/** Shorter values would be met everywhere. */
export const SHORTEST_KEY = 4;

/** Known records as keyed hashes, ready to be met in a text. Nothing of the values can be read back from it. */
export interface Roster {
  readonly id: string;
  readonly name: string;
  readonly version: number;
  readonly columns: { readonly keys: readonly string[]; readonly corroborating: readonly string[] };
  readonly rows: number;
  /** Open addressing: halves of the hash, and the row in `rowOf` (−1 where empty). */
  readonly high: Uint32Array;
  readonly low: Uint32Array;
  readonly rowOf: Int32Array;
  readonly columnOf: Uint8Array;
  /** Halves of the corroborating values' hashes, row by row. */
  readonly beside: Uint32Array;
  /** Lengths and kinds (1 digits, 2 letters, 3 both) that keys have. */
  readonly shapes: Uint8Array;
  /** Rows without a usable key, and keys that stand in more than one row. */
  readonly unusable: number;
  readonly repeated: number;
}

export interface RosterInput {
  readonly id: string;
  readonly name: string;
  readonly version: number;
  readonly headings: readonly string[];
  readonly columns: RosterColumns;
  /** How many rows there may be at most. */
  readonly expected: number;
}

/** Builds a roster row by row. */
export class RosterBuilder {
  readonly #sip: SipHash;
  readonly #slots: number;
  readonly #high: Uint32Array;
  readonly #low: Uint32Array;
  readonly #rowOf: Int32Array;
  readonly #columnOf: Uint8Array;
  readonly #beside: Uint32Array;
  readonly #shapes = new Uint8Array(LONGEST_KEY + 1);
  #rows = 0;
  #unusable = 0;
  #repeated = 0;

  constructor(
    readonly input: RosterInput,
    key: Uint8Array,
  ) {
    this.#sip = new SipHash(key);
    const { keys, corroborating } = input.columns;
    this.#slots = 2 ** Math.ceil(Math.log2(Math.max(16, input.expected * keys.length * 1.6)));
    this.#high = new Uint32Array(this.#slots);
    this.#low = new Uint32Array(this.#slots);
    this.#rowOf = new Int32Array(this.#slots).fill(-1);
    this.#columnOf = new Uint8Array(this.#slots);
    this.#beside = new Uint32Array(input.expected * corroborating.length * 2);
  }

  /** Throws a RangeError past the expected number of rows. */
  add(cells: readonly string[]): void {
    if (this.#rows >= this.input.expected) throw new RangeError(`More than ${this.input.expected} rows.`);
    const row = this.#rows++;
    const { keys, corroborating } = this.input.columns;
    let usable = false;
    for (const column of keys) {
      const value = comparable(cells[column] ?? '');
      if (value.length < SHORTEST_KEY || value.length > LONGEST_KEY) continue;
      usable = true;
      this.#shapes[value.length] = (this.#shapes[value.length] as number) | (1 << kindOf(value));
      this.#insert(value, row, column);
    }
    if (!usable) this.#unusable++;
    for (const [i, column] of corroborating.entries()) {
      const value = comparable(cells[column] ?? '');
      if (value.length < 2) continue;
      this.#sip.hash(value);
      const at = (row * corroborating.length + i) * 2;
      this.#beside[at] = this.#sip.high;
      this.#beside[at + 1] = this.#sip.low;
    }
  }

  #insert(value: string, row: number, column: number): void {
    this.#sip.hash(value);
    const { high, low } = this.#sip;
    let slot = low & (this.#slots - 1);
    while (this.#rowOf[slot] !== -1) {
      // Another row of the same value: both stand in the table, one slot after the other.
      if (this.#high[slot] === high && this.#low[slot] === low) this.#repeated++;
      slot = (slot + 1) & (this.#slots - 1);
    }
    this.#high[slot] = high;
    this.#low[slot] = low;
    this.#rowOf[slot] = row;
    this.#columnOf[slot] = column;
  }

  done(): Roster {
    const { id, name, version, headings, columns } = this.input;
    const named = (all: readonly number[]) => all.map((c) => headings[c] ?? `column ${c + 1}`);
    return {
      id,
      name,
      version,
      rows: this.#rows,
      columns: { keys: named(columns.keys), corroborating: named(columns.corroborating) },
      high: this.#high,
      low: this.#low,
      rowOf: this.#rowOf,
      columnOf: this.#columnOf,
      beside: this.#beside.slice(0, this.#rows * columns.corroborating.length * 2),
      shapes: this.#shapes,
      unusable: this.#unusable,
      repeated: this.#repeated,
    };
  }
}

function kindOf(value: string): number {
  return /^\d+$/.test(value) ? 1 : /\d/.test(value) ? 3 : 2;
}

export interface RosterResult {
  readonly findings: readonly Finding[];
  readonly nearMisses: readonly NearMiss[];
}

/** Meets the records of a roster in a text, however their values are written there. */
export function findRecords(
  roster: Roster,
  rules: RosterRules,
  key: Uint8Array,
  source: TextDocument,
  options: { readonly reveal?: boolean; readonly hash?: (v: string) => string } = {},
): RosterResult {
  const sip = new SipHash(key);
  const { text } = source;
  const tokens = tokenize(text, 0, text.length);
  const bare = tokens.map((t) => comparable(t.word));
  const findings: Finding[] = [];
  const nearMisses: NearMiss[] = [];
  let next = 0;
  for (let i = 0; i < tokens.length; i++) {
    if (i < next) continue;
    const met = meet(roster, sip, text, tokens, bare, i);
    if (!met) continue;
    const start = (tokens[i] as Token).start;
    const end = (tokens[i + met.tokens - 1] as Token).end;
    const beside = bestCorroboration(roster, rules, sip, tokens, bare, i, met.tokens, met.rows, source);
    const value = text.slice(start, end);
    const length = met.value.length;
    const steps: Step[] = [
      {
        words: `a known ${roster.columns.keys[met.key] ?? 'value'}`,
        steps: length <= 5 ? -1 : length <= 6 ? 0.5 : 3,
      },
      ...beside.map((column) => ({ words: `the record’s ${column} near it`, steps: 3 })),
    ];
    const share = confidence(sumOf(steps));
    const segment = segmentAt(source.segments, start);
    const finding: Finding = {
      detector: roster.id,
      version: roster.version,
      start,
      end,
      confidence: share,
      steps,
      masked: mask(value, 'ends'),
      hash: options.hash ? options.hash(met.value) : '',
      place: segment?.place ?? {},
      ...(segment?.heading === undefined ? {} : { heading: segment.heading }),
      ...(options.reveal ? { value } : {}),
    };
    if (beside.length < rules.corroboration)
      nearMisses.push({
        ...finding,
        lacked: `${beside.length} of the ${rules.corroboration} corroborating values it asks for`,
      });
    else if (share < rules.keepFrom)
      nearMisses.push({ ...finding, lacked: 'too short a value to count alone' });
    else {
      findings.push(finding);
      next = i + met.tokens;
    }
  }
  return { findings, nearMisses };
}

interface Met {
  readonly tokens: number;
  readonly value: string;
  readonly rows: readonly number[];
  readonly key: number;
}

/** The longest known value that begins with token `i`. */
function meet(
  roster: Roster,
  sip: SipHash,
  text: string,
  tokens: readonly Token[],
  bare: readonly string[],
  i: number,
): Met | undefined {
  let value = '';
  let best: Met | undefined;
  for (let n = 0; n < MOST_TOKENS && i + n < tokens.length; n++) {
    if (n > 0) {
      const gap = text.slice((tokens[i + n - 1] as Token).end, (tokens[i + n] as Token).start);
      if (gap.length > 2 || /[\n\t;|"]/.test(gap)) break;
    }
    value += bare[i + n] as string;
    if (value.length > LONGEST_KEY) break;
    if (((roster.shapes[value.length] as number) & (1 << kindOf(value))) === 0) continue;
    const met = lookUp(roster, sip, value);
    if (met) best = { tokens: n + 1, value, ...met };
  }
  return best;
}

function lookUp(roster: Roster, sip: SipHash, value: string): { rows: number[]; key: number } | undefined {
  sip.hash(value);
  const { high, low } = sip;
  const rows: number[] = [];
  let key = 0;
  const size = roster.rowOf.length;
  for (
    let slot = low & (size - 1);
    roster.rowOf[slot] !== -1 && rows.length < 50;
    slot = (slot + 1) & (size - 1)
  )
    if (roster.high[slot] === high && roster.low[slot] === low) {
      rows.push(roster.rowOf[slot] as number);
      key = roster.columnOf[slot] as number;
    }
  return rows.length > 0 ? { rows, key } : undefined;
}

/** The corroborating columns of the row that has most of them near. */
function bestCorroboration(
  roster: Roster,
  rules: RosterRules,
  sip: SipHash,
  tokens: readonly Token[],
  bare: readonly string[],
  at: number,
  width: number,
  rows: readonly number[],
  source: TextDocument,
): readonly string[] {
  const columns = roster.columns.corroborating;
  if (columns.length === 0) return [];
  const start = (tokens[at] as Token).start;
  const end = (tokens[at + width - 1] as Token).end;
  const record = segmentAt(source.segments, start)?.record;
  const inReach = (t: Token) =>
    (t.end <= start || t.start >= end) &&
    (record === undefined
      ? t.start >= start - rules.within && t.end <= end + rules.within
      : segmentAt(source.segments, t.start)?.record === record);
  let from = at;
  while (from > 0 && at - from < 200 && inReach(tokens[from - 1] as Token)) from--;
  let to = at + width;
  while (to < tokens.length && to - at < 200 && inReach(tokens[to] as Token)) to++;
  const near = new Set<string>();
  for (let i = from; i < to; i++) {
    let value = '';
    for (let n = 0; n < 6 && i + n < to; n++) {
      if (i + n >= at && i + n < at + width) break;
      value += bare[i + n] as string;
      sip.hash(value);
      near.add(`${sip.high}.${sip.low}`);
    }
  }
  let best: string[] = [];
  for (const row of rows) {
    const found = columns.filter((_, c) => {
      const h = (row * columns.length + c) * 2;
      return roster.beside[h] !== 0 && near.has(`${roster.beside[h]}.${roster.beside[h + 1]}`);
    });
    if (found.length > best.length) best = found;
  }
  return best;
}
