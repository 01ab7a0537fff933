import { z } from 'zod';
import { countDossiers } from '../../../server/cases/dossiers/dossiers.ts';
import { openIncidents } from '../../../server/cases/incidents/incident-register.ts';
import { countRequests } from '../../../server/cases/requests/requests.ts';
import { tasksOf } from '../../../server/cases/requests/tasks/tasks.ts';
import { endpoint } from '../../../server/http/endpoint.ts';

/** What stands at the head of the register. */
export const GET = endpoint({
  action: 'cases.tasks.read',
  input: z.object({}),
  run: async ({ ctx, account }) => {
    const [impact, vendors, ai] = await countDossiers(ctx.store, [
      'impact_assessment',
      'vendor',
      'ai_system',
    ]);
    return {
      ...{ impact, vendors, ai },
      requests: await countRequests(ctx.store, { open: 'open' }),
      late: await countRequests(ctx.store, { due: 'late' }),
      incidents: await openIncidents(ctx.store),
      tasks: (await tasksOf(ctx.store, account.id)).length,
    };
  },
});
