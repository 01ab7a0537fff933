import { describe, expect, it } from 'vitest';
import { byName, contentsOf, takeRows } from './take-rows.ts';

interface Thing {
  readonly name: string;
  readonly days: number;
}

const known = byName<Thing>([
  { id: '1', content: { name: 'Bills', days: 30 } },
  { id: '2', content: { name: 'Letters', days: 90 } },
]);
const rows: readonly Thing[] = [
  { name: 'bills', days: 30 },
  { name: 'Letters', days: 90 },
  { name: 'Letters', days: 60 },
  { name: 'Photos', days: 7 },
];
const vocabulary = { path: (path: readonly (string | number)[]) => `the ${path.join()}`, value: String };

describe('rows of a table', () => {
  it('are what is there by their name, whatever its letters', async () => {
    const taken = await takeRows(rows, known, vocabulary);
    expect(taken.added).toEqual(['Photos']);
    expect(taken.same).toBe(1);
    expect(taken.changed.map((c) => c.name)).toEqual(['bills', 'Letters']);
    expect(taken.changed[1]?.words).toEqual(['the days: 90 → 60']);
  });

  it('are told the same whether they are written or not, and written one after the other', async () => {
    const written: string[] = [];
    const wait = () => new Promise((done) => setTimeout(done, 1));
    const taken = await takeRows(rows, known, vocabulary, {
      async add({ name }) {
        written.push(`add ${name}`);
        await wait();
        written.push('added');
      },
      async edit(id, { days }) {
        written.push(`edit ${id} to ${days}`);
        await wait();
        written.push('edited');
      },
    });
    expect(written).toEqual(['edit 1 to 30', 'edited', 'edit 2 to 60', 'edited', 'add Photos', 'added']);
    expect(taken).toEqual(await takeRows(rows, known, vocabulary));
  });

  it('stop at the first that cannot be written', async () => {
    const written: string[] = [];
    const write = {
      add: (t: Thing) => Promise.resolve(written.push(t.name)),
      edit: () => Promise.reject(new Error('The disk is full.')),
    };
    await expect(takeRows(rows, known, vocabulary, write)).rejects.toThrow('The disk is full.');
    expect(written).toEqual([]);
  });

  it('leave what no row names as it is', async () => {
    expect(await takeRows([], known, vocabulary)).toEqual({ added: [], changed: [], same: 0 });
    expect(contentsOf(known).get('letters')).toEqual({ name: 'Letters', days: 90 });
  });
});
