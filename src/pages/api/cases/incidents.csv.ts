import { z } from 'zod';
import {
  incidentCells,
  listIncidents,
  REGISTER_COLUMNS,
} from '../../../server/cases/incidents/incident-register.ts';
import { csvLine, streamed } from '../../../server/http/csv.ts';
import { endpoint } from '../../../server/http/endpoint.ts';
import { EXPORTING } from '../../../server/http/shares.ts';

/** The register of breaches (GDPR Art. 33(5)). */
export const GET = endpoint({
  action: 'cases.read',
  input: z.object({}),
  run: async ({ ctx, account, outgoing }) => {
    outgoing.whenOver(await EXPORTING.begin(account.id));
    const all = await listIncidents(ctx, Number.MAX_SAFE_INTEGER);
    async function* lines() {
      yield csvLine(REGISTER_COLUMNS);
      for (const i of all) {
        const cells = await incidentCells(ctx, i);
        yield csvLine(REGISTER_COLUMNS.map((c) => cells[c] ?? ''));
      }
    }
    return streamed('incidents.csv', 'text/csv; charset=utf-8', outgoing, lines());
  },
});
