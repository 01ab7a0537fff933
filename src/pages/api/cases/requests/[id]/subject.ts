import { z } from 'zod';
import { Subject } from '../../../../../core/cases/requests/person/subject.ts';
import { changeSubject } from '../../../../../server/cases/requests/change-subject.ts';
import { RequestId, viewRequest } from '../../../../../server/cases/requests/view-request.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';

/** Says otherwise, or more exactly, whom a request is about; what is held is looked for anew. */
export const POST = endpoint({
  action: 'cases.handle',
  input: z.object({ id: RequestId, subject: Subject }),
  run: async ({ ctx, account, input: { id, subject } }) => {
    await changeSubject(ctx, account, id, subject);
    return viewRequest(ctx, account, id);
  },
});
