import type { ServerArea } from '../area.ts';
import type { PlainKind } from '../rules/plain-object.ts';
import { findBreadth } from './breadth/find-breadth.ts';
import { ACCESS_CHANGE } from './change/change-job.ts';
import { accessElsewhere } from './access-elsewhere.ts';
import { ACCESS_FIGURES } from './figures.ts';
import { ACCESS_REPORTS } from './reports.ts';
import { findAccess } from './find-access.ts';
import { forgetOldChanges } from './history/watches.ts';
import { remindReviewOwners } from './review/remind-owners.ts';
import { tellDueReviews } from './review/reviews.ts';
import { ACCESS_SOURCE } from './sources/access-sources.ts';
import { ACCESS_FORGETTING } from './sources/remove-source.ts';
import { ACCESS_READING, readByThemselves } from './sources/reading-job.ts';

export const ACCESS: ServerArea = {
  area: 'access',
  jobs: [ACCESS_READING, ACCESS_FORGETTING, ACCESS_CHANGE],
  objects: [
    {
      kind: ACCESS_SOURCE as PlainKind<unknown>,
      see: 'access.read',
      edit: 'access.sources',
      wholeOf: ['source'],
    },
  ],
  upkeep: [
    { name: 'rights that are read by themselves', everyMs: 20_000, work: readByThemselves },
    { name: 'what is too broad', everyMs: 15_000, work: findBreadth },
    { name: 'owners who are asked what may stay', everyMs: 30_000, work: remindReviewOwners },
    { name: 'reviews of access that are due', everyMs: 60_000, work: tellDueReviews },
    { name: 'changes of access whose days are over', everyMs: 600_000, work: forgetOldChanges },
  ],
  elsewhere: accessElsewhere,
  figures: ACCESS_FIGURES,
  reports: ACCESS_REPORTS,
  checking: [
    {
      ...{ see: 'access.read', one: 'source of rights', many: 'sources of rights' },
      sql: 'SELECT COUNT(IF(read_at > ?, 1, NULL)) AS n, MAX(read_at) AS at FROM access_source',
    },
  ],
  finders: [{ action: 'access.read', find: findAccess }],
};
