import { endpoint } from '../../../../../../server/http/endpoint.ts';
import { attachment } from '../../../../../../server/http/attachment.ts';
import { siteObject } from '../../../../../../server/websites/sites/host-input.ts';
import { readReport } from '../../../../../../server/websites/sweeps/sweep-end.ts';
import { SweepInput } from '../../../../../../server/websites/sweeps/sweep-input.ts';
import { findSiteSweep } from '../../../../../../server/websites/sweeps/sweeps.ts';

export const GET = endpoint({
  action: 'websites.read',
  input: SweepInput,
  object: siteObject,
  run: async ({ ctx, input }) => {
    const sweep = await findSiteSweep(ctx.store, input.host, input.id);
    const { report, digest, proof, matches } = await readReport(ctx.store, sweep.id);
    const body = JSON.stringify({ report, proof: { digest, matches, ledger: proof ?? null } }, null, 2);
    return attachment(`sweep-${input.host}-${sweep.id}.json`, 'application/json', body);
  },
});
