import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compareStores, type KeptStore } from './compare-stores.ts';
import { isLike, ownerOf } from './listing.ts';
import { changeWords, placeKey, storeChanges, storeOf, type Store } from './store.ts';
import { guessColumns } from '../tables/table-fields.ts';
import { kindNamed, readStores, STORE_FIELDS } from './store-table.ts';

const store = (key: string, more: Partial<Store> = {}): Store => ({
  key,
  name: key,
  address: { kind: 'folder', root: `/mnt/${key}` },
  team: '',
  region: '',
  bytes: null,
  created: null,
  ...more,
});

describe('what a text is like', () => {
  it.each([
    ['port-share', 'port-*', true],
    ['Port-Share', 'port-*', true],
    ['airport-share', 'port-*', false],
    ['airport-share', '*port*', true],
    ['abc', 'abc', true],
    ['abcd', 'abc', false],
    ['aba', 'ab*ba', false],
    ['abba', 'ab*ba', true],
    ['a.c', 'a.c', true],
    ['abc', 'a.c', false],
    ['anything', '*', true],
  ])('%s, %s: %s', (text, like, is) => expect(isLike(text, like)).toBe(is));

  it('is what a regular expression says, made from the same', () => {
    const letters = fc.string({ unit: fc.constantFrom('a', 'b', '*', '.'), maxLength: 8 });
    fc.assert(
      fc.property(
        fc.string({ unit: fc.constantFrom('a', 'b', '.'), maxLength: 10 }),
        letters,
        (text, like) => {
          const slow = new RegExp(
            `^${like
              .split('*')
              .map((p) => p.replaceAll('.', '\\.'))
              .join('.*')}$`,
          );
          expect(isLike(text, like)).toBe(slow.test(text));
        },
      ),
    );
  });

  it('decides whose a store is, the first rule that matches', () => {
    const owners = [
      { of: 'name', like: 'payroll-*', system: 1 },
      { of: 'team', like: 'finance', system: 2 },
    ] as const;
    expect(ownerOf(store('payroll-x', { team: 'Finance' }), owners)?.system).toBe(1);
    expect(ownerOf(store('other', { team: 'Finance' }), owners)?.system).toBe(2);
    expect(ownerOf(store('other'), owners)).toBeUndefined();
  });
});

describe('what differs between two readings', () => {
  it('tells new, back, changed, same and gone apart', () => {
    const kept: KeptStore[] = [
      { store: store('same'), gone: false },
      { store: store('moved', { team: 'IT' }), gone: false },
      { store: store('away'), gone: false },
      { store: store('returned'), gone: true },
      { store: store('long gone'), gone: true },
      { store: store('faulty'), gone: false },
    ];
    const now = [
      store('same', { bytes: 9 }),
      store('moved', { team: 'Freight' }),
      store('returned'),
      store('added'),
      store('added', { team: 'twice' }),
    ];
    const { added, back, changed, same, gone } = compareStores(kept, now, new Set(['faulty']));
    expect(added).toEqual([store('added')]);
    expect(back.map((s) => s.key)).toEqual(['returned']);
    expect(same.map((s) => s.key)).toEqual(['same']);
    expect(gone).toEqual(['away']);
    expect(changed.map((c) => c.changes.map(changeWords))).toEqual([['team was IT, and is now Freight']]);
  });

  const some = fc.uniqueArray(fc.constantFrom('a', 'b', 'c', 'd', 'e', 'f'));
  it('puts every store in one heap, and a reading after the same reading finds nothing', () =>
    fc.assert(
      fc.property(some, some, fc.array(fc.boolean()), (before, now, gone) => {
        const kept = before.map((k, i) => ({ store: store(k), gone: gone[i] ?? false }));
        const read = now.map((k) => store(k));
        const d = compareStores(kept, read);
        const heaps = [d.added, d.back, d.changed.map((c) => c.store), d.same].map((h) =>
          h.map((s) => s.key),
        );
        expect(heaps.flat().sort()).toEqual([...now].sort());
        for (const key of d.gone) expect(now).not.toContain(key);
        const after = compareStores(
          [
            ...read.map((s) => ({ store: s, gone: false })),
            ...d.gone.map((k) => ({ store: store(k), gone: true })),
          ],
          read,
        );
        expect([after.added, after.back, after.changed, after.gone]).toEqual([[], [], [], []]);
      }),
    ));

  it('says a place moved, and not that it grew', () => {
    const b = store('x', { bytes: 1 });
    expect(storeChanges(b, { ...b, bytes: 2 })).toEqual([]);
    expect(storeChanges(b, { ...b, address: { kind: 'folder', root: '/mnt/y' } }).map(changeWords)).toEqual([
      'place was folder /mnt/x, and is now folder /mnt/y',
    ]);
  });
});

describe('a store as an account tells it', () => {
  it('is taken with what is known of it, whatever else is told', () => {
    const told = {
      id: 7,
      name: 'photos',
      address: { kind: 'postgresql', host: 'db.example', database: 'photos' },
      team: null,
      colour: 'red',
    };
    expect(storeOf(told)).toEqual({
      key: '7',
      name: 'photos',
      address: { kind: 'postgresql', host: 'db.example', port: 5432, user: '', database: 'photos' },
      team: '',
      region: '',
      bytes: null,
      created: null,
    });
  });

  it.each([
    [{ id: 'a', name: 'x', address: { kind: 'tape' } }, 'x', 'a'],
    [{ id: 'a', address: { kind: 'folder', root: 'not whole' } }, 'a', 'a'],
    [null, 'One without a name', null],
    [['list'], 'One without a name', null],
  ])('is told where it cannot be taken: %j', (told, name, id) =>
    expect(storeOf(told)).toMatchObject({ store: name, id }),
  );

  it('lies in one place however it is opened', () => {
    const at = { kind: 'object store', region: 'eu', bucket: 'b', prefix: '' } as const;
    const [a, b] = [
      placeKey({ ...at, endpoint: 'https://store.example/', user: 'one' }),
      placeKey({ ...at, endpoint: 'https://store.example', user: 'two', region: 'us' }),
    ];
    expect(a).toBe(b);
  });
});

describe('a table of stores', () => {
  it.each([
    [['Name', 'Type', 'Host', 'Owner'], { name: 0, kind: 1, where: 2, team: 3 }],
    [['Server name', 'Kind', 'Path'], { name: 0, kind: 1, where: 2 }],
    [['bucket', 'endpoint', 'name', 'kind'], { name: 2, kind: 3, where: 1, inside: 0 }],
    [['', 'x'], {}],
  ])('%j has its columns at %j', (headings, columns) =>
    expect(guessColumns(STORE_FIELDS, headings)).toEqual(columns),
  );

  it('knows kinds as people write them', () => {
    expect(kindNamed(' S3 ')).toBe('object store');
    expect(kindNamed('Mailbox (IMAP)')).toBe('imap');
    expect(kindNamed('abacus')).toBeUndefined();
  });

  const columns = { name: 0, kind: 1, where: 2, inside: 3, bytes: 4 } as const;
  it('is read row by row; a row without an id is known by where it lies', () => {
    const { stores, faults } = readStores(
      [
        ['Port', 'Share', '/srv/port', '', '1 048 576'],
        ['', '', '', '', ''],
        ['Logs', 'bucket', 'https://s.example', 'logs', ''],
      ],
      columns,
    );
    expect(faults).toEqual([]);
    expect(stores.map((s) => [s.key, s.bytes])).toEqual([
      ['folder /srv/port', 1_048_576],
      ['object store s.example logs ', null],
    ]);
  });

  it('tells every fault with its cell', () => {
    const { stores, faults } = readStores(
      [
        ['Port', 'Share', 'srv/port', '', ''],
        ['', 'folder', '/srv/x', '', ''],
        ['X', 'abacus', '/srv/x', '', ''],
        ['Y', 'folder', '/srv/y', '', 'large'],
        ['Z', 'folder', '/srv/z', '', ''],
        ['Z again', 'folder', '/srv/z/', '', ''],
        ['B', 'S3', 'nowhere', '', ''],
      ],
      columns,
    );
    expect(stores.map((s) => s.name)).toEqual(['Z']);
    expect(faults.map((f) => [f.row, f.column])).toEqual([
      [0, 2],
      [1, 0],
      [2, 1],
      [3, 4],
      [5, 2],
      [6, 2],
      [6, 3],
    ]);
    expect(faults[4]?.words).toBe('The same as in row 6.');
  });
});
