import { z } from 'zod';
import { Links, NO_LINKS } from '../linked/linked.ts';
import { QUESTION_IDS, type Question } from './criteria.ts';
import { Risk } from './risk.ts';

/** `IA-7` */
export const impactNumber = (id: number | string): string => `IA-${id}`;

/** An impact assessment (GDPR Art. 35), as it is written. What is decided of it stands apart. */
export const ImpactContent = z.strictObject({
  name: z.string().trim().min(1, 'Give it a name.').max(160),
  /** The processing, systematically (Art. 35(7)(a)). */
  about: z.string().max(8000),
  /** Why it is needed, and not more than that (Art. 35(7)(b)). */
  necessity: z.string().max(8000),
  links: Links,
  /** ISO 3166-1 of where the people are: whose authority’s list counts. */
  countries: z.array(z.string().regex(/^[A-Z]{2}$/, 'Two letters of ISO 3166-1, such as DK.')).max(30),
  /** What somebody said otherwise than it is proposed, or for good. */
  answers: z.partialRecord(
    z.enum(QUESTION_IDS),
    z.strictObject({ is: z.boolean(), why: z.string().trim().min(3, 'Say why').max(500) }),
  ),
  risks: z.array(Risk).max(60),
  /** What the people or those who speak for them say, or why they were not asked (Art. 35(9)). */
  views: z.string().max(4000),
  owner: z.string().max(120),
  /** ISO 8601; '' for none. */
  review: z.union([z.literal(''), z.iso.date()]),
});
export type ImpactContent = z.infer<typeof ImpactContent>;

export const NEW_IMPACT: Omit<ImpactContent, 'name'> = {
  ...{
    about: '',
    necessity: '',
    links: NO_LINKS,
    countries: [],
    answers: {},
    risks: [],
    views: '',
    owner: '',
    review: '',
  },
};

export const IMPACT_WORDS: Readonly<Record<keyof ImpactContent, string>> = {
  name: 'The name',
  about: 'What is done',
  necessity: 'Why it is needed',
  links: 'What it is linked to',
  countries: 'Where the people are',
  answers: 'What was said to the questions',
  risks: 'The risks',
  views: 'The views of people',
  owner: 'Who answers for it',
  review: 'The next review',
};

export type { Question };
