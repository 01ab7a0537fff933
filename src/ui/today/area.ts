import type { UiArea } from '../area.ts';

export const TODAY: UiArea = {
  area: 'today',
  name: 'Today',
  action: 'today.read',
  view: async () => (await import('./TodayArea.tsx')).TodayArea,
  reads: {
    today: ['today'],
    'since visit': ['today'],
    'today people': ['today'],
    'approval policy': ['approval policy'],
  },
};
