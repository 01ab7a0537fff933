import { z } from 'zod';
import {
  statementHtml,
  statementMarkdown,
} from '../../../../../core/websites/statements/statement-formats.ts';
import { attachment } from '../../../../../server/http/attachment.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { HostInput, siteObject } from '../../../../../server/websites/sites/host-input.ts';
import { findSite } from '../../../../../server/websites/sites/sites.ts';
import { publishedStatement } from '../../../../../server/websites/statements/statements.ts';

export const GET = endpoint({
  action: 'websites.read',
  input: HostInput.extend({
    language: z.string().max(20).default(''),
    version: z.coerce.number().int().positive(),
    format: z.enum(['html', 'md']),
  }),
  object: siteObject,
  run: async ({ ctx, input: { host, language, version, format } }) => {
    const site = await findSite(ctx.store, host);
    const said = await publishedStatement(ctx.store, site.id, language, version);
    const name = `statement-${host}-${version}-${said.language}.${format}`;
    return format === 'html'
      ? attachment(name, 'text/html; charset=utf-8', statementHtml(said.blocks, said.language))
      : attachment(name, 'text/markdown; charset=utf-8', statementMarkdown(said.blocks));
  },
});
