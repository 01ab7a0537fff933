import type { ServerArea } from '../area.ts';
import type { PlainKind } from '../rules/plain-object.ts';
import { AI_SYSTEM } from './ai/ai-kind.ts';
import { findDossiers, plainDossier, watchDossiers } from './dossiers/dossiers.ts';
import { IMPACT } from './impact/impact-kind.ts';
import { QUESTIONNAIRE } from './vendors/questionnaires.ts';
import { VENDOR } from './vendors/vendor-kind.ts';
import { watchIncidents } from './incidents/known-incident.ts';
import { carryOutJob } from './requests/changes/carry-out-job.ts';
import { CASES_FIGURES } from './figures.ts';
import { CASES_REPORTS } from './reports.ts';
import { findIncidents } from './incidents/find-incidents.ts';
import { findRequests } from './requests/find-requests.ts';
import { compareAnswersJob } from './requests/identity/compare-answers-job.ts';
import { takeMail } from './requests/form/take-mail.ts';
import { makePackageJob } from './requests/package/make-package-job.ts';
import { REQUEST_POLICY } from './requests/request-policy.ts';
import { forgetRequests, remindOfTasks, watchForgotten, watchRequests } from './requests/request-upkeep.ts';
import { findPersonJob } from './requests/search/find-person-job.ts';

export const CASES: ServerArea = {
  area: 'cases',
  jobs: [findPersonJob, compareAnswersJob, makePackageJob, carryOutJob],
  objects: [
    { kind: REQUEST_POLICY as PlainKind<unknown>, see: 'cases.read', edit: 'cases.policy' },
    ...[plainDossier(IMPACT), plainDossier(VENDOR), plainDossier(AI_SYSTEM), QUESTIONNAIRE].map((kind) => ({
      ...{
        kind: kind as PlainKind<unknown>,
        see: 'cases.dossiers.read' as const,
        edit: 'cases.dossiers' as const,
      },
    })),
  ],
  upkeep: [
    { name: 'requests and their time', everyMs: 600_000, work: watchRequests },
    { name: 'tasks of requests', everyMs: 600_000, work: remindOfTasks },
    { name: 'requests that ended long ago', everyMs: 3_600_000, work: forgetRequests },
    { name: 'people who were deleted', everyMs: 300_000, work: watchForgotten },
    { name: 'incidents and their time', everyMs: 60_000, work: watchIncidents },
    { name: 'impact assessments', everyMs: 5000, work: watchDossiers(IMPACT) },
    { name: 'vendors', everyMs: 5000, work: watchDossiers(VENDOR) },
    { name: 'AI systems', everyMs: 5000, work: watchDossiers(AI_SYSTEM) },
    { name: 'requests by mail', everyMs: 15_000, work: takeMail },
  ],
  figures: CASES_FIGURES,
  reports: CASES_REPORTS,
  finders: [
    { action: 'cases.read', find: findRequests },
    { action: 'cases.read', find: findIncidents },
    { action: 'cases.dossiers.read', find: findDossiers(IMPACT) },
    { action: 'cases.dossiers.read', find: findDossiers(VENDOR) },
    { action: 'cases.dossiers.read', find: findDossiers(AI_SYSTEM) },
  ],
};
