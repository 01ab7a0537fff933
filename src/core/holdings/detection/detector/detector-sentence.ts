import { confidence } from './confidence.ts';
import type { Check, Context, PatternDetector } from './detector.ts';
import { bodyOfAlone } from '../pattern/pattern-example.ts';

/** A detector as a person reads it: a label at the margin and a sentence. */
export interface DetectorLine {
  readonly label: string;
  readonly words: string;
  /** A pattern in it, between `words` and `rest`. */
  readonly code?: string;
  readonly rest?: string;
  /** What it is worth, where it is worth something. */
  readonly steps?: number;
}

const percent = (share: number) => `${Math.round(share * 100)}%`;

/** What it looks for, what a match has to pass, what makes it surer, and from when on it counts. Other detectors are named by `nameOf` their id. */
export function sentencesOf(
  of: PatternDetector,
  nameOf: (id: string) => string = (id) => id,
): readonly DetectorLine[] {
  return [
    { label: 'Looks for', ...anchorWords(of), steps: of.start },
    ...fieldLines(of),
    ...of.checks.flatMap(checkLines),
    ...of.context.map((c) => ({
      label: c.steps >= 0 ? 'Surer' : 'Less sure',
      ...contextParts(c, nameOf),
      steps: c.steps,
    })),
    ...(of.exclude.values.length + of.exclude.patterns.length > 0
      ? [{ label: 'Never', words: [...of.exclude.values, ...of.exclude.patterns].slice(0, 8).join(', ') }]
      : []),
    {
      label: 'Counts',
      words: `from ${percent(of.keepFrom)} on${of.atLeast > 1 ? `, in a document with ${of.atLeast} distinct values or more` : ''}${of.competes ? '; where another detector reads the same characters, the surer one has them' : ''}`,
    },
  ];
}

function anchorWords(of: PatternDetector): Parts {
  const { anchor } = of;
  const alone = `; alone that is ${percent(confidence(of.start))}`;
  if (anchor.by === 'pattern') {
    const body = bodyOfAlone(anchor.pattern);
    return {
      words: 'what is written like ',
      code: body ?? anchor.pattern,
      rest: `${anchor.ignoreCase ? ', in capitals or not' : ''}${body === undefined ? '' : ', and is no part of a longer word or number'}${alone}`,
    };
  }
  if (anchor.by === 'words')
    return anchor.pattern === undefined
      ? { words: `${some(anchor.words)}${alone}` }
      : { words: `${some(anchor.words)}, or what is written like `, code: anchor.pattern, rest: alone };
  const cells =
    anchor.headings.length > 0 ? `, or what stands under a heading such as ${some(anchor.headings, 5)}` : '';
  const words =
    anchor.name === 'person name'
      ? 'a known first name or a title with a name behind it'
      : 'what was written into a field';
  return { words: `${words}${cells}${alone}` };
}

function fieldLines({ anchor }: PatternDetector): readonly DetectorLine[] {
  if (anchor.by === 'function' || !anchor.field) return [];
  const { headings, pattern } = anchor.field;
  return [
    {
      label: 'And for',
      words: `what fills a field or a cell under a heading such as ${some(headings, 5)}, where all of it is written like `,
      code: pattern,
    },
  ];
}

function some(words: readonly string[], most = 8): string {
  const shown = words
    .slice(0, most)
    .map((w) => `“${w}”`)
    .join(', ');
  return words.length > most ? `${shown} and ${words.length - most} more` : shown;
}

/** A check as a condition where failing it ends the match, else as what passing or failing it is worth. */
function checkLines(c: Check): readonly DetectorLine[] {
  const [yes, no] = checkParts(c);
  const lines: DetectorLine[] = [];
  if (c.fails === 'drop') lines.push({ label: 'Only where', ...yes });
  else if (c.fails !== 0) lines.push({ label: c.fails > 0 ? 'Surer' : 'Less sure', ...no, steps: c.fails });
  if (c.passes !== 0) lines.push({ label: c.passes > 0 ? 'Surer' : 'Less sure', ...yes, steps: c.passes });
  return lines;
}

type Parts = Pick<DetectorLine, 'words' | 'code' | 'rest'>;

function checkParts(c: Check): readonly [Parts, Parts] {
  if (c.check === 'does not match')
    return [
      { words: 'it is not written like ', code: c.pattern },
      { words: 'it is written like ', code: c.pattern },
    ];
  const [yes, no] = checkWords(c);
  return [{ words: yes }, { words: no }];
}

/** What passing it means, and what failing it means. */
export function checkWords(c: Check): readonly [string, string] {
  switch (c.check) {
    case 'check digit':
      return [`it stands its check (${c.by})`, `it fails its check (${c.by})`];
    case 'date':
      return [`its digits hold a date, as ${c.digits}`, `its digits hold no date, as ${c.digits}`];
    case 'range':
      return [`it lies from ${c.from} to ${c.to}`, `it lies outside ${c.from} to ${c.to}`];
    case 'length':
      return [
        `it has ${c.from} to ${c.to} ${c.of}`,
        `it has fewer than ${c.from} or more than ${c.to} ${c.of}`,
      ];
    case 'begins with':
      return [`it begins with ${some(c.any)}`, `it begins with none of ${some(c.any)}`];
    case 'is none of':
      return [`it is none of ${some(c.values)}`, `it is one of ${some(c.values)}`];
    case 'is one of':
      return [`it is one of ${some(c.values)}`, `it is none of ${some(c.values)}`];
    case 'does not match':
      return [`it is not written like ${c.pattern}`, `it is written like ${c.pattern}`];
    case 'entropy':
      return [
        `its signs are as mixed as chance would have them, ${c.from} bits a sign or more`,
        `its signs are less mixed than chance would have them, below ${c.from} bits a sign`,
      ];
  }
}

/** What stands near a match, and where, in words alone. */
export function contextWords(c: Context, nameOf?: (id: string) => string): string {
  const { words, code = '', rest = '' } = contextParts(c, nameOf);
  return words + code + rest;
}

function contextParts(c: Context, nameOf: (id: string) => string = (id) => id): Parts {
  if (c.pattern !== undefined && !c.words)
    return { words: 'something like ', code: c.pattern, rest: ` ${whereWords(c)}` };
  const what = c.words ? some(c.words) : `a finding of ${nameOf(c.detector ?? '')}`;
  return { words: `${what} ${whereWords(c)}` };
}

function whereWords({ where, within }: Context): string {
  switch (where) {
    case 'before':
    case 'after':
      return `at most ${within} characters ${where} it`;
    case 'around':
      return `at most ${within} characters away`;
    case 'brackets':
      return 'in brackets right after it';
    case 'heading':
      return 'in the heading of its column or the name of its field';
    default:
      return `in the same ${where}`;
  }
}
