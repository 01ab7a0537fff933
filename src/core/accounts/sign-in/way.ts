/** Ways of signing in, as a session keeps them. */
export const WAYS = ['password', 'two factors', 'passkey', 'sign-on'] as const;
export type Way = (typeof WAYS)[number];

/** What a role may ask of whoever signs in with something of their own, each stricter than the one before. */
export const OWN_WAYS = ['password', 'two factors', 'passkey', 'none'] as const;
export type OwnWay = (typeof OWN_WAYS)[number];

export const WAY_WORDS: Readonly<Record<Way, string>> = {
  password: 'a password alone',
  'two factors': 'a password and a second factor',
  passkey: 'a passkey',
  'sign-on': 'sign-on',
};

export const OWN_WAY_WORDS: Readonly<Record<OwnWay, string>> = {
  ...WAY_WORDS,
  none: 'nothing of their own',
};

/** How strict one asks to be; more is stricter. */
export function strictness(own: OwnWay): number {
  return OWN_WAYS.indexOf(own);
}
