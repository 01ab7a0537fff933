import canonicalize from 'canonicalize';
import { z } from 'zod';
import {
  chainHead,
  equalHash,
  FIRST_HEAD,
  fromHex,
  leafHash,
  toHex,
  treeRoot,
  verifyInclusion,
  type Hash,
} from './merkle.ts';

/** One line of the ledger. It holds ids and masked values, never personal data. */
export const LedgerEntry = z.strictObject({
  id: z.string().regex(/^\d+$/),
  /** ISO 8601, UTC, milliseconds. */
  at: z.string(),
  /** Account id as text, or `visitor`, `worker`, `system`. */
  actor: z.string(),
  /** Noun and verb: `notice.put-in-force`. */
  action: z.string(),
  object: z.string(),
  objectId: z.string(),
  /** What changed or what was decided, as plain JSON. */
  detail: z.json(),
});
export type LedgerEntry = z.infer<typeof LedgerEntry>;

const Hex = z.string().regex(/^[0-9a-f]{64}$/);

export const LedgerTree = z.strictObject({
  number: z.int().positive(),
  size: z.int().positive(),
  sealedAt: z.string(),
  root: Hex,
  previous: Hex,
  head: Hex,
});
export type LedgerTree = z.infer<typeof LedgerTree>;

/**
 * The export: one RFC 8785 canonical JSON object a line, a tree before the entries it seals, and the closing line last.
 * That line says what the database held when the export began: the number of the last tree and its head, and how many
 * entries said that they are sealed.
 */
export const LedgerLine = z.discriminatedUnion('line', [
  z.strictObject({ line: z.literal('ledger'), format: z.literal(2), exportedAt: z.string() }),
  LedgerTree.extend({ line: z.literal('tree') }),
  LedgerEntry.extend({ line: z.literal('entry') }),
  z.strictObject({ line: z.literal('end'), trees: z.int(), entries: z.int(), head: Hex }),
]);
export type LedgerLine = z.infer<typeof LedgerLine>;

/** A line as it stands in an export. */
export function writeLine(line: LedgerLine): string {
  return canonicalize(line) as string;
}

/** The leaf of an entry: its RFC 8785 canonical JSON, hashed as in RFC 6962. */
export function entryLeaf(entry: LedgerEntry): Hash {
  const { id, at, actor, action, object, objectId, detail } = entry;
  const text = canonicalize({ id, at, actor, action, object, objectId, detail });
  return leafHash(new TextEncoder().encode(text));
}

export interface Verification {
  readonly ok: boolean;
  readonly trees: number;
  readonly entries: number;
  readonly head: string;
  /** The first thing found wrong, in words; `undefined` when all is in order. */
  readonly why?: string | undefined;
}

/**
 * Checks an export line by line, in memory of one tree. `pinned` is a head noted earlier elsewhere: the export must
 * hold a tree with that head, which is what catches a chain that was rewritten whole or cut at its end.
 */
export class LedgerVerifier {
  #previous: Hash = FIRST_HEAD;
  #number = 0;
  #entries = 0;
  #tree: LedgerTree | undefined;
  #leaves: Hash[] = [];
  #started = false;
  #ended = false;
  #pinnedSeen = false;
  #why: string | undefined;

  constructor(readonly pinned?: string) {}

  push(text: string): void {
    if (this.#why !== undefined || text.trim() === '') return;
    const parsed = readLine(text);
    if (typeof parsed === 'string') return this.#fail(`Line ${this.#where()} ${parsed}`);
    if (this.#ended) return this.#fail('There is something after the closing line.');
    if (!this.#started && parsed.line !== 'ledger')
      return this.#fail('This is not a ledger export: it has no opening line.');
    switch (parsed.line) {
      case 'ledger':
        if (this.#started) this.#fail('The export begins twice.');
        this.#started = true;
        return;
      case 'tree': {
        this.#closeTree();
        const { line: _line, ...tree } = parsed;
        return this.#openTree(tree);
      }
      case 'entry': {
        const { line: _line, ...entry } = parsed;
        if (!this.#tree) return this.#fail(`Entry ${entry.id} stands in no tree.`);
        this.#leaves.push(entryLeaf(entry));
        this.#entries++;
        return;
      }
      case 'end':
        this.#closeTree();
        if (this.#why === undefined && (parsed.trees !== this.#number || parsed.entries !== this.#entries))
          this.#fail(
            `${counted(parsed.trees, 'tree', 'trees')} and ${counted(parsed.entries, 'sealed entry', 'sealed entries')} should be here; there are ${this.#number} and ${this.#entries}.`,
          );
        if (parsed.head !== toHex(this.#previous))
          this.#fail('The closing head is not the head of the last tree.');
        this.#ended = true;
    }
  }

  end(): Verification {
    if (!this.#started) this.#fail('This is not a ledger export: it has no opening line.');
    if (!this.#ended) this.#fail('The export is cut short: it has no closing line.');
    if (this.pinned && !this.#pinnedSeen) this.#fail(`The head ${this.pinned} is not in this ledger.`);
    const head = toHex(this.#previous);
    return { ok: this.#why === undefined, trees: this.#number, entries: this.#entries, head, why: this.#why };
  }

  #openTree(tree: LedgerTree): void {
    if (tree.number !== this.#number + 1)
      return this.#fail(`Tree ${tree.number} follows tree ${this.#number}.`);
    if (!equalHash(fromHex(tree.previous), this.#previous))
      return this.#fail(`Tree ${tree.number} does not follow the head before it.`);
    this.#number = tree.number;
    this.#tree = tree;
    this.#leaves = [];
  }

  #closeTree(): void {
    const tree = this.#tree;
    if (!tree || this.#why !== undefined) return;
    this.#tree = undefined;
    if (tree.size !== this.#leaves.length)
      return this.#fail(`Tree ${tree.number} sealed ${tree.size} entries; ${this.#leaves.length} are here.`);
    const root = treeRoot(this.#leaves);
    if (toHex(root) !== tree.root)
      return this.#fail(`Tree ${tree.number}: an entry was edited, dropped or moved since it was sealed.`);
    const head = chainHead(this.#previous, { ...tree, root });
    if (toHex(head) !== tree.head)
      return this.#fail(`Tree ${tree.number}: its number, time or head was edited.`);
    this.#previous = head;
    if (tree.head === this.pinned) this.#pinnedSeen = true;
  }

  #where(): number {
    return this.#entries + this.#number + (this.#started ? 2 : 1);
  }

  #fail(why: string): void {
    this.#why ??= why;
  }
}

/** An entry with the path that ties it to a sealed head; enough for anyone to check it alone. */
export const EntryProof = z.strictObject({
  entry: LedgerEntry,
  tree: LedgerTree,
  index: z.int().nonnegative(),
  path: z.array(Hex),
});
export type EntryProof = z.infer<typeof EntryProof>;

export function verifyEntry({ entry, tree, index, path }: EntryProof): boolean {
  const root = fromHex(tree.root);
  const head = chainHead(fromHex(tree.previous), { ...tree, root });
  return (
    toHex(head) === tree.head && verifyInclusion(entryLeaf(entry), index, tree.size, path.map(fromHex), root)
  );
}

/** A line, or what is wrong with it: what reads differently to someone else proves nothing. */
function readLine(text: string): LedgerLine | string {
  let value: unknown;
  try {
    value = JSON.parse(text);
    if (canonicalize(value) !== text) return 'is not written as it is in an export: it was changed.';
  } catch {
    return 'is not a line of a ledger export.';
  }
  const { line, format } = value as { line?: unknown; format?: unknown };
  if (line === 'ledger' && format === 1)
    return 'says that an older Yare Warden wrote this export. Export the ledger again.';
  if (namesPrototype(value)) return 'has a key that no entry has: __proto__.';
  const result = LedgerLine.safeParse(value);
  // Taken as it was read, so that the leaf is made of what stands in the line.
  return result.success ? (value as LedgerLine) : 'is not a line of a ledger export.';
}

function namesPrototype(value: unknown): boolean {
  if (typeof value !== 'object' || value === null) return false;
  return Object.keys(value).includes('__proto__') || Object.values(value).some(namesPrototype);
}

function counted(n: number, one: string, many: string): string {
  return `${n} ${n === 1 ? one : many}`;
}
