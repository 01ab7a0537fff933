import { z } from 'zod';
import { LETTERS } from '../../../../../../core/cases/requests/letters/request-letter.ts';
import { draftLetter } from '../../../../../../server/cases/requests/letters/draft-letter.ts';
import { RequestId } from '../../../../../../server/cases/requests/view-request.ts';
import { endpoint } from '../../../../../../server/http/endpoint.ts';

/** A letter with the data of the case, to be read over. */
export const GET = endpoint({
  action: 'cases.handle',
  input: z.object({ id: RequestId, letter: z.enum(LETTERS), reason: z.string().max(500).default('') }),
  run: ({ ctx, input }) => draftLetter(ctx, input.id, input.letter, input.reason),
});
