import fc from 'fast-check';
import { expect, it } from 'vitest';
import { nameBytes, nameText } from './name-text.ts';

const bytesOf = (text: string) => new TextEncoder().encode(text);

it.each([
  ['manifest.xlsx', 'manifest.xlsx'],
  ['Bordliste Østervig 3. nov.docx', 'Bordliste Østervig 3. nov.docx'],
  ['two\nlines', 'two\\x0alines'],
  ['back\\slash', 'back\\x5cslash'],
  ['turned \u202efdp.exe', 'turned \\xe2\\x80\\xaefdp.exe'],
])('%j reads %j', (name, text) => expect(nameText(bytesOf(name))).toBe(text));

it('says what is no UTF-8', () => expect(nameText(Uint8Array.of(0x66, 0xf8, 0x2e))).toBe('f\\xf8.'));

it('leads back to the same bytes, holds no separator and nothing that cannot be seen', () =>
  fc.assert(
    fc.property(
      fc.oneof(
        fc.uint8Array({ minLength: 1, maxLength: 40 }),
        fc.string({ unit: 'binary', minLength: 1 }).map(bytesOf),
        fc.string({ unit: fc.constantFrom('\\', 'x', '4', '1', '\u202e', 'é') }).map(bytesOf),
      ),
      (bytes) => {
        const text = nameText(bytes);
        expect([...nameBytes(text)]).toEqual([...bytes]);
        expect(text).not.toMatch(/[\0-\x1f/\u202e]/);
      },
    ),
  ));
