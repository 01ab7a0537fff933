import { expect, it } from 'vitest';
import { leadingWords } from './leading-words.ts';

it.each([
  ['Order no. 12345', 'Order no'],
  ['Your reference: Booking 12345', 'Booking'],
  ['It was paid. Invoice 12345', 'Invoice'],
  ['first line\nKundennr: 12345', 'Kundennr'],
  ['Please quote order number 12345', 'order number'],
  ['12345', ''],
  ['Größe, Bestell-Nr. 12345', 'Bestell-Nr'],
])('of %j are %j', (text, words) => {
  expect(leadingWords(text, text.indexOf('12345'))).toBe(words);
});
