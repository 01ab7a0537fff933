import { createHash } from 'node:crypto';
import { readFile, stat } from 'node:fs/promises';
import { z } from 'zod';
import type { Account } from '../../../core/accounts/authority.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { READING } from '../../http/shares.ts';
import { ItemError, SourceError } from '../connectors/connector.ts';
import { JsonColumn } from '../../store/columns.ts';
import { tryDetectors } from '../detection/detectors/trial.ts';
import { detectorPool } from '../detection/threads/shared-threads.ts';
import { connectSource, findSource } from '../sources/sources.ts';
import { LIMITS } from '../../files/extract/extracted.ts';
import { findItem, type ItemDetail } from './item-view.ts';

/** A stretch of an item’s text: as it is, or a value that a detector found, masked. */
export type TextPiece =
  | { readonly text: string }
  | { readonly masked: string; readonly detector: string; readonly confidence: number };

export interface ItemText {
  readonly pieces: readonly TextPiece[];
  /** Only its beginning. */
  readonly cut: boolean;
  /** It is not what the survey read any more. */
  readonly changed: boolean;
  readonly problems: readonly string[];
}

/** More is not shown. */
const MOST_BYTES = 32e6;

/** The text of an item, read again from its source, with every value that is found in it masked. Goes to the ledger. */
export async function itemText(ctx: Context, account: Account, id: number): Promise<ItemText> {
  return READING.use(account.id, async () => {
    const item = await findItem(ctx.store, id);
    const { bytes, name } = await fetchItem(ctx, item);
    const trial = await tryDetectors(ctx, { name, bytes }, undefined);
    await record(ctx.store, ctx.now(), {
      actor: account.id,
      action: 'item.read',
      object: 'item',
      objectId: id,
      detail: { values: 'masked' },
    });
    return {
      pieces: maskedPieces(trial.text, trial.findings),
      cut: trial.cut,
      changed: !isSame(bytes, item),
      problems: trial.problems.map((p) => (p.part ? `${p.part}: ${p.words}` : p.words)),
    };
  });
}

interface Found {
  readonly start: number;
  readonly end: number;
  readonly detector: string;
  readonly confidence: number;
  readonly masked: string;
}

/** The text in pieces, in which nothing that was found stands in clear; of what overlaps, all of it is masked. */
export function maskedPieces(text: string, findings: readonly Found[]): readonly TextPiece[] {
  const pieces: TextPiece[] = [];
  let at = 0;
  for (const f of findings
    .filter((x) => x.masked !== '')
    .toSorted((a, b) => a.start - b.start || b.end - a.end)) {
    if (f.end <= at) continue;
    if (f.start > at) pieces.push({ text: text.slice(at, f.start) });
    const masked = f.start < at ? '•'.repeat(f.end - at) : f.masked;
    pieces.push({ masked, detector: f.detector, confidence: f.confidence });
    at = f.end;
  }
  if (at < text.length) pieces.push({ text: text.slice(at) });
  return pieces;
}

/** The bytes of an item as its source has them now. Throws a RefusedError where they cannot be read. */
export async function fetchItem(
  ctx: Context,
  item: ItemDetail,
): Promise<{ readonly bytes: Buffer; readonly name: string }> {
  if (item.size > MOST_BYTES)
    throw new RefusedError(`It is larger than ${MOST_BYTES / 1e6} MB, and not shown here.`, [], 413);
  try {
    const connector = await connectSource(ctx, await findSource(ctx.store, item.source_id));
    try {
      const [listed] = await connector.details(item.path, [item.name]);
      if (!listed) throw new ItemError('it is gone');
      const content = await connector.read(item.path, listed);
      if ('bytes' in content) return { bytes: Buffer.from(content.bytes), name: content.name };
      const path = Buffer.from(content.file as Uint8Array);
      if ((await stat(path)).size > MOST_BYTES) throw new ItemError('it has grown too large to be shown');
      return { bytes: await readFile(path), name: content.name };
    } finally {
      await connector.close();
    }
  } catch (error) {
    if (!(error instanceof ItemError || error instanceof SourceError)) throw error;
    throw new RefusedError(`It cannot be read from ${item.source} now: ${error.message}.`, [], 409);
  }
}

function isSame(bytes: Buffer, { content_hash }: ItemDetail): boolean {
  return content_hash !== null && createHash('sha256').update(bytes).digest().equals(content_hash);
}

const Stretch = z.object({ content: JsonColumn(z.object({ start: z.number(), end: z.number() })) });

/**
 * One found value in clear, read again from its source. Goes to the ledger, without the value. Throws a RefusedError
 * (409) where the item is not what the survey read any more.
 */
export async function revealMatch(
  ctx: Context,
  account: Account,
  id: number,
  { detector, number }: { readonly detector: string; readonly number: number },
): Promise<{ readonly value: string }> {
  const item = await findItem(ctx.store, id);
  const match = await ctx.store.one(
    Stretch,
    'SELECT content FROM finding_match WHERE item_id = ? AND detector = ? AND number = ? AND rehearsed = 0',
    [id, detector, number],
  );
  if (!match) throw new RefusedError('There is no such match any more.', [], 404);
  const { bytes, name } = await READING.use(account.id, () => fetchItem(ctx, item));
  if (!isSame(bytes, item))
    throw new RefusedError(
      'The item was changed since it was read, so that this match may stand elsewhere.',
      [{ field: 'id', message: 'Survey its source again.' }],
      409,
    );
  const { start, end } = match.content;
  const read = await detectorPool().run(
    { what: 'text', bytes, name, most: Math.max(end, 1), limits: LIMITS },
    20_000,
  );
  // Written before it is shown: nobody sees a value without a trace.
  await record(ctx.store, ctx.now(), {
    actor: account.id,
    action: 'item.reveal',
    object: 'item',
    objectId: id,
    detail: { detector, match: number },
  });
  return { value: read.text.slice(start, Math.min(end, start + 2000)) };
}

/** The beginning of an item's text, as it is; for what works on it without showing it. Throws a RefusedError where it cannot be read. */
export async function plainItemText(ctx: Context, item: ItemDetail): Promise<string> {
  const { bytes, name } = await fetchItem(ctx, item);
  const read = await detectorPool().run(
    { what: 'text', bytes, name, most: PLAIN_UNITS, limits: LIMITS },
    20_000,
  );
  return read.text;
}

/** UTF-16 units. */
const PLAIN_UNITS = 200_000;
