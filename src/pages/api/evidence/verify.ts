import { z } from 'zod';
import { AREAS } from '../../../server/areas.ts';
import { endpoint } from '../../../server/http/endpoint.ts';
import { whole } from '../../../server/http/whole.ts';
import { VERIFYING } from '../../../server/http/shares.ts';
import { readNotedHead } from '../../../server/evidence/noted-head.ts';
import { verifyWhole } from '../../../server/evidence/verify.ts';

export const POST = endpoint({
  action: 'ledger.read',
  input: z.object({}),
  object: whole('ledger'),
  run: ({ ctx, account }) =>
    VERIFYING.use(account.id, async () =>
      verifyWhole(ctx.store, ctx.now(), {
        witnesses: AREAS.flatMap((a) => a.witnesses ?? []),
        noted: (await readNotedHead(ctx.settings.DATA_DIR))?.head,
      }),
    ),
});
