import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import { z } from 'zod';
import { writeLine, type LedgerEntry, type Verification } from '../../core/evidence/ledger.ts';
import type { Witnessed } from '../../core/evidence/witness.ts';
import { projectFolder } from '../processes/process.ts';
import { Count } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';
import { exportLedger } from './ledger.ts';

/** Lines or records handed to the thread at once; it answers each batch, so that neither side runs ahead. */
const BATCH = 1000;

/** Records outside the ledger whose digests it keeps. */
export interface Witness {
  /** The action of the entries that tell of them by `objectId`. */
  readonly action: string;
  /** Where in an entry's detail the digest stands. */
  readonly field: string;
  readonly what: string;
  readonly table: string;
  /** Which rows of it the ledger tells of, where that is not all. */
  readonly told?: string;
  /** The records as they stand, each as it was digested; one that is gone is not among them. */
  values(store: Queries, ids: readonly string[]): Promise<ReadonlyMap<string, unknown>>;
  /** Those that were taken out as the ledger itself tells, and so are not missing. */
  gone?(store: Queries, ids: readonly string[]): Promise<ReadonlySet<string>>;
  /** How many the ledger tells of that should stand, and how many do, where some were taken out. */
  counts?(store: Queries): Promise<{ readonly told: number; readonly there: number }>;
}

export interface VerifyOptions {
  readonly witnesses?: readonly Witness[];
  /** A head that was noted outside the database. */
  readonly noted?: string | undefined;
}

export interface WholeVerification extends Verification {
  /** Records elsewhere that were compared with what the ledger keeps of them. */
  readonly records: number;
}

export type ToVerifier =
  | { readonly say: 'lines'; readonly lines: readonly string[] }
  | { readonly say: 'records'; readonly records: readonly Witnessed[] }
  | { readonly say: 'end' };

/**
 * Recomputes every sealed tree, the chain of heads and the digests of what the ledger tells of, from what is stored now,
 * in a thread of its own.
 */
export async function verifyWhole(
  store: Queries,
  at: Date,
  { witnesses = [], noted }: VerifyOptions = {},
): Promise<WholeVerification> {
  const file = join(projectFolder(), 'dist', 'verify-thread.mjs');
  if (!existsSync(file)) throw new Error('dist/verify-thread.mjs is missing: build first.');
  const thread = new Worker(file, { workerData: { noted } });
  let records = 0;
  try {
    let lines: string[] = [];
    let entries: LedgerEntry[] = [];
    const hand = async () => {
      await tell(thread, { say: 'lines', lines });
      for (const witness of witnesses) {
        const found = await witnessed(store, witness, entries);
        records += found.length;
        if (found.length > 0) await tell(thread, { say: 'records', records: found });
      }
      lines = [];
      entries = [];
    };
    for await (const line of exportLedger(store, at)) {
      if (line.line === 'entry') entries.push(line);
      if (lines.push(writeLine(line)) >= BATCH) await hand();
    }
    await hand();
    const verification = (await tell(thread, { say: 'end' })) as Verification;
    const why = verification.why ?? (await untold(store, witnesses));
    return { ...verification, ok: why === undefined, why, records };
  } finally {
    await thread.terminate();
  }
}

async function witnessed(
  store: Queries,
  { action, field, what, values, gone }: Witness,
  entries: readonly LedgerEntry[],
): Promise<Witnessed[]> {
  const mine = entries.filter((e) => e.action === action);
  if (mine.length === 0) return [];
  const stand = await values(
    store,
    mine.map((e) => e.objectId),
  );
  const lacking = mine.map((e) => e.objectId).filter((id) => !stand.has(id));
  const taken = lacking.length > 0 ? await gone?.(store, lacking) : undefined;
  return mine
    .filter((e) => !taken?.has(e.objectId))
    .map(({ objectId: id, detail }) => ({
      what,
      id,
      digest: String((detail as Readonly<Record<string, unknown>> | null)?.[field] ?? ''),
      value: stand.get(id),
    }));
}

/** Records that stand in the database without an entry that tells of them; counted, sealed or not. */
async function untold(store: Queries, witnesses: readonly Witness[]): Promise<string | undefined> {
  for (const { action, what, table, told = '1 = 1', counts } of witnesses) {
    const row = counts
      ? await counts(store)
      : await store.one(
          z.object({ told: Count, there: Count }),
          `SELECT (SELECT COUNT(*) FROM ledger_entry WHERE action = ?) AS told, (SELECT COUNT(*) FROM ${table} WHERE ${told}) AS there`,
          [action],
        );
    const more = (row?.there ?? 0) - (row?.told ?? 0);
    if (more > 0)
      return `${more === 1 ? `A ${what} stands` : `${more} ${what}s stand`} in the database that the ledger does not tell of.`;
  }
  return undefined;
}

function tell(thread: Worker, message: ToVerifier): Promise<unknown> {
  return new Promise((resolve, reject) => {
    const settle = (end: () => void) => {
      thread.off('message', said);
      thread.off('error', failed);
      thread.off('exit', gone);
      end();
    };
    const said = (answer: unknown) => settle(() => resolve(answer));
    const failed = (error: Error) => settle(() => reject(error));
    const gone = () => settle(() => reject(new Error('The thread that verifies ended.')));
    thread.on('message', said);
    thread.on('error', failed);
    thread.on('exit', gone);
    thread.postMessage(message);
  });
}
