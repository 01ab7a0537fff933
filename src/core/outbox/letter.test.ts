import fc from 'fast-check';
import { parse } from 'parse5';
import { describe, expect, it, test } from 'vitest';
import { writeLetter, type LetterTemplate } from './letter.ts';

const GREETING: LetterTemplate = {
  id: 'greeting',
  texts: {
    en: { subject: 'Welcome aboard, {name}', body: ['Dear {name},', 'You sail at {time}.', '{link}'] },
    da: { subject: 'Velkommen om bord, {name}', body: ['Kære {name}', '{link}'] },
  },
};
const values = { name: 'Lotte', time: '09:15', link: 'https://desk.example/today' };

describe('a letter', () => {
  it('has its values put in, as text and as HTML', () => {
    const letter = writeLetter(GREETING, 'en', values);
    expect(letter.subject).toBe('Welcome aboard, Lotte');
    expect(letter.text).toBe('Dear Lotte,\n\nYou sail at 09:15.\n\nhttps://desk.example/today\n');
    expect(letter.html).toContain('<a href="https://desk.example/today">https://desk.example/today</a>');
  });

  test.each([
    ['da', 'da'],
    ['da-GL', 'da'],
    ['fr', 'en'],
    ['', 'en'],
    ['constructor', 'en'],
  ])('asked for in %o is written in %s', (asked, language) => {
    expect(writeLetter(GREETING, asked, values).language).toBe(language);
  });

  it('is not written without all its values', () => {
    expect(() => writeLetter(GREETING, 'en', { name: 'Lotte' })).toThrow('lacks a value for time');
    expect(() => writeLetter(GREETING, 'en', { ...values, toString: 'x' })).not.toThrow();
  });

  it('has no markup, no link and no header but its own, whatever its values are', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: 'grapheme' }),
        fc.constantFrom('\r\nBcc: x', '<a href=x>', '{time}', '"', ''),
        (a, b) => {
          const name = a + b;
          const letter = writeLetter(GREETING, 'en', { ...values, name });
          expect(letter.subject).not.toMatch(/[\r\n]/);
          expect(letter.text.startsWith(`Dear ${name},`)).toBe(true);
          const links = JSON.stringify(parse(letter.html), (k, v: unknown) =>
            k === 'parentNode' ? undefined : v,
          ).match(/"tagName":"a"/g);
          expect(links).toHaveLength(1);
        },
      ),
    );
  });
});
