import type { CoreArea } from '../area.ts';

export const RETENTION = {
  area: 'retention',
  actions: {},
  objects: {},
} as const satisfies CoreArea;
