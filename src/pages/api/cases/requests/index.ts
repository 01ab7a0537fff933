import { REQUEST_LIST } from '../../../../core/cases/requests/request-list.ts';
import { NewRequest } from '../../../../core/cases/requests/request.ts';
import { endMail } from '../../../../server/cases/requests/form/take-mail.ts';
import { listRequests } from '../../../../server/cases/requests/requests.ts';
import { takeRequest } from '../../../../server/cases/requests/take-in.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { pageShape } from '../../../../server/lists/list-source.ts';
import { z } from 'zod';

export const GET = endpoint({
  action: 'cases.read',
  input: z.object(pageShape(REQUEST_LIST)),
  run: ({ ctx, input }) => listRequests(ctx.store, input, input.after, input.size),
});

/** Takes one in by hand, out of a letter or not. */
export const POST = endpoint({
  action: 'cases.handle',
  input: z.object({
    request: NewRequest,
    /** The day it came in, where that was before today. */
    on: z.iso.date().optional(),
    mail: z.int().min(1).optional(),
    confirm: z.boolean().default(true),
  }),
  run: async ({ ctx, account, input: { request, on, mail, confirm } }) =>
    ctx.store.transaction(async (tx) => {
      const noon = on === undefined ? undefined : new Date(`${on}T12:00:00Z`);
      const before = noon && noon < ctx.now() ? noon : undefined;
      const mailAt = mail === undefined ? undefined : await endMail(tx, ctx, mail, account.id, 0);
      const at = mailAt ?? before;
      const { id } = await takeRequest(tx, ctx, request, {
        ...{ way: mail === undefined ? 'hand' : 'mail', by: account.id, confirm },
        ...(at ? { at } : {}),
      });
      if (mail !== undefined) await tx.run('UPDATE request_mail SET request_id = ? WHERE id = ?', [id, mail]);
      return { id };
    }),
});
