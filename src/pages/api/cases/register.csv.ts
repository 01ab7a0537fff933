import { z } from 'zod';
import { AI_SYSTEM } from '../../../server/cases/ai/ai-kind.ts';
import { registerLines } from '../../../server/cases/dossiers/dossier-register.ts';
import { IMPACT } from '../../../server/cases/impact/impact-kind.ts';
import { VENDOR } from '../../../server/cases/vendors/vendor-kind.ts';
import { streamed } from '../../../server/http/csv.ts';
import { endpoint } from '../../../server/http/endpoint.ts';
import { EXPORTING } from '../../../server/http/shares.ts';

/** The register of impact assessments, of vendors or of AI systems, as a table. */
export const GET = endpoint({
  action: 'cases.dossiers.read',
  input: z.object({ what: z.enum(['impact', 'vendors', 'ai']) }),
  run: async ({ ctx, account, outgoing, input }) => {
    outgoing.whenOver(await EXPORTING.begin(account.id));
    const lines = {
      impact: () => registerLines(ctx, IMPACT),
      vendors: () => registerLines(ctx, VENDOR),
      ai: () => registerLines(ctx, AI_SYSTEM),
    }[input.what]();
    return streamed(`${input.what}.csv`, 'text/csv; charset=utf-8', outgoing, lines);
  },
});
