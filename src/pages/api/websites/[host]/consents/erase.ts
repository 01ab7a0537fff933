import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { eraseVisitor } from '../../../../../server/websites/consents/consent-erasure.ts';
import { HostInput, siteObject } from '../../../../../server/websites/sites/host-input.ts';

export const POST = endpoint({
  action: 'consent.erase',
  input: HostInput.extend({
    visitorKey: z.string().regex(/^[0-9a-f]{32}$/, 'A visitor key has 32 hexadecimal digits'),
    because: z.string().trim().min(3, 'Say who asked, and where').max(300, 'At most 300 characters'),
  }),
  object: siteObject,
  run: ({ ctx, account, input }) =>
    eraseVisitor(ctx, account.id, input.host, input.visitorKey, input.because),
});
