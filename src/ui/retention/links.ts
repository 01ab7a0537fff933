export const RULES = '/retention/rules';
export const SCHEDULE = '/retention/schedule';
export const LAW = '/retention/law';
export const HOLDS = '/retention/holds';
export const CLOCKS = '/retention/clocks';
export const DISPOSALS = '/retention/disposals';

export function retentionRuleLink(id: string): string {
  return `${RULES}/${encodeURIComponent(id)}`;
}

export function boundLink(id: string): string {
  return `${LAW}/${encodeURIComponent(id)}`;
}

export function holdLink(id: string): string {
  return `${HOLDS}/${encodeURIComponent(id)}`;
}

export function clockLink(id: number | string): string {
  return `${CLOCKS}/${id}`;
}

export function disposalLink(id: number | string): string {
  return `${DISPOSALS}/${id}`;
}
