import { isClause, type Clause, type Lens } from '../../lens/lens.ts';

/** A lens as a sentence has it: what most lenses say in slots of their own, and the rest. */
export interface LensForm {
  /** Detectors, of which an item holds at least one; none for whatever it holds. */
  readonly data: readonly string[];
  readonly documents: readonly string[];
  /** '' for everywhere. */
  readonly place: string;
  /** '' for any. */
  readonly age: Age;
  /** Further conditions, all of which hold. */
  readonly rest: readonly Lens[];
}

export type Age = '' | `${'within' | 'longer ago than'} ${number} ${'days' | 'months' | 'years'}`;

/** What the slot for the age offers. */
export const AGES: readonly Age[] = [
  '',
  'within 7 days',
  'within 3 months',
  'within 1 years',
  'longer ago than 1 years',
  'longer ago than 2 years',
  'longer ago than 5 years',
];

/** The lens in slots; the same items are in both. */
export function lensForm(lens: Lens): LensForm {
  const parts = !isClause(lens) && 'all' in lens ? lens.all : [lens];
  const form: { -readonly [K in keyof LensForm]: LensForm[K] } = {
    data: [],
    documents: [],
    place: '',
    age: '',
    rest: [],
  };
  const rest: Lens[] = [];
  for (const part of parts) {
    if (!isClause(part)) rest.push(part);
    // Of two of a kind, the second is a further condition.
    else if (part.fact === 'data' && part.is === 'one of' && form.data.length === 0) form.data = part.values;
    else if (part.fact === 'document' && part.is === 'one of' && form.documents.length === 0)
      form.documents = part.values;
    else if (part.fact === 'place' && part.is === 'in' && form.place === '') form.place = part.place;
    else if (part.fact === 'changed' && form.age === '' && ageOf(part) !== undefined)
      form.age = ageOf(part) ?? '';
    else rest.push(part);
  }
  return { ...form, rest };
}

export function formLens({ data, documents, place, age, rest }: LensForm): Lens {
  const all: Lens[] = [];
  if (data.length > 0) all.push({ fact: 'data', is: 'one of', values: [...data] });
  if (documents.length > 0) all.push({ fact: 'document', is: 'one of', values: [...documents] });
  if (place !== '') all.push({ fact: 'place', is: 'in', place });
  const clause = ageClause(age);
  if (clause) all.push(clause);
  all.push(...rest);
  return all.length === 1 ? (all[0] as Lens) : { all };
}

function ageOf(clause: Clause): Age | undefined {
  if (clause.is !== 'within' && clause.is !== 'longer ago than') return undefined;
  return `${clause.is} ${clause.span.count} ${clause.span.unit}`;
}

function ageClause(age: Age): Clause | undefined {
  const [, is, count, unit] = /^(within|longer ago than) (\d+) (days|months|years)$/.exec(age) ?? [];
  if (!is) return undefined;
  return { fact: 'changed', is: is as 'within', span: { count: Number(count), unit: unit as 'days' } };
}

export function ageWords(age: Age): string {
  const [, is, count, unit = ''] = /^(within|longer ago than) (\d+) (\w+)$/.exec(age) ?? [];
  if (!is) return 'any age';
  const span = count === '1' ? `1 ${unit.slice(0, -1)}` : `${count} ${unit}`;
  return is === 'within' ? `changed within ${span}` : `changed longer ago than ${span}`;
}
