import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { whole } from '../../../../server/http/whole.ts';
import { READING } from '../../../../server/http/shares.ts';
import { readSentLibrary } from '../../../../server/websites/library/known-tracker-file.ts';
import { importKnown } from '../../../../server/websites/library/known-trackers.ts';

export const POST = endpoint({
  action: 'websites.edit',
  input: z.object({
    name: z.string().max(260).default(''),
    /** The file's bytes in base64, so that any encoding arrives as it is. */
    base64: z.base64('Send the file in base64').min(1, 'The file is empty'),
  }),
  object: whole('known tracker', ['site']),
  run: ({ ctx, account, input }) =>
    READING.use(account.id, async () =>
      importKnown(
        ctx,
        account.id,
        await readSentLibrary({ fileName: input.name, content: Buffer.from(input.base64, 'base64') }),
      ),
    ),
});
