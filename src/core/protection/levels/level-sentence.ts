import type { Vocabulary } from '../../rules/change.ts';
import {
  sentenceVocabulary,
  slotsOf,
  type Part,
  type Sentence,
  type SlotPart,
} from '../../rules/sentence.ts';
import { ALIGN, GOES_ON, LOWERING, type LevelContent } from './level-content.ts';

const VARIABLES = '{level}, {owner}, {date} and {file} stand for what they are.';

/** A level as prose; what is stamped where nothing is typed has no further slots. */
export function levelSentence(content: LevelContent): Sentence {
  return [
    {
      label: 'Means',
      parts: [
        text(['means'], 'What it means', 'nothing is said of it', 400, true),
        '; stewards read ',
        text(['stewards'], 'What stewards read', 'nothing more', 2000, true),
      ],
    },
    { label: 'Goes on', parts: [GOES_ON_SLOT] },
    { label: 'Top', parts: lineParts('top', 'Top', content.top.text !== '') },
    { label: 'Foot', parts: lineParts('foot', 'Foot', content.foot.text !== '') },
    { label: 'Across', parts: acrossParts(content.across.text !== '') },
    {
      label: 'Called',
      parts: [
        text(['shown'], 'Name on documents', 'by its name', 80),
        ' on documents, ',
        colour(['colour'], 'Colour of its own'),
        ' on the desk',
      ],
    },
    { label: 'Lowered', parts: [LOWERED_SLOT] },
  ];
}

const GOES_ON_SLOT: SlotPart = {
  path: ['goesOn'],
  label: 'Goes on',
  say: (value) =>
    Array.isArray(value) && value.length > 0
      ? value.map((v) => GOES_ON[v as keyof typeof GOES_ON] ?? String(v)).join(', ')
      : typeof value === 'string'
        ? value
        : 'nothing',
  editor: { kind: 'many', options: Object.entries(GOES_ON).map(([value, words]) => ({ value, words })) },
};

const LOWERED_SLOT: SlotPart = {
  path: ['lowered'],
  label: 'Lowered',
  say: (value) => LOWERING[value as keyof typeof LOWERING] ?? String(value),
  editor: { kind: 'choice', options: Object.entries(LOWERING).map(([value, words]) => ({ value, words })) },
};

function text(
  path: readonly string[],
  label: string,
  none: string,
  most: number,
  long = false,
  hint?: string,
): SlotPart {
  return {
    path,
    label,
    say: (value) => (value === '' ? none : String(value)),
    editor: { kind: 'text', most, ...(long ? { long } : {}), ...(hint === undefined ? {} : { hint }) },
  };
}

function colour(path: readonly string[], label: string): SlotPart {
  return { path, label, say: String, editor: { kind: 'text', most: 7, colour: true } };
}

function points(path: readonly string[], label: string, least: number, most: number): SlotPart {
  return {
    path,
    label,
    say: (value) => `${String(value)} pt`,
    editor: { kind: 'number', unit: 'pt', least, most },
  };
}

function lineParts(at: 'top' | 'foot', label: string, isStamped: boolean): readonly Part[] {
  const first = text([at, 'text'], label, 'nothing', 300, false, VARIABLES);
  const rest: readonly SlotPart[] = [
    points([at, 'size'], `${label}: size`, 4, 72),
    {
      path: [at, 'align'],
      label: `${label}: where`,
      say: (value) => ALIGN[value as keyof typeof ALIGN] ?? String(value),
      editor: { kind: 'choice', options: Object.entries(ALIGN).map(([value, words]) => ({ value, words })) },
    },
    colour([at, 'colour'], `${label}: colour`),
  ];
  return isStamped ? [first, ' in ', ...rest.flatMap((s, i) => (i > 0 ? [', ', s] : [s]))] : [first];
}

function acrossParts(isStamped: boolean): readonly Part[] {
  const first = text(['across', 'text'], 'Across', 'nothing', 300, false, VARIABLES);
  if (!isStamped) return [first];
  return [
    first,
    ' in ',
    points(['across', 'size'], 'Across: size', 8, 200),
    ', ',
    {
      path: ['across', 'angle'],
      label: 'Across: angle',
      say: (value) => {
        const angle = Number(value);
        return angle === 0 ? 'level' : `${angle > 0 ? 'rising' : 'falling'} ${Math.abs(angle)}°`;
      },
      editor: { kind: 'number', unit: 'degrees', least: -90, most: 90 },
    },
    ', ',
    colour(['across', 'colour'], 'Across: colour'),
    '; on documents and slides, never on mail or sheets',
  ];
}

/** How a change of a level is told. */
export function levelVocabulary(): Vocabulary {
  const all = { top: { text: 'x' }, foot: { text: 'x' }, across: { text: 'x' } } as LevelContent;
  return sentenceVocabulary(slotsOf(levelSentence(all)), {
    path: ([first]) => (first === 'name' ? 'The name' : undefined),
  });
}
