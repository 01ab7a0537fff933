import type { ActivityContent } from './activity.ts';
import { needsSafeguard, type RecordedActivity } from './contradictions.ts';

export type FlowKind = 'people' | 'system' | 'recipient' | 'country';

/** Somebody or something that data comes from, or goes to. */
export interface FlowNode {
  /** Its kind and what it is called. */
  readonly id: string;
  readonly kind: FlowKind;
  /** A country by ISO 3166-1. */
  readonly name: string;
  /** Of systems that are in the register. */
  readonly system?: string;
}

/** Who gives what to whom. */
export interface Flow {
  readonly from: string;
  readonly to: string;
  /** Ids of detectors, in order. */
  readonly data: readonly string[];
  /** By whom it is done; ids, in order. */
  readonly activities: readonly string[];
  /** A transfer to a third country that no safeguard makes lawful. */
  readonly unlawful: boolean;
}

export interface DataFlows {
  readonly nodes: readonly FlowNode[];
  readonly flows: readonly Flow[];
}

export interface FlowSystem {
  readonly id: string;
  readonly name: string;
  /** ISO 3166-1; '' where that is not known. */
  readonly country: string;
  readonly vendors: readonly string[];
}

const NO_SYSTEM = 'no system that was said';

/**
 * What flows from whom to whom, as the records say: from people to the systems of an activity, from there to its recipients
 * and to the vendors of the system, and to the countries where those are.
 */
export function dataFlows(
  activities: readonly RecordedActivity[],
  systems: readonly FlowSystem[],
): DataFlows {
  const nodes = new Map<string, FlowNode>();
  const flows = new Map<
    string,
    { from: string; to: string; data: Set<string>; activities: Set<string>; unlawful: boolean }
  >();
  const node = (kind: FlowKind, name: string, system?: string) => {
    const id = `${kind} ${name}`;
    if (!nodes.has(id)) nodes.set(id, { id, kind, name, ...(system === undefined ? {} : { system }) });
    return id;
  };
  const flow = (from: string, to: string, id: string, { data }: ActivityContent, unlawful = false) => {
    const key = `${from}\n${to}`;
    const known = flows.get(key) ?? { from, to, data: new Set(), activities: new Set(), unlawful: false };
    flows.set(key, known);
    for (const d of data) known.data.add(d);
    known.activities.add(id);
    known.unlawful ||= unlawful;
  };
  for (const { id, content } of activities) {
    const mine = systems.filter((s) => content.systems.includes(s.id));
    const places = mine.map((s) => node('system', s.name, s.id));
    if (places.length === 0) places.push(node('system', NO_SYSTEM));
    for (const people of content.people)
      for (const place of places) flow(node('people', people), place, id, content);
    for (const r of content.recipients) {
      const to = node('recipient', r.name);
      const unlawful = needsSafeguard(r.country) && r.safeguard === 'none';
      for (const place of places) flow(place, to, id, content, unlawful);
      if (r.country !== '') flow(to, node('country', r.country), id, content, unlawful);
    }
    for (const s of mine) {
      for (const vendor of s.vendors) {
        // One that the record names as a recipient is told there, with its country.
        if (content.recipients.some((r) => r.name === vendor)) continue;
        flow(node('system', s.name, s.id), node('recipient', vendor), id, content);
      }
      if (s.country !== '') flow(node('system', s.name, s.id), node('country', s.country), id, content);
    }
  }
  return {
    nodes: [...nodes.values()],
    flows: [...flows.values()].map((f) => ({
      ...f,
      data: [...f.data].sort(),
      activities: [...f.activities].sort((a, b) => Number(a) - Number(b)),
    })),
  };
}

/** The flows that touch one node, straight or over others on its way. */
export function flowsThrough({ flows }: DataFlows, node: string): readonly Flow[] {
  const follow = (from: 'from' | 'to', to: 'from' | 'to') => {
    const found = new Set<Flow>();
    const seen = new Set([node]);
    for (const at of seen)
      for (const f of flows)
        if (f[from] === at) {
          found.add(f);
          seen.add(f[to]);
        }
    return found;
  };
  const both = new Set([...follow('from', 'to'), ...follow('to', 'from')]);
  return flows.filter((f) => both.has(f));
}
