import { z } from 'zod';
import { notFound } from '../../../../../core/refusal.ts';
import { versionDifferences } from '../../../../../core/obligations/framework/version-differences.ts';
import { ShippedLibrary } from '../../../../../server/obligations/library/shipped-library.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';

/** What the newest version says otherwise than an older one. */
export const GET = endpoint({
  action: 'obligations.read',
  input: z.object({ id: z.string().max(80), from: z.iso.date() }),
  run: ({ input }) => {
    const shipped = ShippedLibrary.get();
    const [before, after] = [shipped.framework(input.id, input.from), shipped.framework(input.id)];
    if (!before || !after) throw notFound('framework');
    return Promise.resolve({ version: after.version, differences: versionDifferences(before, after) });
  },
});
