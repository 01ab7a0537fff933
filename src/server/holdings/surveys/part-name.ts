import type { Shard } from '../connectors/walk.ts';

/** What a part of a survey's run is called: a source, or a share of one. */
export function partName(source: number, shard?: Shard): string {
  return shard ? `${source}:${shard.index}/${shard.of}` : `${source}`;
}

export function readPartName(part: string): { readonly id: number; readonly shard: Shard | undefined } {
  const [, id, index, of] = /^(\d+)(?::(\d+)\/(\d+))?$/.exec(part) ?? [];
  return {
    id: Number(id),
    shard: of === undefined ? undefined : { index: Number(index), of: Number(of) },
  };
}
