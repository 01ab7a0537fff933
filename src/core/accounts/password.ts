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
  const plain = password.toLowerCase();
  const own = [email.split('@')[0] ?? '', ...name.split(/\s+/), 'yare warden'];
  const taken = own.find((w) => w.length >= 4 && plain.replaceAll(w.toLowerCase(), '').length < 6);
  if (taken !== undefined) return `It is little more than “${taken}”.`;
  return undefined;
}
