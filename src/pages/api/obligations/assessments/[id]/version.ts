import { z } from 'zod';
import { assessmentObject } from '../../../../../server/obligations/assessments/assessment-object.ts';
import { takeVersion } from '../../../../../server/obligations/assessments/take-version.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';

/** Takes the newest version of its framework. */
export const POST = endpoint({
  action: 'obligations.edit',
  input: z.object({ id: z.coerce.number().int().positive().max(4_294_967_295) }),
  object: assessmentObject,
  run: ({ ctx, account, input }) => takeVersion(ctx, account.id, input.id),
});
