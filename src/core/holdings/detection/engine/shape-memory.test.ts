import fc from 'fast-check';
import { expect, it } from 'vitest';
import { foldUnits, shapeOf } from '../pattern/code-shape.ts';
import { ShapeMemory } from './shape-memory.ts';
import { runs } from '../../../../../tests/property-runs.ts';

it('finds out once about each shape, and tells apart what differs', () => {
  const memory = new ShapeMemory<string>();
  let made = 0;
  const sign = fc.constantFrom('1', '2', 'a', 'B', ' ', '-', 'å', '→');
  fc.assert(
    fc.property(fc.array(sign, { maxLength: 8 }), fc.nat(8), fc.nat(8), fc.nat(3), (signs, a, b, salt) => {
      const text = signs.join('');
      const [from, to] = [Math.min(a, b, text.length), Math.min(Math.max(a, b), text.length)];
      const shape = [...text]
        .map((c, i) => shapeOf(c.charCodeAt(0)).replace('0', i >= from && i < to ? '0' : '9'))
        .join('');
      const ask = () =>
        memory.of(foldUnits(text), 0, text.length, { from, to }, salt, (s) => {
          made++;
          return `${salt} ${s}`;
        });
      expect(ask()).toBe(`${salt} ${shape}`);
      const before = made;
      expect(ask()).toBe(`${salt} ${shape}`);
      expect(made).toBe(before);
    }),
    runs(500),
  );
});
