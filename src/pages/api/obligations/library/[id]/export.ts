import { z } from 'zod';
import { attachment } from '../../../../../server/http/attachment.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { viewFramework } from '../../../../../server/obligations/library/library-view.ts';

/** A framework as the file that it is, for mending elsewhere and checking with `./yare framework check`. */
export const GET = endpoint({
  action: 'obligations.read',
  input: z.object({ id: z.string().max(80), version: z.iso.date().optional() }),
  run: ({ input }) => {
    const { framework } = viewFramework(input.id, input.version);
    const text = JSON.stringify(framework, null, 2);
    return Promise.resolve(attachment(`${framework.id}.json`, 'application/json', text));
  },
});
