import { z } from 'zod';
import { keysOf } from '../../keys-of.ts';
import { Schedule, scheduleWords } from '../../schedule/schedule.ts';
import type { Json } from '../../rules/change.ts';
import type { Sentence, SlotOption } from '../../rules/sentence.ts';
import { matchesPlace } from './place-pattern.ts';

/** How long ago an item may have been changed to be read, in days. */
const WINDOWS = {
  ever: null,
  '7 days': 7,
  '30 days': 30,
  '90 days': 90,
  '1 year': 365,
  '3 years': 1095,
} as const;
const SHARES = { all: null, '10': 10, '100': 100, '1000': 1000 } as const;

/** What is to be read, and for what. */
export const SurveyContent = z.strictObject({
  name: z.string().trim().min(1, 'Give it a name.').max(120),
  sources: z.array(z.string().regex(/^\d+$/)).min(1, 'Choose at least one source.').max(500),
  /** Patterns of places, a line each; see `matchesPlace`. */
  without: z.string().max(4000),
  /** Ids; none for all that are in force. */
  detectors: z.array(z.string().max(64)).max(500),
  changed: z.enum(keysOf(WINDOWS)),
  /** All items, or so many of each folder. */
  share: z.enum(keysOf(SHARES)),
  schedule: Schedule.nullable(),
});
export type SurveyContent = z.infer<typeof SurveyContent>;

export const USUAL_SURVEY: Omit<SurveyContent, 'name' | 'sources'> = {
  without: '',
  detectors: [],
  changed: 'ever',
  share: 'all',
  schedule: null,
};

/** Of items changed before this day nothing is read; `undefined` where it does not matter. */
export function changedSince({ changed }: Pick<SurveyContent, 'changed'>, now: Date): string | undefined {
  const days = WINDOWS[changed];
  return days === null ? undefined : new Date(now.getTime() - days * 86_400_000).toISOString();
}

export function mostOfFolder({ share }: Pick<SurveyContent, 'share'>): number | null {
  return SHARES[share];
}

/** Whether a place is left out, with all below it. */
export function leavesOut({ without }: Pick<SurveyContent, 'without'>): (place: string) => boolean {
  const patterns = without
    .split('\n')
    .map((p) => p.trim())
    .filter(Boolean);
  return (place) => patterns.some((p) => matchesPlace(p, place));
}

/** So many of the names of a folder, the same ones each time, and spread as chance would have it. */
export function someOf(names: readonly string[], most: number | null): readonly string[] {
  if (most === null || names.length <= most) return names;
  return names
    .map((name) => ({ name, at: spread(name) }))
    .sort((a, b) => a.at - b.at || (a.name < b.name ? -1 : 1))
    .slice(0, most)
    .map((n) => n.name)
    .sort();
}

/** FNV-1a (Fowler, Noll, Vo) with a last mix, over UTF-16 units. */
function spread(text: string): number {
  let h = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) h = Math.imul(h ^ text.charCodeAt(i), 0x01000193);
  h = Math.imul(h ^ (h >>> 16), 0x45d9f3b);
  return (h ^ (h >>> 16)) >>> 0;
}

export interface SurveyNames {
  readonly sources: readonly SlotOption[];
  readonly detectors: readonly SlotOption[];
}

/** A survey as prose. */
export function surveySentence({ sources, detectors }: SurveyNames): Sentence {
  const named = (options: readonly SlotOption[], none: string) => (value: Json) => {
    const ids = Array.isArray(value) ? value.map(String) : [];
    return ids.length === 0
      ? none
      : listWords(ids.map((id) => options.find((o) => o.value === id)?.words ?? `“${id}”, which is gone`));
  };
  return [
    {
      label: 'Read',
      parts: [
        {
          path: ['sources'],
          label: 'Sources',
          editor: { kind: 'many', options: sources },
          say: named(sources, 'no source'),
        },
        ', leaving out ',
        {
          path: ['without'],
          label: 'Places left out',
          editor: {
            kind: 'text',
            most: 4000,
            long: true,
            hint: 'A pattern a line: Backup names a folder at any depth, Manifests/2019 one place, ** any number of folders, * any part of a name.',
          },
          say: (value) => {
            const lines = String(value)
              .split('\n')
              .map((l) => l.trim())
              .filter(Boolean);
            return lines.length === 0 ? 'nothing' : listWords(lines);
          },
        },
      ],
    },
    {
      label: 'For',
      parts: [
        {
          path: ['detectors'],
          label: 'Detectors',
          editor: { kind: 'many', options: detectors },
          say: named(detectors, 'all detectors in force'),
        },
      ],
    },
    {
      label: 'Among',
      parts: [
        {
          path: ['share'],
          label: 'How many',
          editor: {
            kind: 'choice',
            options: Object.keys(SHARES).map((value) => ({ value, words: shareWords(value) })),
          },
          say: (value) => shareWords(String(value)),
        },
        ' changed ',
        {
          path: ['changed'],
          label: 'Changed',
          editor: {
            kind: 'choice',
            options: Object.keys(WINDOWS).map((value) => ({ value, words: changedWords(value) })),
          },
          say: (value) => changedWords(String(value)),
        },
      ],
    },
  ];
}

function shareWords(value: string): string {
  return value === 'all' ? 'all items' : `${value} items of each folder`;
}

function changedWords(value: string): string {
  return value === 'ever' ? 'at any time' : `within the last ${value}`;
}

function listWords(words: readonly string[]): string {
  if (words.length > 4) return `${words.slice(0, 3).join(', ')} and ${words.length - 3} more`;
  return words.length < 2 ? (words[0] ?? '') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`;
}

/** When it runs by itself. */
export function surveyTimes({ schedule }: Pick<SurveyContent, 'schedule'>): string {
  return schedule ? scheduleWords(schedule) : 'when somebody starts it';
}
