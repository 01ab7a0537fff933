import { z } from 'zod';

/** A length of calendar time. */
export const Span = z.strictObject({
  count: z.int().min(1).max(9999),
  unit: z.enum(['days', 'months', 'years']),
});
export type Span = z.infer<typeof Span>;

const FactId = z.string().regex(/^[a-z][a-z0-9-]*(:[A-Za-z0-9._-]{1,64})?$/, 'the id of a fact');
const Value = z.string().min(1).max(400);

/** One condition on one fact. A fact that an item does not have meets none, but `unknown`. */
export const Clause = z.discriminatedUnion('is', [
  z.strictObject({ fact: FactId, is: z.literal('one of'), values: z.array(Value).min(1).max(500) }),
  z.strictObject({ fact: FactId, is: z.literal('at least'), number: z.number() }),
  z.strictObject({ fact: FactId, is: z.literal('at most'), number: z.number() }),
  /** Of a day in ISO 8601; the day itself counts for `since`. */
  z.strictObject({ fact: FactId, is: z.literal('since'), day: z.iso.date() }),
  z.strictObject({ fact: FactId, is: z.literal('before'), day: z.iso.date() }),
  /** Counted back from the day somebody asks. */
  z.strictObject({ fact: FactId, is: z.literal('within'), span: Span }),
  z.strictObject({ fact: FactId, is: z.literal('longer ago than'), span: Span }),
  z.strictObject({ fact: FactId, is: z.literal('in'), place: z.string().min(1).max(2000) }),
  z.strictObject({ fact: FactId, is: z.literal('holding'), text: Value }),
  z.strictObject({ fact: FactId, is: z.literal('unknown') }),
]);
export type Clause = z.infer<typeof Clause>;

/**
 * A condition on items: clauses joined by and, or, not. Of no clause, `all` is everything and `any` is nothing.
 */
export type Lens =
  Clause | { readonly all: readonly Lens[] } | { readonly any: readonly Lens[] } | { readonly not: Lens };

export const Lens: z.ZodType<Lens> = z.lazy(() =>
  z.union([
    Clause,
    z.strictObject({ all: z.array(Lens).max(50) }),
    z.strictObject({ any: z.array(Lens).max(50) }),
    z.strictObject({ not: Lens }),
  ]),
);

export const EVERYTHING: Lens = { all: [] };

export function isClause(lens: Lens): lens is Clause {
  return 'fact' in lens;
}

/** Every clause of a lens, from left to right. */
export function clausesOf(lens: Lens): readonly Clause[] {
  if (isClause(lens)) return [lens];
  if ('not' in lens) return clausesOf(lens.not);
  return ('all' in lens ? lens.all : lens.any).flatMap(clausesOf);
}
