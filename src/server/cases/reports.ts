import { REQUEST_LIST } from '../../core/cases/requests/request-list.ts';
import { listReportable, type Reportable } from '../reports/reportable.ts';
import { AI_SYSTEM } from './ai/ai-kind.ts';
import { registerRows } from './dossiers/dossier-register.ts';
import { IMPACT } from './impact/impact-kind.ts';
import { listRequests, requestCells } from './requests/requests.ts';
import { VENDOR } from './vendors/vendor-kind.ts';

const register = (id: string, name: string, rows: Reportable['rows']): Reportable => ({
  ...{ id: `cases.${id}`, name, see: 'cases.dossiers.read', takes: [], rows },
});

export const CASES_REPORTS: readonly Reportable[] = [
  listReportable(
    { id: 'cases.requests', name: 'Requests of people', see: 'cases.read' },
    REQUEST_LIST,
    ({ store }) =>
      Promise.resolve({
        cells: requestCells,
        load: (wish, after, size) => listRequests(store, wish, after, size),
      }),
  ),
  register('impact', 'Register of impact assessments', (ctx) => registerRows(ctx, IMPACT)),
  register('vendors', 'Register of vendors', (ctx) => registerRows(ctx, VENDOR)),
  register('ai', 'Register of AI systems', (ctx) => registerRows(ctx, AI_SYSTEM)),
];
