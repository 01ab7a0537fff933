import type { UiArea } from '../area.ts';

export const PROTECTION: UiArea = {
  area: 'protection',
  name: 'Protection',
  action: 'protection.read',
  view: async () => (await import('./ProtectionArea.tsx')).ProtectionArea,
  itemPanel: async () => (await import('./levels/ItemLevel.tsx')).ItemLevel,
  lensActs: [
    {
      words: 'Set a level where it holds',
      action: 'protection.edit',
      link: (line) => `/protection/rules?new=rule&lens=${encodeURIComponent(line)}`,
    },
  ],
  commands: [
    { words: 'New level', action: 'protection.edit', link: '/protection/levels?new=level' },
    { words: 'New level rule', action: 'protection.edit', link: '/protection/rules?new=rule' },
    {
      words: 'New publication of levels',
      action: 'protection.edit',
      link: '/protection/published?new=publication',
    },
    { words: 'Set levels backwards', action: 'protection.run', link: '/protection/runs?new=run' },
  ],
  reads: {
    'protection-shelf': ['level', 'level rule', 'publication', 'run', 'item'],
    'level-proposals': ['item', 'level rule', 'level'],
    publications: ['publication'],
    publication: ['publication', 'approval policy'],
    'publication-names': ['level', 'staff list'],
    'publication-outlook': ['publication', 'level', 'staff list'],
    staff: ['staff list'],
    offered: ['publication', 'level', 'staff list'],
    programs: ['program'],
    levels: ['level', 'item', 'run', 'publication'],
    level: ['level', 'approval policy'],
    'level-rules': ['level rule', 'level'],
    'level-rule': ['level rule', 'approval policy'],
    'level-outlook': ['level', 'level rule', 'run', 'item'],
    'level policy': ['level policy'],
    'level-runs': ['run'],
    'level-run': ['run'],
    'item-level': ['item', 'level', 'level rule', 'run'],
  },
  finds: ['a level'],
};
