import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { auditPaths, chainHead, FIRST_HEAD, toHex } from '../../evidence/merkle.ts';
import { canonicalDigest } from '../../evidence/canonical.ts';
import { entryLeaf, type LedgerEntry } from '../../evidence/ledger.ts';
import {
  CERTIFIED,
  CERTIFICATE_FORMAT,
  rootOfItems,
  verifyCertificate,
  type DisposalCertificate,
  type GoneItem,
  type ProvenCertificate,
} from './certificate.ts';

const gone = (item: number, bytes = 100 + item): GoneItem => ({
  item,
  hash: item.toString(16).padStart(64, '0'),
  bytes,
  method: 'taken out of the file system',
  at: '2026-11-29T10:00:00.000Z',
});

function certificateOf(items: readonly GoneItem[]): DisposalCertificate {
  return {
    format: CERTIFICATE_FORMAT,
    disposal: '7',
    rule: { id: '2', name: 'Manifests', version: 3, duty: 'Art. 5(1)(e) GDPR', digest: 'ab'.repeat(32) },
    follows: 'ask the owner, then delete',
    agreed: [{ name: 'Tove Lindqvist', at: '2026-11-28T10:00:00.000Z' }],
    ...{ begun: '2026-11-29T09:59:00.000Z', ended: '2026-11-29T10:00:00.000Z' },
    counts: {
      gone: items.length,
      bytes: items.reduce((n, i) => n + i.bytes, 0),
      kept: 1,
      failed: 0,
      back: 0,
    },
    sources: [{ name: 'Port share', items: items.length, bytes: 1 }],
    copies: [],
    items: [...items],
    root: rootOfItems(items),
  };
}

/** With a proof, among other entries of a ledger. */
function proven(certificate: DisposalCertificate, among = 5, at = 3): ProvenCertificate {
  const entry = (i: number): LedgerEntry => ({
    ...{ id: String(i + 1), at: '2026-11-29T10:00:01.000Z', actor: 'worker', object: 'disposal' },
    action: i === at ? CERTIFIED : 'disposal.gather',
    objectId: i === at ? certificate.disposal : String(i),
    detail: i === at ? { digest: canonicalDigest(certificate), root: certificate.root } : {},
  });
  const entries = Array.from({ length: among }, (_, i) => entry(i));
  const { root, paths } = auditPaths(entries.map(entryLeaf));
  const tree = { number: 1, size: among, root, sealedAt: '2026-11-29T10:01:00.000Z' };
  return {
    certificate,
    proof: {
      entry: entry(at),
      index: at,
      path: (paths[at] ?? []).map(toHex),
      tree: {
        ...tree,
        root: toHex(root),
        previous: toHex(FIRST_HEAD),
        head: toHex(chainHead(FIRST_HEAD, tree)),
      },
    },
  };
}

describe('a certificate of disposal', () => {
  const whole = proven(certificateOf([gone(1), gone(2), gone(9)]));
  const head = whole.proof?.tree.head ?? '';

  it('holds by itself, with its proof, and against a head that was noted', () => {
    expect(verifyCertificate(whole)).toEqual({ ok: true, items: 3, head });
    expect(verifyCertificate(whole, head)).toEqual({ ok: true, items: 3, head });
    expect(verifyCertificate({ ...whole, proof: null })).toEqual({ ok: true, items: 3, head: null });
    expect(verifyCertificate(proven(certificateOf([])))).toMatchObject({ ok: true, items: 0 });
  });

  it.each<readonly [string, (c: DisposalCertificate) => DisposalCertificate, RegExp]>([
    ['an item more', (c) => ({ ...c, items: [...c.items, gone(10)] }), /root was made of/],
    ['an item less', (c) => ({ ...c, items: c.items.slice(1) }), /root was made of/],
    ['another hash', (c) => ({ ...c, items: c.items.with(0, { ...gone(1), hash: 'f'.repeat(64) }) }), /root/],
    ['another count', (c) => ({ ...c, counts: { ...c.counts, gone: 4 } }), /counts other items/],
    ['other bytes', (c) => ({ ...c, counts: { ...c.counts, bytes: 4 } }), /counts other items/],
    [
      'an item twice',
      (c) => certificateOf([gone(1), gone(1)]) && { ...c, ...certificateOf([gone(1), gone(1)]) },
      /twice/,
    ],
    [
      'somebody else who agreed',
      (c) => ({ ...c, agreed: [{ name: 'Nobody', at: '' }] }),
      /told something else/,
    ],
    ['another rule', (c) => ({ ...c, rule: { ...c.rule, version: 4 } }), /told something else/],
    ['another disposal', (c) => ({ ...c, disposal: '8' }), /another entry/],
  ])('does not hold with %s', (_, change, why) => {
    expect(verifyCertificate({ ...whole, certificate: change(whole.certificate) })).toMatchObject({
      ok: false,
      why: expect.stringMatching(why) as string,
    });
  });

  it('does not hold where its way into the ledger was touched, or the head is another', () => {
    const proof = whole.proof;
    if (!proof) throw new Error('It has no proof.');
    const { tree } = proof;
    const other = 'c'.repeat(64);
    for (const [wrong, why] of [
      [{ ...proof, index: 2 }, /not in the tree/],
      [{ ...proof, path: proof.path.toReversed() }, /not in the tree/],
      [{ ...proof, tree: { ...tree, root: other } }, /not in the tree/],
      [{ ...proof, tree: { ...tree, previous: other } }, /not that of its tree/],
      [{ ...proof, entry: { ...proof.entry, actor: '1' } }, /not in the tree/],
    ] as const)
      expect(verifyCertificate({ ...whole, proof: wrong })).toMatchObject({
        ok: false,
        why: expect.stringMatching(why) as string,
      });
    expect(verifyCertificate(whole, other)).toMatchObject({ ok: false });
    expect(verifyCertificate({ ...whole, proof: null }, head)).toMatchObject({ ok: false });
  });

  it('holds for any items in any ledger, and for none of them with any one letter changed', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.integer({ min: 1, max: 5000 }), { maxLength: 20 }),
        fc.integer({ min: 1, max: 40 }).chain((n) => fc.tuple(fc.constant(n), fc.nat(n - 1))),
        fc.nat(63),
        (ids, [among, at], letter) => {
          const items = ids.toSorted((a, b) => a - b).map((i) => gone(i));
          const one = proven(certificateOf(items), among, at);
          expect(verifyCertificate(one).ok).toBe(true);
          const { root } = one.certificate;
          const turned = root[letter] === '0' ? '1' : '0';
          const wrong = root.slice(0, letter) + turned + root.slice(letter + 1);
          expect(verifyCertificate({ ...one, certificate: { ...one.certificate, root: wrong } }).ok).toBe(
            false,
          );
        },
      ),
      { numRuns: 60 },
    );
  });
});
