import type { Queries } from '../../store/pool.ts';

/** Items that the index of lenses keeps together. */
export const BLOCK_ITEMS = 0x1_0000;

/** Has the index read the blocks of these items again. */
export async function touchBlocks(tx: Queries, items: readonly number[]): Promise<void> {
  const blocks = [...new Set(items.map((id) => Math.floor(id / BLOCK_ITEMS)))].sort((a, b) => a - b);
  if (blocks.length > 0)
    await tx.run(
      'INSERT INTO item_block (block, revision) VALUES ? ON DUPLICATE KEY UPDATE revision = revision + 1',
      [blocks.map((b) => [b, 1])],
    );
}
