import { z } from 'zod';

/** The site a request is about: its host, with the port where that is not the scheme's own. */
export const HostInput = z.object({ host: z.string().min(1).max(260) });

export function siteObject(_ctx: unknown, { host }: { host: string }) {
  return { kind: 'site', id: host };
}
