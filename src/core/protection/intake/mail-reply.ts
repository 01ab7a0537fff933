/** Where somebody who was asked writes why: in the subject of the mail that they send again. */
const REASON = /\[reason:\s*([^\]]{1,400})\]/i;

/** The reason that a subject gives; `undefined` where it gives none. */
export function reasonIn(subject: string): string | undefined {
  return REASON.exec(subject)?.[1]?.trim() || undefined;
}

const MOST = 400;

/** What a mail server answers to a mail that may not go: one line of ASCII (RFC 5321, 4.2), at most 400 characters. */
export function mailReply(outcome: 'ask' | 'stop', says: string, rule: string): string {
  const how = outcome === 'ask' ? ' To send it all the same, say why in its subject: [reason: ...]' : '';
  const words = says || 'This may not be sent.';
  return plain(`5.7.1 ${words} (${rule})${how}`);
}

/** Without what a line of SMTP cannot carry: letters lose their marks, other signs become a question mark. */
function plain(text: string): string {
  return text
    .replaceAll('ø', 'o')
    .replaceAll('Ø', 'O')
    .replaceAll('æ', 'ae')
    .replaceAll('Æ', 'AE')
    .replaceAll('ß', 'ss')
    .replace(/[‘’]/g, "'")
    .replace(/[“”]/g, '"')
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .replace(/[\p{Cc}\p{Zl}\p{Zp}]+/gu, ' ')
    .replace(/[^\x20-\x7e]/g, '?')
    .slice(0, MOST);
}
