import { z } from 'zod';
import { keysOf } from '../../keys-of.ts';
import { Risk } from '../impact/risk.ts';
import { Links, NO_LINKS } from '../linked/linked.ts';
import { AI_QUESTION_IDS, AI_ROLES, AiAnswer, type AiRole } from './ai-act.ts';
import { ModelCard } from './model-card.ts';

/** `AI-7` */
export const aiNumber = (id: number | string): string => `AI-${id}`;

export const DECIDES = {
  helps: 'shows something that people may use',
  proposes: 'proposes what people decide',
  decides: 'decides by itself',
} as const;

const Line = z.string().trim().min(1).max(120);
const Id = z.string().regex(/^\d{1,9}$/);

export const AiTest = z.strictObject({
  what: z.string().trim().min(1, 'Say what was tested.').max(300),
  on: z.iso.date(),
  result: z.string().max(1000),
  passed: z.boolean(),
});
export type AiTest = z.infer<typeof AiTest>;

/** An AI system that is planned or used. What is decided of it stands apart. */
export const AiContent = z.strictObject({
  name: z.string().trim().min(1, 'Give it a name.').max(160),
  purpose: z.string().max(2000),
  role: z.enum(keysOf(AI_ROLES)),
  provider: z.string().max(200),
  /** Id of the vendor; '' where it is none that is known. */
  vendor: z.union([z.literal(''), Id]),
  /** Ids of impact assessments. */
  assessments: z.array(Id).max(20),
  card: ModelCard.nullable(),
  dataIn: z.string().max(2000),
  dataOut: z.string().max(2000),
  people: z.array(Line).max(40),
  decides: z.enum(keysOf(DECIDES)),
  /** Who watches over it, and how they stop it. */
  oversight: z.string().max(2000),
  links: Links,
  answers: z.partialRecord(z.enum(AI_QUESTION_IDS), AiAnswer),
  risks: z.array(Risk).max(60),
  tests: z.array(AiTest).max(100),
  owner: z.string().max(120),
  review: z.union([z.literal(''), z.iso.date()]),
});
export type AiContent = z.infer<typeof AiContent>;

export const NEW_AI: Omit<AiContent, 'name'> = {
  ...{
    purpose: '',
    role: 'deployer',
    provider: '',
    vendor: '',
    assessments: [],
    card: null,
    dataIn: '',
    dataOut: '',
  },
  ...{
    people: [],
    decides: 'proposes',
    oversight: '',
    links: NO_LINKS,
    answers: {},
    risks: [],
    tests: [],
    owner: '',
    review: '',
  },
};

export const AI_WORDS: Readonly<Record<keyof AiContent, string>> = {
  ...{
    name: 'The name',
    purpose: 'The purpose',
    role: 'The role',
    provider: 'The provider',
    vendor: 'The vendor',
  },
  ...{
    assessments: 'The impact assessments',
    card: 'The card',
    dataIn: 'What goes in',
    dataOut: 'What comes out',
  },
  ...{
    people: 'Whom it affects',
    decides: 'How far it decides',
    oversight: 'Who watches over it',
    links: 'What it is linked to',
  },
  ...{
    answers: 'The answers to its class',
    risks: 'The risks',
    tests: 'What was tested',
    owner: 'Who answers for it',
    review: 'The next review',
  },
};

/** All that is said of a system, for words that speak to a question. */
export function aiText({ name, purpose, dataIn, dataOut, card, people }: AiContent): string {
  return [name, purpose, dataIn, dataOut, ...people, card?.task ?? '', card?.intended ?? ''].join('\n');
}

/** A system as its card has it. */
export function fromCard(card: ModelCard): AiContent {
  return { ...NEW_AI, name: card.name.slice(0, 160), provider: card.provider, purpose: '', card };
}

export type { AiRole };
