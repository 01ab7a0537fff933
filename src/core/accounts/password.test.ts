import { expect, test } from 'vitest';
import { passwordComplaint } from './password.ts';

const ines = { email: 'ines.abara@brindlestrait.example', name: 'Ines Abara' };

test.each([
  ['harbour lights at night', undefined],
  ['short', /At least 12/],
  ['x'.repeat(300), /At most/],
  ['aaaaaaaaaaaaaaaa', /same few/],
  ['abababababab', /same few/],
  ['ines.abara2026', /little more than/],
  ['yare warden!1', /little more/],
  ['ines.abara@brindlestrait.example', /little more/],
  ['Ines-Abara-Brindlestrait-1', /little more/],
  ['brindlestrait2026', /little more/],
  ['Password123456!', /little more/],
  ['password password', /little more/],
  ['qwertyuiop12345', /little more/],
  ['my password is a ferry timetable', undefined],
  ['Abara, Abara, what a long day', undefined],
  ['日本語のとても長い合言葉です', undefined],
])('%j: %s', (password, complaint) => {
  const said = passwordComplaint(password, ines);
  if (complaint === undefined) expect(said).toBeUndefined();
  else expect(said).toMatch(complaint);
});
