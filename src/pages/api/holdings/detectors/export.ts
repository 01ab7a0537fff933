import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { attachment } from '../../../../server/http/attachment.ts';
import { writeDetectorFile } from '../../../../server/holdings/detection/detectors/detector-file.ts';
import { patternDetectorsToExport } from '../../../../server/holdings/detection/detectors/import-detectors.ts';

export const GET = endpoint({
  action: 'holdings.read',
  /** One by its id; without it all pattern detectors of the organisation’s own. */
  input: z.object({ id: z.string().max(64).optional() }),
  run: async ({ ctx, input }) =>
    attachment(
      `${input.id ?? 'detectors'}.json`,
      'application/json',
      writeDetectorFile(await patternDetectorsToExport(ctx.store, input.id)),
    ),
});
