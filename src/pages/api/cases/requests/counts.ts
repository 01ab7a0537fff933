import { may } from '../../../../core/accounts/authority.ts';
import { z } from 'zod';
import { listShape } from '../../../../core/lists/list-shape.ts';
import { REQUEST_LIST } from '../../../../core/cases/requests/request-list.ts';
import { handlersOf } from '../../../../server/cases/requests/act-on-request.ts';
import { waitingMail } from '../../../../server/cases/requests/form/take-mail.ts';
import { mailboxOptions, readRequestPolicy } from '../../../../server/cases/requests/request-policy.ts';
import { countRequests, requestFigures } from '../../../../server/cases/requests/requests.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';

/** How many match, volumes and times over so many days, who can have one, and letters nobody decided about. */
export const GET = endpoint({
  action: 'cases.read',
  input: z.object({
    ...listShape(REQUEST_LIST),
    days: z.coerce.number().int().min(1).max(1100).default(365),
  }),
  run: async ({ ctx, account, input: { days, ...wish } }) => {
    const [total, figures, handlers, mail, mailboxes, { country }] = await Promise.all([
      countRequests(ctx.store, wish),
      requestFigures(ctx, days),
      handlersOf(ctx.store),
      may(account, 'cases.handle') ? waitingMail(ctx) : [],
      mailboxOptions(ctx.store),
      readRequestPolicy(ctx.store),
    ]);
    return { total, figures, handlers, mail, mailboxes, country };
  },
});
