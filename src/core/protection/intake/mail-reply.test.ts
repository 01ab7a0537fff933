import fc from 'fast-check';
import { expect, it } from 'vitest';
import { mailReply, reasonIn } from './mail-reply.ts';

it.each([
  ['Lists [reason: the authority asked]', 'the authority asked'],
  ['[REASON:  x ]', 'x'],
  ['[reason: ]', undefined],
  ['reason: x', undefined],
  ['Re: lists', undefined],
])('the reason in “%s”', (subject, reason) => expect(reasonIn(subject)).toBe(reason));

it('is one line of ASCII, whatever a rule says', () =>
  fc.assert(
    fc.property(fc.string({ unit: 'grapheme' }), fc.string({ unit: 'grapheme' }), (says, rule) => {
      const reply = mailReply('ask', says, rule);
      expect(reply).toMatch(/^[\x20-\x7e]{1,400}$/);
    }),
  ));

it('keeps letters readable, and tells how to go on where one may', () => {
  expect(mailReply('stop', 'Det er kortnumre på et skærmbillede.', 'Kort')).toBe(
    '5.7.1 Det er kortnumre pa et skaermbillede. (Kort)',
  );
  expect(mailReply('ask', '', 'x')).toContain('[reason: ...]');
});
