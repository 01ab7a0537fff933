import canonicalize from 'canonicalize';
import { z } from 'zod';

import {
  canonicalDigest,
  chainHead,
  entryLeaf,
  fromHex,
  leafHash,
  LedgerEntry,
  LedgerTree,
  toHex,
  treeRoot,
  verifyInclusion,
} from '../../evidence/offers.ts';

const Hex = z.string().regex(/^[0-9a-f]{64}$/);

/** An item that was let go, without anything that tells of whom it was. */
export const GoneItem = z.strictObject({
  /** Its number at the desk. */
  item: z.int().positive(),
  /** SHA-256 of its bytes. */
  hash: Hex,
  bytes: z.int().nonnegative(),
  /** SHA-256 of what stands in its place, where it was made anonymous. */
  left: Hex.optional(),
  method: z.string().max(200),
  /** When it was found to be gone, ISO 8601. */
  at: z.string(),
});
export type GoneItem = z.infer<typeof GoneItem>;

export const CERTIFICATE_FORMAT = 'yare-disposal-certificate/1';

/** What was let go, under which rule, agreed to by whom, how, and when. */
export const DisposalCertificate = z.strictObject({
  format: z.literal(CERTIFICATE_FORMAT),
  disposal: z.string(),
  rule: z.strictObject({
    id: z.string(),
    name: z.string(),
    version: z.int().nonnegative(),
    duty: z.string(),
    /** SHA-256 of the RFC 8785 canonical JSON of what that version says. */
    digest: Hex,
  }),
  follows: z.string(),
  agreed: z.array(z.strictObject({ name: z.string(), at: z.string() })),
  begun: z.string(),
  ended: z.string(),
  counts: z.strictObject({
    gone: z.int().nonnegative(),
    bytes: z.int().nonnegative(),
    /** Held, changed, or taken out by whoever was asked. */
    kept: z.int().nonnegative(),
    failed: z.int().nonnegative(),
    /** Put back while that could be done. */
    back: z.int().nonnegative(),
  }),
  sources: z.array(z.strictObject({ name: z.string(), items: z.int(), bytes: z.int() })),
  /** Other items of the same bytes, or with the same within them, that the program knew of, and left. */
  copies: z.array(
    z.strictObject({
      item: z.int(),
      of: z.int(),
      where: z.string(),
      /** It is an attachment, or a member of an archive. */
      inside: z.literal(true).optional(),
    }),
  ),
  /** In the order of their numbers. */
  items: z.array(GoneItem),
  /** RFC 6962 over the items. */
  root: Hex,
});
export type DisposalCertificate = z.infer<typeof DisposalCertificate>;

/** The ledger entry that holds a certificate's digest, and the way from it to a sealed head. */
export const CertificateProof = z.strictObject({
  entry: LedgerEntry,
  tree: LedgerTree,
  index: z.int().nonnegative(),
  path: z.array(Hex),
});
export type CertificateProof = z.infer<typeof CertificateProof>;

/** A certificate as it is handed out. */
export const ProvenCertificate = z.strictObject({
  certificate: DisposalCertificate,
  /** Absent until the ledger was sealed. */
  proof: CertificateProof.nullable(),
});
export type ProvenCertificate = z.infer<typeof ProvenCertificate>;

/** The root over items: each is hashed as a leaf of RFC 6962, in its RFC 8785 canonical JSON. */
export function rootOfItems(items: readonly GoneItem[]): string {
  return toHex(treeRoot(items.map((i) => leafHash(new TextEncoder().encode(canonicalize(i))))));
}

/** The action of the ledger's entry for a certificate. */
export const CERTIFIED = 'disposal.certify';

export type Checked =
  | { readonly ok: true; readonly items: number; readonly head: string | null }
  | { readonly ok: false; readonly why: string };

/** Whether a certificate is in itself what it says, and what the ledger was told; `head` is one that was noted elsewhere. */
export function verifyCertificate({ certificate, proof }: ProvenCertificate, head?: string): Checked {
  const wrong = (why: string): Checked => ({ ok: false, why });
  const { items, root, counts } = certificate;
  if (rootOfItems(items) !== root) return wrong('Its items are not those that its root was made of.');
  if (items.some((i, at) => at > 0 && i.item <= (items[at - 1]?.item ?? 0)))
    return wrong('Its items are not in order, or one stands there twice.');
  if (counts.gone !== items.length || counts.bytes !== items.reduce((n, i) => n + i.bytes, 0))
    return wrong('It counts other items than stand in it.');
  if (!proof)
    return head === undefined
      ? { ok: true, items: items.length, head: null }
      : wrong('It has no proof yet: the ledger was not sealed when it was handed out.');
  const { entry, tree, index, path } = proof;
  if (entry.action !== CERTIFIED || entry.objectId !== certificate.disposal)
    return wrong('Its proof is that of another entry of the ledger.');
  const told = z.object({ digest: Hex, root: Hex }).safeParse(entry.detail);
  if (!told.success || told.data.root !== root || told.data.digest !== canonicalDigest(certificate))
    return wrong('The ledger was told something else.');
  if (!verifyInclusion(entryLeaf(entry), index, tree.size, path.map(fromHex), fromHex(tree.root)))
    return wrong('Its entry is not in the tree of the ledger.');
  const chained = chainHead(fromHex(tree.previous), { ...tree, root: fromHex(tree.root) });
  if (toHex(chained) !== tree.head) return wrong('The head is not that of its tree.');
  if (head !== undefined && head !== tree.head)
    return wrong(`The head you noted is not that of tree ${tree.number}, in which it stands.`);
  return { ok: true, items: items.length, head: tree.head };
}
