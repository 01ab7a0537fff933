import type { DemoArea } from '../demo.ts';
import { loadDetectors } from './detectors.ts';

export const HOLDINGS: DemoArea = { area: 'holdings', load: loadDetectors };
