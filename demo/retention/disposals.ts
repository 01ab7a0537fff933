import { createHash } from 'node:crypto';
import { canonicalDigest } from '../../src/core/evidence/offers.ts';
import {
  CERTIFICATE_FORMAT,
  CERTIFIED,
  rootOfItems,
  type DisposalCertificate,
  type GoneItem,
} from '../../src/core/retention/disposal/certificate.ts';
import { THEN } from '../../src/core/retention/verdict/retention-verdict.ts';
import { toDatetime } from '../../src/server/store/columns.ts';
import type { Demo } from '../demo.ts';
import { emailOf } from '../accounts/people.ts';
import { line } from '../ledger.ts';

interface PastDisposal {
  readonly rule: string;
  readonly name: string;
  readonly duty: string;
  readonly content: unknown;
  readonly owner: string;
  readonly agreed: readonly string[];
  readonly source: { readonly id: string; readonly name: string };
  readonly items: number;
  readonly daysAgo: number;
  readonly method: string;
}

/** Far from the numbers that surveys give. */
const FIRST_ITEM = 900_000_000;

/** Two disposals that went through weeks ago, each with its certificate. */
export async function loadPastDisposals(demo: Demo, all: readonly PastDisposal[]): Promise<void> {
  const { tx, lines, random } = demo;
  for (const [n, d] of all.entries()) {
    const [made, begun, ended] = [demo.at(d.daysAgo + 9), demo.at(d.daysAgo + 2), demo.at(d.daysAgo)];
    const items = Array.from({ length: d.items }, (_, i): GoneItem => {
      const bytes = 900 + random.below(4000);
      return {
        item: FIRST_ITEM + n * 10_000 + i,
        hash: createHash('sha256').update(`${d.name} ${n} ${i} ${bytes}`).digest('hex'),
        bytes,
        method: d.method,
        at: ended.toISOString(),
      };
    });
    const bytes = items.reduce((sum, i) => sum + i.bytes, 0);
    const { id } = await tx.run(
      `INSERT INTO disposal (rule_id, rule_version, rule_name, follows, owner, state, needed, silent, undo_days, items, made_at, told_at, agreed_at, ended_at)
       VALUES (?, 1, ?, 'ask', ?, 'done', ?, 'officer', 0, ?, ?, ?, ?, ?)`,
      [d.rule, d.name, d.owner, d.agreed.length, d.items, ...[made, made, begun, ended].map(toDatetime)],
    );
    const agreed = d.agreed.map((name, i) => ({ name, at: demo.at(d.daysAgo + 4 - i).toISOString() }));
    for (const { name, at } of agreed)
      await tx.run(
        'INSERT INTO disposal_word (disposal_id, address, name, account_id, agrees, at) VALUES (?, ?, ?, ?, 1, ?)',
        [id, emailOf(name), name, demo.people.get(name) ?? null, toDatetime(at)],
      );
    await tx.run(
      'INSERT INTO disposal_item (disposal_id, item_id, source_id, state, goes, size, hash, method, at) VALUES ?',
      [
        items.map((i) => [
          ...[id, i.item, d.source.id, 'gone', made.toISOString().slice(0, 10), i.bytes],
          ...[Buffer.from(i.hash, 'hex'), i.method, toDatetime(ended)],
        ]),
      ],
    );
    const certificate: DisposalCertificate = {
      format: CERTIFICATE_FORMAT,
      disposal: String(id),
      rule: { id: d.rule, name: d.name, version: 1, duty: d.duty, digest: canonicalDigest(d.content) },
      follows: THEN.ask,
      agreed,
      begun: begun.toISOString(),
      ended: ended.toISOString(),
      counts: { gone: items.length, bytes, kept: 0, failed: 0, back: 0 },
      sources: [{ name: d.source.name, items: items.length, bytes }],
      copies: [],
      items,
      root: rootOfItems(items),
    };
    await tx.run('UPDATE disposal SET certificate = ? WHERE id = ?', [JSON.stringify(certificate), id]);
    const told = (at: Date, action: string, detail: Readonly<Record<string, string | number>>) =>
      lines.push(line(at, 'worker', action, 'disposal', id, detail));
    told(made, 'disposal.gather', { rule: d.rule, version: 1, items: d.items, needed: d.agreed.length });
    told(ended, CERTIFIED, {
      digest: canonicalDigest(certificate),
      root: certificate.root,
      items: items.length,
      bytes,
    });
  }
}
