import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { whole } from '../../../../server/http/whole.ts';
import { LensLine } from '../../../../server/holdings/items/explorer.ts';
import { compareLens } from '../../../../server/holdings/lenses/lens-days.ts';

/** A lens on two days; what was kept of a day is of all sources. */
export const GET = endpoint({
  action: 'holdings.read',
  input: z.object({ lens: LensLine, since: z.iso.date(), until: z.iso.date().optional() }),
  object: whole('lens', ['source']),
  run: ({ ctx, account, input }) => compareLens(ctx, account, input.lens, input.since, input.until),
});
