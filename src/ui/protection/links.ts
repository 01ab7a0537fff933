export const LEVELS = '/protection/levels';
export const RULES = '/protection/rules';
export const PUBLISHED = '/protection/published';
/** What owners are asked. */
export const PROPOSED = '/protection/rules/proposed';
export const RUNS = '/protection/runs';

export function levelLink(id: string): string {
  return `${LEVELS}/${encodeURIComponent(id)}`;
}

export function levelRuleLink(id: string): string {
  return `${RULES}/${encodeURIComponent(id)}`;
}

export function levelRunLink(id: string): string {
  return `${RUNS}/${id}`;
}

export function publicationLink(id: string): string {
  return `${PUBLISHED}/${encodeURIComponent(id)}`;
}

/** What one person is offered. */
export function offeredLink(address: string): string {
  return `${PUBLISHED}?person=${encodeURIComponent(address)}`;
}
