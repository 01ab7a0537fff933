import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { RefusedError } from '../../../src/core/refusal.ts';
import { listEntries } from '../../../src/server/evidence/ledger.ts';
import type { EditConflict } from '../../../src/server/rules/edit-conflict.ts';
import { editObject, readObject, undoEdit, type PlainKind } from '../../../src/server/rules/plain-object.ts';
import { objectAt, objectHistory } from '../../../src/server/rules/object-history.ts';
import { insertRule } from '../../../src/server/rules/rule-store.ts';
import { saveRuleDraft, undoRuleEdit } from '../../../src/server/rules/rule-edits.ts';
import { OFFICER, testAccount, testContext, unique } from '../context.ts';

const ctx = testContext();
afterAll(() => ctx.store.close());

interface Ship {
  readonly name: string;
  readonly metres: number;
  readonly port: string;
}
const HALE: Ship = { name: 'MS Hale', metres: 90, port: 'Halmsund' };

let kept: Map<string, Ship>;
let ship: PlainKind<Ship>;
beforeEach(() => {
  kept = new Map([['1', HALE]]);
  ship = {
    object: unique('ship'),
    content: z.strictObject({ name: z.string().min(1, 'Name it'), metres: z.number(), port: z.string() }),
    vocabulary: async () => ({ path: ([first]) => (first === 'metres' ? 'Length' : first) }),
    read: async (_store, key) => {
      const found = kept.get(String(key));
      if (!found) throw new RefusedError('There is no such ship.', [], 404);
      return found;
    },
    write: async (_tx, key, content) => {
      kept.set(String(key), content);
    },
  };
});

const edit = (revision: number, base: Ship, content: Ship, by = OFFICER.id) =>
  ctx.store.transaction((tx) => editObject(tx, ctx.now(), ship, by, '1', { revision, base, content }));
const undo = (revision: number) =>
  ctx.store.transaction((tx) => undoEdit(tx, ctx.now(), ship, OFFICER.id, '1', revision));
const read = () => readObject(ctx.store, ship, '1');

describe('an object that is no rule', () => {
  it('is edited with its words in the ledger', async () => {
    expect(await read()).toMatchObject({ revision: 0, editedBy: null, content: HALE });
    expect(await edit(0, HALE, { ...HALE, metres: 95 })).toEqual({ revision: 1 });
    expect(await read()).toMatchObject({ revision: 1, content: { metres: 95 } });
    const { rows } = await listEntries(ctx.store, { object: ship.object, objectId: '1' }, undefined, 20);
    expect(rows.map((r) => r.detail)).toMatchObject([{ revision: 1, words: ['Length: 90 → 95'] }]);
    expect(await edit(1, { ...HALE, metres: 95 }, { ...HALE, metres: 95 })).toEqual({ revision: 1 });
  });

  it('tells the second of two editors what the first did, and merges what goes together', async () => {
    const { id } = await testAccount(ctx);
    await edit(0, HALE, { ...HALE, metres: 95 }, id);
    const refused = await edit(0, HALE, { ...HALE, metres: 99, port: 'Marrow Quay' }).catch(
      (e: unknown) => e,
    );
    expect(refused).toMatchObject({ status: 409 });
    const conflict = (refused as RefusedError).detail as EditConflict<Ship>;
    expect(conflict).toMatchObject({
      revision: 1,
      editedBy: 'Test Person',
      collisions: ['Length'],
      merged: { metres: 99, port: 'Marrow Quay' },
    });
    expect((await read()).content).toEqual({ ...HALE, metres: 95 });
  });

  it('refuses what will not do, naming the field, and what is not there', async () => {
    await expect(edit(0, HALE, { ...HALE, name: '' })).rejects.toMatchObject({
      fields: [{ field: 'name', message: 'Name it' }],
    });
    expect((await read()).revision).toBe(0);
    await expect(
      ctx.store.transaction((tx) =>
        editObject(tx, ctx.now(), ship, OFFICER.id, '2', { revision: 0, base: HALE, content: HALE }),
      ),
    ).rejects.toMatchObject({ status: 404 });
  });

  it('takes two first edits at once one after the other', async () => {
    const ends = await Promise.allSettled([
      edit(0, HALE, { ...HALE, metres: 1 }),
      edit(0, HALE, { ...HALE, metres: 2 }),
    ]);
    expect(ends.map((e) => e.status).toSorted()).toEqual(['fulfilled', 'rejected']);
    expect((await read()).revision).toBe(1);
  });

  it('undoes one edit and leaves later ones, all or nothing', async () => {
    await edit(0, HALE, { ...HALE, metres: 95, name: 'MS Hale II' });
    await edit(1, (await read()).content, { ...(await read()).content, port: 'Marrow Quay' });
    expect(await undo(1)).toEqual({ revision: 3 });
    expect((await read()).content).toEqual({ ...HALE, port: 'Marrow Quay' });
    await edit(3, (await read()).content, { ...(await read()).content, port: 'Østervig' });
    await expect(undo(2)).rejects.toMatchObject({ status: 409 });
    expect((await read()).content.port).toBe('Østervig');
    await expect(undo(77)).rejects.toMatchObject({ status: 404 });
    // An undo is an edit, and can be undone.
    await undo(3);
    expect((await read()).content).toEqual({ name: 'MS Hale II', metres: 95, port: 'Østervig' });
  });
});

it('a rule’s edit is undone in the same way, but not where the ledger keeps less of it than there was', async () => {
  const kind = {
    object: unique('berth'),
    content: ship.content,
    name: () => 'x',
    place: () => '/',
    vocabulary: ship.vocabulary,
  };
  const secretive = {
    ...kind,
    redact: (d: { path: readonly string[] }) => ({ path: d.path, before: '…', after: '…' }),
  };
  await insertRule(ctx.store, ctx.now(), kind, 'a', HALE, OFFICER.id);
  const save = (k: typeof kind, revision: number, base: Ship, content: Ship) =>
    ctx.store.transaction((tx) =>
      saveRuleDraft(tx, ctx.now(), k, OFFICER.id, 'a', { revision, base, content }),
    );
  const back = (revision: number) =>
    ctx.store.transaction((tx) => undoRuleEdit(tx, ctx.now(), kind, OFFICER.id, 'a', revision));
  await save(kind, 1, HALE, { ...HALE, metres: 91 });
  expect(await back(2)).toEqual({ revision: 3 });
  await save(secretive as typeof kind, 3, HALE, { ...HALE, name: 'MS Secret' });
  await expect(back(4)).rejects.toThrow('keeps only part');
});

describe('what an object was before', () => {
  it('is told edit by edit, and made again for any version', async () => {
    const versions = [HALE];
    for (const metres of [95, 99, 120]) {
      const last = versions.at(-1) as Ship;
      versions.push({ ...last, metres });
      await edit(versions.length - 2, last, { ...last, metres });
    }
    const first = await objectHistory(ctx.store, ship.object, '1', undefined, 2);
    const rest = await objectHistory(ctx.store, ship.object, '1', first.next ?? undefined, 2);
    expect([...first.rows, ...rest.rows].map((e) => [e.revision, ...e.words])).toEqual([
      [3, 'Length: 99 → 120'],
      [2, 'Length: 95 → 99'],
      [1, 'Length: 90 → 95'],
    ]);
    expect(rest.next).toBeNull();
    for (const [revision, content] of versions.entries())
      expect(await objectAt(ctx.store, ship, '1', revision)).toEqual({ revision, content });
    await expect(objectAt(ctx.store, ship, '1', 4)).rejects.toMatchObject({ status: 404 });
  });
});
