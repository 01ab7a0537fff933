import { z } from 'zod';
import { endpoint } from '../../../server/http/endpoint.ts';
import { VERIFYING } from '../../../server/http/shares.ts';
import { readNotedHead } from '../../../server/evidence/noted-head.ts';
import { verifyWhole } from '../../../server/evidence/verify.ts';
import { CONSENT_WITNESS } from '../../../server/websites/consents/consents.ts';
import { REPORT_WITNESS } from '../../../server/websites/sweeps/sweep-end.ts';

export const POST = endpoint({
  action: 'ledger.read',
  input: z.object({}),
  run: ({ ctx, account }) =>
    VERIFYING.use(account.id, async () =>
      verifyWhole(ctx.store, ctx.now(), {
        witnesses: [CONSENT_WITNESS, REPORT_WITNESS],
        noted: (await readNotedHead(ctx.settings.DATA_DIR))?.head,
      }),
    ),
});
