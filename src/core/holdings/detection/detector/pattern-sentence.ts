import type { Json } from '../../../rules/change.ts';
import {
  linesOf,
  putAt,
  valueAt,
  type Part,
  type Sentence,
  type SentenceLine,
  type SlotEditor,
  type SlotOption,
  type SlotPart,
} from '../../../rules/sentence.ts';
import { bodyOfAlone, patternFromExamples, standAlone } from '../pattern/pattern-example.ts';
import { CHECK_DIGITS } from './check-digit-list.ts';
import { bandOf, confidence } from './confidence.ts';
import { CATEGORIES, PLACES, type Check, type Context, type PatternDetector } from './detector.ts';

/** What can be named in a pattern detector. */
export interface PatternNames {
  /** Detectors whose findings can stand near a match. */
  readonly detectors: readonly SlotOption[];
}

const percent = (share: number) => `${Math.round(share * 100)}%`;
const quoted = (words: readonly string[], most = 6) =>
  words
    .slice(0, most)
    .map((w) => `“${w}”`)
    .join(', ') + (words.length > most ? ` and ${words.length - most} more` : '');
const yesNo = (yes: string, no: string): SlotEditor => ({
  kind: 'choice',
  options: [
    { value: 'true', words: yes },
    { value: 'false', words: no },
  ],
});

export const WORD_LINES = 'One word or phrase a line; a star at its end stands for any ending.';
const atLeastOneWord = (text: string) => (linesOf(text).length === 0 ? 'At least one word.' : '');

/** What is wrong with a pattern; empty where nothing is. */
export function patternFault(text: string): string {
  if (text === '') return 'The pattern is empty.';
  try {
    new RegExp(text, 'u');
    return '';
  } catch (error) {
    return `${(error as Error).message.replace(/^Invalid regular expression: /, '')}.`;
  }
}

/** A word as a pattern that matches it alone. */
function escaped(word: string): string {
  return word.replace(/[\\^$.*+?()[\]{}|/]/g, '\\$&');
}

type Write = (content: PatternDetector, value: Json) => PatternDetector;

interface Turned {
  readonly label: string;
  readonly path: readonly string[];
  readonly editor: SlotEditor;
  readonly read: (content: PatternDetector) => Json;
  readonly write: Write;
  readonly say: (value: Json) => string;
  readonly code?: boolean;
}

function slot({ read, write, ...rest }: Turned): SlotPart {
  return {
    ...rest,
    turn: {
      read: (c) => read(c as unknown as PatternDetector),
      write: (c, v) => write(c as unknown as PatternDetector, v) as unknown as Json,
    },
  };
}

const choiceWords = (options: readonly SlotOption[]) => (value: Json) =>
  options.find((o) => o.value === value)?.words ?? String(value);

/**
 * A pattern detector as prose, from which come its slots, its plain text and what those read who are asked to agree. With
 * `editing` there stand also the slots that add to it.
 */
export function patternSentence(content: PatternDetector, names: PatternNames, editing = false): Sentence {
  return [
    anchorLine(content, editing),
    ...content.checks.map((c, i) => checkLine(c, i, editing)),
    ...content.context.map((c, i) => contextLine(c, i, names)),
    ...(editing ? [ADD_LINE] : []),
    neverLine(content),
    COUNTS_LINE,
    SHOWN_LINE,
  ];
}

type AnchorOf<By> = Extract<PatternDetector['anchor'], { by: By }>;
const withAnchor = (c: PatternDetector, anchor: PatternDetector['anchor']): PatternDetector => ({
  ...c,
  anchor,
});

const ANCHORS: readonly SlotOption[] = [
  { value: 'pattern', words: 'what is written like' },
  { value: 'words', words: 'the words' },
  { value: 'person name', words: 'names of people,' },
  { value: 'field', words: 'what was written into a field,' },
];

const ANCHOR_KIND = slot({
  label: 'Kind of anchor',
  path: ['anchor', 'by'],
  editor: { kind: 'choice', options: ANCHORS },
  say: choiceWords(ANCHORS),
  read: ({ anchor }) => (anchor.by === 'function' ? anchor.name : anchor.by),
  write: (c, to) => {
    const { anchor } = c;
    if (to === (anchor.by === 'function' ? anchor.name : anchor.by)) return c;
    if (to === 'words') return withAnchor(c, { by: 'words', words: ['?'] });
    if (to !== 'pattern') return withAnchor(c, { by: 'function', name: to as 'field', headings: [] });
    const pattern = standAlone(anchor.by === 'words' ? anchor.words.map(escaped).join('|') : '\\d{6}');
    return withAnchor(c, { by: 'pattern', pattern, ignoreCase: false });
  },
});

function anchorLine({ anchor }: PatternDetector, editing: boolean): SentenceLine {
  const kind =
    anchor.by === 'pattern'
      ? patternParts(anchor, editing)
      : anchor.by === 'words'
        ? wordsParts(anchor)
        : HEADINGS_PARTS;
  return {
    label: 'Looks for',
    parts: [
      ANCHOR_KIND,
      ' ',
      ...kind,
      ...(anchor.by === 'function' ? [] : fieldParts(anchor, editing)),
      '; alone that is ',
      START,
    ],
  };
}

const PATTERN_HINT = 'A regular expression (ECMAScript, Unicode).';
const ofPattern = (c: PatternDetector) => c.anchor as AnchorOf<'pattern'>;
const bodyOf = (c: PatternDetector) => bodyOfAlone(ofPattern(c).pattern);

const PATTERN = slot({
  label: 'Pattern',
  path: ['anchor', 'pattern'],
  code: true,
  editor: { kind: 'text', most: 12_000, hint: PATTERN_HINT, check: patternFault },
  say: String,
  read: (c) => bodyOf(c) ?? ofPattern(c).pattern,
  write: (c, p) =>
    withAnchor(c, {
      ...ofPattern(c),
      pattern: bodyOf(c) === undefined ? String(p) : standAlone(String(p)),
    }),
});
const EXAMPLES = slot({
  label: 'Make the pattern from examples',
  path: ['anchor', 'examples'],
  editor: {
    kind: 'text',
    long: true,
    most: 12_000,
    hint: 'One a line, just as they are written.',
    check: (t) => (linesOf(t).length === 0 ? 'At least one example.' : ''),
  },
  say: () => 'made from examples',
  read: () => '',
  write: (c, t) => withAnchor(c, { ...ofPattern(c), pattern: patternFromExamples(linesOf(String(t))) }),
});
const CAPITALS = slot({
  label: 'Capitals',
  path: ['anchor', 'ignoreCase'],
  editor: yesNo('capitals or not', 'just these capitals'),
  say: (v) => (v === 'true' ? 'capitals or not' : 'just these capitals'),
  read: (c) => String(ofPattern(c).ignoreCase),
  write: (c, v) => withAnchor(c, { ...ofPattern(c), ignoreCase: v === 'true' }),
});
const STANDS = slot({
  label: 'Where it may stand',
  path: ['anchor', 'stands'],
  editor: yesNo('as no part of a longer word or number', 'anywhere'),
  say: (v) => (v === 'true' ? 'as no part of a longer word or number' : 'anywhere'),
  read: (c) => String(bodyOf(c) !== undefined),
  write: (c, v) => {
    const { pattern } = ofPattern(c);
    const body = bodyOf(c);
    const wanted = v === 'true' ? (body === undefined ? standAlone(pattern) : pattern) : (body ?? pattern);
    return withAnchor(c, { ...ofPattern(c), pattern: wanted });
  },
});

function patternParts(_anchor: AnchorOf<'pattern'>, editing: boolean): readonly Part[] {
  return [PATTERN, ...(editing ? [' (or ', EXAMPLES, ')'] : []), ', in ', CAPITALS, ', ', STANDS];
}

const ofWords = (c: PatternDetector) => c.anchor as AnchorOf<'words'>;
const wordsParts = ({ pattern }: AnchorOf<'words'>): readonly Part[] => [
  slot({
    label: 'Words',
    path: ['anchor', 'words'],
    editor: { kind: 'lines', most: 200_000, hint: WORD_LINES, check: atLeastOneWord },
    say: (words) => quoted(words as string[]),
    read: (c) => (ofWords(c).words.join() === '?' ? [] : ofWords(c).words),
    write: (c, words) => withAnchor(c, { ...ofWords(c), words: words as string[] }),
  }),
  ', or what is written like ',
  slot({
    label: 'Or written like',
    path: ['anchor', 'pattern'],
    code: pattern !== undefined,
    editor: {
      kind: 'text',
      most: 12_000,
      hint: 'A regular expression (ECMAScript, Unicode), in capitals or not; empty for none.',
      check: (p) => (p === '' ? '' : patternFault(p)),
    },
    say: (p) => (p === '' ? 'nothing else' : String(p)),
    read: (c) => ofWords(c).pattern ?? '',
    write: (c, p) => {
      const { pattern: _p, ...rest } = ofWords(c);
      return withAnchor(c, p === '' ? rest : { ...rest, pattern: String(p) });
    },
  }),
];

const ofFunction = (c: PatternDetector) => c.anchor as AnchorOf<'function'>;
const HEADINGS_PARTS: readonly Part[] = [
  'also under headings such as ',
  slot({
    label: 'Headings',
    path: ['anchor', 'headings'],
    editor: { kind: 'lines', most: 200_000, hint: 'One heading a line.' },
    say: (h) => quoted(h as string[]) || 'none',
    read: (c) => ofFunction(c).headings,
    write: (c, headings) => withAnchor(c, { ...ofFunction(c), headings: headings as string[] }),
  }),
];

type Filling = AnchorOf<'pattern'> | AnchorOf<'words'>;
const ofFilling = (c: PatternDetector) => c.anchor as Filling;

function fieldParts({ field }: Filling, editing: boolean): readonly Part[] {
  if (!editing && !field) return [];
  return [
    ', or what fills a field or a cell under ',
    FIELD_HEADINGS,
    ...(field ? [' and is all written like ', FIELD_PATTERN] : []),
  ];
}

const FIELD_HEADINGS = slot({
  label: 'Headings of fields that it fills',
  path: ['anchor', 'field', 'headings'],
  editor: {
    kind: 'lines',
    most: 200_000,
    hint: 'One heading a line; none where a field is read like any other text.',
  },
  say: (h) => quoted(h as string[]) || 'no heading',
  read: (c) => ofFilling(c).field?.headings ?? [],
  write: (c, value) => {
    const anchor = ofFilling(c);
    const { field, ...rest } = anchor;
    const headings = value as string[];
    if (headings.length === 0) return withAnchor(c, rest as Filling);
    const written = anchor.pattern === undefined ? '.+' : (bodyOfAlone(anchor.pattern) ?? anchor.pattern);
    return withAnchor(c, { ...anchor, field: { headings, pattern: field?.pattern ?? written } });
  },
});
const FIELD_PATTERN = slot({
  label: 'Pattern of what fills a field',
  path: ['anchor', 'field', 'pattern'],
  code: true,
  editor: {
    kind: 'text',
    most: 12_000,
    hint: 'A regular expression (ECMAScript, Unicode) for the whole of it.',
    check: patternFault,
  },
  say: String,
  read: (c) => ofFilling(c).field?.pattern ?? '',
  write: (c, p) => {
    const anchor = ofFilling(c);
    return anchor.field ? withAnchor(c, { ...anchor, field: { ...anchor.field, pattern: String(p) } }) : c;
  },
});

const START_STEPS = [-6, -4, -3, -2, -1, 0, 1, 2, 3, 4];
const START = numberChoice({
  label: 'Alone that is',
  path: ['start'],
  options: START_STEPS.map((s) => ({
    value: String(s),
    words: `${percent(confidence(s))} sure`,
    detail: bandOf(confidence(s)),
  })),
  say: (s) => `${percent(confidence(s))} sure`,
  read: (c) => c.start,
  write: (c, start) => ({ ...c, start }),
});

function numberChoice(of: {
  readonly label: string;
  readonly path: readonly string[];
  readonly options: readonly SlotOption[];
  readonly say: (value: number) => string;
  readonly read: (content: PatternDetector) => number;
  readonly write: (content: PatternDetector, value: number) => PatternDetector;
}): SlotPart {
  return slot({
    label: of.label,
    path: of.path,
    editor: { kind: 'choice', options: of.options, open: true },
    say: (v) => of.say(Number(v)),
    read: (c) => String(of.read(c)),
    write: (c, v) => of.write(c, Number(v)),
  });
}

/** Doublings of the odds as people read them. */
export function stepsWords(steps: number): string {
  const factor = Math.round(2 ** Math.abs(steps) * 10) / 10;
  return `odds ${steps >= 0 ? '×' : '÷'} ${factor}`;
}
const STEP_OPTIONS: readonly SlotOption[] = [6, 4, 3, 2, 1, -1, -2, -3, -4, -6, -8].map((s) => ({
  value: String(s),
  words: stepsWords(s),
}));

function steps(
  path: readonly string[],
  read: (content: PatternDetector) => number,
  write: (content: PatternDetector, value: number) => PatternDetector,
): SlotPart {
  return numberChoice({
    label: 'What it does to the odds',
    path,
    options: STEP_OPTIONS,
    say: stepsWords,
    read,
    write,
  });
}

export const CHECK_OPTIONS: readonly SlotOption[] = [
  { value: 'check digit', words: 'it stands its check digit' },
  { value: 'length', words: 'its length' },
  { value: 'range', words: 'it lies in a range', detail: 'of numbers' },
  { value: 'date', words: 'its digits hold a date' },
  { value: 'begins with', words: 'what it begins with' },
  { value: 'is none of', words: 'it is none of some values' },
  { value: 'is one of', words: 'it is one of some values', detail: 'a list of your own' },
  { value: 'does not match', words: 'it is not written like' },
  { value: 'entropy', words: 'its signs are mixed', detail: 'as in a key' },
];

/** A check as it begins. */
export function newCheck(check: Check['check']): Check {
  const ends = { passes: 0, fails: 'drop' } as const;
  switch (check) {
    case 'check digit':
      return { check, by: 'luhn', ...ends };
    case 'length':
      return { check, of: 'digits', from: 4, to: 20, ...ends };
    case 'range':
      return { check, from: 0, to: 999_999, ...ends };
    case 'date':
      return { check, digits: 'ddmmyyxxxx', ...ends };
    case 'begins with':
      return { check, any: ['1'], ...ends };
    case 'is none of':
    case 'is one of':
      return { check, values: ['000000'], ...ends };
    case 'does not match':
      return { check, pattern: '0+', ...ends };
    case 'entropy':
      return { check, from: 3, ...ends };
  }
}

function checkLine(c: Check, i: number, editing: boolean): SentenceLine {
  const path = (key: string) => ['checks', String(i), key];
  const own = (
    key: string,
    label: string,
    editor: SlotEditor,
    say: (v: Json) => string = String,
    code = false,
  ): SlotPart => ({
    path: path(key),
    label,
    editor,
    say,
    ...(code ? { code } : {}),
  });
  const put = (content: PatternDetector, change: Partial<Check>): PatternDetector => ({
    ...content,
    checks: content.checks.with(i, { ...content.checks[i], ...change } as Check),
  });
  const of = (content: PatternDetector) => content.checks[i] as Check;
  const otherwise = slot({
    label: 'Otherwise',
    path: path('fails'),
    editor: {
      kind: 'choice',
      options: [
        { value: 'drop', words: 'it is no match' },
        { value: 'steps', words: 'it is less sure' },
      ],
    },
    say: (v) => (v === 'drop' ? 'it is no match' : 'it is less sure'),
    read: (content) => (of(content).fails === 'drop' ? 'drop' : 'steps'),
    write: (content, v) => put(content, { fails: v === 'drop' ? 'drop' : -3 }),
  });
  const passed = slot({
    label: 'When passed',
    path: path('passes'),
    editor: {
      kind: 'choice',
      options: [
        { value: '0', words: 'nothing changes' },
        { value: '3', words: 'it is surer' },
      ],
    },
    say: (v) => (v === '0' ? 'nothing changes' : 'it is surer'),
    read: (content) => (of(content).passes === 0 ? '0' : '3'),
    write: (content, v) => put(content, { passes: Number(v) }),
  });
  return {
    label: c.fails === 'drop' ? 'Only where' : 'Whether',
    item: { path: ['checks', String(i)], what: `check ${i + 1}` },
    parts: [
      ...checkParts(c, own),
      '; else ',
      otherwise,
      ...(c.fails === 'drop'
        ? []
        : [
            ' by ',
            steps(
              path('fails'),
              (content) => Number(of(content).fails),
              (content, fails) => put(content, { fails }),
            ),
          ]),
      ...(c.passes !== 0 || editing
        ? [
            '; passed, ',
            passed,
            ...(c.passes === 0
              ? []
              : [
                  ' by ',
                  steps(
                    path('passes'),
                    (content) => of(content).passes,
                    (content, passes) => put(content, { passes }),
                  ),
                ]),
          ]
        : []),
    ],
  };
}

type OwnSlot = (
  key: string,
  label: string,
  editor: SlotEditor,
  say?: (v: Json) => string,
  code?: boolean,
) => SlotPart;

function checkParts(c: Check, own: OwnSlot): readonly Part[] {
  const number = (key: string, label: string, most = 1e9) =>
    own(key, label, { kind: 'number', unit: '', least: 0, most });
  const list = (key: string, label: string) =>
    own(
      key,
      label,
      {
        kind: 'lines',
        most: 200_000,
        hint: 'One a line.',
        check: (t) => (linesOf(t).length === 0 ? 'At least one.' : ''),
      },
      (v) => quoted(v as string[]),
    );
  switch (c.check) {
    case 'check digit':
      return [
        'it stands its check digit, ',
        own('by', 'Check digit', {
          kind: 'choice',
          options: CHECK_DIGITS.map((value) => ({ value, words: value })),
        }),
      ];
    case 'length':
      return [
        'it has ',
        number('from', 'Least length', 1000),
        ' to ',
        number('to', 'Greatest length', 1000),
        ' ',
        own('of', 'Counted', {
          kind: 'choice',
          options: [
            { value: 'digits', words: 'digits' },
            { value: 'characters', words: 'characters' },
          ],
        }),
      ];
    case 'range':
      return ['it lies from ', number('from', 'From'), ' to ', number('to', 'To')];
    case 'date':
      return [
        'its digits hold a date, as ',
        own(
          'digits',
          'Order of the date',
          {
            kind: 'text',
            most: 20,
            hint: 'd, m and y for its digits, x for any other: ddmmyyxxxx.',
            check: (t) => (/^[dmyx]{6,20}$/.test(t) ? '' : 'Letters d, m, y and x, 6 to 20 of them.'),
          },
          String,
          true,
        ),
      ];
    case 'begins with':
      return ['it begins with ', list('any', 'Beginnings')];
    case 'is none of':
    case 'is one of':
      return [`it is ${c.check === 'is one of' ? 'one' : 'none'} of `, list('values', 'Values')];
    case 'does not match':
      return [
        'it is not written like ',
        own('pattern', 'Pattern', { kind: 'text', most: 12_000, check: patternFault }, String, true),
      ];
    case 'entropy': {
      const bits = own(
        'from',
        'Bits a sign',
        {
          kind: 'text',
          most: 5,
          check: (t) => (Number(t) >= 0 && Number(t) <= 8 && t.trim() !== '' ? '' : 'A number from 0 to 8.'),
        },
        (v) => `${String(v)} bits a sign`,
      );
      return ['its signs are as mixed as chance would have them, ', asNumber(bits), ' or more'];
    }
  }
}

/** A number that is typed as text, since it has a point in it. */
function asNumber(of: SlotPart): SlotPart {
  return {
    ...of,
    turn: {
      read: (c) => String(valueAt(c, of.path)),
      write: (c, v) => putAt(c, of.path, Number(v)),
    },
  };
}

const WHERE: Readonly<Record<Context['where'], string>> = {
  before: 'before it',
  after: 'after it',
  brackets: 'in brackets right after it',
  around: 'on either side of it',
  line: 'in the same line',
  sentence: 'in the same sentence',
  cell: 'in the same cell',
  heading: 'in the heading of its column or the name of its field',
};
const CONTEXT_KINDS: readonly SlotOption[] = [
  { value: 'words', words: 'the words' },
  { value: 'pattern', words: 'something like', detail: 'a pattern' },
  { value: 'detector', words: 'a finding of', detail: 'another detector' },
];

const kindOf = (c: Context) => (c.words ? 'words' : c.pattern !== undefined ? 'pattern' : 'detector');

function contextLine(c: Context, i: number, { detectors }: PatternNames): SentenceLine {
  const path = (key: string) => ['context', String(i), key];
  const of = (content: PatternDetector) => content.context[i] as Context;
  const put = (content: PatternDetector, to: Context): PatternDetector => ({
    ...content,
    context: content.context.with(i, to),
  });
  const kind = slot({
    label: 'Kind of context',
    path: path('kind'),
    editor: { kind: 'choice', options: CONTEXT_KINDS },
    say: choiceWords(CONTEXT_KINDS),
    read: (content) => kindOf(of(content)),
    write: (content, to) => {
      const now = of(content);
      if (to === kindOf(now)) return content;
      const { words: _w, pattern: _p, detector: _d, ...rest } = now;
      if (to === 'words') return put(content, { ...rest, words: ['no.'] });
      if (to === 'detector') return put(content, { ...rest, detector: 'person-name' });
      return put(content, { ...rest, pattern: (now.words ?? ['no.']).map(escaped).join('|') });
    },
  });
  const held: SlotPart =
    kindOf(c) === 'words'
      ? {
          path: path('words'),
          label: 'Words',
          editor: { kind: 'lines', most: 200_000, hint: WORD_LINES, check: atLeastOneWord },
          say: (v) => quoted(v as string[]),
        }
      : kindOf(c) === 'pattern'
        ? {
            path: path('pattern'),
            label: 'Pattern',
            code: true,
            editor: { kind: 'text', most: 12_000, check: patternFault },
            say: String,
          }
        : {
            path: path('detector'),
            label: 'Detector',
            editor: { kind: 'choice', options: detectors },
            say: choiceWords(detectors),
          };
  const near = c.where === 'before' || c.where === 'after' || c.where === 'around';
  return {
    label: c.steps >= 0 ? 'Surer' : 'Less sure',
    item: { path: ['context', String(i)], what: 'this context' },
    parts: [
      'by ',
      kind,
      ' ',
      held,
      ' ',
      ...(near
        ? [
            'at most ',
            {
              path: path('within'),
              label: 'Characters',
              editor: { kind: 'number', unit: 'characters', least: 1, most: 400 },
              say: (v) => `${String(v)} characters`,
            } satisfies SlotPart,
            ' ',
          ]
        : []),
      {
        path: path('where'),
        label: 'Where',
        editor: { kind: 'choice', options: PLACES.map((p) => ({ value: p, words: WHERE[p] })) },
        say: (v) => WHERE[v as Context['where']] ?? String(v),
      },
      ' ',
      steps(
        path('steps'),
        (content) => of(content).steps,
        (content, s) => put(content, { ...of(content), steps: s }),
      ),
    ],
  };
}

const wordsTyped = (text: string) =>
  text
    .split(/[,\n]/)
    .map((w) => w.trim())
    .filter(Boolean);

const addContext = (label: string, words: string, worth: number): SlotPart =>
  slot({
    label,
    path: ['context', 'add', String(worth)],
    editor: {
      kind: 'text',
      most: 400,
      hint: 'Words that stand before it, parted by commas.',
      check: (t) => (wordsTyped(t).length === 0 ? 'At least one word.' : ''),
    },
    say: () => words,
    read: () => '',
    write: (c, t) => ({
      ...c,
      context: [...c.context, { where: 'before', within: 40, words: wordsTyped(String(t)), steps: worth }],
    }),
  });

const ADD_LINE: SentenceLine = {
  label: 'Add',
  parts: [
    slot({
      label: 'Add a check',
      path: ['checks', 'add'],
      editor: { kind: 'choice', options: CHECK_OPTIONS },
      say: () => 'a check on it',
      read: () => '',
      write: (c, kind) => ({ ...c, checks: [...c.checks, newCheck(kind as Check['check'])] }),
    }),
    ' · ',
    addContext('Add what makes it surer', 'what makes it surer', 3),
    ' · ',
    addContext('Add what makes it less sure', 'what makes it less sure', -4),
  ],
};

const neverLine = ({ exclude }: PatternDetector): SentenceLine => ({
  label: 'Never',
  parts: [
    {
      path: ['exclude', 'values'],
      label: 'Values that never count',
      editor: {
        kind: 'lines',
        most: 200_000,
        hint: 'One value a line; spaces and signs in it do not matter.',
      },
      say: (v) => quoted(v as string[]) || 'no value is left out',
    },
    ', nor what is written like ',
    {
      path: ['exclude', 'patterns'],
      label: 'Patterns that never count',
      code: exclude.patterns.length > 0,
      editor: {
        kind: 'lines',
        most: 20_000,
        hint: 'One pattern a line.',
        check: (t) => linesOf(t).map(patternFault).find(Boolean) ?? '',
      },
      say: (v) => (v as string[]).join(' or ') || 'nothing',
    },
  ],
});

const COUNTS_LINE: SentenceLine = {
  label: 'Counts',
  parts: [
    'from ',
    slot({
      label: 'Counts from',
      path: ['keepFrom'],
      editor: { kind: 'number', unit: '%', least: 1, most: 99 },
      say: (v) => `${String(v)}%`,
      read: (c) => Math.round(c.keepFrom * 100),
      write: (c, v) => ({ ...c, keepFrom: Number(v) / 100 }),
    }),
    ' on, in a document with ',
    {
      path: ['atLeast'],
      label: 'Distinct values',
      editor: { kind: 'number', unit: 'distinct values', least: 1, most: 10_000 },
      say: (v) => (v === 1 ? 'one value' : `${String(v)} distinct values`),
    },
    ' or more; where another detector reads the same characters, ',
    slot({
      label: 'Several readings',
      path: ['competes'],
      editor: yesNo('the surer one has them', 'both have them'),
      say: (v) => (v === 'true' ? 'the surer one has them' : 'both have them'),
      read: (c) => String(c.competes),
      write: (c, v) => ({ ...c, competes: v === 'true' }),
    }),
  ],
};

const MASKS: readonly SlotOption[] = [
  { value: 'ends', words: 'with only its ends to be read' },
  { value: 'all', words: 'wholly masked' },
  { value: 'none', words: 'as it stands' },
];

const SHOWN_LINE: SentenceLine = {
  label: 'Shown',
  parts: [
    { path: ['mask'], label: 'Masked', editor: { kind: 'choice', options: MASKS }, say: choiceWords(MASKS) },
    ', as ',
    {
      path: ['category'],
      label: 'Category',
      editor: { kind: 'choice', options: CATEGORIES.map((c) => ({ value: c, words: c })) },
      say: String,
    },
    ', after ',
    {
      path: ['source'],
      label: 'Source of its shape',
      editor: { kind: 'text', most: 500 },
      say: (v) => (v === '' ? 'no source named' : String(v)),
    },
  ],
};
