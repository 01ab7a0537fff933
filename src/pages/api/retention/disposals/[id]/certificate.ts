import { z } from 'zod';
import { attachment } from '../../../../../server/http/attachment.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { provenCertificate } from '../../../../../server/retention/disposal/certify.ts';
import { certificatePdf } from '../../../../../server/retention/disposal/certificate-pdf.ts';
import { disposalObject } from '../../../../../server/retention/disposal/disposals.ts';

/** Its certificate with the proof, for machines or for people. */
export const GET = endpoint({
  action: 'retention.read',
  input: z.object({ id: z.string().regex(/^\d{1,18}$/), as: z.enum(['json', 'pdf']).default('json') }),
  object: disposalObject,
  run: async ({ ctx, input: { id, as } }) => {
    const proven = await provenCertificate(ctx, id);
    return as === 'json'
      ? attachment(`disposal-${id}.json`, 'application/json', JSON.stringify(proven, null, 2))
      : attachment(`disposal-${id}.pdf`, 'application/pdf', await certificatePdf(proven));
  },
});
