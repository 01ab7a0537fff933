import { z } from 'zod';
import { VISITORS } from '../../../../../../../core/websites/trackers/visitor.ts';
import { endpoint } from '../../../../../../../server/http/endpoint.ts';
import { siteObject } from '../../../../../../../server/websites/sites/host-input.ts';
import { readPicture } from '../../../../../../../server/websites/sweeps/sweep-end.ts';
import { SweepInput } from '../../../../../../../server/websites/sweeps/sweep-input.ts';
import { findSiteSweep } from '../../../../../../../server/websites/sweeps/sweeps.ts';

export const GET = endpoint({
  action: 'websites.read',
  input: SweepInput.extend({ visitor: z.enum(VISITORS) }),
  object: siteObject,
  run: async ({ ctx, input }) => {
    const sweep = await findSiteSweep(ctx.store, input.host, input.id);
    const jpeg = await readPicture(ctx.store, sweep.id, input.visitor);
    return new Response(new Uint8Array(jpeg), {
      headers: { 'content-type': 'image/jpeg', 'cache-control': 'private, max-age=86400' },
    });
  },
});
