import type { ServerArea } from '../area.ts';
import { HOLDINGS_FIGURES } from './figures.ts';
import { findDetectors } from './detection/detectors/find-detectors.ts';
import { DETECTOR } from './detection/detectors/own-detectors.ts';
import type { RuleKind } from '../rules/rule-kind.ts';
import { findSets } from './detection/labelled/find-sets.ts';
import { trainJob } from './detection/learned/trainings.ts';
import { buildRosterJob } from './detection/roster/roster-builds.ts';

export const HOLDINGS: ServerArea = {
  area: 'holdings',
  jobs: [buildRosterJob, trainJob],
  rules: [
    {
      kind: DETECTOR as RuleKind<unknown>,
      see: 'holdings.read',
      edit: 'holdings.edit',
      force: 'holdings.put-in-force',
    },
  ],
  figures: HOLDINGS_FIGURES,
  finders: [
    { action: 'holdings.read', find: findDetectors },
    { action: 'holdings.read', find: findSets },
  ],
};
