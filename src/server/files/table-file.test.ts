import { describe, expect, it } from 'vitest';
import { readTableOf } from './table-file.ts';

const read = (text: string, name = 'a.json') => readTableOf(name, Buffer.from(text));

describe('a list of JSON objects as a table', () => {
  it('has a column for each name, and a row for each object', async () => {
    expect(
      await read(
        '[{"Rule": "A", "Days": 14}, {"Rule": "B", "Where": ["x", "y"], "Year": true, "Off": null}]',
      ),
    ).toEqual({
      headings: ['Rule', 'Days', 'Where', 'Year', 'Off'],
      rows: [
        ['A', '14', '', '', ''],
        ['B', '', 'x; y', 'yes', ''],
      ],
    });
  });

  it('is known by how it begins, whatever it is called', async () => {
    expect((await read('\n [ {"a": "1"}]', 'a.txt')).rows).toEqual([['1']]);
    expect((await read('a,b\n[,{\n', 'a.csv')).headings).toEqual(['a', 'b']);
  });

  it.each([
    ['{"a": 1}', 'no list of objects'],
    ['[]', 'no list of objects'],
    ['[1, 2]', 'no list of objects'],
    ['[{"a": 1}, [2]]', 'no list of objects'],
    ['[{"a": 1', 'no sound JSON'],
  ])('is refused as %s', async (text, words) => expect(read(text)).rejects.toThrow(words));
});
