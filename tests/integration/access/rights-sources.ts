import type { AccessSourceContent } from '../../../src/core/access/sources/access-source.ts';
import { insertAccessSource } from '../../../src/server/access/sources/access-sources.ts';
import { readAccessSource } from '../../../src/server/access/sources/read-source.ts';
import type { Context } from '../../../src/server/context.ts';
import { type RightsServer, TOKEN } from '../../rights-server.ts';
import { unique } from '../context.ts';

/** Takes in the directory or the library of a server, and reads it. */
export async function takeIn(
  ctx: Context,
  server: RightsServer,
  what: 'people' | 'rights',
  content: Partial<AccessSourceContent> = {},
): Promise<number> {
  const id = await ctx.store.transaction((tx) =>
    insertAccessSource(tx, ctx, null, {
      content: { name: unique(what), everyHours: 1, writes: true, opens: '', holds: [], ...content },
      address: { kind: what === 'people' ? 'scim' : 'library', url: server.url(what) },
      secret: TOKEN,
    }),
  );
  await readAccessSource(ctx, id, new AbortController().signal);
  return id;
}
