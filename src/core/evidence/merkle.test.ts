import { expect, it, test } from 'vitest';
import fc from 'fast-check';
import { auditPaths, fromHex, inclusionPath, leafHash, toHex, treeRoot, verifyInclusion } from './merkle.ts';

// The eight inputs and their roots that implementations of RFC 6962 check themselves against.
const INPUTS = [
  '',
  '00',
  '10',
  '2021',
  '3031',
  '40414243',
  '5051525354555657',
  '606162636465666768696a6b6c6d6e6f',
].map(fromHex);
const ROOTS = [
  '6e340b9cffb37a989ca544e6bb780a2c78901d3fb33738768511a30617afa01d',
  'fac54203e7cc696cf0dfcb42c92a1d9dbaf70ad9e621f4bd8d98662f00e3c125',
  'aeb6bcfe274b70a14fb067a5e5578264db0fa9b51af5e0ba159158f329e06e77',
  'd37ee418976dd95753c1c73862b9398fa2a2cf9b4ff0fdfe8b30cd95209614b7',
  '4e3bbb1f7b478dcfe71fb631631519a3bca12c9aefca1612bfce4c13a86264d4',
  '76e67dadbcdf1e10e1b74ddc608abd2f98dfb16fbce75277b5232a127f2087ef',
  'ddb89be403809e325750d3d263cd78929c2942b7942a34b77e122c9594a74c8c',
  '5dc9da79a70659a9ad559cb701ded9a2ab9d823aad2f4960cfe370eff4604328',
];

test.each(ROOTS.map((root, i) => [i + 1, root] as const))(
  'the root of the first %i known inputs',
  (size, root) => {
    expect(toHex(treeRoot(INPUTS.slice(0, size).map(leafHash)))).toBe(root);
  },
);

it('hashes no leaves as nothing', () => {
  expect(toHex(treeRoot([]))).toBe('e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855');
});

it('proves every leaf, and no leaf elsewhere or altered', () => {
  fc.assert(
    fc.property(
      fc.array(fc.uint8Array({ maxLength: 6 }), { minLength: 1, maxLength: 40 }),
      fc.nat(),
      (entries, n) => {
        const leaves = entries.map(leafHash);
        const index = n % leaves.length;
        const leaf = leaves[index]!;
        const path = inclusionPath(leaves, index);
        const root = treeRoot(leaves);
        expect(verifyInclusion(leaf, index, leaves.length, path, root)).toBe(true);
        expect(
          verifyInclusion(leafHash(Uint8Array.of(9, 9, 9, 9, 9, 9, 9, 9)), index, leaves.length, path, root),
        ).toBe(false);
        if (path.length > 0)
          expect(verifyInclusion(leaf, index, leaves.length, path.slice(1), root)).toBe(false);
        expect(verifyInclusion(leaf, leaves.length, leaves.length, path, root)).toBe(false);
      },
    ),
  );
});

it('gives the paths of all leaves in one walk as it gives each', () => {
  fc.assert(
    fc.property(fc.array(fc.uint8Array({ maxLength: 4 }), { minLength: 1, maxLength: 40 }), (entries) => {
      const leaves = entries.map(leafHash);
      const { root, paths } = auditPaths(leaves);
      expect(toHex(root)).toBe(toHex(treeRoot(leaves)));
      for (const [i, path] of paths.entries())
        expect(path.map(toHex)).toEqual(inclusionPath(leaves, i).map(toHex));
    }),
  );
});
