import { describe, expect, it } from 'vitest';
import { LIMITS } from './extracted.ts';
import { extractSql, hasInserts, SqlCutter } from './sql.ts';

const cells = (sql: string) => {
  const { text, segments } = extractSql(sql, LIMITS);
  expect(text).toBe(sql);
  return segments.map((s) => [s.heading ?? '', text.slice(s.start, s.end), s.place.path, s.place.line]);
};

describe('statements of SQL', () => {
  it('give each value its column, and its table and row', () => {
    expect(
      cells(
        "INSERT INTO crew (id, full_name, cpr) VALUES\n (1, 'Tove Lind', '070761-4285'),\n (2, NULL, 1305792342);",
      ),
    ).toEqual([
      ['id', '1', 'crew[1]', 2],
      ['full_name', 'Tove Lind', 'crew[1]', 2],
      ['cpr', '070761-4285', 'crew[1]', 2],
      ['id', '2', 'crew[2]', 3],
      ['cpr', '1305792342', 'crew[2]', 3],
    ]);
  });

  it('take columns from the definition of the table where they do not list them', () => {
    const sql = `CREATE TABLE \`guest\` (
  \`id\` int NOT NULL AUTO_INCREMENT, -- a comment, with a comma
  \`e_mail\` varchar(80) DEFAULT 'a,b)c',
  \`paid\` decimal(8,2),
  PRIMARY KEY (\`id\`), KEY \`k\` (\`e_mail\`)
);
INSERT INTO \`shop\`.\`guest\` VALUES (7,'o''brien@post.example',12.50),(8,N'x\\'y, (z)',NOW());`;
    expect(cells(sql).map(([heading, value]) => [heading, value])).toEqual([
      ['id', '7'],
      ['e_mail', "o''brien@post.example"],
      ['paid', '12.50'],
      ['id', '8'],
      ['e_mail', "x\\'y, (z)"],
    ]);
  });

  it('read rows of COPY, and assignments', () => {
    expect(
      cells(
        "COPY public.crew (id, phone) FROM stdin;\n1\t32145566\n2\t\\N\n\\.\nUPDATE crew SET phone = '20123456', note = lower('A, B') WHERE id = 1;",
      ),
    ).toEqual([
      ['id', '1', 'crew[1]', 2],
      ['phone', '32145566', 'crew[1]', 2],
      ['id', '2', 'crew[2]', 3],
      ['phone', '20123456', 'crew', 5],
    ]);
  });

  it('are known in a text by what they do', () => {
    expect(hasInserts('-- dump\nINSERT INTO a VALUES (1);\n')).toBe(true);
    expect(hasInserts('Please insert into the slot; values (see table).')).toBe(false);
  });

  it('go on behind what is broken', () => {
    expect(
      cells("INSERT INTO a (x) VALUES ('one'), (two;\nINSERT INTO b (y) VALUES ('three');").map((c) => c[1]),
    ).toEqual(['one', 'three']);
    expect(cells("INSERT INTO a VALUES ('open")).toEqual([]);
    expect(cells('INSERT INTO a (x) SELECT y FROM b;')).toEqual([]);
  });

  it('give the same piece by piece', () => {
    const sql = `CREATE TABLE t (a int, b text);
INSERT INTO t VALUES ${Array.from({ length: 40 }, (_, i) => `(${i}, 'value; no. ${i}')`).join(',\n')};
COPY t (a, b) FROM stdin;
1\tx
2\ty
\\.
UPDATE t SET b = 'z' WHERE a = 1;
`;
    const whole = cells(sql);
    expect(whole).toHaveLength(85);
    for (const size of [1, 7, 64, 501]) {
      const cutter = new SqlCutter();
      const got: unknown[] = [];
      let text = '';
      for (let i = 0; i <= sql.length; i += size) {
        const piece = cutter.next(sql.slice(i, i + size), i + size > sql.length);
        text += piece.text;
        for (const s of piece.segments)
          got.push([s.heading ?? '', piece.text.slice(s.start, s.end), s.place.path, s.place.line]);
      }
      expect(text).toBe(sql);
      expect(got, `pieces of ${size}`).toEqual(whole);
    }
  });

  it('end in time whatever is in them', () => {
    for (const sql of [
      'INSERT INTO t VALUES ('.repeat(20_000),
      `INSERT INTO t VALUES ('${'/*'.repeat(50_000)}`,
      `INSERT INTO t VALUES (${'/* '.repeat(50_000)}`,
      `CREATE TABLE t (${'('.repeat(100_000)}`,
      `INSERT INTO t (${'a,'.repeat(50_000)}`,
    ])
      expect(extractSql(sql, LIMITS).text).toBe(sql);
  });
});
