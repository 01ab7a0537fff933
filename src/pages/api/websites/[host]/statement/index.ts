import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { HostInput, siteObject } from '../../../../../server/websites/sites/host-input.ts';
import {
  publishStatement,
  sayStatement,
  StatementContent,
  viewStatement,
} from '../../../../../server/websites/statements/statements.ts';

export const GET = endpoint({
  action: 'websites.read',
  input: HostInput.extend({ language: z.string().max(20).default('') }),
  object: siteObject,
  run: ({ ctx, input }) => viewStatement(ctx, input.host, input.language),
});

export const PUT = endpoint({
  action: 'websites.edit',
  /** `revision` of what the editor saw. */
  input: HostInput.extend({ content: StatementContent, revision: z.int().nonnegative() }),
  object: siteObject,
  run: ({ ctx, account, input }) => sayStatement(ctx, account.id, input.host, input.content, input.revision),
});

export const POST = endpoint({
  action: 'websites.put-in-force',
  input: HostInput,
  object: siteObject,
  run: ({ ctx, account, input }) => publishStatement(ctx, account.id, input.host),
});
