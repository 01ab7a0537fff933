import { expect, test } from 'vitest';
import { placeAfterSignIn } from './place-after-sign-in.ts';

const DESK = 'https://desk.example';

test.each([
  ['', '/today'],
  ['?to=%2Fevidence%2Fledger%3Faction%3Dsite.add', '/evidence/ledger?action=site.add'],
  ['?to=https%3A%2F%2Fevil.example%2F', '/today'],
  ['?to=%2F%2Fevil.example', '/today'],
  ['?to=%2F%5Cevil.example', '/today'],
  ['?to=javascript%3Aalert(1)', '/today'],
  ['?to=https%3A%2F%2Fdesk.example%40evil.example', '/today'],
  ['?to=http%3A%2F%2F%5B', '/today'],
])('after signing in at %o one is at %s', (search, place) => {
  expect(placeAfterSignIn(search, DESK)).toBe(DESK + place);
});

// A path of two slashes would name another host, were it gone to without its own.
test.each(['?to=%2F.%2F%2Fevil.example', '?to=%2Fx%2F..%2F%2Fevil.example'])(
  '%o leads nowhere else',
  (search) => {
    expect(new URL(placeAfterSignIn(search, DESK), 'https://other.example').origin).toBe(DESK);
  },
);
