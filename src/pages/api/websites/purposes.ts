import { z } from 'zod';
import { PurposeList } from '../../../core/websites/notice/purpose-list.ts';
import { endpoint } from '../../../server/http/endpoint.ts';
import { whole } from '../../../server/http/whole.ts';
import { purposeUses } from '../../../server/websites/notices/purpose-uses.ts';
import { listPurposes, sayPurposes } from '../../../server/websites/notices/purposes.ts';

export const GET = endpoint({
  action: 'websites.read',
  input: z.object({}),
  run: ({ ctx }) => listPurposes(ctx.store),
});

export const PUT = endpoint({
  action: 'websites.edit',
  /** `saw`: the list that the editor saw. */
  input: z.object({ purposes: PurposeList, saw: PurposeList }),
  object: whole('purpose', ['site']),
  run: ({ ctx, account, input }) => sayPurposes(ctx, account.id, input.purposes, input.saw, purposeUses),
});
