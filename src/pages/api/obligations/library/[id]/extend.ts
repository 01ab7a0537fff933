import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { extendingWorkbook } from '../../../../../server/obligations/library/export-framework.ts';

/** A workbook to fill in, for a framework that has all of this one and more. */
export const GET = endpoint({
  action: 'obligations.read',
  input: z.object({ id: z.string().max(80) }),
  run: ({ ctx, input }) => extendingWorkbook(ctx, input.id),
});
