import { z } from 'zod';
import type { Tier } from './vendor-tier.ts';

export const VendorQuestion = z.strictObject({
  /** Stays when the text is put right; unlike the others’. */
  id: z.string().regex(/^[a-z0-9-]{1,40}$/, 'Small letters, digits and hyphens.'),
  section: z.string().trim().min(1).max(80),
  words: z.string().trim().min(5, 'Ask in a sentence.').max(400),
  weight: z.int().min(1).max(3),
  /** A “no” stands in the way whatever the rest adds up to. */
  must: z.boolean(),
  /** Asked of vendors of this tier and of those above it. */
  from: z.union([z.literal(1), z.literal(2), z.literal(3)]),
});
export type VendorQuestion = z.infer<typeof VendorQuestion>;

export const QuestionnaireContent = z
  .strictObject({
    name: z.string().trim().min(1, 'Give it a name.').max(120),
    questions: z.array(VendorQuestion).min(1, 'Ask something.').max(200),
  })
  .refine((q) => new Set(q.questions.map((x) => x.id)).size === q.questions.length, {
    path: ['questions'],
    message: 'Two questions have one id.',
  });
export type QuestionnaireContent = z.infer<typeof QuestionnaireContent>;

export const ANSWERS = ['yes', 'partly', 'no', 'not applicable'] as const;
export const VendorAnswer = z.strictObject({ is: z.enum(ANSWERS), words: z.string().trim().max(2000) });
export type VendorAnswer = z.infer<typeof VendorAnswer>;

/** What is asked of a vendor of a tier. */
export function questionsFor(
  { questions }: Pick<QuestionnaireContent, 'questions'>,
  tier: Tier,
): readonly VendorQuestion[] {
  return questions.filter((q) => q.from >= tier);
}

export interface Gap {
  readonly question: VendorQuestion;
  readonly is: 'no' | 'partly' | 'unanswered' | 'not applicable';
  readonly grave: boolean;
}

export interface VendorScore {
  /** In [0, 1]; `null` where nothing that counts was answered. */
  readonly score: number | null;
  readonly answered: number;
  readonly asked: number;
  readonly sections: readonly { readonly name: string; readonly score: number | null }[];
  /** The gravest first. */
  readonly gaps: readonly Gap[];
}

const VALUE = { yes: 1, partly: 0.5, no: 0 } as const;

/**
 * The share of what was asked that is so, by weight: yes counts whole, partly half, no and unanswered nothing; what does not
 * apply is left out of the sum, and is a gap where it is one of those that must be.
 */
export function scoreAnswers(
  questions: readonly VendorQuestion[],
  answers: Readonly<Record<string, VendorAnswer>>,
): VendorScore {
  const shareOf = (of: readonly VendorQuestion[]) => {
    const counting = of.filter((q) => answers[q.id]?.is !== 'not applicable');
    const all = counting.reduce((n, q) => n + q.weight, 0);
    const some = counting.some((q) => answers[q.id]);
    if (all === 0 || !some) return null;
    return counting.reduce((n, q) => n + q.weight * valueOf(answers[q.id]), 0) / all;
  };
  const gaps = questions.flatMap((question): Gap[] => {
    const is = answers[question.id]?.is ?? 'unanswered';
    if (is === 'yes' || (is === 'not applicable' && !question.must)) return [];
    return [{ question, is, grave: question.must && is !== 'partly' }];
  });
  return {
    ...{
      score: shareOf(questions),
      asked: questions.length,
      answered: questions.filter((q) => answers[q.id]).length,
    },
    sections: [...new Set(questions.map((q) => q.section))].map((name) => ({
      name,
      score: shareOf(questions.filter((q) => q.section === name)),
    })),
    gaps: gaps.toSorted((a, b) => Number(b.grave) - Number(a.grave) || b.question.weight - a.question.weight),
  };
}

const valueOf = (answer: VendorAnswer | undefined) =>
  answer === undefined || answer.is === 'not applicable' ? 0 : VALUE[answer.is];

/** Questions as lines of text: `section | question | weight 1 to 3 | must or may | tier 1 to 3`. */
export function questionLines(questions: readonly VendorQuestion[]): string {
  return questions
    .map((q) => `${q.section} | ${q.words} | ${q.weight} | ${q.must ? 'must' : 'may'} | ${q.from}`)
    .join('\n');
}

/** The questions of such lines, or what is wrong with the first that cannot be read. Those whose words stay keep their id. */
export function readQuestionLines(
  text: string,
  before: readonly VendorQuestion[],
): { readonly questions: readonly VendorQuestion[] } | { readonly line: number; readonly wrong: string } {
  const questions: VendorQuestion[] = [];
  const taken = new Set(before.map((q) => q.id));
  for (const [n, line] of text.split('\n').entries()) {
    if (line.trim() === '') continue;
    const [section = '', words = '', weight = '2', must = 'may', from = '3', ...rest] = line
      .split('|')
      .map((p) => p.trim());
    const wrong = (what: string) => ({ line: n + 1, wrong: what });
    if (rest.length > 0) return wrong('at most five parts with | between them');
    if (!/^[123]$/.test(weight)) return wrong('the weight is 1, 2 or 3');
    if (must !== 'must' && must !== 'may') return wrong('the fourth part is must or may');
    if (!/^[123]$/.test(from)) return wrong('the tier is 1, 2 or 3');
    const known = before.find((q) => q.words === words && !questions.some((x) => x.id === q.id));
    const id = known?.id ?? newId(words, taken);
    taken.add(id);
    const read = VendorQuestion.safeParse({
      id,
      section,
      words,
      weight: Number(weight),
      must: must === 'must',
      from: Number(from),
    });
    if (!read.success) return wrong(read.error.issues[0]?.message ?? 'it cannot be read');
    questions.push(read.data);
  }
  return questions.length === 0 ? { line: 1, wrong: 'ask something' } : { questions };
}

function newId(words: string, taken: ReadonlySet<string>): string {
  const plain =
    words
      .normalize('NFKD')
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-+|-+$/g, '')
      .slice(0, 34) || 'question';
  for (let n = 1; ; n++) {
    const id = n === 1 ? plain : `${plain}-${n}`;
    if (!taken.has(id)) return id;
  }
}
