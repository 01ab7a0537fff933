import { describe, expect, it } from 'vitest';
import { Engine } from '../engine/engine.ts';
import { BUILT_INS, builtInDetectors } from './library.ts';

const engine = new Engine(builtInDetectors());

/** The text without its marks, and where they were. */
function marked(example: string): { text: string; start: number; end: number } {
  const start = example.indexOf('⟦');
  const end = example.indexOf('⟧') - 1;
  return { text: example.replace('⟦', '').replace('⟧', ''), start, end };
}

const found = (text: string, id?: string) =>
  engine
    .detect({ text, segments: [] }, { nearMisses: true })
    .findings.filter((f) => id === undefined || f.detector === id);

const why = (text: string, id: string) =>
  engine
    .detect({ text, segments: [] }, { nearMisses: true })
    .nearMisses.filter((f) => f.detector === id)
    .map(
      (f) =>
        `${text.slice(f.start, f.end)}: ${f.lacked} (${f.steps.map((s) => `${s.words} ${s.steps}`).join(', ')})`,
    )
    .join('\n');

describe('the library', () => {
  it('has ninety detectors at the least, each named once, with a source', () => {
    expect(BUILT_INS.length).toBeGreaterThanOrEqual(90);
    expect(new Set(BUILT_INS.map((b) => b.id)).size).toBe(BUILT_INS.length);
    expect(BUILT_INS.filter((b) => !b.source)).toEqual([]);
    expect(
      new Set(BUILT_INS.filter((b) => b.category === 'identity' && b.country).map((b) => b.country)).size,
    ).toBeGreaterThanOrEqual(30);
  });

  it('never has to read a whole text with one pattern', () => {
    expect(engine.readsAll).toEqual([]);
  });

  for (const b of BUILT_INS) {
    it.each(b.examples)(`${b.id} finds %s`, (example) => {
      const { text, start, end } = marked(example);
      expect(
        found(text, b.id).map((f) => text.slice(f.start, f.end)),
        why(text, b.id),
      ).toContain(text.slice(start, end));
    });
    it.each(b.counterExamples)(`${b.id} is silent at %s`, (text) => {
      expect(found(text, b.id)).toEqual([]);
    });
  }
});
