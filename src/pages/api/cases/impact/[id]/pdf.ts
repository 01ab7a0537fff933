import { z } from 'zod';
import { impactPdf } from '../../../../../server/cases/impact/impact-pdf.ts';
import { attachment } from '../../../../../server/http/attachment.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';

export const GET = endpoint({
  action: 'cases.dossiers.read',
  input: z.object({ id: z.coerce.number().int().min(1) }),
  run: async ({ ctx, input: { id } }) =>
    attachment(`impact-assessment-${id}.pdf`, 'application/pdf', await impactPdf(ctx, id)),
});
