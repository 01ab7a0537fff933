import { z } from 'zod';
import { NoticeCorrection } from '../../../../core/websites/reading/notice-reading.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { HostInput, siteObject } from '../../../../server/websites/sites/host-input.ts';
import { correctReading, forgetReading } from '../../../../server/websites/sites/site-reading.ts';

export const PATCH = endpoint({
  action: 'websites.edit',
  /** `readAt`: of the reading that the editor saw. */
  input: HostInput.extend(NoticeCorrection.shape).extend({ readAt: z.string().max(40) }),
  object: siteObject,
  run: ({ ctx, account, input: { host, ...correction } }) =>
    correctReading(ctx, account.id, host, correction),
});

export const DELETE = endpoint({
  action: 'websites.edit',
  input: HostInput,
  object: siteObject,
  run: ({ ctx, account, input }) => forgetReading(ctx, account.id, input.host),
});
