import { z } from 'zod';
import { peopleWho } from '../../../../server/accounts/account-names.ts';
import { reportSubjects } from '../../../../server/desk/report-subject.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { whole } from '../../../../server/http/whole.ts';

/** What reports can tell of, and to whom. */
export const GET = endpoint({
  action: 'reports.read',
  input: z.object({}),
  object: whole('report'),
  run: async ({ ctx, account }) => ({
    subjects: await reportSubjects(ctx, account),
    people: (await peopleWho(ctx.store, 'reports.read'))
      .filter((p) => p.able)
      .map(({ id, name }) => ({ id, name })),
  }),
});
