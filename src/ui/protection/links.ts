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

export const HANDLING = '/protection/handling';
export const ACTIVITY = '/protection/activity';
export const DEVICES = '/protection/devices';
export const GROUPS = '/protection/groups';

export function handlingLink(id: string): string {
  return `${HANDLING}/${encodeURIComponent(id)}`;
}

/** One thing that was done; its time finds it. */
export function eventLink(at: string, id: string): string {
  return `${ACTIVITY}?event=${id}&at=${encodeURIComponent(at)}`;
}

export function deviceLink(id: number): string {
  return `${DEVICES}/${id}`;
}

export function namedGroupLink(id: string): string {
  return `${GROUPS}/${id}`;
}

export const LOOKOUTS = '/protection/lookouts';
export const ALERTS = '/protection/alerts';

export function lookoutLink(id: string): string {
  return `${LOOKOUTS}/${encodeURIComponent(id)}`;
}

export function alertLink(id: number): string {
  return `${ALERTS}/${id}`;
}

export const EVIDENCE = '/protection/kept';
/** How rules are met. */
export const USE = '/protection/handling/use';
/** What people asked from where they were stopped. */
export const ASKED = '/protection/handling/asked';

/** A rule about what is kept in view. */
export function viewRuleLink(id: string): string {
  return `${ACTIVITY}/${encodeURIComponent(id)}`;
}

/** What raised an alert. */
export function raiserLink({
  byKind,
  lookout,
}: {
  readonly byKind: 'lookout' | 'handling rule';
  readonly lookout: string;
}): string {
  return byKind === 'lookout' ? lookoutLink(lookout) : handlingLink(lookout);
}

/** All that one lookout or rule raised. */
export function raisedLink({ byKind, lookout }: Parameters<typeof raiserLink>[0]): string {
  return `${ALERTS}?${byKind === 'lookout' ? 'lookout' : 'rule'}=${encodeURIComponent(lookout)}`;
}
