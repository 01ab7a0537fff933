import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ownDatabase } from '../own-database.ts';
import { PROJECT } from '../../launcher/project.ts';
import type { Account } from '../../src/core/accounts/authority.ts';
import { asToken, TOKEN_ACTIONS } from '../../src/core/accounts/programs/token.ts';
import { BUILT_IN_ROLES, type BuiltInRole } from '../../src/core/accounts/roles/built-in-role.ts';
import { sessionId } from '../../src/server/accounts/session.ts';
import { closeAccessThreads } from '../../src/server/access/index/ask-access.ts';
import { WHOLE_ESTATE } from '../../src/server/access/whole-estate.ts';
import { putOnToday, takeOffToday, todayItems } from '../../src/server/desk/today.ts';
import { beginUpload } from '../../src/server/files/uploads.ts';
import { addDetector } from '../../src/server/holdings/detection/detectors/new-detector.ts';
import { USUAL_SURVEY } from '../../src/core/holdings/surveys/survey.ts';
import { closeLensThreads } from '../../src/server/holdings/items/index/ask-lens.ts';
import { addListing } from '../../src/server/holdings/listings/listings.ts';
import { addSurvey } from '../../src/server/holdings/surveys/surveys.ts';
import { testItem, testSource } from '../integration/holdings/estate-rows.ts';
import { newClock } from '../../src/core/retention/clock/clock-content.ts';
import { KEPT } from '../../src/core/retention/rules/exception.ts';
import { newRetentionRule } from '../../src/core/retention/rules/retention-rule.ts';
import { addClock } from '../../src/server/retention/clocks/clocks.ts';
import { addRetentionRule } from '../../src/server/retention/rules/retention-rules.ts';
import { addSet } from '../../src/server/holdings/detection/labelled/labelled-sets.ts';
import { NO_CONNECTION } from '../../src/server/http/outgoing.ts';
import { addJob } from '../../src/server/jobs/job.ts';
import { PASSWORD, signIn, testAccount, testContext, testSite, unique } from '../integration/context.ts';

const ctx = testContext();
const API = join(PROJECT, 'src/pages/api');

/** Who may come in, by a letter each; written down once more, so that a grant that slips is seen. */
const LETTER: Readonly<Record<BuiltInRole, string>> = {
  officer: 'O',
  'site manager': 'S',
  'data steward': 'D',
  'records manager': 'R',
  'access reviewer': 'A',
  'request handler': 'Q',
  auditor: 'U',
};
const ALL = 'OSDRAQU';
const POLICY: Readonly<Record<string, string>> = {
  'GET cases/ai/index': 'OSDRAQU',
  'POST cases/ai/index': 'OSD',
  'GET cases/ai/catalogue': 'OSDRAQU',
  'GET cases/ai/[id]/index': 'OSDRAQU',
  'POST cases/ai/[id]/index': 'OSD',
  'GET cases/impact/index': 'OSDRAQU',
  'POST cases/impact/index': 'OSD',
  'GET cases/impact/[id]/index': 'OSDRAQU',
  'POST cases/impact/[id]/index': 'OSD',
  'GET cases/impact/[id]/pdf': 'OSDRAQU',
  'DELETE cases/mail/[id]': 'OQ',
  'GET cases/incidents/index': 'OQU',
  'POST cases/incidents/index': 'OQ',
  'GET cases/incidents/[id]/index': 'OQU',
  'POST cases/incidents/[id]/index': 'OQ',
  'GET cases/incidents.csv': 'OQU',
  'GET cases/questionnaires/index': 'OSDRAQU',
  'POST cases/questionnaires/index': 'OSD',
  'GET cases/register.csv': 'OSDRAQU',
  'GET cases/requests/counts': 'OQU',
  'GET cases/requests/index': 'OQU',
  'POST cases/requests/index': 'OQ',
  'GET cases/requests/[id]/index': 'OQU',
  'POST cases/requests/[id]/index': 'OQ',
  'POST cases/requests/[id]/agree': 'O',
  'GET cases/requests/[id]/items/[item]': 'OSDRAQ',
  'POST cases/requests/[id]/items/[item]': 'OSDRAQ',
  'GET cases/requests/[id]/letters/[letter]': 'OQ',
  'GET cases/requests/[id]/proof': 'OQ',
  'POST cases/requests/[id]/subject': 'OQ',
  'GET cases/requests.csv': 'OQU',
  'GET cases/shelf': ALL,
  'GET cases/tasks/index': ALL,
  'GET cases/tasks/people': 'OSDRAQ',
  'GET cases/tasks/[id]': ALL,
  'POST cases/tasks/[id]': 'OSDRAQ',
  'GET cases/vendors/index': 'OSDRAQU',
  'POST cases/vendors/index': 'OSD',
  'GET cases/vendors/[id]/index': 'OSDRAQU',
  'POST cases/vendors/[id]/index': 'OSD',
  'POST cases/vendors/[id]/contract': 'OSD',
  'GET cases/vendors/[id]/files/[file]': 'OSDRAQU',
  'POST access/changes/[id]/[act]': 'OA',
  'GET access/changes/[id]/index': 'ODRAU',
  'GET access/changes/[id]/order': 'ODRAU',
  'GET access/changes/[id]/steps': 'ODRAU',
  'GET access/changes/index': 'ODRAU',
  'POST access/changes/index': 'OA',
  'POST access/changes/rehearse': 'ODRAU',
  'GET access/events/export.csv': 'ODRAU',
  'GET access/events/index': 'ODRAU',
  'GET access/events/initiators': 'ODRAU',
  'GET access/findings': 'ODRAU',
  'GET access/pair': 'ODRAU',
  'GET access/hands/index': 'ODRAU',
  'POST access/hands/index': 'OA',
  'DELETE access/hands/[id]': 'OA',
  'PUT access/changes/[id]/reason': 'OA',
  'GET access/people/[key]/difference': 'ODRAU',
  'GET access/people/[key]/export': 'ODRAU',
  'GET access/people/[key]/index': 'ODRAU',
  'GET access/people/[key]/reached': 'ODRAU',
  'GET access/people/index': 'ODRAU',
  'GET access/places/[key]/below': 'ODRAU',
  'GET access/places/[key]/difference': 'ODRAU',
  'GET access/places/[key]/export': 'ODRAU',
  'GET access/places/[key]/grants': 'ODRAU',
  'GET access/places/[key]/index': 'ODRAU',
  'PUT access/places/[key]/watch': 'OA',
  'GET access/places/[key]/who': 'ODRAU',
  'GET access/places/index': 'ODRAU',
  'GET access/places/search': 'ODRAU',
  'POST access/reviews/[id]/answer': 'OA',
  'POST access/reviews/[id]/end': 'OA',
  'GET access/reviews/[id]/evidence.csv': 'ODRAU',
  'POST access/reviews/[id]/hand-on': 'OA',
  'GET access/reviews/[id]/index': 'ODRAU',
  'GET access/reviews/[id]/lines': 'ODRAU',
  'GET access/reviews/index': 'ODRAU',
  'POST access/reviews/index': 'OA',
  'GET access/shelf': 'ODRAU',
  'DELETE access/sources/[id]/index': 'OA',
  'GET access/sources/[id]/index': 'ODRAU',
  'PUT access/sources/[id]/index': 'OA',
  'POST access/sources/[id]/read': 'OA',
  'GET access/sources/holdings': 'OA',
  'GET access/sources/index': 'ODRAU',
  'POST access/sources/index': 'OA',
  'GET accounts/[id]/index': 'OAU',
  'PATCH accounts/[id]/index': 'O',
  'DELETE accounts/[id]/sessions': 'O',
  'DELETE accounts/[id]/factors': 'O',
  'GET accounts/factors': ALL,
  'POST accounts/factors': ALL,
  'POST accounts/sign-in-policy/outlook': 'OAU',
  'GET accounts/providers/index': 'OAU',
  'POST accounts/providers/index': 'O',
  'GET accounts/providers/[id]/index': 'OAU',
  'PATCH accounts/providers/[id]/index': 'O',
  'POST accounts/providers/[id]/keeping': 'O',
  'DELETE accounts/providers/[id]/keeping': 'O',
  'GET accounts/index': 'OAU',
  'GET accounts/language': ALL,
  'PUT accounts/language': ALL,
  'POST accounts/password': ALL,
  'DELETE accounts/sessions/[id]': ALL,
  'DELETE accounts/programs/[id]': 'O',
  'GET accounts/hooks/index': 'OAU',
  'POST accounts/hooks/index': 'O',
  'GET accounts/hooks/[id]/index': 'OAU',
  'DELETE accounts/hooks/[id]/index': 'O',
  'POST accounts/hooks/[id]/try': 'O',
  'POST accounts/hooks/[id]/again': 'O',
  'GET accounts/tokens/index': ALL,
  'POST accounts/tokens/index': 'OSDRAQ',
  'DELETE accounts/tokens/[id]': ALL,
  'GET openapi.json': ALL,
  'GET accounts/programs/index': 'OAU',
  'POST accounts/programs/index': 'O',
  'GET accounts/roles/[id]/outlook': 'OAU',
  'GET accounts/roles/index': 'OAU',
  'POST accounts/roles/index': 'O',
  'GET accounts/scopes': 'OAU',
  'GET accounts/sessions/index': ALL,
  'POST accounts/sign-out': ALL,
  'GET accounts/staff/index': 'ODRAQU',
  'POST accounts/staff/index': 'OA',
  'GET evidence/reports/index': ALL,
  'POST evidence/reports/index': 'OSDRAQ',
  'GET evidence/reports/subjects': ALL,
  'GET evidence/reports/files': ALL,
  'GET evidence/reports/fetch': ALL,
  'GET evidence/reports/[id]/index': ALL,
  'DELETE evidence/reports/[id]/index': 'OSDRAQ',
  'POST evidence/reports/[id]/make': 'OSDRAQ',
  'PUT evidence/reports/[id]/addresses': 'O',
  'GET objects/[kind]/[id]/index report': ALL,
  'PUT objects/[kind]/[id]/index report': 'OSDRAQ',
  'GET objects/[kind]/[id]/history report': ALL,
  'GET objects/[kind]/[id]/at report': ALL,
  'POST objects/[kind]/[id]/undo report': 'OSDRAQ',
  'GET evidence/boards/index': ALL,
  'POST evidence/boards/index': 'OSDRAQ',
  'GET evidence/boards/[id]/index': ALL,
  'DELETE evidence/boards/[id]/index': 'OSDRAQ',
  'GET evidence/boards/[id]/pdf': ALL,
  'GET evidence/boards/[id]/links/index': 'O',
  'POST evidence/boards/[id]/links/index': 'O',
  'DELETE evidence/boards/[id]/links/[link]': 'O',
  'GET evidence/figures/[id]/index': ALL,
  'GET evidence/figures/[id]/rows': ALL,
  'GET evidence/figures/[id]/people': 'O',
  'POST evidence/figures/[id]/aim': 'O',
  'GET objects/[kind]/[id]/index board': ALL,
  'PUT objects/[kind]/[id]/index board': 'OSDRAQ',
  'GET objects/[kind]/[id]/history board': ALL,
  'GET objects/[kind]/[id]/at board': ALL,
  'POST objects/[kind]/[id]/undo board': 'OSDRAQ',
  'GET evidence/backups': 'OSDRAU',
  'GET evidence/export': 'ORU',
  'GET evidence/ledger': 'OSDRAU',
  'GET evidence/proof': 'OSDRAU',
  'POST evidence/verify': 'OSDRAU',
  'GET figures': ALL,
  'GET find': ALL,
  'POST holdings/detectors/[id]/build': 'OD',
  'GET holdings/detectors/[id]/index': 'ODRQU',
  'DELETE holdings/detectors/[id]/texts/[text]': 'OD',
  'GET holdings/detectors/[id]/texts/[text]': 'OD',
  'POST holdings/detectors/[id]/texts/index': 'OD',
  'POST holdings/detectors/[id]/train': 'OD',
  'GET holdings/detectors/export': 'ODRQU',
  'POST holdings/detectors/import': 'OD',
  'GET holdings/detectors/index': 'ODRQU',
  'POST holdings/detectors/index': 'OD',
  'POST holdings/detectors/table': 'OD',
  'POST holdings/detectors/trial': 'ODRQU',
  'DELETE holdings/sets/[set]/index': 'OD',
  'GET holdings/sets/[set]/index': 'OD',
  'GET holdings/sets/[set]/overview': 'ODRQU',
  'POST holdings/sets/[set]/score': 'OD',
  'DELETE holdings/sets/[set]/texts/[text]': 'OD',
  'PUT holdings/sets/[set]/texts/[text]': 'OD',
  'POST holdings/sets/[set]/texts/index': 'OD',
  'GET holdings/sets/index': 'ODRQU',
  'POST holdings/sets/index': 'OD',
  'GET holdings/activities/contradictions': 'ODRQU',
  'POST holdings/activities/contradictions': 'ODR',
  'GET holdings/activities/export': 'ODRQU',
  'GET holdings/activities/flows': 'ODRQU',
  'POST holdings/activities/import/columns': 'ODR',
  'POST holdings/activities/import/marked': 'ODR',
  'POST holdings/activities/import/table': 'ODR',
  'GET holdings/activities/index': 'ODRQU',
  'POST holdings/activities/index': 'ODR',
  'GET holdings/items/compare': 'ODRQU',
  'GET holdings/items/days': 'ODRQU',
  'GET holdings/items/[id]/index': 'ODRQU',
  'POST holdings/items/[id]/judge': 'ODRQ',
  'POST holdings/items/[id]/reveal': 'O',
  'POST holdings/items/[id]/teach': 'OD',
  'POST holdings/items/[id]/text': 'ODRQ',
  'GET holdings/items/export': 'ODRQU',
  'GET holdings/items/figures': 'ODRQU',
  'GET holdings/items/index': 'ODRQU',
  'GET holdings/items/names': 'ODRQU',
  'GET holdings/items/places': 'ODRQU',
  'GET holdings/judgements': 'ODRQU',
  'POST holdings/judgements': 'ODRQ',
  'DELETE holdings/lenses/[id]': 'ODRQ',
  'GET holdings/lenses/index': 'ODRQU',
  'POST holdings/lenses/index': 'ODRQ',
  'GET holdings/shelf': 'ODRQU',
  'POST holdings/listings/[id]/marked': 'OD',
  'GET holdings/listings/[id]/index': 'ODRQU',
  'PUT holdings/listings/[id]/index': 'OD',
  'DELETE holdings/listings/[id]/index': 'OD',
  'POST holdings/listings/[id]/read': 'OD',
  'POST holdings/listings/[id]/table': 'OD',
  'GET holdings/listings/[id]/stores/index': 'ODRQU',
  'POST holdings/listings/[id]/stores/aside': 'OD',
  'POST holdings/listings/[id]/stores/take': 'OD',
  'POST holdings/listings/[id]/columns': 'OD',
  'GET holdings/listings/index': 'ODRQU',
  'POST holdings/listings/index': 'OD',
  'DELETE holdings/sources/[id]/index': 'OD',
  'POST holdings/sources/[id]/check': 'OD',
  'GET holdings/sources/[id]/tables': 'OD',
  'GET holdings/sources/[id]/index': 'ODRQU',
  'PUT holdings/sources/[id]/index': 'OD',
  'GET holdings/sources/index': 'ODRQU',
  'POST holdings/sources/index': 'OD',
  'GET holdings/stewards': 'ODRQU',
  'POST holdings/surveys/[id]/estimate': 'OD',
  'GET holdings/surveys/[id]/index': 'ODRQU',
  'GET holdings/surveys/index': 'ODRQU',
  'POST holdings/surveys/index': 'OD',
  'GET holdings/surveys/names': 'ODRQU',
  'GET holdings/systems/index': 'ODRQU',
  'POST holdings/systems/index': 'OD',
  'DELETE jobs/[id]': 'OSD',
  'GET live': ALL,
  'DELETE today': ALL,
  'GET today/people': ALL,
  'GET today/trends': ALL,
  'GET today/visit': ALL,
  'POST today/visit': ALL,
  'PUT today/put-off': ALL,
  'DELETE today/put-off': ALL,
  'PUT today/hand-on': ALL,
  'DELETE today/hand-on': ALL,
  'GET today': ALL,
  'GET objects/[kind]/[id]/index account scope': 'OAU',
  'GET objects/[kind]/[id]/history account scope': 'OAU',
  'GET objects/[kind]/[id]/at account scope': 'OAU',
  'PUT objects/[kind]/[id]/index account scope': 'O',
  'POST objects/[kind]/[id]/undo account scope': 'O',
  'GET objects/[kind]/[id]/index approval policy': ALL,
  'GET objects/[kind]/[id]/history approval policy': ALL,
  'GET objects/[kind]/[id]/at approval policy': ALL,
  'PUT objects/[kind]/[id]/index approval policy': 'O',
  'POST objects/[kind]/[id]/undo approval policy': 'O',
  'GET objects/[kind]/[id]/index access source': 'ODRAU',
  'GET objects/[kind]/[id]/history access source': 'ODRAU',
  'GET objects/[kind]/[id]/at access source': 'ODRAU',
  'PUT objects/[kind]/[id]/index access source': 'OA',
  'POST objects/[kind]/[id]/undo access source': 'OA',
  'GET objects/[kind]/[id]/index clock': 'ODRQU',
  'GET objects/[kind]/[id]/history clock': 'ODRQU',
  'GET objects/[kind]/[id]/at clock': 'ODRQU',
  'PUT objects/[kind]/[id]/index clock': 'OR',
  'POST objects/[kind]/[id]/undo clock': 'OR',
  'GET objects/[kind]/[id]/index retention policy': 'ODRQU',
  'GET objects/[kind]/[id]/history retention policy': 'ODRQU',
  'GET objects/[kind]/[id]/at retention policy': 'ODRQU',
  'PUT objects/[kind]/[id]/index retention policy': 'OR',
  'POST objects/[kind]/[id]/undo retention policy': 'OR',
  'GET objects/[kind]/[id]/index activity': 'ODRQU',
  'GET objects/[kind]/[id]/history activity': 'ODRQU',
  'GET objects/[kind]/[id]/at activity': 'ODRQU',
  'PUT objects/[kind]/[id]/index activity': 'ODR',
  'POST objects/[kind]/[id]/undo activity': 'ODR',
  'GET objects/[kind]/[id]/index listing': 'ODRQU',
  'GET objects/[kind]/[id]/history listing': 'ODRQU',
  'GET objects/[kind]/[id]/at listing': 'ODRQU',
  'PUT objects/[kind]/[id]/index listing': 'OD',
  'POST objects/[kind]/[id]/undo listing': 'OD',
  'GET objects/[kind]/[id]/index lens': 'ODRQU',
  'GET objects/[kind]/[id]/history lens': 'ODRQU',
  'GET objects/[kind]/[id]/at lens': 'ODRQU',
  'PUT objects/[kind]/[id]/index lens': 'ODRQ',
  'POST objects/[kind]/[id]/undo lens': 'ODRQ',
  'GET objects/[kind]/[id]/index source': 'ODRQU',
  'GET objects/[kind]/[id]/history source': 'ODRQU',
  'GET objects/[kind]/[id]/at source': 'ODRQU',
  'PUT objects/[kind]/[id]/index source': 'OD',
  'POST objects/[kind]/[id]/undo source': 'OD',
  'GET objects/[kind]/[id]/index survey': 'ODRQU',
  'GET objects/[kind]/[id]/history survey': 'ODRQU',
  'GET objects/[kind]/[id]/at survey': 'ODRQU',
  'PUT objects/[kind]/[id]/index survey': 'OD',
  'POST objects/[kind]/[id]/undo survey': 'OD',
  'GET objects/[kind]/[id]/index system': 'ODRQU',
  'GET objects/[kind]/[id]/history system': 'ODRQU',
  'GET objects/[kind]/[id]/at system': 'ODRQU',
  'PUT objects/[kind]/[id]/index system': 'OD',
  'POST objects/[kind]/[id]/undo system': 'OD',
  'GET objects/[kind]/[id]/index level policy': 'ODRQU',
  'GET objects/[kind]/[id]/history level policy': 'ODRQU',
  'GET objects/[kind]/[id]/at level policy': 'ODRQU',
  'PUT objects/[kind]/[id]/index level policy': 'O',
  'POST objects/[kind]/[id]/undo level policy': 'O',
  'DELETE obligations/measures/[key]/evidence/[id]': 'OSDRAQ',
  'GET obligations/assessments/[id]/export': ALL,
  'GET obligations/assessments/[id]/index': ALL,
  'POST obligations/assessments/[id]/version': 'O',
  'GET obligations/assessments/index': ALL,
  'POST obligations/assessments/index': 'O',
  'GET obligations/library/[id]/differences': ALL,
  'GET obligations/library/[id]/export': ALL,
  'GET obligations/library/[id]/extend': ALL,
  'GET obligations/library/[id]/index': ALL,
  'GET obligations/library/[id]/start': ALL,
  'POST obligations/library/[id]/remove': 'O',
  'POST obligations/library/import/index': 'O',
  'POST obligations/library/import/look': 'O',
  'POST obligations/library/import/marked': 'O',
  'GET obligations/library/index': ALL,
  'GET obligations/library/sample': ALL,
  'POST obligations/cycles/[id]/copy': 'O',
  'POST obligations/cycles/[id]/provider': 'OSDRAQ',
  'GET obligations/measures/[key]/evidence/[id]': ALL,
  'POST obligations/measures/[key]/comments': 'OSDRAQ',
  'POST obligations/measures/[key]/evidence/figure': 'OSDRAQ',
  'POST obligations/measures/[key]/evidence/index': 'OSDRAQ',
  'GET obligations/measures/[key]/index': ALL,
  'GET obligations/measures/index': ALL,
  'GET obligations/people': ALL,
  'GET obligations/systems': ALL,
  'GET protection/activity.csv': 'O',
  'GET protection/alerts.csv': 'OQ',
  'GET protection/alerts/[id]/index': 'OQ',
  'POST protection/alerts/[id]/index': 'OQ',
  'GET protection/alerts/counts': 'OQ',
  'GET protection/alerts/index': 'OQ',
  'POST protection/alerts/many': 'OQ',
  'GET protection/evidence/index': 'O',
  'POST protection/evidence/[id]/index': 'O',
  'PUT protection/evidence/[id]/index': 'O',
  'DELETE protection/evidence/[id]/index': 'O',
  'GET protection/lookouts/[id]/outlook': 'O',
  'GET protection/lookouts/hooks': 'O',
  'POST protection/lookouts/hooks': 'O',
  'DELETE protection/lookouts/hooks': 'O',
  'GET protection/lookouts/index': 'OQ',
  'POST protection/lookouts/index': 'O',
  'POST protection/lookouts/many': 'O',
  'GET protection/lookouts/names': 'OQ',
  'GET protection/questions/index': 'O',
  'GET protection/use': 'O',
  'GET protection/view/[id]/outlook': 'O',
  'GET protection/view/index': 'O',
  'GET protection/view/names': 'O',
  'POST protection/view/index': 'O',
  'POST protection/questions/[id]/index': 'O',
  'GET protection/activity/[id]/index': 'O',
  'GET protection/activity/counts': 'O',
  'GET protection/activity/index': 'O',
  'GET protection/activity/kept': 'O',
  'PUT protection/activity/kept': 'O',
  'GET protection/devices.csv': 'ODRQU',
  'DELETE protection/devices/[id]/index': 'O',
  'GET protection/devices/[id]/index': 'ODRQU',
  'GET protection/devices/enrolments': 'O',
  'POST protection/devices/enrolments': 'O',
  'DELETE protection/devices/enrolments': 'O',
  'GET protection/devices/groups': 'ODRQU',
  'POST protection/devices/groups': 'O',
  'GET protection/devices/index': 'ODRQU',
  'PUT protection/devices/index': 'O',
  'DELETE protection/groups/[id]/index': 'OD',
  'GET protection/groups/[id]/index': 'ODRQU',
  'POST protection/groups/[id]/members': 'OD',
  'GET protection/groups/index': 'ODRQU',
  'POST protection/groups/index': 'OD',
  'GET protection/handling/[id]/day': 'O',
  'GET protection/handling/[id]/mends': 'O',
  'GET protection/handling/[id]/outlook': 'O',
  'GET protection/handling/index': 'ODRQU',
  'POST protection/handling/index': 'OD',
  'GET protection/handling/names': 'ODRQU',
  'GET protection/items/[id]/index': 'ODRQU',
  'POST protection/items/[id]/index': 'OD',
  'POST protection/items/[id]/pdf-side': 'O',
  'POST protection/items/[id]/sides': 'O',
  'GET protection/levels/[id]/figures': 'ODRQU',
  'POST protection/levels/[id]/try': 'OD',
  'GET protection/levels/index': 'ODRQU',
  'POST protection/levels/index': 'OD',
  'POST protection/levels/order': 'O',
  'GET protection/offered': 'ODRQU',
  'GET protection/outlook': 'ODRQU',
  'GET protection/proposals/index': 'ODRQU',
  'POST protection/proposals/index': 'OD',
  'POST protection/proposals/many': 'OD',
  'GET protection/publications/[id]/outlook': 'ODRQU',
  'GET protection/publications/index': 'ODRQU',
  'POST protection/publications/index': 'OD',
  'GET protection/publications/names': 'ODRQU',
  'GET protection/rules/index': 'ODRQU',
  'POST protection/rules/index': 'OD',
  'GET protection/runs/[id]/index': 'ODRQU',
  'POST protection/runs/[id]/undo': 'O',
  'GET protection/runs/index': 'ODRQU',
  'POST protection/runs/index': 'O',
  'GET protection/shelf': 'ODRQU',
  'GET retention/clocks/index': 'ODRQU',
  'POST retention/clocks/index': 'OR',
  'DELETE retention/clocks/[id]/index': 'OR',
  'POST retention/clocks/[id]/list': 'OR',
  'GET retention/disposals/index': 'ODRQU',
  'GET retention/disposals/[id]/index': 'ODRQU',
  'GET retention/disposals/[id]/certificate': 'ODRQU',
  'GET retention/disposals/[id]/copies': 'ODRQU',
  'GET retention/disposals/[id]/items': 'ODRQU',
  'POST retention/disposals/[id]/keep': 'OR',
  'POST retention/disposals/[id]/put-back': 'OR',
  'POST retention/disposals/[id]/say': 'OR',
  'GET retention/exceptions/index': 'ODRQU',
  'POST retention/exceptions/index': 'ODR',
  'DELETE retention/exceptions/[id]/index': 'ODR',
  'GET retention/holds/index': 'ODRQU',
  'POST retention/holds/index': 'OR',
  'GET retention/holds/[id]/outlook': 'ODRQU',
  'GET retention/items/[id]/index': 'ODRQU',
  'GET retention/law/index': 'ODRQU',
  'POST retention/law/index': 'OR',
  'GET retention/names': 'ODRQU',
  'GET retention/reviews/index': 'ODRQU',
  'POST retention/reviews/index': 'OR',
  'GET retention/rules/index': 'ODRQU',
  'POST retention/rules/index': 'OR',
  'GET retention/rules/[id]/first': 'ODRQU',
  'GET retention/rules/[id]/outlook': 'ODRQU',
  'GET retention/schedule/index': 'ODRQU',
  'GET retention/schedule/export': 'ODRQU',
  'POST retention/schedule/import/columns': 'OR',
  'POST retention/schedule/import/marked': 'OR',
  'POST retention/schedule/import/table': 'OR',
  'GET retention/shelf': 'ODRQU',
  'GET retention/totals': 'ODRQU',
  'DELETE rules/[kind]/[id]/approval/index level': 'O',
  'GET rules/[kind]/[id]/approval/index level': 'O',
  'POST rules/[kind]/[id]/approval/index level': 'O',
  'POST rules/[kind]/[id]/approval/say level': 'O',
  'GET rules/[kind]/[id]/index level': 'ODRQU',
  'GET rules/[kind]/[id]/history level': 'ODRQU',
  'DELETE rules/[kind]/[id]/index level': 'OD',
  'PUT rules/[kind]/[id]/index level': 'OD',
  'POST rules/[kind]/[id]/move level': 'O',
  'POST rules/[kind]/[id]/take-back level': 'OD',
  'POST rules/[kind]/[id]/undo level': 'OD',
  'DELETE rules/[kind]/[id]/approval/index level rule': 'O',
  'GET rules/[kind]/[id]/approval/index level rule': 'O',
  'POST rules/[kind]/[id]/approval/index level rule': 'O',
  'POST rules/[kind]/[id]/approval/say level rule': 'O',
  'GET rules/[kind]/[id]/index level rule': 'ODRQU',
  'GET rules/[kind]/[id]/history level rule': 'ODRQU',
  'DELETE rules/[kind]/[id]/index level rule': 'OD',
  'PUT rules/[kind]/[id]/index level rule': 'OD',
  'POST rules/[kind]/[id]/move level rule': 'O',
  'POST rules/[kind]/[id]/take-back level rule': 'OD',
  'POST rules/[kind]/[id]/undo level rule': 'OD',
  'DELETE rules/[kind]/[id]/approval/index retention rule': 'OR',
  'GET rules/[kind]/[id]/approval/index retention rule': 'OR',
  'POST rules/[kind]/[id]/approval/index retention rule': 'OR',
  'POST rules/[kind]/[id]/approval/say retention rule': 'OR',
  'GET rules/[kind]/[id]/index retention rule': 'ODRQU',
  'GET rules/[kind]/[id]/history retention rule': 'ODRQU',
  'DELETE rules/[kind]/[id]/index retention rule': 'OR',
  'PUT rules/[kind]/[id]/index retention rule': 'OR',
  'POST rules/[kind]/[id]/move retention rule': 'OR',
  'POST rules/[kind]/[id]/take-back retention rule': 'OR',
  'POST rules/[kind]/[id]/undo retention rule': 'OR',
  'DELETE rules/[kind]/[id]/approval/index bound': 'OR',
  'GET rules/[kind]/[id]/approval/index bound': 'OR',
  'POST rules/[kind]/[id]/approval/index bound': 'OR',
  'POST rules/[kind]/[id]/approval/say bound': 'OR',
  'GET rules/[kind]/[id]/index bound': 'ODRQU',
  'GET rules/[kind]/[id]/history bound': 'ODRQU',
  'DELETE rules/[kind]/[id]/index bound': 'OR',
  'PUT rules/[kind]/[id]/index bound': 'OR',
  'POST rules/[kind]/[id]/move bound': 'OR',
  'POST rules/[kind]/[id]/take-back bound': 'OR',
  'POST rules/[kind]/[id]/undo bound': 'OR',
  'DELETE rules/[kind]/[id]/approval/index hold': 'OR',
  'GET rules/[kind]/[id]/approval/index hold': 'OR',
  'POST rules/[kind]/[id]/approval/index hold': 'OR',
  'POST rules/[kind]/[id]/approval/say hold': 'OR',
  'GET rules/[kind]/[id]/index hold': 'ODRQU',
  'GET rules/[kind]/[id]/history hold': 'ODRQU',
  'DELETE rules/[kind]/[id]/index hold': 'OR',
  'PUT rules/[kind]/[id]/index hold': 'OR',
  'POST rules/[kind]/[id]/move hold': 'OR',
  'POST rules/[kind]/[id]/take-back hold': 'OR',
  'POST rules/[kind]/[id]/undo hold': 'OR',
  'DELETE rules/[kind]/[id]/approval/index detector': 'O',
  'GET rules/[kind]/[id]/approval/index detector': 'O',
  'POST rules/[kind]/[id]/approval/index detector': 'O',
  'POST rules/[kind]/[id]/approval/say detector': 'O',
  'GET rules/[kind]/[id]/index detector': 'ODRQU',
  'GET rules/[kind]/[id]/history detector': 'ODRQU',
  'DELETE rules/[kind]/[id]/index detector': 'OD',
  'PUT rules/[kind]/[id]/index detector': 'OD',
  'POST rules/[kind]/[id]/move detector': 'O',
  'POST rules/[kind]/[id]/take-back detector': 'OD',
  'POST rules/[kind]/[id]/undo detector': 'OD',
  'DELETE rules/[kind]/[id]/approval/index notice': 'OS',
  'GET rules/[kind]/[id]/approval/index notice': 'OS',
  'POST rules/[kind]/[id]/approval/index notice': 'OS',
  'POST rules/[kind]/[id]/approval/say notice': 'OS',
  'GET rules/[kind]/[id]/index notice': 'OSDRQU',
  'GET rules/[kind]/[id]/history notice': 'OSDRQU',
  'DELETE rules/[kind]/[id]/index notice': 'OS',
  'PUT rules/[kind]/[id]/index notice': 'OS',
  'POST rules/[kind]/[id]/move notice': 'OS',
  'POST rules/[kind]/[id]/take-back notice': 'OS',
  'POST rules/[kind]/[id]/undo notice': 'OS',
  'GET runs/[id]/index': ALL,
  'POST runs/[id]/index': ALL,
  'GET runs/[id]/results': ALL,
  'PUT uploads/[id]/[part]': 'OSDRA',
  'POST uploads/index': 'OSDRA',
  'GET websites/[host]/gate': 'OSDRQU',
  'PATCH websites/[host]/gate': 'OS',
  'GET websites/[host]/tags': 'OSDRQU',
  'POST websites/[host]/tags': 'OS',
  'GET websites/[host]/visits/index': 'OSDRQU',
  'POST websites/[host]/visits/index': 'OS',
  'GET websites/[host]/visits/[id]/index': 'OSDRQU',
  'GET websites/[host]/visits/[id]/report.json': 'OSDRQU',
  'GET websites/[host]/visits/[id]/report.pdf': 'OSDRQU',
  'GET websites/[host]/rates': 'OSDRQU',
  'GET websites/[host]/shown-trackers': 'OSDRQU',
  'GET websites/[host]/shown-vendors': 'OSDRQU',
  'GET websites/[host]/trial': 'OSDRQU',
  'PUT websites/[host]/trial': 'OS',
  'DELETE websites/[host]/trial': 'OS',
  'GET websites/[host]/statement/index': 'OSDRQU',
  'PUT websites/[host]/statement/index': 'OS',
  'POST websites/[host]/statement/index': 'OS',
  'GET websites/[host]/statement/file': 'OSDRQU',
  'GET websites/[host]/addresses': 'OSDRQU',
  'POST websites/[host]/addresses': 'OS',
  'PUT websites/[host]/addresses': 'OS',
  'PATCH websites/[host]/addresses': 'OS',
  'POST websites/[host]/consents/erase': 'OSQ',
  'GET websites/[host]/consents/counts': 'OSQU',
  'GET websites/[host]/consents.jsonl': 'OSQU',
  'GET websites/consent-log': 'OSQU',
  'PUT websites/consent-log': 'OS',
  'GET websites/preferences/index': 'OSQU',
  'POST websites/preferences/index': 'OS',
  'GET websites/preferences/people/index': 'OSQU',
  'POST websites/preferences/people/index': 'OS',
  'POST websites/preferences/people/list': 'OS',
  'GET websites/preferences/people/[id]/index': 'OSQU',
  'POST websites/preferences/people/[id]/index': 'OSQ',
  'DELETE websites/preferences/people/[id]/index': 'OSQ',
  'POST websites/preferences/people/[id]/letter': 'OS',
  'GET websites/preferences/people.csv': 'OS',
  'GET websites/preferences/tools/index': 'OSQU',
  'POST websites/preferences/tools/index': 'OS',
  'POST websites/preferences/tools/[id]': 'OS',
  'DELETE websites/preferences/tools/[id]': 'OS',
  'GET websites/vendor-list': 'OSDRQU',
  'POST websites/vendor-list': 'OS',
  'GET websites/purpose-uses': 'OSDRQU',
  'PUT websites/purposes': 'OS',
  'GET websites/tag-systems/index': 'OSDRQU',
  'POST websites/tag-systems/index': 'OS',
  'PUT websites/tag-systems/[id]': 'OS',
  'DELETE websites/tag-systems/[id]': 'OS',
  'GET websites/[host]/consents.csv': 'OSQU',
  'GET websites/[host]/consents/[id]': 'OSQU',
  'GET websites/[host]/consents/index': 'OSQU',
  'GET websites/[host]/index': 'OSDRQU',
  'PATCH websites/[host]/index': 'OS',
  'POST websites/[host]/install-check': 'OS',
  'GET websites/[host]/notice': 'OSDRQU',
  'GET websites/[host]/soundings': 'OSDRQU',
  'GET websites/[host]/sweeps/[id]/index': 'OSDRQU',
  'GET websites/[host]/sweeps/[id]/picture/[visitor]': 'OSDRQU',
  'GET websites/[host]/sweeps/[id]/report.json': 'OSDRQU',
  'GET websites/[host]/sweeps/[id]/report.pdf': 'OSDRQU',
  'PATCH websites/[host]/reading': 'OS',
  'DELETE websites/[host]/reading': 'OS',
  'POST websites/[host]/sweeps/[id]/seen': 'OS',
  'POST websites/[host]/sweeps/index': 'OS',
  'GET websites/[host]/trackers.csv': 'OSDRQU',
  'DELETE websites/[host]/trackers/[id]/hold': 'OS',
  'POST websites/[host]/trackers/[id]/hold': 'OS',
  'GET websites/[host]/trackers/[id]/index': 'OSDRQU',
  'POST websites/[host]/trackers/[id]/trial': 'OS',
  'GET websites/[host]/trackers/index': 'OSDRQU',
  'POST websites/[host]/trackers/index': 'OS',
  'POST websites/[host]/trackers/restore': 'OS',
  'GET websites/index': 'OSDRQU',
  'POST websites/index': 'OS',
  'GET websites/library/[id]': 'OSDRQU',
  'DELETE websites/library/[id]': 'OS',
  'PUT websites/library/[id]': 'OS',
  'GET websites/library/export.csv': 'OSDRQU',
  'GET websites/library/export.json': 'OSDRQU',
  'POST websites/library/import': 'OS',
  'GET websites/library/index': 'OSDRQU',
  'POST websites/library/index': 'OS',
  'GET websites/purposes': 'OSDRQU',
  'GET websites/regimes/index': 'OSDRQU',
  'PUT websites/regimes/index': 'OS',
  'DELETE websites/regimes/[code]': 'OS',
};
/** Who may do what to rules and objects depends on their kind, which stands behind the endpoint. */
const ofKind = (name: string) => name.split(' ').slice(0, 2).join(' ');
/** Signing in is for everybody. */
const OPEN = ['index', 'factor', 'passkey', 'set-up'].map((step) => `POST accounts/sign-in/${step}`);

type Route = (api: unknown) => Promise<Response>;
const routes = new Map<string, Route>();
const accounts = new Map<BuiltInRole, Account>();

beforeAll(async () => {
  process.env['DATABASE_URL'] = ownDatabase();
  process.env['SECRET_KEY'] = ctx.settings.SECRET_KEY;
  for (const file of (await readdir(API, { recursive: true })).filter((f) => f.endsWith('.ts'))) {
    const module = (await import(join(API, file))) as Record<string, Route | undefined>;
    for (const method of ['GET', 'POST', 'PUT', 'PATCH', 'DELETE'])
      if (module[method]) routes.set(`${method} ${file.replace(/\.ts$/, '')}`, module[method]);
  }
  for (const role of BUILT_IN_ROLES) accounts.set(role, await testAccount(ctx, role));
});
afterAll(async () => {
  await closeLensThreads();
  await closeAccessThreads();
  await ctx.store.close();
});

/** Asks a route as the desk's server would; what it answers is not read. */
async function ask(
  name: string,
  account: Account | undefined,
  params: Readonly<Record<string, string>> = {},
  body: unknown = {},
): Promise<number> {
  const [method = ''] = name.split(' ');
  const reads = method === 'GET';
  const request = new Request('http://localhost:8730/api/x', {
    method,
    ...(reads ? {} : { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }),
  });
  const response = await (routes.get(name) as Route)({
    request,
    params,
    url: new URL(request.url),
    cookies: { get: () => undefined, set: () => {}, delete: () => {} },
    locals: { requestId: 'r', account, address: '192.0.2.1', outgoing: NO_CONNECTION },
  });
  await response.body?.cancel();
  return response.status;
}

/** Of nothing that there is: whoever is let in is told so. */
const NOWHERE = {
  host: 'nowhere.example',
  id: '999999999',
  set: '999999999',
  text: '999999999',
  part: '0',
  visitor: 'before',
  key: 'nowhere-at-a',
};

describe('every endpoint lets in those who may come, and nobody else', () => {
  it('stands in the policy', () => {
    expect([...routes.keys()].filter((r) => !OPEN.includes(r)).toSorted()).toEqual(
      [...new Set(Object.keys(POLICY).map(ofKind))].toSorted(),
    );
  });

  it.each(Object.entries(POLICY))('%s: %s', async (name, allowed) => {
    const [, , ...kind] = name.split(' ');
    const nowhere = { ...NOWHERE, kind: kind.join(' ') };
    expect(await ask(ofKind(name), undefined, nowhere)).toBe(401);
    let letIn = '';
    for (const role of BUILT_IN_ROLES) {
      const status = await ask(ofKind(name), accounts.get(role), nowhere);
      if (status !== 403) letIn += LETTER[role];
      // What fails on our side would look like being let in.
      expect(status, `${name} as ${role}`).toBeLessThan(500);
    }
    expect([...letIn].toSorted()).toEqual([...allowed].toSorted());
  });
});

describe('a token', () => {
  const token = (role: BuiltInRole, actions: readonly string[]) =>
    asToken(accounts.get(role) as Account, { id: 1, name: 'T', actions });

  it('that was given nothing is let in nowhere', async () => {
    for (const name of Object.keys(POLICY)) {
      const [, , ...kind] = name.split(' ');
      const nowhere = { ...NOWHERE, kind: kind.join(' ') };
      expect(await ask(ofKind(name), token('officer', []), nowhere), name).toBe(403);
    }
  }, 60_000);

  it('that was given everything is let in as its account is, but to no rights of others or of itself', async () => {
    const closed: string[] = [];
    for (const name of Object.keys(POLICY)) {
      const [, , ...kind] = name.split(' ');
      const nowhere = { ...NOWHERE, kind: kind.join(' ') };
      if ((await ask(ofKind(name), token('officer', TOKEN_ACTIONS), nowhere)) === 403) closed.push(name);
    }
    expect(closed.filter((name) => !/^\S+ (accounts\/|objects|rules)/.test(name))).toEqual([
      // A second person's yes.
      'POST cases/requests/[id]/agree',
    ]);
    expect(closed).toEqual(
      expect.arrayContaining([
        'POST accounts/tokens/index',
        'POST accounts/hooks/index',
        'POST accounts/programs/index',
        'POST accounts/password',
        'POST accounts/roles/index',
        'PATCH accounts/[id]/index',
      ]),
    );
  }, 60_000);

  it('does not say a second person’s yes', async () => {
    const all = token('officer', TOKEN_ACTIONS);
    const yes: [string, object][] = [
      ['POST cases/requests/[id]/agree', {}],
      ['POST retention/disposals/[id]/say', { agrees: true }],
      ['POST rules/[kind]/[id]/approval/say', { approval: '1', agrees: true, reason: 'x' }],
      ['POST cases/incidents/[id]/index', { does: { act: 'agree', agrees: true, words: 'x' } }],
    ];
    for (const [name, body] of yes) {
      const where = { ...NOWHERE, kind: 'notice' };
      expect(await ask(name, all, where, body), name).toBe(403);
      expect(await ask(name, accounts.get('officer'), where, body), name).not.toBe(403);
    }
  });
});

describe('what is there is there for those who may come alone', () => {
  it('a site, a detector, a labelled set', async () => {
    const officer = accounts.get('officer') as Account;
    const { host } = await testSite(ctx);
    const { id } = await addDetector(ctx, officer.id, {
      kind: 'pattern',
      name: unique('Locker '),
      from: { format: ['QX-1234'] },
    });
    const set = await addSet(ctx, officer.id, unique('Set '));
    const reads: [string, Readonly<Record<string, string>>][] = [
      ['GET websites/[host]/index', { host }],
      ['GET websites/[host]/soundings', { host }],
      ['GET websites/[host]/consents/index', { host }],
      ['GET holdings/detectors/[id]/index', { id }],
      ['GET holdings/sets/[set]/index', { set: String(set.id) }],
      ['GET accounts/[id]/index', { id: String(officer.id) }],
    ];
    for (const [name, params] of reads)
      for (const role of BUILT_IN_ROLES)
        expect(await ask(name, accounts.get(role), params), `${name} as ${role}`).toBe(
          POLICY[name]?.includes(LETTER[role]) ? 200 : 403,
        );
  });

  it('a site that somebody does not look after is closed to them, by every endpoint', async () => {
    const [mine, others] = [await testSite(ctx), await testSite(ctx)];
    const manager = { ...(accounts.get('site manager') as Account), scope: { site: [String(mine.id)] } };
    const of = (site: typeof mine) => ({ ...NOWHERE, host: site.host, kind: 'notice', id: String(site.id) });
    const about = Object.keys(POLICY).filter(
      (name) => / websites\/\[host\]/.test(name) || /^\S+ rules.* notice$/.test(name),
    );
    expect(about.length).toBeGreaterThan(30);
    const body = {
      ...{ revision: 1, version: 1, act: 'pause', approval: '1', agrees: true, reason: 'x', people: [1] },
      ...{ base: {}, content: {}, ids: [1], purpose: null, fix: 'gate', saw: {}, before: [], readAt: '' },
      ...{
        share: 10,
        tags: [{ host: 'a.example', name: '/' }],
        plan: {},
        pages: ['/'],
        region: 'DK',
        chosen: [],
      },
      ...{
        gpc: false,
        address: 'no address',
        retired: false,
        visitorKey: 'ab'.repeat(16),
        because: 'a letter',
      },
    };
    /** Where a name that several take means something else. */
    const own: Readonly<Record<string, object>> = {
      'PUT websites/[host]/addresses': { alsoAt: [], saw: [] },
    };
    let refused = 0;
    for (const name of about) {
      const status = await ask(ofKind(name), manager, of(others), { ...body, ...own[name] });
      // What cannot be read is refused before anybody looks for what it is about.
      expect([400, 403], name).toContain(status);
      if (status === 403) refused++;
      expect(await ask(ofKind(name), manager, of(mine), body), name).not.toBe(403);
    }
    expect(refused).toBeGreaterThan(about.length - 10);
    for (const name of ['DELETE websites/library/[id]', 'GET evidence/ledger', 'GET figures'])
      expect(await ask(name, manager, NOWHERE), name).toBe(403);
    const site = { address: 'https://x.example', name: 'X' };
    expect(await ask('POST websites/index', manager, {}, site)).toBe(403);
  });

  it('a source that somebody does not look after is closed to them, with its items and surveys', async () => {
    const now = ctx.now();
    const [mine = 0, others = 0] = await Promise.all([1, 2].map(() => testSource(ctx)));
    const steward = { ...(accounts.get('data steward') as Account), scope: { source: [String(mine)] } };
    const survey = await ctx.store.transaction((tx) =>
      addSurvey(tx, now, null, {
        ...USUAL_SURVEY,
        name: unique('survey'),
        sources: [String(mine), String(others)],
      }),
    );
    const item = await testItem(ctx, others);
    const listing = await ctx.store.transaction((tx) =>
      addListing(tx, ctx, null, {
        content: { name: unique('listing'), schedule: null, tell: [], owners: [] },
        address: { kind: 'table' },
        secret: '',
      }),
    );
    const body = {
      ...{
        address: { kind: 'folder', root: '/x' },
        detector: 'email',
        values: 'all',
        holds: true,
        number: 0,
        ids: ['1'],
      },
      ...{ revision: 1, base: {}, content: {}, act: 'pause', level: 'open' },
    };
    const about: readonly (readonly [string, Readonly<Record<string, string>>])[] = [
      ...['GET', 'PUT', 'DELETE'].map(
        (m) => [`${m} holdings/sources/[id]/index`, { id: String(others) }] as const,
      ),
      // What listings name is nobody's part yet.
      ['GET holdings/listings/index', {}],
      ['GET holdings/listings/[id]/index', { id: String(listing) }],
      ['GET holdings/listings/[id]/stores/index', { id: String(listing) }],
      ['POST holdings/listings/[id]/stores/take', { id: String(listing) }],
      ['GET objects/[kind]/[id]/index', { kind: 'listing', id: String(listing) }],
      ['POST holdings/sources/[id]/check', { id: String(others) }],
      ['GET holdings/sources/[id]/tables', { id: String(others) }],
      ['GET holdings/surveys/[id]/index', { id: String(survey) }],
      ['POST holdings/surveys/[id]/estimate', { id: String(survey) }],
      ['GET holdings/items/[id]/index', { id: String(item) }],
      ['POST holdings/items/[id]/judge', { id: String(item) }],
      ['POST holdings/items/[id]/text', { id: String(item) }],
      ['POST holdings/items/[id]/teach', { id: String(item) }],
      ['GET protection/items/[id]/index', { id: String(item) }],
      ['POST protection/items/[id]/index', { id: String(item) }],
      // What a run of levels did is told of all sources.
      ['GET protection/runs/index', {}],
      ['GET protection/runs/[id]/index', { id: '1' }],
      ...['source', 'survey'].flatMap((kind) =>
        [
          'GET objects/[kind]/[id]/index',
          'PUT objects/[kind]/[id]/index',
          'POST objects/[kind]/[id]/undo',
        ].map((name) => [name, { kind, id: String(kind === 'source' ? others : survey) }] as const),
      ),
    ];
    for (const [name, params] of about)
      expect(await ask(name, steward, params, body), `${name} ${JSON.stringify(params)}`).toBe(403);
    const proposed = { rule: '1', agree: true };
    expect(await ask('POST protection/proposals/index', steward, {}, { ...proposed, item })).toBe(403);
    expect(
      await ask('POST protection/proposals/many', steward, {}, { all: [{ item, rule: '1' }], agree: false }),
    ).toBe(403);
    expect(await ask('GET holdings/sources/[id]/index', steward, { id: String(mine) })).toBe(200);
    const wish = { ...USUAL_SURVEY, name: unique('survey'), sources: [String(others)] };
    expect(await ask('POST holdings/surveys/index', steward, {}, wish)).toBe(403);
    expect(await ask('POST holdings/surveys/index', steward, {}, { ...wish, sources: [String(mine)] })).toBe(
      200,
    );
  });

  it('who reaches what, which is told of every source at once, is closed to who looks after some', async () => {
    const mine = await testSource(ctx);
    const reviewer = { ...(accounts.get('access reviewer') as Account), scope: { source: [String(mine)] } };
    const body = {
      ...{
        wish: { act: 'clear', who: [NOWHERE.key] },
        days: 30,
        lines: [1],
        answer: 'keep',
        to: 'a@b.example',
      },
      ...{ name: 'x', scope: { places: [NOWHERE.key] }, due: '2999-01-01' },
      ...{
        content: { name: 'x', everyHours: null, writes: false, opens: '', holds: [] },
        address: { kind: 'staff list' },
      },
    };
    for (const name of Object.keys(POLICY).filter((n) => /^[A-Z]+ access\//.test(n)))
      expect([400, 403], name).toContain(await ask(name, reviewer, NOWHERE, body));
    for (const name of [
      'GET access/shelf',
      'GET access/places/[key]/index',
      'GET access/places/[key]/grants',
      'POST access/changes/index',
      'POST access/changes/[id]/[act]',
      'GET access/events/index',
      'GET access/findings',
      'POST access/reviews/index',
      'GET access/sources/index',
    ])
      expect(
        await ask(
          name,
          reviewer,
          { key: NOWHERE.key, id: '1', ...(name.includes('[act]') ? { act: 'begin' } : {}) },
          body,
        ),
        name,
      ).toBe(403);
    const key = unique('wide');
    await putOnToday(ctx.store, {
      ...{
        kind: 'too broad',
        key,
        action: 'access.read',
        words: key,
        detail: '',
        link: '/access',
        since: ctx.now(),
      },
      within: WHOLE_ESTATE,
    });
    const told = async (of: Account) => (await todayItems(ctx, of)).some((i) => i.key === key);
    expect(await told(reviewer)).toBe(false);
    expect(await told(accounts.get('access reviewer') as Account)).toBe(true);
    await takeOffToday(ctx.store, 'too broad', key);
  });

  it('what is kept and let go of a source that somebody does not look after is closed to them', async () => {
    const { store } = ctx;
    const [mine = 0, others = 0] = await Promise.all([1, 2].map(() => testSource(ctx)));
    const manager = { ...(accounts.get('records manager') as Account), scope: { source: [String(mine)] } };
    const items = new Map<number, number>();
    const disposals = new Map<number, string>();
    for (const source of [mine, others]) {
      const item = await testItem(ctx, source);
      items.set(source, item);
      const { id } = await store.run(
        `INSERT INTO disposal (rule_id, rule_version, rule_name, follows, owner, state, needed, silent, undo_days, items, made_at)
         VALUES ('1', 1, 'R', 'ask', 'Somebody', 'asked', 1, 'officer', 0, 1, NOW())`,
      );
      await store.run(
        "INSERT INTO disposal_item (disposal_id, item_id, source_id, state, goes, at) VALUES (?, ?, ?, 'waiting', NOW(), NOW())",
        [id, item, source],
      );
      disposals.set(source, String(id));
    }
    const rule = await store.transaction((tx) =>
      addRetentionRule(tx, ctx.now(), null, newRetentionRule(unique('rule'))),
    );
    const clock = await store.transaction((tx) =>
      addClock(tx, ctx.now(), null, newClock(unique('clock'), 'list')),
    );
    const body = (source: number) => ({
      ...{ agrees: false, reason: 'x', until: null, items: [items.get(source)] },
      ...{ content: KEPT, act: 'put in force', revision: 1, people: [1], approval: '1', upload: 1, base: {} },
    });
    for (const name of [
      'GET retention/disposals/[id]/index',
      'GET retention/disposals/[id]/items',
      'GET retention/disposals/[id]/copies',
      'GET retention/disposals/[id]/certificate',
      'POST retention/disposals/[id]/put-back',
      'POST retention/disposals/[id]/keep',
      'POST retention/disposals/[id]/say',
      'GET retention/items/[id]/index',
      'POST retention/exceptions/index',
    ]) {
      const id = (source: number) =>
        name.includes('items/[id]') ? String(items.get(source)) : (disposals.get(source) ?? '');
      expect(await ask(name, manager, { id: id(others) }, body(others)), name).toBe(403);
      expect(await ask(name, manager, { id: id(mine) }, body(mine)), name).not.toBe(403);
    }
    // Among their own, one of another source does not slip through.
    const both = { ...body(mine), items: [...items.values()] };
    expect(await ask('POST retention/exceptions/index', manager, {}, both)).toBe(403);
    // What a rule or a clock says reaches every source: some may be drafted, and none put in force.
    for (const [name, params] of [
      ['GET retention/disposals/index', {}],
      ['GET retention/exceptions/index', {}],
      ['DELETE retention/exceptions/[id]/index', { id: '1' }],
      ['POST rules/[kind]/[id]/move', { kind: 'retention rule', id: rule }],
      ['POST rules/[kind]/[id]/approval/index', { kind: 'retention rule', id: rule }],
      ['POST rules/[kind]/[id]/approval/say', { kind: 'retention rule', id: rule }],
      ['PUT objects/[kind]/[id]/index', { kind: 'clock', id: String(clock) }],
      ['PUT objects/[kind]/[id]/index', { kind: 'retention policy', id: '1' }],
      ['POST retention/clocks/[id]/list', { id: String(clock) }],
      ['DELETE retention/clocks/[id]/index', { id: String(clock) }],
    ] as const)
      expect(await ask(name, manager, params, body(mine)), name).toBe(403);
    expect(await ask('GET rules/[kind]/[id]/index', manager, { kind: 'retention rule', id: rule })).toBe(200);
    const whole = accounts.get('records manager') as Account;
    expect(
      await ask('POST rules/[kind]/[id]/move', whole, { kind: 'retention rule', id: rule }, body(mine)),
    ).not.toBe(403);
  });

  it.each<[string, (of: Account) => Promise<[string, Readonly<Record<string, string>>, unknown, number]>]>([
    [
      'a session',
      async (of) => {
        const { token } = await signIn(ctx, {
          email: of.email,
          password: PASSWORD,
          address: '100.67.0.1',
          userAgent: 'x',
        });
        return ['DELETE accounts/sessions/[id]', { id: sessionId(token) }, {}, 403];
      },
    ],
    [
      'a file that was sent',
      async (of) => {
        const { id } = await beginUpload(ctx, of.id, 'x.csv', 5);
        return ['PUT uploads/[id]/[part]', { id: String(id), part: '0' }, { base64: 'aGVsbG8=' }, 404];
      },
    ],
    [
      'an item of Today',
      async (of) => {
        const key = unique('key');
        await putOnToday(ctx.store, {
          kind: 'process',
          key,
          action: 'today.read',
          words: 'For one alone',
          detail: '',
          link: '/today',
          since: ctx.now(),
          assignedTo: of.id,
          dismissable: true,
        });
        return ['DELETE today', {}, { kind: 'process', key }, 403];
      },
    ],
  ])('%s is its owner’s, whatever the role', async (_, make) => {
    for (const role of BUILT_IN_ROLES) {
      const owner = await testAccount(ctx, 'officer');
      const [name, params, body, refused] = await make(owner);
      const other = accounts.get(role) as Account;
      const mayCome = POLICY[name]?.includes(LETTER[role]);
      expect(await ask(name, other, params, body), `${name} as ${role}`).toBe(mayCome ? refused : 403);
      expect(await ask(name, owner, params, body)).toBe(200);
    }
  });

  it('work is stopped by those who may start it, and others are not told that it is there', async () => {
    const STOPS: Readonly<Record<string, Readonly<Record<BuiltInRole, number>>>> = {
      'install-check': {
        officer: 200,
        'site manager': 200,
        'data steward': 403,
        'records manager': 403,
        'access reviewer': 403,
        'request handler': 403,
        auditor: 403,
      },
      'train-detector': {
        officer: 200,
        'site manager': 404,
        'data steward': 200,
        'records manager': 403,
        'access reviewer': 403,
        'request handler': 403,
        auditor: 403,
      },
    };
    for (const [kind, expected] of Object.entries(STOPS))
      for (const role of BUILT_IN_ROLES) {
        const id = await ctx.store.transaction((tx) =>
          addJob(tx, ctx.now(), {
            kind,
            title: unique('Work'),
            about: { object: 'test', id: 1 },
            payload: {},
            createdBy: null,
          }),
        );
        expect(await ask('DELETE jobs/[id]', accounts.get(role), { id }), `${kind} as ${role}`).toBe(
          expected[role],
        );
      }
  });
});
