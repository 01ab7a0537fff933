import { parse, Tester, type Filter } from 'scim2-parse-filter';
import { z } from 'zod';
import { LIST, ScimError } from './scim.ts';

/** Attributes that RFC 7643 compares by letter case; the others it does not. */
const EXACT = new Set(['id', 'externalid']);
const MOST_LISTED = 500;

/** Compares texts without regard to case, where the attribute says so. */
class Comparing extends Tester {
  #exact = false;

  override test(resource: unknown, filter: Filter): boolean {
    if ('attrPath' in filter && filter.op !== '[]')
      this.#exact = EXACT.has(filter.attrPath.toLowerCase().replace(/^urn:.*:/, ''));
    return super.test(resource, filter);
  }

  override eq(has: unknown, wanted: unknown): boolean {
    return this.#plain(has) === this.#plain(wanted);
  }

  override ne(has: unknown, wanted: unknown): boolean {
    return !this.eq(has, wanted);
  }

  override co(has: never, wanted: never): boolean {
    return super.co(this.#plain(has) as never, this.#plain(wanted) as never);
  }

  override sw(has: never, wanted: never): boolean {
    return super.sw(this.#plain(has) as never, this.#plain(wanted) as never);
  }

  override ew(has: never, wanted: never): boolean {
    return super.ew(this.#plain(has) as never, this.#plain(wanted) as never);
  }

  #plain(value: unknown): unknown {
    return typeof value === 'string' && !this.#exact ? value.toLowerCase() : value;
  }
}

/** Whether a resource is one that a filter of RFC 7644, 3.4.2.2 asks for. Throws a ScimError (400). */
export function filterOf(text: string | undefined): (resource: object) => boolean {
  if (text === undefined || text.trim() === '') return () => true;
  if (text.length > 2000) throw new ScimError(400, 'The filter has more than 2000 letters.', 'tooMany');
  let filter: Filter;
  try {
    filter = parse(text);
  } catch {
    throw new ScimError(400, 'The filter cannot be read.', 'invalidFilter');
  }
  const tester = new Comparing();
  return (resource) => tester.test(resource, filter);
}

export const ListQuery = z.object({
  filter: z.string().optional(),
  startIndex: z.coerce
    .number()
    .int()
    .catch(1)
    .transform((n) => Math.max(1, n)),
  count: z.coerce
    .number()
    .int()
    .catch(100)
    .transform((n) => Math.min(MOST_LISTED, Math.max(0, n))),
  excludedAttributes: z.string().max(1000).optional(),
});

/** A page of those that are asked for, counted from 1. */
export function listOf(all: readonly object[], query: Readonly<Record<string, string>>): object {
  const { filter, startIndex, count, excludedAttributes } = ListQuery.parse(query);
  const found = all.filter(filterOf(filter));
  const without = new Set((excludedAttributes ?? '').split(',').map((a) => a.trim().toLowerCase()));
  const page = found.slice(startIndex - 1, startIndex - 1 + count);
  return {
    schemas: [LIST],
    totalResults: found.length,
    startIndex,
    itemsPerPage: page.length,
    Resources: page.map((r) =>
      Object.fromEntries(Object.entries(r).filter(([k]) => !without.has(k.toLowerCase()))),
    ),
  };
}
