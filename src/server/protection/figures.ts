import { count } from '../figures/count.ts';
import type { Figure } from '../figures/figure.ts';
import { ruleCounts } from '../rules/rule-counts.ts';
import { LEVEL_RULE } from './rules/level-rules.ts';

const HELD = "SELECT COUNT(*) AS n FROM item WHERE state <> 'gone'";
const levelled = (more = '') =>
  `SELECT COUNT(*) AS n FROM item_level l JOIN item i ON i.id = l.item_id WHERE i.state <> 'gone'${more}`;

export const PROTECTION_FIGURES: readonly Figure[] = [
  {
    id: 'protection.levelled',
    name: 'Items with a level',
    definition: 'Items that have a classification level, by hand, by rule or because the document says so.',
    unit: 'item',
    good: 'more',
    see: 'protection.read',
    link: '/protection/levels',
    value: async (store) => ({ value: await count(store, levelled()), of: await count(store, HELD) }),
  },
  {
    id: 'protection.stamped',
    name: 'Documents that say their level',
    definition: 'Of the items that have a level, those whose document carries its marking.',
    unit: 'document',
    good: 'more',
    see: 'protection.read',
    link: '/protection/levels',
    value: async (store) => ({
      value: await count(store, levelled(' AND l.unstamped IS NULL')),
      of: await count(store, levelled()),
    }),
  },
  {
    id: 'protection.lost',
    name: 'Documents that lost their marking',
    definition: 'Documents that were stamped, and say no level or a weaker one since.',
    unit: 'document',
    good: 'less',
    see: 'protection.read',
    link: '/protection/rules',
    value: async (store) => ({
      value: await count(store, levelled(' AND l.lost = 1')),
      of: await count(store, levelled()),
    }),
  },
  {
    id: 'protection.rules',
    name: 'Level rules in force',
    definition: 'Rules that set a level where a lens holds, and take effect now.',
    unit: 'rule',
    good: 'neither',
    see: 'protection.read',
    link: '/protection/rules',
    value: async (store) => ({ value: (await ruleCounts(store, [LEVEL_RULE.object])).inForce }),
  },
];
