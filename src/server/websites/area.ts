import { join } from 'node:path';
import type { ServerArea } from '../area.ts';
import { CONSENT_WITNESS } from './consents/consent-record.ts';
import { endOldConsents } from './consents/consent-erasure.ts';
import { forgetOldTurns } from './consents/consent-intake.ts';
import { removeLeftVisits } from './crawl/browser/confinement.ts';
import { WEBSITE_FIGURES } from './figures.ts';
import { WEBSITE_REPORTS } from './reports.ts';
import { NOTICE } from './notices/notice-kind.ts';
import type { RuleKind } from '../rules/rule-kind.ts';
import { PREFERENCE_PAGE } from './preferences/page-kind.ts';
import { PREFERENCE_WITNESS } from './preferences/preference-record.ts';
import { writeToolMessages } from './preferences/tools.ts';
import { siteOptions } from './sites/site-options.ts';
import { findSites } from './sites/find-sites.ts';
import { installCheckJob } from './sites/install-check.ts';
import { showSitesOnToday } from './sites/site-today.ts';
import { REPORT_WITNESS } from './sweeps/sweep-end.ts';
import { sweepJob } from './sweeps/sweep-job.ts';
import { startDueSweeps } from './sweeps/sweep-upkeep.ts';
import { findTrackers } from './trackers/find-trackers.ts';
import { fixTrialJob } from './trackers/fix-trials.ts';
import { visitJob } from './visits/visit-job.ts';

const HOUR_MS = 3_600_000;

export const WEBSITES: ServerArea = {
  area: 'websites',
  begin: (ctx) => removeLeftVisits(join(ctx.settings.DATA_DIR, 'profiles')),
  jobs: [sweepJob, installCheckJob, fixTrialJob, visitJob],
  rules: [
    {
      kind: NOTICE as RuleKind<unknown>,
      see: 'websites.read',
      edit: 'websites.edit',
      force: 'websites.put-in-force',
    },
    {
      kind: PREFERENCE_PAGE as RuleKind<unknown>,
      see: 'preferences.read',
      edit: 'preferences.edit',
      force: 'websites.put-in-force',
    },
  ],
  witnesses: [CONSENT_WITNESS, PREFERENCE_WITNESS, REPORT_WITNESS],
  upkeep: [
    { name: 'sweeps by schedule', everyMs: 10_000, work: startDueSweeps },
    { name: 'old turns of visitors', everyMs: HOUR_MS, work: forgetOldTurns },
    { name: 'choices past their time', everyMs: HOUR_MS, work: endOldConsents },
    { name: 'messages to mailing tools', everyMs: 3000, work: writeToolMessages },
    { name: 'sites on Today', everyMs: HOUR_MS, work: showSitesOnToday },
  ],
  scopes: { site: siteOptions },
  figures: WEBSITE_FIGURES,
  reports: WEBSITE_REPORTS,
  checking: [
    {
      ...{ see: 'websites.read', one: 'site', many: 'sites' },
      sql: "SELECT COUNT(DISTINCT IF(finished_at > ?, site_id, NULL)) AS n, MAX(finished_at) AS at FROM sweep WHERE state = 'complete'",
    },
  ],
  finders: [
    { action: 'websites.read', find: findSites },
    { action: 'websites.read', find: findTrackers },
  ],
};
