import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../server/http/whole.ts';
import { endException } from '../../../../../server/retention/exceptions/exceptions.ts';

/** Takes it back: rules decide again. */
export const DELETE = endpoint({
  action: 'retention.except',
  input: z.object({ id: z.coerce.number().int().positive() }),
  object: whole('source'),
  run: ({ ctx, account, input }) => endException(ctx, account, input.id),
});
