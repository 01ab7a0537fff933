import type { DemoArea } from '../demo.ts';
import { loadDetectors } from './detectors.ts';
import { loadEstate } from './estate/load-estate.ts';

export const HOLDINGS: DemoArea = {
  area: 'holdings',
  load: async (demo) => {
    await loadDetectors(demo);
    await loadEstate(demo);
  },
};
