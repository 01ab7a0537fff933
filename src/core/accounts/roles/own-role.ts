import { z } from 'zod';
import type { Json, Vocabulary } from '../../rules/change.ts';
import { putAt, sentenceVocabulary, slotsOf, valueAt, type Sentence } from '../../rules/sentence.ts';
import type { Action } from '../action.ts';
import { AREA_PERMISSIONS, GIVEN_BY_ROLES, permissionWords } from './permissions.ts';

/** What a role lets one do, by area; an area without an entry, nothing. */
const May = z.partialRecord(
  z.enum(AREA_PERMISSIONS.map((a) => a.area) as [string, ...string[]], { error: 'There is no such area.' }),
  z
    .array(z.enum(GIVEN_BY_ROLES as [Action, ...Action[]], { error: 'There is no such permission.' }))
    .max(GIVEN_BY_ROLES.length),
);

/** As it was frozen once: what the program does not have any more is let go, and the rest stands. */
const FrozenMay = z.record(z.string(), z.array(z.string())).transform((may) => {
  const known = roleActions({ may: may as z.infer<typeof May> });
  return Object.fromEntries(
    AREA_PERMISSIONS.flatMap(({ area, actions }) =>
      may[area] ? [[area, actions.filter((a) => known.includes(a))]] : [],
    ),
  ) as z.infer<typeof May>;
});

/** A role of the organisation's own: a task, and the permissions that it takes. */
export const OwnRole = z.strictObject({
  name: z.string().trim().min(1, 'Give it a name.').max(80),
  /** What it is for. */
  task: z.string().trim().min(1, 'Say what somebody does with it.').max(400),
  may: FrozenMay.refine((may) => roleActions({ may }).length > 0, {
    error: 'It lets nobody do anything: choose a permission.',
    // Where a sheet has room for it: the first line of permissions.
    path: [AREA_PERMISSIONS[0]?.area ?? ''],
  }),
});
export type OwnRole = z.infer<typeof OwnRole>;

/** As it may be saved while it is made. */
export const OwnRoleDraft = OwnRole.extend({ task: z.string().trim().max(400), may: May });

/** One that allows these, to begin with. */
export function newOwnRole(name: string, actions: readonly Action[] = []): OwnRole {
  return {
    name,
    task: '',
    may: Object.fromEntries(
      AREA_PERMISSIONS.map((a) => [a.area, a.actions.filter((action) => actions.includes(action))]),
    ),
  };
}

/** In the order of the areas, each once. Names that no area has any more are left out. */
export function roleActions({ may }: { readonly may: z.infer<typeof May> }): readonly Action[] {
  return AREA_PERMISSIONS.flatMap(({ area, actions }) => actions.filter((a) => may[area]?.includes(a)));
}

/** Of one as of several, as a change tells them. */
function sayPermissions(value: Json): string {
  return (
    [value]
      .flat()
      .map((a) => permissionWords(String(a)))
      .join(', ') || 'nothing'
  );
}

const areaName = (area: string) => area.charAt(0).toUpperCase() + area.slice(1);

/** A line each for what it is for and for every area. */
export const ROLE_SENTENCE: Sentence = [
  {
    label: 'For',
    parts: [
      {
        path: ['task'],
        label: 'Task',
        say: (words) => String(words),
        editor: { kind: 'text', most: 400, long: true },
      },
    ],
  },
  ...AREA_PERMISSIONS.map(({ area, actions }) => ({
    label: areaName(area),
    parts: [
      {
        path: ['may', area],
        label: areaName(area),
        say: sayPermissions,
        editor: {
          kind: 'many' as const,
          options: actions.map((a) => ({ value: a, words: permissionWords(a) })),
        },
        // An area that came after the role was written has no entry in it.
        turn: {
          read: (content: Json) => valueAt(content, ['may', area]) ?? [],
          write: (content: Json, value: Json) =>
            putAt(
              content,
              ['may', area],
              actions.filter((a) => (value as string[]).includes(a)),
            ),
        },
      },
    ],
  })),
];

export const ROLE_VOCABULARY: Vocabulary = sentenceVocabulary(slotsOf(ROLE_SENTENCE), {
  path: ([first]) => (first === 'name' ? 'The name' : undefined),
});
