import { z } from 'zod';
import type { LensVocabulary } from '../../lens/fact.ts';
import { isNarrower } from '../../lens/lens-narrow.ts';
import { lensWords } from '../../lens/lens-words.ts';
import { Lens } from '../../lens/lens.ts';
import type { Json, Vocabulary } from '../../rules/change.ts';
import { BECAUSE_LINE } from '../../rules/because-line.ts';
import { sentenceVocabulary, slotsOf, type Sentence, type SlotOption } from '../../rules/sentence.ts';
import type { Ranks } from './level-verdict.ts';

export const KEEPS = {
  step: 'and is lowered or taken off where that does not hold any more',
  set: 'and stays as it was set',
} as const;

export const HOW = { set: 'at once', propose: 'once its owner agrees' } as const;

/** Set a level where a lens holds. */
export const LevelRuleContent = z.strictObject({
  name: z.string().trim().min(1, 'Give it a name.').max(120),
  /** The id of a level; '' as long as none is chosen. */
  level: z.string().min(1, 'Choose a level.').max(64),
  lens: Lens,
  /** By itself, or proposed to the owner of the item first. */
  how: z.enum(['set', 'propose']).default('set'),
  keeps: z.enum(['step', 'set']),
  because: z.string().trim().max(400),
});
export type LevelRuleContent = z.infer<typeof LevelRuleContent>;
/** As it may be saved while it is made. */
export const LevelRuleDraft = LevelRuleContent.extend({ level: z.string().max(64) });

/** What can be named in level rules. */
export interface LevelRuleNames {
  /** The strongest first. */
  readonly levels: readonly SlotOption[];
  readonly items: LensVocabulary;
}

export function levelRuleSentence({ levels, items }: LevelRuleNames): Sentence {
  const levelName = (id: Json) =>
    id === '' ? 'a level' : (levels.find((l) => l.value === id)?.words ?? `“${String(id)}”, which is gone`);
  return [
    {
      label: 'Set',
      parts: [
        {
          path: ['level'],
          label: 'Level',
          say: levelName,
          editor: { kind: 'choice', options: levels },
        },
        ' where ',
        {
          path: ['lens'],
          label: 'Where',
          say: (lens) => lensSaid(lens, items),
          editor: { kind: 'lens' },
        },
        ', ',
        {
          path: ['how'],
          label: 'When',
          say: (how) => HOW[how as keyof typeof HOW] ?? String(how),
          editor: {
            kind: 'choice',
            options: Object.entries(HOW).map(([value, words]) => ({ value, words })),
          },
        },
      ],
    },
    {
      label: 'Then',
      parts: [
        'the level stands ',
        {
          path: ['keeps'],
          label: 'Afterwards',
          say: (keeps) => KEEPS[keeps as keyof typeof KEEPS] ?? String(keeps),
          editor: {
            kind: 'choice',
            options: Object.entries(KEEPS).map(([value, words]) => ({ value, words })),
          },
        },
        '; what somebody chose by hand stands unless this is stronger',
      ],
    },
    BECAUSE_LINE,
  ];
}

function lensSaid(value: Json, items: LensVocabulary): string {
  const lens = Lens.safeParse(value);
  return lens.success ? lensWords(lens.data, items) || 'it is anything we hold' : String(value);
}

export function levelRuleVocabulary(names: LevelRuleNames): Vocabulary {
  return sentenceVocabulary(slotsOf(levelRuleSentence(names)), {
    path: ([first]) => (first === 'name' ? 'The name' : first === 'lens' ? 'Where' : undefined),
  });
}

/** A rule that can never win, and the one that always beats it. */
export interface Hopeless {
  readonly rule: string;
  readonly beatenBy: string;
}

/** Rules that another, of a stronger level, beats wherever they hold; as far as that can be told from what they say. */
export function hopelessRules(
  rules: readonly {
    readonly id: string;
    readonly level: string;
    readonly lens: Lens;
    readonly proposes?: boolean;
  }[],
  ranks: Ranks,
): readonly Hopeless[] {
  const rank = (level: string) => ranks.get(level) ?? -1;
  return rules.flatMap((r): Hopeless[] => {
    const by = rules.find(
      (o) => o !== r && !o.proposes && rank(o.level) > rank(r.level) && isNarrower(r.lens, o.lens),
    );
    return by ? [{ rule: r.id, beatenBy: by.id }] : [];
  });
}
