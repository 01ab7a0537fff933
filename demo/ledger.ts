import type { Json } from '../src/core/rules/change.ts';
import { auditPaths, chainHead, FIRST_HEAD, type Hash } from '../src/core/evidence/merkle.ts';
import { entryLeaf, type LedgerEntry } from '../src/core/evidence/ledger.ts';
import { packPath } from '../src/server/evidence/ledger.ts';
import { toDatetime } from '../src/server/store/columns.ts';
import type { Queries } from '../src/server/store/pool.ts';

export interface LedgerDraft {
  readonly at: Date;
  readonly actor: string;
  readonly action: string;
  readonly object: string;
  readonly objectId: string;
  readonly detail: Json;
}

export function line(
  at: Date,
  actor: number | string,
  action: string,
  object: string,
  objectId: number | string,
  detail: Json,
): LedgerDraft {
  return { at, actor: String(actor), action, object, objectId: String(objectId), detail };
}

/** Writes entries in the order of their time, sealed in one tree a day. Returns the entry of each consent record and preference, and of each sweep's report by its digest. */
export async function writeLedger(tx: Queries, lines: readonly LedgerDraft[]): Promise<Map<string, number>> {
  const sorted = lines.toSorted((a, b) => a.at.getTime() - b.at.getTime());
  const places = new Map<string, number>();
  let previous: Hash = FIRST_HEAD;
  let number = 0;
  for (let from = 0; from < sorted.length;) {
    const day = dayOf(sorted[from] as LedgerDraft);
    let to = from;
    while (to < sorted.length && dayOf(sorted[to] as LedgerDraft) === day) to++;
    const entries = sorted.slice(from, to).map(({ at, ...rest }, i): LedgerEntry => ({
      id: String(from + i + 1),
      at: at.toISOString(),
      ...rest,
      detail: rest.detail as LedgerEntry['detail'],
    }));
    const { root, paths } = auditPaths(entries.map(entryLeaf));
    const sealedAt = (sorted[to - 1] as LedgerDraft).at.toISOString();
    number++;
    const head = chainHead(previous, { number, size: entries.length, root, sealedAt });
    await tx.run(
      'INSERT INTO ledger_tree (number, size, sealed_at, root, previous, head, total) VALUES (?, ?, ?, ?, ?, ?, ?)',
      [
        number,
        entries.length,
        toDatetime(sealedAt),
        Buffer.from(root),
        Buffer.from(previous),
        Buffer.from(head),
        to,
      ],
    );
    for (let i = 0; i < entries.length; i += 1000)
      await tx.run(
        'INSERT INTO ledger_entry (id, at, actor, action, object, object_id, detail, tree, tree_index, audit_path) VALUES ?',
        [
          entries
            .slice(i, i + 1000)
            .map((e, j) => [
              e.id,
              toDatetime(e.at),
              e.actor,
              e.action,
              e.object,
              e.objectId,
              JSON.stringify(e.detail),
              number,
              i + j,
              packPath(paths[i + j] ?? []),
            ]),
        ],
      );
    for (const e of entries) {
      if (e.object === 'consent' || e.object === 'preference') places.set(e.objectId, Number(e.id));
      const { report } = (e.detail ?? {}) as { report?: unknown };
      if (typeof report === 'string') places.set(report, Number(e.id));
    }
    previous = head;
    from = to;
  }
  return places;
}

function dayOf(line: LedgerDraft): string {
  return line.at.toISOString().slice(0, 10);
}
