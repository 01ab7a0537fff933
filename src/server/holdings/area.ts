import type { ServerArea } from '../area.ts';
import { findHoldings } from './find-holdings.ts';
import { findItemsByName } from './items/find-items.ts';
import { holdingsElsewhere } from './holdings-elsewhere.ts';
import { HOLDINGS_FIGURES } from './figures.ts';
import { HOLDINGS_REPORTS } from './reports.ts';
import { findDetectors } from './detection/detectors/find-detectors.ts';
import { DETECTOR } from './detection/detectors/own-detectors.ts';
import type { RuleKind } from '../rules/rule-kind.ts';
import { findSets } from './detection/labelled/find-sets.ts';
import { trainJob } from './detection/learned/trainings.ts';
import { buildRosterJob } from './detection/roster/roster-builds.ts';
import type { PlainKind } from '../rules/plain-object.ts';
import { ACTIVITY } from './records/activities.ts';
import { LISTING } from './listings/listings.ts';
import { readDueListings, readListingJob } from './listings/read-listing.ts';
import { trySourcesJob } from './listings/stores.ts';
import { dropOldCopies } from './items/kept-copy.ts';
import { keepLensDays } from './lenses/lens-days.ts';
import { LENS } from './lenses/lenses.ts';
import { removeSourceJob } from './sources/remove-source.ts';
import { sourceNames, SOURCE } from './sources/sources.ts';
import { SYSTEM } from './sources/systems.ts';
import { ANY_SURVEY } from './surveys/survey-run.ts';
import { runDueSurveys, SURVEY, surveyWithin } from './surveys/surveys.ts';

export const HOLDINGS: ServerArea = {
  area: 'holdings',
  jobs: [buildRosterJob, trainJob, readListingJob, trySourcesJob, removeSourceJob],
  rules: [
    {
      kind: DETECTOR as RuleKind<unknown>,
      see: 'holdings.read',
      edit: 'holdings.edit',
      force: 'holdings.put-in-force',
    },
  ],
  objects: [
    { kind: ACTIVITY as PlainKind<unknown>, see: 'holdings.read', edit: 'holdings.records' },
    {
      kind: LISTING as PlainKind<unknown>,
      see: 'holdings.read',
      edit: 'holdings.sources',
      wholeOf: ['source'],
    },
    { kind: LENS as PlainKind<unknown>, see: 'holdings.read', edit: 'holdings.judge' },
    { kind: SYSTEM as PlainKind<unknown>, see: 'holdings.read', edit: 'holdings.sources' },
    {
      kind: SOURCE as PlainKind<unknown>,
      see: 'holdings.read',
      edit: 'holdings.sources',
      within: async (_store, key) => [{ kind: 'source', id: String(key) }],
    },
    {
      kind: SURVEY as PlainKind<unknown>,
      see: 'holdings.read',
      edit: 'holdings.survey',
      within: surveyWithin,
    },
  ],
  runs: [ANY_SURVEY],
  scopes: {
    source: async (store) => (await sourceNames(store)).map((s) => ({ id: s.id, words: s.name })),
  },
  upkeep: [
    { name: 'surveys that are due', everyMs: 15_000, work: runDueSurveys },
    { name: 'what is in lenses on this day', everyMs: 30 * 60_000, work: keepLensDays },
    { name: 'listings that are due', everyMs: 30_000, work: readDueListings },
    { name: 'kept copies whose day has come', everyMs: 60 * 60_000, work: dropOldCopies },
  ],
  elsewhere: holdingsElsewhere,
  figures: HOLDINGS_FIGURES,
  reports: HOLDINGS_REPORTS,
  checking: [
    {
      ...{ see: 'holdings.read', one: 'source', many: 'sources' },
      sql: 'SELECT COUNT(IF(read_at > ?, 1, NULL)) AS n, MAX(read_at) AS at FROM source',
    },
  ],
  finders: [
    { action: 'holdings.read', find: findHoldings },
    { action: 'holdings.read', find: findDetectors },
    { action: 'holdings.read', find: findSets },
    { action: 'holdings.read', words: 'all', find: findItemsByName },
  ],
};
