import { isWithin } from './lens-item.ts';
import { isClause, type Clause, type Lens } from './lens.ts';

/**
 * Whether every item in `a` is in `b` too, whatever the items are. It says so only where it can be told from the two
 * alone; `false` may mean that it cannot.
 */
export function isNarrower(a: Lens, b: Lens): boolean {
  if (JSON.stringify(a) === JSON.stringify(b)) return true;
  // What a has to meet any of, has to be narrower each by itself.
  if (!isClause(a) && 'any' in a) return a.any.every((part) => isNarrower(part, b));
  if (!isClause(b) && 'all' in b) return b.all.every((part) => isNarrower(a, part));
  if (!isClause(b) && 'any' in b && b.any.some((part) => isNarrower(a, part))) return true;
  if (!isClause(a) && 'all' in a) return a.all.some((part) => isNarrower(part, b));
  if (!isClause(a) && !isClause(b)) return 'not' in a && 'not' in b && isNarrower(b.not, a.not);
  return isClause(a) && isClause(b) && isNarrowerClause(a, b);
}

function isNarrowerClause(a: Clause, b: Clause): boolean {
  if (a.fact !== b.fact) return false;
  switch (a.is) {
    case 'one of':
      return b.is === 'one of' && a.values.every((v) => b.values.includes(v));
    case 'at least':
      return b.is === 'at least' && a.number >= b.number;
    case 'at most':
      return b.is === 'at most' && a.number <= b.number;
    case 'since':
      return b.is === 'since' && a.day >= b.day;
    case 'before':
      return b.is === 'before' && a.day <= b.day;
    case 'in':
      return b.is === 'in' && isWithin(a.place, b.place);
    case 'holding':
      return b.is === 'holding' && a.text.toLowerCase().includes(b.text.toLowerCase());
    // Spans of other units are not told apart here.
    case 'within':
      return b.is === 'within' && a.span.unit === b.span.unit && a.span.count <= b.span.count;
    case 'longer ago than':
      return b.is === 'longer ago than' && a.span.unit === b.span.unit && a.span.count >= b.span.count;
    case 'unknown':
      return b.is === 'unknown';
  }
}
