import { z } from 'zod';
import { IncidentAct } from '../../../../../core/cases/incidents/incident-act.ts';
import { actOnIncident } from '../../../../../server/cases/incidents/act-on-incident.ts';
import { viewIncident } from '../../../../../server/cases/incidents/view-incident.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';

const Id = z.coerce.number().int().min(1);

export const GET = endpoint({
  action: 'cases.read',
  input: z.object({ id: Id, language: z.string().max(12).default('en') }),
  run: ({ ctx, account, input }) => viewIncident(ctx, account, input.id, input.language),
});

/** Does something about it; the incident as it stands then. */
export const POST = endpoint({
  action: 'cases.incidents',
  input: z.object({ id: Id, does: IncidentAct }),
  // Two people decide.
  byPeople: ({ does }) => does.act === 'agree',
  run: async ({ ctx, account, input: { id, does } }) => {
    await actOnIncident(ctx, account, id, does);
    return viewIncident(ctx, account, id);
  },
});
