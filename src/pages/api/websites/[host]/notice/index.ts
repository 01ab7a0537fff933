import { z } from 'zod';
import { NoticeContent } from '../../../../../core/websites/notice/notice.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { HostInput, siteObject } from '../../../../../server/websites/sites/host-input.ts';
import { findNotice, listVersions, saveDraft } from '../../../../../server/websites/notices/notices.ts';

export const GET = endpoint({
  action: 'websites.read',
  input: HostInput,
  object: siteObject,
  run: async ({ ctx, input }) => ({
    ...(await findNotice(ctx.store, input.host)),
    versions: await listVersions(ctx.store, input.host),
  }),
});

export const PUT = endpoint({
  action: 'websites.edit',
  input: HostInput.extend({ revision: z.int().nonnegative(), base: NoticeContent, content: NoticeContent }),
  object: siteObject,
  run: ({ ctx, account, input }) =>
    saveDraft(ctx, account.id, input.host, input.revision, input.base, input.content),
});
