import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { tryLevel } from '../../../../../server/protection/levels/try-level.ts';

/** A copy of a file that was sent, stamped with the level as its draft stands. */
export const POST = endpoint({
  action: 'protection.edit',
  input: z.object({ id: z.string().max(64), upload: z.int().positive() }),
  object: (_ctx, { id }) => ({ kind: 'level', id }),
  run: async ({ ctx, account, input }) => {
    const { name, bytes } = await tryLevel(ctx, account, input.id, input.upload);
    return new Response(bytes as Uint8Array<ArrayBuffer>, {
      headers: {
        'content-type': 'application/octet-stream',
        'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
        'cache-control': 'no-store',
        'x-content-type-options': 'nosniff',
      },
    });
  },
});
