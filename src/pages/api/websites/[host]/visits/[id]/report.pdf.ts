import { attachment } from '../../../../../../server/http/attachment.ts';
import { endpoint } from '../../../../../../server/http/endpoint.ts';
import { siteObject } from '../../../../../../server/websites/sites/host-input.ts';
import { VisitInput } from '../../../../../../server/websites/visits/visit-input.ts';
import { visitPdf } from '../../../../../../server/websites/visits/visit-pdf.ts';
import { readVisit } from '../../../../../../server/websites/visits/visit-store.ts';

export const GET = endpoint({
  action: 'websites.read',
  input: VisitInput,
  object: siteObject,
  run: async ({ ctx, input }) => {
    const kept = await readVisit(ctx.store, input.host, input.id);
    return attachment(`visit-${input.host}-${input.id}.pdf`, 'application/pdf', await visitPdf(kept));
  },
});
