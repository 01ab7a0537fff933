import { z } from 'zod';
import { DetectorId } from '../../../../core/holdings/detection/detector/detector.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { DetectorDraft } from '../../../../core/holdings/detection/detector/own-detector.ts';
import { detectorToTry } from '../../../../server/holdings/detection/detectors/open-detector.ts';
import { READING } from '../../../../server/http/shares.ts';
import { readUpload } from '../../../../server/files/uploads.ts';
import { tryDetectors } from '../../../../server/holdings/detection/detectors/trial.ts';

export const POST = endpoint({
  action: 'holdings.read',
  input: z.object({
    /** One detector alone; all of them where it is left out. */
    detector: DetectorId.optional(),
    /** As it stands unsaved. */
    draft: DetectorDraft.optional(),
    of: z.union([
      z.object({ text: z.string().max(400_000, 'At most 400,000 characters at once') }),
      z.object({ name: z.string().max(260), base64: z.base64('Send the file in base64') }),
      /** A larger file, sent before; it stays for a day. */
      z.object({ upload: z.int().positive() }),
    ]),
  }),
  run: ({ ctx, account, input: { detector, draft, of } }) =>
    READING.use(account.id, async () =>
      tryDetectors(
        ctx,
        'text' in of
          ? of
          : 'upload' in of
            ? await readUpload(ctx, account.id, of.upload)
            : { name: of.name, bytes: Buffer.from(of.base64, 'base64') },
        draft ?? (detector === undefined ? undefined : await detectorToTry(ctx, detector)),
      ),
    ),
});
