import type { UiArea } from '../area.ts';

export const HOLDINGS: UiArea = {
  area: 'holdings',
  name: 'Holdings',
  action: 'holdings.read',
  finds: ['a detector'],
};
