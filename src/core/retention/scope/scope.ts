import { z } from 'zod';
import type { LensVocabulary } from '../../lens/fact.ts';
import { lensWords } from '../../lens/lens-words.ts';
import { EVERYTHING, Lens } from '../../lens/lens.ts';
import { ADD_ADDRESS, audienceWords } from '../../accounts/staff/audience.ts';
import type { Json } from '../../rules/change.ts';
import type { Part, SlotOption } from '../../rules/sentence.ts';
import { deepestMatch, placeMatcher, stepsOf, type PlacePattern } from './place-pattern.ts';

const Mark = z.string().trim().min(1).max(300);

/** What a rule, a bound or a hold is about. */
export const ScopeShape = {
  lens: Lens,
  /** Patterns of places; everywhere where there are none. */
  places: z.array(z.string().trim().min(1).max(2000)).max(200),
  /** Whose, by marks of an audience; everybody's where there are none. */
  of: z.array(Mark).max(500),
  /** Left out again. */
  notOf: z.array(Mark).max(500),
};
export type Scope = z.infer<z.ZodObject<typeof ScopeShape>>;

export const EVERYWHERE: Scope = { lens: EVERYTHING, places: [], of: [], notOf: [] };

/** What can be named in a scope. */
export interface ScopeNames {
  readonly items: LensVocabulary;
  readonly sources: readonly SlotOption[];
  /** Groups and units, as marks of an audience. */
  readonly groups: readonly SlotOption[];
}

/** `Port share/Manifests`, of a pattern that names its source by id. */
export function placeWords(pattern: PlacePattern, sources: readonly SlotOption[]): string {
  const [source = '', ...steps] = pattern.split('/');
  const name =
    source === '*'
      ? 'any source'
      : (sources.find((s) => s.value === source)?.words ?? `“${source}”, which is gone`);
  return [name, ...steps].join('/');
}

/** The pattern that somebody typed with the name of its source; what is wrong with it where it is none. */
export function readPlace(
  text: string,
  sources: readonly SlotOption[],
): { readonly value: PlacePattern } | { readonly wrong: string } {
  const plain = text
    .trim()
    .replace(/\s*›\s*/g, '/')
    .replace(/\/+$/, '');
  const names = [{ value: '*', words: 'any source' }, { value: '*', words: '*' }, ...sources];
  const found = names
    .filter(({ words }) => {
      const head = plain.slice(0, words.length).toLowerCase();
      return head === words.toLowerCase() && ['', '/'].includes(plain.charAt(words.length));
    })
    .toSorted((a, b) => b.words.length - a.words.length)[0];
  if (!found) return { wrong: 'Begin with the name of a source, or with *: Port share/Manifests' };
  const steps = plain.slice(found.words.length).split('/').filter(Boolean);
  if (steps.some((s) => s === '..' || s === '.')) return { wrong: 'A step is a name, not . or ..' };
  return { value: [found.value, ...steps].join('/') };
}

/** The words of a scope in a sentence that began with a verb: `[items where …] in [places], of [people], not of [people]`. */
export function scopeParts({ items, sources, groups }: ScopeNames): readonly Part[] {
  const many = (value: Json, say: (v: string) => string, none: string) =>
    Array.isArray(value) ? value.map((v) => say(String(v))).join(', ') || none : String(value);
  return [
    {
      path: ['lens'],
      label: 'What',
      say: (lens) => lensSaid(lens, items),
      editor: { kind: 'lens' },
    },
    ' in ',
    {
      path: ['places'],
      label: 'Where',
      say: (value) => many(value, (p) => placeWords(p, sources), 'every source'),
      editor: {
        kind: 'many',
        options: sources,
        add: {
          hint: 'Port share/Manifests, or with *: */Manifests/20*',
          read: (text) => readPlace(text, sources),
        },
      },
    },
    ', of ',
    {
      path: ['of'],
      label: 'Of',
      say: (value) => many(value, audienceWords, 'everyone'),
      editor: { kind: 'many', options: groups, add: ADD_ADDRESS },
    },
    ', not of ',
    {
      path: ['notOf'],
      label: 'Not of',
      say: (value) => many(value, audienceWords, 'anybody else'),
      editor: { kind: 'many', options: groups, add: ADD_ADDRESS },
    },
  ];
}

function lensSaid(value: Json, items: LensVocabulary): string {
  const lens = Lens.safeParse(value);
  if (!lens.success) return String(value);
  const words = lensWords(lens.data, items);
  return words === '' ? 'everything' : `items whose ${words}`;
}

/** Whether a scope names nothing but places, or nothing at all. */
export function isWide({ lens, of, notOf }: Pick<Scope, 'lens' | 'of' | 'notOf'>): boolean {
  return 'all' in lens && lens.all.length === 0 && of.length === 0 && notOf.length === 0;
}

/** How deep the place is by which a scope holds an item that lies there; 0 for one without places, `undefined` where none does. */
export function depthAt(places: readonly PlacePattern[], place: string): number | undefined {
  return places.length === 0 ? 0 : deepestMatch(places.map(placeMatcher), stepsOf(place));
}
