import type { UiArea } from '../area.ts';

export const TODAY: UiArea = {
  area: 'today',
  name: 'Today',
  action: 'today.read',
  reads: { today: ['today'] },
};
