/** Fewest and most characters of a password; long ones are hashed all the same. */
export const PASSWORD_LENGTH = { least: 12, most: 200 } as const;

/** Why a new password will not do, in words; `undefined` where it will (after NIST SP 800-63B, section 5.1.1.2). */
export function passwordComplaint(
  password: string,
  { email, name }: { readonly email: string; readonly name: string },
): string | undefined {
  const length = [...password].length;
  if (length < PASSWORD_LENGTH.least)
    return `At least ${PASSWORD_LENGTH.least} characters; a few words do well.`;
  if (length > PASSWORD_LENGTH.most) return `At most ${PASSWORD_LENGTH.most} characters.`;
  if (new Set(password.toLowerCase()).size < 5) return 'It repeats the same few signs. Take a few words.';
  const known = knownWords(email, name);
  const rest = known.reduce((left, word) => left.replaceAll(word, ''), password.toLowerCase());
  if ([...rest.replaceAll(/[^\p{L}\p{N}]/gu, '')].length < 6)
    return 'It is little more than what anybody would guess of you. Take a few other words.';
  return undefined;
}

/** What is tried first, of everybody (NIST SP 800-63B, section 5.1.1.2, has such lists refused). */
const TRIED_FIRST = [
  'yare warden',
  'password',
  'passwort',
  'letmein',
  'welcome',
  'administrator',
  'qwertyuiop',
  'qwerty',
  'asdfghjkl',
  '1q2w3e4r5t',
  '1234567890',
  '12345678',
  '123456',
  'iloveyou',
];

/** Longest first, so that a part of one does not break up the whole. */
function knownWords(email: string, name: string): readonly string[] {
  const address = email.toLowerCase();
  const parts = [
    address,
    ...address.split('@'),
    ...address.split(/[@.+_-]/),
    ...name.toLowerCase().split(/\s+/),
  ];
  return [...parts, ...TRIED_FIRST].filter((w) => w.length >= 4).toSorted((a, b) => b.length - a.length);
}
