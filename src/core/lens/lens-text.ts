import { isClause, Lens, type Clause } from './lens.ts';

/**
 * A lens in one line that can be typed, kept in an address and read back: facts by their ids, values in quotes.
 *
 *     kind one of "payroll", "invoice" and not (changed within 2 years or place in "port/manifests")
 *
 * `and` binds closer than `or`, `not` closer than both; of everything, it is `everything`.
 */
export function lensText(lens: Lens): string {
  if (isClause(lens)) return clauseText(lens);
  if ('not' in lens) return `not ${inBrackets(lens.not)}`;
  const parts = 'all' in lens ? lens.all : lens.any;
  if (parts.length === 0) return 'all' in lens ? 'everything' : 'nothing';
  // One alone says in brackets that it is one of its kind.
  if (parts.length === 1) return `${'all' in lens ? 'all' : 'any'} (${lensText(parts[0] as Lens)})`;
  return parts.map(inBrackets).join('all' in lens ? ' and ' : ' or ');
}

function inBrackets(lens: Lens): string {
  const text = lensText(lens);
  return isClause(lens) || text === 'everything' || text === 'nothing' ? text : `(${text})`;
}

const quoted = (text: string) => JSON.stringify(text);

function clauseText(clause: Clause): string {
  const { fact } = clause;
  switch (clause.is) {
    case 'one of':
      return `${fact} one of ${clause.values.map(quoted).join(', ')}`;
    case 'at least':
    case 'at most':
      return `${fact} ${clause.is} ${clause.number}`;
    case 'since':
    case 'before':
      return `${fact} ${clause.is} ${clause.day}`;
    case 'within':
    case 'longer ago than':
      return `${fact} ${clause.is} ${clause.span.count} ${clause.span.unit}`;
    case 'in':
      return `${fact} in ${quoted(clause.place)}`;
    case 'holding':
      return `${fact} holding ${quoted(clause.text)}`;
    case 'unknown':
      return `${fact} unknown`;
  }
}

/** Where a line stops being a lens. */
export class LensTextError extends Error {
  constructor(
    message: string,
    /** From 0, in characters. */
    readonly at: number,
  ) {
    super(message);
  }
}

interface Token {
  readonly text: string;
  readonly at: number;
  /** What stood in quotes. */
  readonly value?: string;
}

/** Deeper brackets than this nobody means. */
const DEEPEST = 30;

/** Reads a line that `lensText` wrote, or somebody typed. Throws a LensTextError that says what would do, and where. */
export function parseLens(line: string): Lens {
  const tokens = tokensOf(line);
  let next = 0;
  const peek = () => tokens[next]?.text;
  const fail = (wanted: string): never => {
    const token = tokens[next];
    throw new LensTextError(
      token ? `Here stands “${token.text}”, where ${wanted} should.` : `At the end, ${wanted} is missing.`,
      token?.at ?? line.length,
    );
  };
  const take = (...words: readonly string[]): boolean => {
    if (!words.every((w, i) => tokens[next + i]?.text === w && tokens[next + i]?.value === undefined))
      return false;
    next += words.length;
    return true;
  };
  const quote = (): string => {
    const value = tokens[next]?.value;
    if (value === undefined) return fail('a text in quotes');
    next++;
    return value;
  };
  const word = (pattern: RegExp, wanted: string): string => {
    const token = tokens[next];
    if (!token || token.value !== undefined || !pattern.test(token.text)) return fail(wanted);
    next++;
    return token.text;
  };
  const number = () => Number(word(/^-?\d+(\.\d+)?(e[+-]?\d+)?$/, 'a number'));
  const day = () => word(/^\d{4}-\d{2}-\d{2}$/, 'a day such as 2026-11-20');
  const span = () => ({
    count: Number(word(/^\d{1,4}$/, 'a whole number')),
    unit: word(/^(days?|months?|years?)$/, 'days, months or years').replace(/s?$/, 's') as
      'days' | 'months' | 'years',
  });
  const clause = (): Clause => {
    const fact = word(/^[a-z][a-z0-9-]*(:[A-Za-z0-9._-]+)?$/, 'the name of a fact');
    if (take('one', 'of')) {
      const values = [quote()];
      while (take(',')) values.push(quote());
      return { fact, is: 'one of', values };
    }
    if (take('at', 'least')) return { fact, is: 'at least', number: number() };
    if (take('at', 'most')) return { fact, is: 'at most', number: number() };
    if (take('since')) return { fact, is: 'since', day: day() };
    if (take('before')) return { fact, is: 'before', day: day() };
    if (take('within')) return { fact, is: 'within', span: span() };
    if (take('longer', 'ago', 'than')) return { fact, is: 'longer ago than', span: span() };
    if (take('in')) return { fact, is: 'in', place: quote() };
    if (take('holding')) return { fact, is: 'holding', text: quote() };
    if (take('unknown')) return { fact, is: 'unknown' };
    return fail('one of, at least, at most, since, before, within, longer ago than, in, holding or unknown');
  };
  const bracket = (depth: number): Lens => {
    if (depth > DEEPEST)
      throw new LensTextError('There are too many brackets in each other.', tokens[next]?.at ?? 0);
    const inner = either(depth + 1);
    if (!take(')')) fail('a closing bracket');
    return inner;
  };
  const one = (depth: number): Lens => {
    if (take('everything')) return { all: [] };
    if (take('nothing')) return { any: [] };
    if (take('all', '(')) return { all: [bracket(depth)] };
    if (take('any', '(')) return { any: [bracket(depth)] };
    if (take('not')) {
      if (depth > DEEPEST) throw new LensTextError('There is “not” too often.', tokens[next]?.at ?? 0);
      return { not: one(depth + 1) };
    }
    if (take('(')) return bracket(depth);
    return clause();
  };
  const several = (depth: number, join: 'and' | 'or', part: (depth: number) => Lens): Lens => {
    const parts = [part(depth)];
    while (take(join)) parts.push(part(depth));
    return parts.length === 1 ? (parts[0] as Lens) : join === 'and' ? { all: parts } : { any: parts };
  };
  const either = (depth: number): Lens => several(depth, 'or', (d) => several(d, 'and', one));
  const lens = either(0);
  if (peek() !== undefined) fail('and, or, or the end');
  const checked = Lens.safeParse(lens);
  if (!checked.success) throw new LensTextError(checked.error.issues[0]?.message ?? 'This is no lens.', 0);
  return checked.data;
}

const TOKEN = /\s*(?:("(?:[^"\\]|\\.)*")|([(),])|([^\s(),"]+))/y;

function tokensOf(line: string): readonly Token[] {
  const tokens: Token[] = [];
  const end = line.trimEnd().length;
  for (TOKEN.lastIndex = 0; TOKEN.lastIndex < end;) {
    const from = TOKEN.lastIndex;
    const match = TOKEN.exec(line);
    if (!match) throw new LensTextError('A quote is not closed here.', from);
    const [, quote, mark, plain] = match;
    const text = quote ?? mark ?? plain ?? '';
    const at = TOKEN.lastIndex - text.length;
    tokens.push(quote === undefined ? { text, at } : { text, at, value: unquoted(quote, at) });
  }
  return tokens;
}

function unquoted(text: string, at: number): string {
  try {
    return JSON.parse(text) as string;
  } catch {
    throw new LensTextError('What stands in these quotes cannot be read.', at);
  }
}
