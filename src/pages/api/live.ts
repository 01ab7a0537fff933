import { z } from 'zod';
import { sessionToken } from '../../server/accounts/session.ts';
import { endpoint } from '../../server/http/endpoint.ts';
import { liveStream } from '../../server/desk/live.ts';

export const GET = endpoint({
  action: 'jobs.read',
  input: z.object({}),
  run: async ({ ctx, account, request }) =>
    new Response(liveStream(ctx, account, sessionToken(request), request.signal), {
      headers: {
        'content-type': 'text/event-stream',
        'cache-control': 'no-store',
        'x-accel-buffering': 'no',
      },
    }),
});
