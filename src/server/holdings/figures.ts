import type { Figure } from '../figures/figure.ts';
import { ruleCounts } from '../rules/rule-counts.ts';
import { DETECTOR } from './detection/detectors/own-detectors.ts';

export const HOLDINGS_FIGURES: readonly Figure[] = [
  {
    id: 'holdings.detectors',
    name: 'Own detectors in force',
    definition: 'Detectors of the organisation that read everything now, beside those that ship.',
    unit: 'detector',
    good: 'neither',
    see: 'holdings.read',
    link: '/holdings/detectors',
    value: async (store) => ({ value: (await ruleCounts(store, [DETECTOR.object])).inForce }),
  },
];
