import { z } from 'zod';
import type { Context } from '../../context.ts';
import {
  connectSource,
  fetchWhole,
  FixedItemError,
  findSource,
  ItemError,
  SourceError,
  type Connector,
  type Fetched,
  type ItemDetail,
} from '../../holdings/offers.ts';
import { readRetentionPolicy } from '../policy.ts';

/** Where an item was moved to. */
export const Moved = z.object({ source: z.int(), place: z.string(), name: z.string() });
export type Moved = z.infer<typeof Moved>;

/** The archive as the retention policy names it, held open. */
export interface Archive {
  readonly name: string;
  /** Puts a copy of an item in, and reads it back; one that a broken run left there is taken for it. */
  keep(item: Pick<ItemDetail, 'source' | 'path' | 'name'>, fetched: Fetched): Promise<Moved>;
  close(): Promise<void>;
}

/** Throws an ItemError where there is none, or it cannot be opened. */
export async function openArchive(ctx: Context): Promise<Archive> {
  const { archive, archivePlace } = await readRetentionPolicy(ctx.store);
  if (archive === '') throw new ItemError('nobody said where the archive is');
  const source = await findSource(ctx.store, archive);
  const connector = await connectSource(ctx, source).catch((error: unknown) => {
    throw error instanceof SourceError
      ? new ItemError(`the archive cannot be opened: ${error.message}`)
      : error;
  });
  return {
    name: source.name,
    async keep(item, fetched) {
      const place = [archivePlace, stepOf(item.source), item.path].filter((s) => s !== '').join('/');
      const name = fileName(item.name, fetched.format);
      for (const called of [name, otherName(name, fetched.hash)]) {
        try {
          return { source: source.id, place, name: await keepAs(connector, place, called, fetched) };
        } catch (error) {
          if (error instanceof FixedItemError || called !== name || !(error instanceof TakenError))
            throw error;
        }
      }
      throw new ItemError('its name is taken in the archive');
    },
    close: () => connector.close(),
  };
}

class TakenError extends ItemError {}

async function keepAs(
  connector: Connector,
  place: string,
  name: string,
  { bytes, hash, listed }: Fetched,
): Promise<string> {
  if (!connector.add) throw new FixedItemError('its archive takes nothing in');
  const there = () =>
    fetchWhole(connector, { path: place, name }).catch((error: unknown) => {
      if (error instanceof ItemError) return undefined;
      throw error;
    });
  let kept = await there();
  if (!kept) {
    const added = await connector.add(place, { name, changed: listed.changed }, bytes);
    kept = await fetchWhole(connector, { path: place, name: added.name });
  }
  if (!kept.hash.equals(hash)) throw new TakenError('something else has its name in the archive');
  return kept.listed.name;
}

/** Takes the copy out of the archive again, where it is still what was put there. */
export async function takeFromArchive(ctx: Context, moved: Moved, hash: Buffer): Promise<void> {
  const connector = await connectSource(ctx, await findSource(ctx.store, moved.source));
  try {
    const kept = await fetchWhole(connector, { path: moved.place, name: moved.name });
    if (kept.hash.equals(hash)) await connector.remove?.(moved.place, kept.listed);
  } catch (error) {
    // It is in two places then, and lost in none.
    if (!(error instanceof ItemError)) throw error;
  } finally {
    await connector.close();
  }
}

/** A message and rows of a table have no file name of their own. */
function fileName(name: string, format: string): string {
  const extension = /\.[a-z0-9]{1,8}$/i.exec(format)?.[0] ?? '';
  return extension !== '' && !name.toLowerCase().endsWith(extension.toLowerCase()) ? name + extension : name;
}

function otherName(name: string, hash: Buffer): string {
  const mark = `~${hash.toString('hex').slice(0, 8)}`;
  const dot = name.lastIndexOf('.');
  return dot > 0 ? name.slice(0, dot) + mark + name.slice(dot) : name + mark;
}

/** The name of a source as a step of a path. */
function stepOf(name: string): string {
  const step = name.replace(/[/\\\0]+/g, ' ').trim();
  return step === '' || step === '.' || step === '..' ? 'source' : step;
}
