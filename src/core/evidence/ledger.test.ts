import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import {
  entryLeaf,
  LedgerVerifier,
  verifyEntry,
  writeLine,
  type LedgerEntry,
  type LedgerTree,
} from './ledger.ts';
import { chainHead, FIRST_HEAD, inclusionPath, toHex, treeRoot } from './merkle.ts';

const entry = (id: number): LedgerEntry => ({
  id: String(id),
  at: '2026-11-20T09:00:00.000Z',
  actor: '1',
  action: 'notice.edit',
  object: 'notice',
  objectId: '4',
  detail: { days: id, words: ['6 → 12 months'] },
});

function sealed(sizes: readonly number[]): {
  lines: string[];
  trees: LedgerTree[];
  entries: LedgerEntry[][];
} {
  let previous = FIRST_HEAD;
  let id = 0;
  const lines = [writeLine({ line: 'ledger', format: 2, exportedAt: '2026-11-20T10:00:00.000Z' })];
  const trees: LedgerTree[] = [];
  const all: LedgerEntry[][] = [];
  for (const [i, size] of sizes.entries()) {
    const entries = Array.from({ length: size }, () => entry(++id));
    const root = treeRoot(entries.map(entryLeaf));
    const sealedAt = `2026-11-20T09:0${i}:00.000Z`;
    const head = chainHead(previous, { number: i + 1, size, root, sealedAt });
    const tree = {
      number: i + 1,
      size,
      sealedAt,
      root: toHex(root),
      previous: toHex(previous),
      head: toHex(head),
    };
    lines.push(
      writeLine({ line: 'tree', ...tree }),
      ...entries.map((e) => writeLine({ line: 'entry', ...e })),
    );
    trees.push(tree);
    all.push(entries);
    previous = head;
  }
  lines.push(writeLine({ line: 'end', trees: sizes.length, entries: id, head: toHex(previous) }));
  return { lines, trees, entries: all };
}

function verify(lines: readonly string[], pinned?: string) {
  const verifier = new LedgerVerifier(pinned);
  for (const line of lines) verifier.push(line);
  return verifier.end();
}

const sizes = fc.array(fc.integer({ min: 1, max: 9 }), { minLength: 1, maxLength: 4 });

describe('an export', () => {
  it('verifies as it was written', () => {
    fc.assert(
      fc.property(sizes, (s) => {
        expect(verify(sealed(s).lines)).toMatchObject({ ok: true, trees: s.length });
      }),
    );
  });

  it('fails when any line is dropped, doubled or swapped with another', () => {
    fc.assert(
      fc.property(sizes, fc.nat(), fc.nat(), (s, m, n) => {
        const { lines } = sealed(s);
        const a = m % lines.length;
        const b = n % lines.length;
        expect(verify(lines.toSpliced(a, 1)).ok).toBe(false);
        expect(verify(lines.toSpliced(a, 0, lines[a]!)).ok).toBe(false);
        if (a !== b) expect(verify(lines.with(a, lines[b]!).with(b, lines[a]!)).ok).toBe(false);
      }),
    );
  });

  it('fails when any digit in it is edited', () => {
    const { lines } = sealed([3, 2]);
    for (const [i, line] of lines.entries()) {
      if (line.includes('"ledger"')) continue;
      const digits = [...line.matchAll(/\d/g)].map((m) => m.index);
      for (const at of digits) {
        const edited = line.slice(0, at) + ((Number(line[at]) + 1) % 10) + line.slice(at + 1);
        expect(verify(lines.with(i, edited)).ok, `line ${i}, digit ${at}: ${edited}`).toBe(false);
      }
    }
  });

  it('fails against a head noted elsewhere when the chain was cut or rewritten', () => {
    const whole = sealed([3, 2, 4]);
    const head = whole.trees[2]!.head;
    expect(verify(whole.lines, head).ok).toBe(true);
    expect(verify(sealed([3, 2]).lines, head)).toMatchObject({
      ok: false,
      why: expect.stringContaining(head),
    });
  });

  it('is not a ledger when it is empty or something else', () => {
    expect(verify([]).why).toMatch(/not a ledger export/);
    expect(verify(['hello']).why).toMatch(/not a line/);
    expect(verify(['['.repeat(100_000)]).why).toMatch(/not a line/);
  });
});

it('one entry proves itself with its path', () => {
  const { trees, entries } = sealed([5]);
  const leaves = entries[0]!.map(entryLeaf);
  const proof = {
    entry: entries[0]![3]!,
    tree: trees[0]!,
    index: 3,
    path: inclusionPath(leaves, 3).map(toHex),
  };
  expect(verifyEntry(proof)).toBe(true);
  expect(verifyEntry({ ...proof, index: 2 })).toBe(false);
  expect(verifyEntry({ ...proof, entry: { ...proof.entry, actor: '2' } })).toBe(false);
});
