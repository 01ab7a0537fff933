import { z } from 'zod';
import { sortableColumns, type ListDefinition, type ListFilter } from './list.ts';

/** What a request may ask of a list, for an endpoint's input. */
export function listShape(list: ListDefinition): ListShape {
  const sorts = [list.order.sort, ...sortableColumns(list)];
  return {
    text: z.string().max(100).default(''),
    sort: (z.enum([...new Set(sorts)]) as z.ZodType<string, string>).default(list.order.sort),
    order: z.enum(['up', 'down']).optional(),
    ...Object.fromEntries(Object.entries(list.filters).map(([id, f]) => [id, filterSchema(f).optional()])),
  };
}

/** What every list takes; its filters stand beside it. */
export interface ListShape {
  readonly text: z.ZodDefault<z.ZodString>;
  readonly sort: z.ZodDefault<z.ZodType<string, string>>;
  readonly order: z.ZodOptional<z.ZodType<'up' | 'down', 'up' | 'down'>>;
}

function filterSchema(filter: ListFilter): z.ZodType {
  switch (filter.kind) {
    case 'choice':
      return z.enum(Object.keys(filter.options));
    case 'value':
      return z.string().max(filter.most);
    case 'from':
    case 'to':
      return z.iso.date();
  }
}
