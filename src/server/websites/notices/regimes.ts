import { z } from 'zod';
import { regimeOf, RegimeRow, regimeTable, SHIPPED_REGIMES } from '../../../core/websites/notice/regime.ts';
import { regionName, type Region } from '../../../core/websites/notice/region.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { Instant, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { listPurposes } from './purposes.ts';

const Row = z.object({
  code: z.string(),
  content: JsonColumn(RegimeRow),
  revision: z.number(),
  edited_by: z.string().nullable(),
  edited_at: Instant,
});

/** A row of the table as the desk shows it. */
export interface ListedRegime extends RegimeRow {
  /** 0 where it stands as it ships. */
  readonly revision: number;
  /** The organisation added it: nothing ships for this region. */
  readonly added: boolean;
  readonly editedBy: string | null;
  readonly editedAt: string | null;
}

async function ownRegimes(store: Queries): Promise<z.infer<typeof Row>[]> {
  return store.all(
    Row,
    'SELECT r.code, r.content, r.revision, a.name AS edited_by, r.edited_at FROM regime r LEFT JOIN account a ON a.id = r.edited_by ORDER BY r.code',
  );
}

/** The table as it holds for this organisation. */
export async function readRegimes(store: Queries): Promise<readonly RegimeRow[]> {
  return regimeTable((await ownRegimes(store)).map((r) => r.content));
}

export async function readRegime(store: Queries, region: Region): Promise<RegimeRow> {
  return regimeOf(region, await readRegimes(store));
}

export async function listRegimes(store: Queries): Promise<ListedRegime[]> {
  const own = new Map((await ownRegimes(store)).map((r) => [r.code, r]));
  return regimeTable([...own.values()].map((r) => r.content)).map((row) => {
    const said = own.get(row.code);
    return {
      ...row,
      revision: said?.revision ?? 0,
      added: !SHIPPED_REGIMES.some((s) => s.code === row.code),
      editedBy: said?.edited_by ?? null,
      editedAt: said?.edited_at ?? null,
    };
  });
}

/** Says what holds for a region; `revision` is what the editor saw, 0 for what ships. Throws a RefusedError (400, 409). */
export async function sayRegime(
  ctx: Context,
  accountId: number,
  row: RegimeRow,
  revision: number,
): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const codes = new Set((await listPurposes(tx)).map((p) => p.code));
    const unknown = Object.keys(row.starts).find((code) => !codes.has(code));
    if (unknown !== undefined)
      throw new RefusedError('This regime cannot be kept as it is.', [
        { field: 'starts', message: `There is no purpose “${unknown}”.` },
      ]);
    await requireRevision(tx, row.code, revision);
    await tx.run(
      'REPLACE INTO regime (code, content, revision, edited_by, edited_at) VALUES (?, ?, ?, ?, ?)',
      [row.code, JSON.stringify(row), revision + 1, accountId, toDatetime(ctx.now())],
    );
    await record(tx, ctx.now(), {
      actor: accountId,
      action: 'regime.say',
      object: 'regime',
      objectId: row.code,
      detail: { regime: row.regime, starts: row.starts, signal: row.signal },
    });
  });
}

/** Takes back what was said, so that what ships holds again. Throws a RefusedError (409). */
export async function takeBackRegime(
  ctx: Context,
  accountId: number,
  code: string,
  revision: number,
): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    await requireRevision(tx, code, revision);
    await tx.run('DELETE FROM regime WHERE code = ?', [code]);
    await record(tx, ctx.now(), {
      actor: accountId,
      action: 'regime.back',
      object: 'regime',
      objectId: code,
      detail: {},
    });
  });
}

async function requireRevision(tx: Queries, code: string, revision: number): Promise<void> {
  const there = await tx.one(
    z.object({ revision: z.number() }),
    'SELECT revision FROM regime WHERE code = ? FOR UPDATE',
    [code],
  );
  if ((there?.revision ?? 0) !== revision)
    throw new RefusedError(
      `Somebody else changed what holds for ${regionName(code)} meanwhile. Look at it, and change it then.`,
      [],
      409,
    );
}
