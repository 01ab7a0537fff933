import { z } from 'zod';
import { notFound } from '../../../../../core/refusal.ts';
import { versionDifferences } from '../../../../../core/obligations/framework/version-differences.ts';
import { frameworkLibrary } from '../../../../../server/obligations/library/own-frameworks.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';

/** What the newest version says otherwise than an older one. */
export const GET = endpoint({
  action: 'obligations.read',
  input: z.object({ id: z.string().max(80), from: z.iso.date() }),
  run: async ({ ctx, input }) => {
    const library = await frameworkLibrary(ctx.store);
    const [before, after] = [library.framework(input.id, input.from), library.framework(input.id)];
    if (!before || !after) throw notFound('framework');
    return { version: after.version, differences: versionDifferences(before, after, library.measures) };
  },
});
