import { z } from 'zod';
import { NewIncident } from '../../../../core/cases/incidents/incident.ts';
import { takeIncident } from '../../../../server/cases/incidents/act-on-incident.ts';
import { listIncidents } from '../../../../server/cases/incidents/incident-register.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';

export const GET = endpoint({
  action: 'cases.read',
  input: z.object({}),
  run: ({ ctx }) => listIncidents(ctx),
});

/** Takes one in. */
export const POST = endpoint({
  action: 'cases.incidents',
  input: z.object({ incident: NewIncident }),
  run: ({ ctx, account, input }) =>
    ctx.store.transaction(async (tx) => ({ id: await takeIncident(tx, ctx, input.incident, account.id) })),
});
