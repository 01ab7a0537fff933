import { createHmac } from 'node:crypto';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { findRecords, RosterBuilder, ROSTER_RULES, type Roster } from './roster.ts';
import { SipHash } from './sip-hash.ts';

const KEY = Uint8Array.from({ length: 16 }, (_, i) => i);

function roster(rows: readonly (readonly string[])[], keys = [0], corroborating = [1]): Roster {
  const builder = new RosterBuilder(
    {
      id: 'club',
      name: 'Club',
      version: 3,
      headings: ['number', 'surname'],
      columns: { keys, corroborating },
      expected: rows.length,
    },
    KEY,
  );
  for (const r of rows) builder.add(r);
  return builder.done();
}
const found = (r: Roster, text: string, corroboration = 0) =>
  findRecords(r, { ...ROSTER_RULES, corroboration }, KEY, { text, segments: [] }, { reveal: true });

describe('SipHash', () => {
  it('gives the vectors of its authors', () => {
    // SipHash-2-4, key 00…0f, messages of 0 and 8 bytes, from the reference implementation.
    const sip = new SipHash(KEY);
    const hex = () => sip.high.toString(16).padStart(8, '0') + sip.low.toString(16).padStart(8, '0');
    sip.hash('');
    expect(hex()).toBe('726fdb47dd0e0e31');
    sip.hash(String.fromCharCode(0x0100, 0x0302, 0x0504, 0x0706));
    expect(hex()).toBe('93f5f5799a932462');
  });
});

describe('a roster', () => {
  it('meets a record however its number and name are written', () => {
    const r = roster([
      ['SM-1234567', 'Sørensen'],
      ['7654321', 'Müller'],
    ]);
    for (const text of ['sm 1234567', 'SM1234567', 'SM.1234567', 'Sm-123 4567'])
      expect(
        found(r, `no. ${text}, thanks`).findings.map((f) => f.value),
        text,
      ).toEqual([text]);
    expect(found(r, 'SM-12345678 and XSM-123456').findings).toEqual([]);
    const [one] = found(r, 'Kære frk. SORENSEN, dit nummer er 1234567 eller SM-1234567.', 1).findings;
    expect(one).toMatchObject({ detector: 'club', version: 3, value: 'SM-1234567' });
    expect(one?.steps.map((s) => s.words)).toEqual(['a known number', 'the record’s surname near it']);
  });

  it('says of a number without its name what it lacked', () => {
    const r = roster([
      ['1234567', 'Sørensen'],
      ['7654321', 'Müller'],
    ]);
    const { findings, nearMisses } = found(r, '1234567 Jensen and 7654321 Mueller', 1);
    expect(findings).toEqual([]);
    expect(nearMisses.map((n) => n.lacked)).toEqual(
      Array(2).fill('0 of the 1 corroborating values it asks for'),
    );
  });

  it('holds no value in clear, and finds nothing with another key', () => {
    const r = roster([['1234567', 'Sørensen']]);
    const dump = JSON.stringify([r, [...r.high], [...r.low], [...r.beside]]);
    expect(dump).not.toContain('1234567');
    expect(dump.toLowerCase()).not.toContain('rensen');
    const other = new Uint8Array(createHmac('md5', 'x').update('y').digest());
    expect(findRecords(r, ROSTER_RULES, other, { text: '1234567', segments: [] }).findings).toEqual([]);
  });

  it('finds every one of its numbers and none beside', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.integer({ min: 1_000_000, max: 9_999_999 }), { minLength: 2, maxLength: 60 }),
        (numbers) => {
          const [outside, ...inside] = numbers;
          const r = roster(inside.map((n) => [String(n), 'x']));
          const text = [...numbers].map((n) => `nr ${n}.`).join('\n');
          expect(
            found(r, text)
              .findings.map((f) => Number(f.value))
              .sort(),
          ).toEqual([...inside].sort());
          expect(text).toContain(String(outside));
        },
      ),
    );
  });
});
