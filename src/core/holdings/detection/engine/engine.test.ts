import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { foldUnits } from '../pattern/code-shape.ts';
import { confidence } from '../detector/confidence.ts';
import { PatternDetector, type PatternDetectorInput } from '../detector/detector.ts';
import { Engine } from './engine.ts';
import { detectSlowly } from './engine.fixture.ts';
import type { Finding } from '../detector/finding.ts';
import { builtInDetectors } from '../library/library.ts';
import { MARGIN } from './search.ts';
import { TextStream } from './text-stream.ts';
import { runs } from '../../../../../tests/property-runs.ts';

const own = (id: string, pattern: string, more: Partial<PatternDetectorInput> = {}) =>
  PatternDetector.parse({
    kind: 'pattern',
    id,
    name: id,
    anchor: { by: 'pattern', pattern },
    start: 3,
    ...more,
  });

const plain = (findings: readonly Finding[]) =>
  findings
    .map(({ detector, start, end, confidence }) => ({ detector, start, end, confidence }))
    .sort((a, b) => a.start - b.start || a.end - b.end || (a.detector < b.detector ? -1 : 1));

/** Pieces of patterns that lead the engine to each of its ways of looking. */
const piece = fc.constantFrom(
  '\\d',
  '\\d{2,4}',
  '[A-Z]',
  '[a-z]{1,3}',
  'ab',
  'Kai',
  '-',
  '[ -]?',
  '@',
  '(?:x|yz)',
  'é',
  '[å-ö]',
  '\\p{Lu}',
  '\\s',
  ':',
  '#',
  '(?:\\d-)?',
  '\\w',
  '.',
  '(?=\\d)',
  '(\\d)\\1',
  '[^a]',
  // A match that reaches far before or behind its digits.
  '[a-z ]{3,12}',
  '(?:[A-Za-z]{1,14} ){1,2}',
  '(?:ab|order|Kai) ?',
  '\\d(?: ?[A-Z]{1,9}){1,3}',
  '[\\p{L}\\d]{9,20}',
  '(?=[A-Za-z]{0,9}\\d)',
  '(?!\\d)',
  'a-order',
);
const edgePiece = fc.constantFrom(
  '',
  '\\b',
  '(?<!\\p{L})',
  '(?<!\\p{N}[.:-])',
  '(?<![\\p{L}\\p{N}])',
  '(?<=no )',
);
const pattern = fc
  .tuple(
    edgePiece,
    fc.array(piece, { minLength: 1, maxLength: 6 }),
    fc.constantFrom('', '\\b', '(?!\\d)', '(?![\\p{L}\\p{N}])', '(?![\\p{L}\\p{N}_])(?![.:-]\\p{N})'),
  )
  .map(([a, b, c]) => a + b.join('') + c);
const text = fc
  .array(
    fc.constantFrom(
      '1',
      '42',
      '7777',
      'A',
      'KAI',
      'Kai',
      'ab',
      'a',
      'xyz',
      'é',
      'Å',
      'ö',
      '-',
      ' ',
      ' ',
      '\n',
      '@',
      ':',
      '#',
      'no ',
      '’',
      '😀',
      '\u00a0',
      'ſ',
      '9-9-',
      'order',
      '.',
      // A mark on the letter or digit before it; letters and digits beyond Latin-1.
      '\u0301',
      'Ā',
      '٣',
      'AKAIKAIKAI ab order ',
    ),
    { maxLength: 60 },
  )
  .map((p) => p.join(''));

describe('the engine', () => {
  it('finds what the slow and obvious way finds, whatever the patterns and the text', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(pattern, fc.boolean(), fc.boolean()), { minLength: 1, maxLength: 5 }),
        text,
        (patterns, t) => {
          const detectors = patterns.map(([p, ignoreCase, needsWord], i) =>
            own(`d-${i}`, p, {
              anchor: { by: 'pattern', pattern: p, ignoreCase },
              // One that counts only where something near speaks for it is not even run elsewhere.
              start: needsWord ? -1 : 3,
              context: [
                { where: 'before', within: 12, words: ['order'], steps: needsWord ? 4 : -4 },
                { where: 'after', within: 9, words: ['kai'], steps: 2 },
                { where: 'line', words: ['kai order', 'ord*'], steps: 1 },
                { where: 'around', within: 7, words: ['kai'], pattern: '9-9', steps: 1.5 },
              ],
            }),
          );
          expect(plain(new Engine(detectors).detect({ text: t, segments: [] }).findings)).toEqual(
            detectSlowly(detectors, t),
          );
        },
      ),
      runs(400),
    );
  }, 120_000);

  it.each([
    ['\\w(?=\\d)', 'ſ11'],
    ['[a-z]{1,3}\\d', 'ſk7'],
    ['k@', '\u212a@'],
    ['[^\\P{L}]\\d', 'x7'],
  ])('knows the letters that are the same where case does not count: %s', (pattern, t) => {
    const detectors = [own('d-0', pattern, { anchor: { by: 'pattern', pattern, ignoreCase: true } })];
    const { findings } = new Engine(detectors).detect({ text: t, segments: [] });
    expect(findings.length).toBeGreaterThan(0);
    expect(plain(findings)).toEqual(detectSlowly(detectors, t));
  });

  it('finds words that begin with a capital beyond Latin-1, and only where it is written', () => {
    const town = own('town', 'x', { anchor: { by: 'words', words: ['Łódź', 'Århus'] } });
    const { findings } = new Engine([town]).detect({ text: 'Łódź, łódź and Århus', segments: [] });
    expect(findings.map((f) => [f.start, f.end])).toEqual([
      [0, 4],
      [15, 20],
    ]);
  });

  it('loses nothing at the edge of a piece, however a text is cut', () => {
    const engine = new Engine(builtInDetectors());
    const record =
      'CPR 010180-1234, IBAN GB82 WEST 1234 5698 7654 32, write to tove@brindlestrait.example, born 12 March 1984.\nMvh Göran Bergström\n';
    const filler = 'the ship leaves the quay at noon and nobody is on deck '.repeat(60);
    const whole = `${record}${filler}${record.repeat(3)}${filler}${filler}${record}`;
    const expected = engine.detect({ text: whole, segments: [] }).findings;
    expect(expected.length).toBeGreaterThan(20);
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 4000 }), { minLength: 1, maxLength: 8 }), (sizes) => {
        const found: Finding[] = [];
        const stream = new TextStream(engine, {}, (f) => found.push(f));
        for (let at = 0, n = 0; at < whole.length; n++) {
          const next = whole.slice(at, at + (sizes[n % sizes.length] as number));
          stream.push(next, foldUnits(next));
          at += next.length;
        }
        stream.end();
        expect(plain(found)).toEqual(plain(expected));
      }),
      runs(60),
    );
    expect(whole.length).toBeGreaterThan(4 * MARGIN);
  });

  it('is deterministic, and its confidence is the sum that it tells', () => {
    const engine = new Engine(builtInDetectors());
    const t = 'Kære Jens Hansen, dit CPR-nr. 010180-1234 og kort 4111 1111 1111 1111.';
    const [a, b] = [
      engine.detect({ text: t, segments: [] }).findings,
      engine.detect({ text: t, segments: [] }).findings,
    ];
    expect(a).toEqual(b);
    for (const f of a)
      expect(f.confidence).toBeCloseTo(confidence(f.steps.reduce((sum, s) => sum + s.steps, 0)), 10);
    expect(a.map((f) => f.detector)).toEqual(['person-name', 'dk-cpr', 'payment-card']);
    expect(a.every((f) => !JSON.stringify(f).includes('4111 1111'))).toBe(true);
  });

  it('counts the nearest label only', () => {
    const engine = new Engine(builtInDetectors());
    const found = (t: string) => engine.detect({ text: t, segments: [] }).findings.map((f) => f.detector);
    expect(found('Order 4711, CPR 010180-1234')).toEqual(['dk-cpr']);
    expect(found('CPR is asked for elsewhere. Order 010180-1234')).toEqual([]);
  });

  it('reads cells by their heading, and not by what stands in the next cell', () => {
    const engine = new Engine(builtInDetectors());
    const t = '4711,0207946001,1984-03-12';
    const segment = (start: number, end: number, heading: string) => ({
      start,
      end,
      heading,
      place: { cell: 'A1' },
      record: 0,
    });
    const found = (headings: readonly [string, string, string]) =>
      engine
        .detect({
          text: t,
          segments: [segment(0, 4, headings[0]), segment(5, 15, headings[1]), segment(16, 26, headings[2])],
        })
        .findings.map((f) => f.detector);
    expect(found(['id', 'order_no', 'dateOfBirth'])).toEqual(['date-of-birth']);
    expect(found(['cpr', 'amount', 'created'])).toEqual([]);
  });

  it('counts a document only from the number of distinct values asked for', () => {
    const engine = new Engine([own('crew', '(?<!\\p{L})CR\\d{4}(?!\\d)', { atLeast: 2 })]);
    const once = engine.detect({ text: 'CR1000, CR1000, CR1000', segments: [] });
    expect(once.findings).toEqual([]);
    expect(once.verdicts).toMatchObject([
      { found: false, findings: 3, distinct: 1, why: '1 distinct, and it asks for 2' },
    ]);
    const twice = engine.detect({ text: 'CR1000, CR1001', segments: [] });
    expect(twice.findings.length).toBe(2);
    expect(twice.verdicts).toMatchObject([{ found: true, distinct: 2 }]);
  });

  it('leaves out excluded values, and tells near misses with what they lacked', () => {
    const engine = new Engine([
      own('crew', 'CR\\d{4}', { exclude: { values: ['cr 1000'], patterns: ['99$'] } }),
    ]);
    const { findings, nearMisses } = engine.detect(
      { text: 'CR1000 CR1099 CR1001', segments: [] },
      { nearMisses: true },
    );
    expect(findings.map((f) => f.start)).toEqual([14]);
    expect(nearMisses.map((n) => n.lacked)).toEqual(['is excluded', 'is excluded']);
  });

  it('takes a common word within a name for part of the name', () => {
    const engine = new Engine(
      builtInDetectors().filter(({ id }) => id === 'person-name' || id === 'religious-belief'),
    );
    const text = 'Mr Christian Murphy called: he is a practising Christian.';
    for (const nearMisses of [false, true]) {
      const found = engine.detect({ text, segments: [] }, { nearMisses });
      expect(found.findings.map((f) => [f.detector, text.slice(f.start, f.end)])).toEqual([
        ['person-name', 'Christian Murphy'],
        ['religious-belief', 'Christian'],
      ]);
      expect(found.findings[1]?.start).toBe(text.lastIndexOf('Christian'));
      if (nearMisses)
        expect(found.nearMisses.map((n) => n.lacked)).toContain('is part of what reads as Person’s name');
    }
  });

  it('counts nothing from a share that no sum comes to', () => {
    const engine = new Engine([own('sure', 'CR\\d{4}', { start: 12, keepFrom: 0.998 })]);
    expect(engine.detect({ text: 'CR1000', segments: [] }).findings).toEqual([]);
  });

  it('stops a detector that goes over its time, says where, and goes on with the others', () => {
    let clock = 0;
    const engine = new Engine([own('slow', 'S\\d{3}'), own('quick', 'Q\\d{3}')]);
    const t = 'S123 and so on and on and on '.repeat(50) + 'Q123';
    const { findings, stopped } = engine.detect(
      { text: t, segments: [] },
      { budget: { now: () => (clock += 3), ms: 20 } },
    );
    expect(stopped.map((s) => s.detector)).toContain('slow');
    expect(findings.filter((f) => f.detector === 'slow').length).toBeLessThan(50);
  });
});
