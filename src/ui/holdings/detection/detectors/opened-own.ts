import type { OpenedDetector } from '../../../../server/holdings/detection/detectors/open-detector.ts';

export type OpenedOwn = Extract<OpenedDetector, { origin: 'own' }>;
