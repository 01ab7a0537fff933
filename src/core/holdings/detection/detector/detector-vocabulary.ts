import type { Json, Vocabulary } from '../../../rules/change.ts';
import { bandOf, confidence } from './confidence.ts';
import type { Check, Context } from './detector.ts';
import { checkWords, contextWords } from './detector-sentence.ts';

const NAMES: Readonly<Record<string, string>> = {
  name: 'Name',
  about: 'About',
  category: 'Category',
  country: 'Country',
  source: 'Source',
  anchor: 'What it looks for',
  'anchor.pattern': 'Pattern',
  'anchor.words': 'Words',
  'anchor.headings': 'Headings',
  'anchor.ignoreCase': 'Capitals do not matter',
  'anchor.field.headings': 'Headings of fields that it fills',
  'anchor.field.pattern': 'Pattern of what fills a field',
  start: 'Alone',
  checks: 'Checks',
  context: 'Context',
  'exclude.values': 'Values that never count',
  'exclude.patterns': 'Patterns that never count',
  atLeast: 'Distinct values a document needs',
  keepFrom: 'Counts from',
  competes: 'The surest of several readings keeps it',
  mask: 'Shown masked',
  keys: 'Columns that name a record',
  beside: 'Columns that confirm it',
  corroboration: 'Confirming values asked for',
  within: 'Characters around',
  templates: 'Documents',
  from: 'Counts from',
  threshold: 'Threshold',
  training: 'Training',
  'costs.falseAlarm': 'Cost of a false alarm',
  'costs.miss': 'Cost of a miss',
};

/** How a detector's parts are called when two of its versions are told apart. */
export const detectorVocabulary: Vocabulary = {
  path: (path) => NAMES[path.join('.')],
  value: (value, path) => {
    const key = path.join('.');
    if (typeof value === 'number' && (key === 'keepFrom' || key === 'from' || key === 'threshold'))
      return `${Math.round(value * 100)}%`;
    if (key === 'threshold' && value === null) return 'by the costs';
    if (key === 'start' && typeof value === 'number')
      return `${Math.round(confidence(value) * 100)}% (${bandOf(confidence(value))})`;
    if (key === 'within' && typeof value === 'number') return `${value} characters`;
    if (typeof value !== 'object' || value === null || Array.isArray(value)) return undefined;
    if (key === 'checks') return stepped(checkWords(value as unknown as Check)[0], value as Json);
    if (key === 'context') return stepped(contextWords(value as unknown as Context), value as Json);
    if (key === 'templates') return (value as { name?: string }).name;
    return undefined;
  },
};

function stepped(words: string, value: Json): string {
  const { steps } = value as { steps?: number };
  if (steps === undefined) return `“${words}”`;
  const factor = Math.round(2 ** Math.abs(steps) * 10) / 10;
  return `“${words}” (odds ${steps >= 0 ? '×' : '÷'} ${factor})`;
}
