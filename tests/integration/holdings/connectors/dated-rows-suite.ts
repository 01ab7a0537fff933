import { describe, expect, it } from 'vitest';
import type { RowTemplate } from '../../../../src/core/holdings/sources/row-template.ts';
import type { Connector, ListedItem } from '../../../../src/server/holdings/connectors/connector.ts';
import { contentText } from './suite.ts';

interface Dated {
  connector(templates: readonly RowTemplate[]): Connector;
  /** Of the table `sailing`, with its schema where the connector tells one. */
  readonly place: string;
  /** Runs a statement at the database; rows as lines of text. */
  sql(statement: string): Promise<string>;
}

/** Tables as the suite finds them; `bytes` is the type of columns that hold any bytes. */
export function sailingTables(bytes: string, moment: string): readonly string[] {
  return [
    `CREATE TABLE sailing (id INT PRIMARY KEY, passenger VARCHAR(80) NOT NULL, email VARCHAR(80), ticket ${bytes}, fare DECIMAL(8,2), sailed ${moment} NULL)`,
    `INSERT INTO sailing VALUES (1, 'Tove "T" Lind', 'tove@mail.example', NULL, 12.50, '2019-03-01 00:00:00'),
       (2, '', '', NULL, NULL, '2019-03-31 23:59:59'), (3, 'Line\nbreak, comma', NULL, NULL, 0.10, '2019-04-01 00:00:00'),
       (4, 'Bo', 'bo@mail.example', NULL, 7.00, '2024-02-29 12:00:00'), (5, 'No day', NULL, NULL, 1.00, NULL)`,
    `CREATE TABLE bag (id INT PRIMARY KEY, sailing INT REFERENCES sailing (id) ON DELETE CASCADE)`,
    `CREATE TABLE claim (id INT PRIMARY KEY, sailing INT REFERENCES sailing (id))`,
  ];
}

/** What any database does with rows that are told apart by their day. */
export function datedRowsSuite(of: () => Dated): void {
  const template = (more: Partial<RowTemplate> = {}): RowTemplate => ({
    ...{ table: of().place, day: 'sailed', by: 'month', blank: ['passenger', 'email'], ...more },
  });
  const all = () => of().sql('SELECT * FROM sailing ORDER BY id');
  const open = async (
    work: (c: Connector, one: (name: string) => Promise<ListedItem>) => Promise<void>,
    more: Partial<RowTemplate> = {},
  ) => {
    const c = of().connector([template(more)]);
    try {
      await work(c, async (name) => {
        const [listed] = await c.details(of().place, [name]);
        if (!listed) throw new Error(name);
        return listed;
      });
    } finally {
      await c.close();
    }
  };
  const bytesOf = async (c: Connector, item: ListedItem) =>
    Buffer.from(await contentText(c, of().place, item));

  describe('rows by their day', () => {
    it('are an item a period, dated by its last day', async () => {
      await open(async (c) => {
        const { items } = await c.list(of().place);
        expect(new Set(items)).toEqual(
          new Set(['rows of 2019-03', 'rows of 2019-04', 'rows of 2024-02', 'rows without a day']),
        );
        const listed = await c.details(of().place, [...items, 'rows of 1999-01', 'from the first']);
        expect(Object.fromEntries(listed.map((l) => [l.name, l.created]))).toEqual({
          'rows of 2019-03': '2019-03-31T12:00:00.000Z',
          'rows of 2019-04': '2019-04-30T12:00:00.000Z',
          'rows of 2024-02': '2024-02-29T12:00:00.000Z',
          'rows without a day': null,
        });
        const march = listed.find((l) => l.name === 'rows of 2019-03');
        expect(march?.title).toBe('sailing, rows of 2019-03');
      });
      await open(async (c) => expect((await c.list(of().place)).items).toContain('rows of 2024-02-29'), {
        by: 'day',
      });
      await open(async (c) => expect((await c.list(of().place)).items).toContain('rows of 2019'), {
        by: 'year',
      });
    });

    it('go without the others, and come back as they were', async () => {
      const before = await all();
      await open(async (c, one) => {
        const march = await one('rows of 2019-03');
        const bytes = await bytesOf(c, march);
        expect(bytes.toString()).toContain('Tove ""T"" Lind');
        const removed = await c.remove?.(of().place, march);
        expect(removed?.method).toBe('2 rows deleted');
        expect(await c.details(of().place, [march.name])).toEqual([]);
        expect((await all()).split('\n').length).toBe(before.split('\n').length - 2);
        // Another process puts them back, with nothing but their bytes.
        await open(async (d) => {
          const back = await d.restore?.(of().place, march, bytes, null);
          expect(back?.version).toBe(march.version);
          await expect(d.restore?.(of().place, march, bytes, null)).rejects.toThrow('came meanwhile');
        });
      });
      expect(await all()).toBe(before);
    });

    it('stay where one of them was changed, came or went since', async () => {
      await open(async (c, one) => {
        for (const change of [
          'UPDATE sailing SET fare = 12.51 WHERE id = 1',
          "INSERT INTO sailing VALUES (9, 'Late', NULL, NULL, 1, '2019-03-09 00:00:00')",
          'DELETE FROM sailing WHERE id = 9',
          'UPDATE sailing SET email = NULL WHERE id = 2',
          "UPDATE sailing SET email = '', fare = NULL WHERE id = 2",
        ]) {
          const march = await one('rows of 2019-03');
          await of().sql(change);
          await expect(c.remove?.(of().place, march)).rejects.toThrow('somebody changed its rows');
          await expect(c.replace?.(of().place, march, Buffer.from(''))).rejects.toThrow();
        }
        await of().sql('UPDATE sailing SET fare = 12.50 WHERE id = 1');
      });
    });

    it('stay where the database would take rows of other tables with them, or has rows that need them', async () => {
      const before = await all();
      await of().sql('INSERT INTO bag VALUES (1, 4)');
      await of().sql('INSERT INTO claim VALUES (1, 3)');
      await open(async (c, one) => {
        await expect(c.remove?.(of().place, await one('rows of 2024-02'))).rejects.toThrow('“bag”');
        await expect(c.remove?.(of().place, await one('rows of 2019-04'))).rejects.toThrow(/claim/);
        expect(await all()).toBe(before);
        await of().sql('DELETE FROM bag');
        await of().sql('DELETE FROM claim');
        // What does not concern these rows stands in nobody's way.
        await of().sql('INSERT INTO bag VALUES (1, 1)');
        const bytes = await bytesOf(c, await one('rows of 2024-02'));
        const item = await one('rows of 2024-02');
        await c.remove?.(of().place, item);
        await c.restore?.(of().place, item, bytes, null);
        await of().sql('DELETE FROM bag');
      });
      expect(await all()).toBe(before);
    });

    it('are emptied of what is personal, and filled again', async () => {
      const before = await all();
      await open(async (c, one) => {
        const march = await one('rows of 2019-03');
        const bytes = await bytesOf(c, march);
        const blank = await c.blank?.(of().place, march, bytes);
        if (!blank) throw new Error('Nothing to empty.');
        const emptied = await c.replace?.(of().place, march, blank);
        expect(emptied?.version).not.toBe(march.version);
        expect(await of().sql('SELECT passenger, email, fare FROM sailing WHERE id = 1')).toBe(
          ['', 'null', '12.50'].join('|'),
        );
        expect(await all()).toContain('bo@mail.example');
        await c.replace?.(of().place, await one(march.name), bytes);
      });
      expect(await all()).toBe(before);
      await open(
        async (c, one) => {
          const item = await one('rows of 2019-03');
          expect(await c.blank?.(of().place, item, await bytesOf(c, item))).toBeUndefined();
        },
        { blank: [] },
      );
    });

    it('are told to be unreadable by a template that does not fit', async () => {
      for (const [more, words] of [
        [{ day: 'boarded' }, 'no column “boarded”'],
        [{ day: 'passenger' }, 'holds no days'],
        [{ blank: ['phone'] }, 'no column “phone”'],
      ] as const)
        await open(async (c) => expect((await c.list(of().place)).problem).toContain(words), {
          ...more,
          ...('blank' in more ? { blank: [...more.blank] } : {}),
        } as Partial<RowTemplate>);
      // What was told apart in another way is not taken for gone.
      await open(
        async (c) => {
          for (const ask of [
            c.details(of().place, ['rows of 2019-03']),
            c.details(of().place, ['rows of 2019']),
          ])
            await expect(ask).rejects.toThrow('in another way');
        },
        { by: 'day' },
      );
      // Nothing of a table without a template is let go.
      const c = of().connector([]);
      await expect(c.details(of().place, ['rows of 2019-03'])).rejects.toThrow('in another way');
      const [item] = await c.details(of().place, ['from the first']);
      await expect(c.remove?.(of().place, item as ListedItem)).rejects.toThrow('no template');
      await c.close();
    });
  });
}
