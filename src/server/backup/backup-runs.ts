import { z } from 'zod';
import { putOnToday, takeOffToday } from '../desk/today.ts';
import { record } from '../evidence/ledger.ts';
import { Bytes, Count, Instant, toDatetime } from '../store/columns.ts';
import type { Queries, Store } from '../store/pool.ts';

export interface MadeBackup {
  readonly madeAt: Date;
  /** Its name, without its folder. */
  readonly file: string;
  readonly size: number;
  readonly digest: Buffer;
}

/** Says that a backup was made. */
export async function noteBackup(store: Store, { madeAt, file, size, digest }: MadeBackup): Promise<void> {
  await store.transaction(async (tx) => {
    await tx.run('INSERT INTO backup_run (made_at, file, size, digest) VALUES (?, ?, ?, ?)', [
      ...[toDatetime(madeAt), file, size, digest],
    ]);
    await record(tx, madeAt, {
      ...{
        actor: 'system',
        action: 'backup.made',
        object: 'backup',
        objectId: digest.toString('hex').slice(0, 16),
      },
      detail: { file, size, sha256: digest.toString('hex') },
    });
  });
}

/** Says what came of restoring a backup elsewhere: entries of the ledger that verified, or what was wrong. */
export async function noteProof(
  store: Store,
  now: Date,
  backup: MadeBackup,
  proof: { readonly entries: number } | { readonly problem: string },
): Promise<void> {
  const isProved = 'entries' in proof;
  await store.transaction(async (tx) => {
    await tx.run(
      `INSERT INTO backup_run (made_at, file, size, digest, proved_at, entries, problem) VALUES (?, ?, ?, ?, ?, ?, ?)
       ON DUPLICATE KEY UPDATE proved_at = VALUES(proved_at), entries = VALUES(entries), problem = VALUES(problem)`,
      [
        ...[toDatetime(backup.madeAt), backup.file, backup.size, backup.digest],
        ...(isProved ? [toDatetime(now), proof.entries, ''] : [null, null, proof.problem.slice(0, 500)]),
      ],
    );
    await record(tx, now, {
      ...{ actor: 'system', action: isProved ? 'backup.proved' : 'backup.failed', object: 'backup' },
      ...{ objectId: backup.digest.toString('hex').slice(0, 16), detail: { file: backup.file, ...proof } },
    });
  });
}

const Row = z.object({
  made_at: Instant,
  file: z.string(),
  size: Count,
  digest: Bytes,
  proved_at: Instant.nullable(),
  entries: Count.nullable(),
  problem: z.string(),
});

/** The newest, at most so many. */
export async function listBackups(store: Queries, most = 50) {
  const rows = await store.all(
    Row,
    'SELECT made_at, file, size, digest, proved_at, entries, problem FROM backup_run ORDER BY made_at DESC, id DESC LIMIT ?',
    [most],
  );
  return rows.map(({ made_at, proved_at, digest, ...rest }) => ({
    ...rest,
    ...{ madeAt: made_at, provedAt: proved_at, digest: digest.toString('hex') },
  }));
}
export type ListedBackup = Awaited<ReturnType<typeof listBackups>>[number];

const KEY = 'backup';

/** Puts on Today that a backup could not be made, or not be restored. */
export async function backupFailed(store: Store, now: Date, why: string): Promise<void> {
  await store.transaction((tx) =>
    putOnToday(tx, {
      ...{ kind: 'backup', key: KEY, action: 'ledger.read', words: 'The backup is not good' },
      ...{ detail: why.slice(0, 300), link: '/evidence/backups', since: now, dismissable: true },
    }),
  );
}

/** One is good again. */
export async function backupIsGood(store: Store): Promise<void> {
  await store.transaction((tx) => takeOffToday(tx, 'backup', KEY));
}
