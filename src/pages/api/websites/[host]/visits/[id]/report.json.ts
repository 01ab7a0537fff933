import { attachment } from '../../../../../../server/http/attachment.ts';
import { endpoint } from '../../../../../../server/http/endpoint.ts';
import { siteObject } from '../../../../../../server/websites/sites/host-input.ts';
import { VisitInput } from '../../../../../../server/websites/visits/visit-input.ts';
import { readVisit } from '../../../../../../server/websites/visits/visit-store.ts';

export const GET = endpoint({
  action: 'websites.read',
  input: VisitInput,
  object: siteObject,
  run: async ({ ctx, input }) => {
    const { course, digest, proof, matches } = await readVisit(ctx.store, input.host, input.id);
    const body = JSON.stringify({ course, proof: { digest, matches, ledger: proof ?? null } }, null, 2);
    return attachment(`visit-${input.host}-${input.id}.json`, 'application/json', body);
  },
});
