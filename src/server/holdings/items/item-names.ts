import { builtInDetectors } from '../../../core/holdings/detection/library/library.ts';
import type { ItemNames } from '../../../core/holdings/items/item-facts.ts';
import type { Queries } from '../../store/pool.ts';
import { listOwnDetectors } from '../detection/detectors/own-detectors.ts';
import { ruleNames } from '../../rules/rule-names.ts';
import { sourceNames } from '../sources/sources.ts';

/** What lenses on items can name, as it is now. */
export async function itemNames(store: Queries): Promise<ItemNames> {
  const [sources, own] = [await sourceNames(store), await listOwnDetectors(store)];
  const [levels, levelRules] = [await ruleNames(store, 'level'), await ruleNames(store, 'level rule')];
  return {
    sources: new Map(sources.map((s) => [s.id, s.name])),
    detectors: new Map([
      ...builtInDetectors().map((d): [string, string] => [d.id, d.name]),
      ...own.map((d): [string, string] => [d.id, d.name]),
    ]),
    levels,
    levelRules,
  };
}
