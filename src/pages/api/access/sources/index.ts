import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { whole } from '../../../../server/http/whole.ts';
import { AccessAddress, AccessSourceContent } from '../../../../core/access/sources/access-source.ts';
import { insertAccessSource, viewAccessSources } from '../../../../server/access/sources/access-sources.ts';
import { askForReading } from '../../../../server/access/sources/reading-job.ts';
import { trySource } from '../../../../server/access/sources/try-source.ts';
import { ASKING } from '../../../../server/http/shares.ts';

export const GET = endpoint({
  action: 'access.read',
  input: z.object({}),
  object: whole('estate'),
  run: ({ ctx }) => viewAccessSources(ctx.store),
});

/** Takes in a source once it could be read, and has it read. */
export const POST = endpoint({
  action: 'access.sources',
  input: z.object({
    content: AccessSourceContent,
    address: AccessAddress,
    secret: z.string().max(2000).default(''),
    upload: z.int().positive().optional(),
  }),
  object: whole('estate'),
  run: async ({ ctx, account, input }) => {
    const upload = await ASKING.use(account.id, () => trySource(ctx, account.id, input));
    const id = await ctx.store.transaction(async (tx) => {
      const made = await insertAccessSource(tx, ctx, account.id, { ...input, upload });
      await askForReading(tx, ctx, made, account.id);
      return made;
    });
    return { id };
  },
});
