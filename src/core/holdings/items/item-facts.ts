import type { Fact, FactType, FactValue, LensVocabulary } from '../../lens/fact.ts';

/** An item as lenses see it. */
export interface ItemRow {
  readonly id: number;
  readonly source: string;
  /** Path of its place within the source. */
  readonly place: string;
  /** As people call it. */
  readonly name: string;
  readonly size: number;
  /** ISO 8601. */
  readonly created: string | null;
  readonly changed: string | null;
  readonly owner: string;
  /** What its bytes turned out to be. */
  readonly format: string;
  readonly state: 'read' | 'unreadable';
  /** Detector of the kind of document. */
  readonly document: string | null;
  readonly people: number;
  /** Its classification level, and what set it: `hand`, `document`, `rule:` and the id of a rule. */
  readonly level?: { readonly id: string; readonly by: string } | undefined;
  readonly findings: readonly ItemFinding[];
}

export interface ItemFinding {
  readonly detector: string;
  readonly matches: number;
  /** In [0, 1]. */
  readonly confidence: number;
}

/** Facts that every item has, in the order in which a person would think of them. */
export const ITEM_FACTS = [
  { id: 'data', words: 'what it holds', type: 'choice' },
  { id: 'document', words: 'kind of document', type: 'choice' },
  { id: 'place', words: 'lies', type: 'place' },
  { id: 'changed', words: 'changed', type: 'day' },
  { id: 'created', words: 'created', type: 'day' },
  { id: 'owner', words: 'owner', type: 'choice' },
  { id: 'people', words: 'people in it', type: 'number' },
  { id: 'level', words: 'level', type: 'choice' },
  { id: 'level-by', words: 'level set by', type: 'choice' },
  { id: 'name', words: 'name', type: 'text' },
  { id: 'format', words: 'format', type: 'choice' },
  { id: 'size', words: 'bytes', type: 'number' },
  { id: 'state', words: 'reading', type: 'choice' },
] as const satisfies readonly Fact[];

const TYPES: ReadonlyMap<string, FactType> = new Map(ITEM_FACTS.map((f) => [f.id, f.type]));

/** `matches:email`, `confidence:email`: of one detector. */
const OF_DETECTOR = /^(matches|confidence):(.+)$/;

export function itemFactType(fact: string): FactType {
  return TYPES.get(fact) ?? 'number';
}

/** The value of a fact of an item. Confidence in percent. */
export function itemFact(item: ItemRow, fact: string): FactValue {
  const [, what, detector] = OF_DETECTOR.exec(fact) ?? [];
  if (what) {
    const found = item.findings.find((f) => f.detector === detector);
    return found && (what === 'matches' ? found.matches : confidencePercent(found.confidence));
  }
  switch (fact) {
    case 'data':
      return item.findings.map((f) => f.detector);
    case 'document':
      return item.document ?? undefined;
    case 'place':
      return placeValue(item.source, item.place);
    case 'changed':
      return item.changed ?? undefined;
    case 'created':
      return item.created ?? undefined;
    case 'owner':
      return item.owner || undefined;
    case 'people':
      return item.people;
    case 'level':
      return item.level?.id;
    case 'level-by':
      return item.level?.by;
    case 'name':
      return item.name;
    case 'format':
      return item.format || undefined;
    case 'size':
      return item.size;
    case 'state':
      return item.state;
    default:
      return undefined;
  }
}

/** To a tenth, rounded down, so that what is not sure is never told as sure. */
export function confidencePercent(share: number): number {
  return Math.floor(share * 1000 + 1e-9) / 10;
}

/** A place of a source as a lens names it. */
export function placeValue(source: string, path: string): string {
  return path === '' ? source : `${source}/${path}`;
}

/** What can be named in lenses on items. */
export interface ItemNames {
  /** By id. */
  readonly sources: ReadonlyMap<string, string>;
  readonly detectors: ReadonlyMap<string, string>;
  readonly levels: ReadonlyMap<string, string>;
  readonly levelRules: ReadonlyMap<string, string>;
}

const BY_RULE = 'rule:';
const LEVEL_BY: Readonly<Record<string, string>> = { hand: 'somebody', document: 'the document' };
const STATES: Readonly<Record<string, string>> = { read: 'read', unreadable: 'could not be read' };

export function itemVocabulary({ sources, detectors, levels, levelRules }: ItemNames): LensVocabulary {
  return {
    fact(id) {
      const fact = ITEM_FACTS.find((f) => f.id === id);
      if (fact) return fact;
      const [, what, detector = ''] = OF_DETECTOR.exec(id) ?? [];
      const name = detectors.get(detector);
      if (!what || name === undefined) return undefined;
      return {
        id,
        type: 'number',
        words: what === 'matches' ? `matches of ${name}` : `confidence of ${name}, in percent,`,
      };
    },
    value(fact, value) {
      switch (fact) {
        case 'data':
        case 'document':
          return detectors.get(value);
        case 'place': {
          const [source = '', ...steps] = value.split('/');
          const name = sources.get(source);
          return name && [name, ...steps].join(' › ');
        }
        case 'state':
          return STATES[value];
        case 'level':
          return levels.get(value);
        case 'level-by':
          return value.startsWith(BY_RULE) ? levelRules.get(value.slice(BY_RULE.length)) : LEVEL_BY[value];
        default:
          return value;
      }
    },
  };
}
