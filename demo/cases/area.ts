import type { DemoArea } from '../demo.ts';
import { loadIncidents } from './incidents.ts';
import { loadDossiers } from './dossiers.ts';
import { loadRequests } from './requests.ts';

export const CASES: DemoArea = {
  area: 'cases',
  load: async (demo) => {
    await loadRequests(demo);
    await loadIncidents(demo);
    await loadDossiers(demo);
  },
};
