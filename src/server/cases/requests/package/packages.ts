import { record } from '../../../evidence/ledger.ts';
import { z } from 'zod';
import type { Context } from '../../../context.ts';
import { readCopy } from '../../../holdings/offers.ts';
import { BigId, Bytes, Instant, JsonColumn } from '../../../store/columns.ts';
import type { Queries } from '../../../store/pool.ts';
import { openText } from '../../../secret.ts';
import { openLink, useLink } from '../identity/request-link.ts';
import { addStep } from '../request-row.ts';
import { toDatetime } from '../../../store/columns.ts';

/** A value that was covered and stands in a package all the same. */
export const Leftover = z.object({ masked: z.string(), file: z.string(), item: z.string(), why: z.string() });
export type Leftover = z.infer<typeof Leftover>;

const PackageRow = z.object({
  id: z.number(),
  madeAt: Instant,
  digest: Bytes.transform((b) => b.toString('hex')),
  size: z.number(),
  files: z.number(),
  items: z.number(),
  leftovers: JsonColumn(z.array(Leftover)),
  copyId: BigId.nullable(),
  phrase: z.string().nullable(),
  untilOn: z.string().nullable(),
  fetchedAt: Instant.nullable(),
  fetches: z.number(),
});
export type RequestPackage = z.infer<typeof PackageRow>;

/** The one made last. */
export async function latestPackage(store: Queries, request: number): Promise<RequestPackage | undefined> {
  return store.one(
    PackageRow,
    `SELECT id, made_at AS madeAt, digest, size, files, items, leftovers, copy_id AS copyId, phrase, until_on AS untilOn,
       fetched_at AS fetchedAt, fetches FROM request_package WHERE request_id = ? ORDER BY id DESC LIMIT 1`,
    [request],
  );
}

/** What opens a package; told another way than where it is. */
export function phraseOf(
  { settings }: Pick<Context, 'settings'>,
  { phrase }: Pick<RequestPackage, 'phrase'>,
): string | null {
  return phrase === null ? null : openText(settings.SECRET_KEY, phrase);
}

export interface FetchedPackage {
  readonly name: string;
  readonly bytes: Uint8Array;
}

/** What a person fetches by their link; `undefined` where it opens nothing any more. Each time is written down. */
export async function fetchPackage(ctx: Context, token: string): Promise<FetchedPackage | undefined> {
  const link = await openLink(ctx.store, ctx, 'package', token);
  if (!link) return undefined;
  const made = await latestPackage(ctx.store, link.request);
  if (!made?.copyId) return undefined;
  const bytes = await readCopy(ctx, made.copyId);
  if (!bytes) return undefined;
  await ctx.store.transaction(async (tx) => {
    await useLink(tx, ctx, token);
    await tx.run(
      'UPDATE request_package SET fetches = fetches + 1, fetched_at = COALESCE(fetched_at, ?) WHERE id = ?',
      [toDatetime(ctx.now()), made.id],
    );
    if (made.fetchedAt === null) await addStep(tx, ctx.now(), link.request, 'fetched', null);
    await record(tx, ctx.now(), {
      ...{ actor: 'visitor', action: 'request.fetch', object: 'request', objectId: link.request },
      detail: { digest: made.digest },
    });
  });
  return { name: `R-${link.request}.zip`, bytes };
}
