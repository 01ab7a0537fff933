import { namesHoldings } from '../../../core/access/sources/access-source.ts';
import type { Context } from '../../context.ts';
import { sourceNames } from '../../holdings/offers.ts';
import { askAccess } from '../index/ask-access.ts';
import { findAccessSource } from './access-sources.ts';
import { holdingsByName } from './told-lines.ts';

/** What the lines of a source name as that in which its places lie, and which source of Holdings it is. */
export interface LineSources {
  readonly named: readonly {
    readonly name: string;
    readonly holdings: number | null;
    /** Said by somebody, not found by its name. */
    readonly isSaid: boolean;
  }[];
  readonly holdings: readonly { readonly id: string; readonly name: string }[];
}

/** Throws a RefusedError (404). */
export async function lineSourcesOf(ctx: Context, id: number): Promise<LineSources> {
  const { content, address } = await findAccessSource(ctx.store, id);
  if (!namesHoldings(address.kind)) return { named: [], holdings: [] };
  const by = await holdingsByName(ctx.store, content);
  const names = await askAccess(ctx, 'line sources', { source: id });
  return {
    named: names.map((name) => ({
      ...{ name, holdings: by.get(name) ?? null },
      isSaid: content.holds.some((h) => h.name === name),
    })),
    holdings: await sourceNames(ctx.store),
  };
}
