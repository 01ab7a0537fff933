import { expect, test } from 'vitest';
import { plainEmail } from './email.ts';

test.each([
  [' Ines.Abara@Example ', 'ines.abara@example'],
  ['ines\u200b.abara@example', 'ines.abara@example'],
  ['\ufeffines.abara@exam\u00adple', 'ines.abara@example'],
  ['ｉｎｅｓ.ａｂａｒａ@example', 'ines.abara@example'],
  ['ines.abara@example\u3164\u2060', 'ines.abara@example'],
  ['ines.abara@example\u0000', 'ines.abara@example'],
  ['ﬁn@example', 'fin@example'],
  // Another letter is another address.
  ['ínes.abara@example', 'ínes.abara@example'],
  ['i\u0301nes.abara@example', 'ínes.abara@example'],
])('%j is %j', (typed, plain) => {
  expect(plainEmail(typed)).toBe(plain);
});
