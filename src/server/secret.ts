import { createCipheriv, createDecipheriv, randomBytes } from 'node:crypto';

const PREFIX = 'sealed:';

/** Encrypts a text with the key of the environment (AES-256-GCM); each time differently. */
export function sealText(key: string, text: string): string {
  const iv = randomBytes(12);
  const cipher = createCipheriv('aes-256-gcm', Buffer.from(key, 'hex'), iv);
  const body = Buffer.concat([cipher.update(text, 'utf8'), cipher.final()]);
  return PREFIX + Buffer.concat([iv, cipher.getAuthTag(), body]).toString('base64');
}

export function isSealed(text: string): boolean {
  return text.startsWith(PREFIX);
}

/** Throws an Error when the text was sealed with another key. */
export function openText(key: string, sealed: string): string {
  const bytes = Buffer.from(sealed.slice(PREFIX.length), 'base64');
  const decipher = createDecipheriv('aes-256-gcm', Buffer.from(key, 'hex'), bytes.subarray(0, 12));
  decipher.setAuthTag(bytes.subarray(12, 28));
  try {
    return Buffer.concat([decipher.update(bytes.subarray(28)), decipher.final()]).toString('utf8');
  } catch {
    throw new Error('A kept secret cannot be read with this SECRET_KEY. Type it again.');
  }
}
