import { mkdir, open, readFile, rename } from 'node:fs/promises';
import { join } from 'node:path';
import { z } from 'zod';
import type { LedgerTree } from '../../core/evidence/ledger.ts';
import type { Queries } from '../store/pool.ts';
import { findTree, lastTree } from './ledger.ts';

const Noted = z.object({
  number: z.int().positive(),
  head: z.string().regex(/^[0-9a-f]{64}$/),
  sealedAt: z.string(),
});
export type NotedHead = z.infer<typeof Noted>;

const NAME = 'ledger-head.json';

/** The head that was noted last, outside the database; `undefined` where none was, or its note cannot be read. */
export async function readNotedHead(folder: string): Promise<NotedHead | undefined> {
  try {
    return Noted.parse(JSON.parse(await readFile(join(folder, NAME), 'utf8')));
  } catch {
    return undefined;
  }
}

/**
 * Notes the last sealed head in a file, so that a start on a database that was cut, rewritten or brought back from an
 * older copy finds out. Returns the head that is missing, where it is, and then keeps its note aside.
 */
export async function noteHead(store: Queries, folder: string): Promise<NotedHead | undefined> {
  const last = await lastTree(store);
  const noted = await readNotedHead(folder);
  const lost = noted && (await findTree(store, noted.number))?.head !== noted.head ? noted : undefined;
  if (lost) await rename(join(folder, NAME), join(folder, `ledger-head-lost-${lost.number}.json`));
  if (last && last.head !== noted?.head) await write(folder, last);
  return lost;
}

async function write(folder: string, { number, head, sealedAt }: LedgerTree): Promise<void> {
  await mkdir(folder, { recursive: true, mode: 0o700 });
  const making = join(folder, `${NAME}.${process.pid}`);
  const file = await open(making, 'w', 0o600);
  try {
    await file.writeFile(`${JSON.stringify({ number, head, sealedAt } satisfies NotedHead)}\n`);
    await file.sync();
  } finally {
    await file.close();
  }
  await rename(making, join(folder, NAME));
}
