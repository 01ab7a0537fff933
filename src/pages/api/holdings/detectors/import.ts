import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { CHECKING } from '../../../../server/http/shares.ts';
import { importDetectors } from '../../../../server/holdings/detection/detectors/import-detectors.ts';

export const POST = endpoint({
  action: 'holdings.edit',
  input: z.object({ text: z.string().min(1, 'The file is empty') }),
  run: ({ ctx, account, input }) =>
    CHECKING.use(account.id, () => importDetectors(ctx, account.id, input.text)),
});
