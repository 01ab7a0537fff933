import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { levelFigures } from '../../../../../server/protection/levels/level-figures.ts';

export const GET = endpoint({
  action: 'protection.read',
  input: z.object({ id: z.string().max(64) }),
  run: ({ ctx, account, input }) => levelFigures(ctx, account, input.id),
});
