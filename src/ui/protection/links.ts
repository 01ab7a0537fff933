export const LEVELS = '/protection/levels';
export const RULES = '/protection/rules';
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
