/**
 * An e-mail address as accounts are told apart by it: compatibility forms (RFC 8264, width and ligatures) made plain,
 * signs that cannot be seen left out, in lower case. Accents stay: another letter is another address.
 */
export function plainEmail(text: string): string {
  return text.normalize('NFKC').replace(UNSEEN, '').trim().toLowerCase();
}

/** Controls, formats, and the fillers and joiners that are drawn as nothing (Unicode: Default_Ignorable_Code_Point). */
const UNSEEN = /[\p{Cc}\p{Cf}\p{Default_Ignorable_Code_Point}]/gu;
