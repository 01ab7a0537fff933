import { describe, expect, it } from 'vitest';
import { LIMITS } from './extracted.ts';
import { extractJson, JsonLineCutter } from './json.ts';

const fields = (json: string, byLine = false) => {
  const { text, segments } = extractJson(json, LIMITS, byLine);
  return segments.map((s) => [s.heading, text.slice(s.start, s.end), s.place.path, s.place.line]);
};

describe('JSON', () => {
  it('gives each value its field, its pointer and its line', () => {
    expect(fields('{"a/b":{"cpr":"070761-4285"},\n"list":["x",{"n~":2}]}')).toEqual([
      ['cpr', '070761-4285', '/a~1b/cpr', 1],
      ['list', 'x', '/list/0', 2],
      ['n~', '2', '/list/1/n~0', 2],
    ]);
  });

  it('calls a field by what it stands in where its own name says little', () => {
    expect(
      fields('{"passport":{"number":"A1"},"name":{"first":"Bo"},"products":[{"name":"Rope"}],"id":7}').map(
        (f) => f[0],
      ),
    ).toEqual(['passport number', 'first name', 'products name', 'id']);
  });

  it('calls a value by the label beside it, in any order', () => {
    expect(
      fields(
        '[{"label":"CPR","value":"1"},{"value":2,"label":"Tlf."},{"type":"phone","value":"3"},{"name":"n","label":"Born","value":"4"},{"name":"Bo"}]',
      ).map((f) => f.slice(0, 2)),
    ).toEqual([
      ['label', 'CPR'],
      ['CPR', '1'],
      ['Tlf.', '2'],
      ['label', 'Tlf.'],
      ['label', 'phone'],
      ['phone', '3'],
      ['name', 'n'],
      ['label', 'Born'],
      ['Born', '4'],
      ['name', 'Bo'],
    ]);
  });

  it('reads escapes, and the rest of what is broken', () => {
    expect(fields('{"a":"x\\u0041\\n","b":').map((f) => f[1])).toEqual(['xA\n']);
    expect(extractJson('{"a":"x\\u0041"}', LIMITS, false).text).toBe('{"a":"xA"}');
    expect(fields('')).toEqual([]);
  });

  it('gives lines of JSON the same piece by piece', () => {
    const json = Array.from({ length: 30 }, (_, i) => `{"id":${i},"who":{"name":"N${i}"}}`).join('\n');
    const whole = fields(json, true);
    expect(whole[3]).toEqual(['who name', 'N1', '/who/name', 2]);
    for (const size of [1, 17, 400]) {
      const cutter = new JsonLineCutter();
      const got: unknown[] = [];
      for (let i = 0; i <= json.length; i += size) {
        const { text, segments } = cutter.next(json.slice(i, i + size), i + size > json.length);
        for (const s of segments)
          got.push([s.heading, text.slice(s.start, s.end), s.place.path, s.place.line]);
      }
      expect(got, `pieces of ${size}`).toEqual(whole);
    }
  });
});
