import { z } from 'zod';
import type { AuthorityObject } from '../../../core/accounts/authority.ts';
import type { Context } from '../../context.ts';
import { findSite } from './sites.ts';

/** The site a request is about: its host, with the port where that is not the scheme's own. */
export const HostInput = z.object({ host: z.string().min(1).max(260) });

/** The site as it is; throws a RefusedError (404). */
export async function siteObject(ctx: Context, { host }: { host: string }): Promise<AuthorityObject> {
  const { id } = await findSite(ctx.store, host);
  return { kind: 'site', id, within: [{ kind: 'site', id: String(id) }] };
}
