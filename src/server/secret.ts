import { createCipheriv, createDecipheriv, randomBytes } from 'node:crypto';

const PREFIX = 'sealed:';

/** Encrypts bytes with the key of the environment (AES-256-GCM); each time differently. */
export function sealBytes(key: string, bytes: Uint8Array): Buffer {
  const iv = randomBytes(12);
  const cipher = createCipheriv('aes-256-gcm', Buffer.from(key, 'hex'), iv);
  const body = Buffer.concat([cipher.update(bytes), cipher.final()]);
  return Buffer.concat([iv, cipher.getAuthTag(), body]);
}

/** Throws an Error where they were sealed with another key, or changed. */
export function openBytes(key: string, sealed: Buffer): Buffer {
  const decipher = createDecipheriv('aes-256-gcm', Buffer.from(key, 'hex'), sealed.subarray(0, 12));
  decipher.setAuthTag(sealed.subarray(12, 28));
  return Buffer.concat([decipher.update(sealed.subarray(28)), decipher.final()]);
}

/** Encrypts a text with the key of the environment; each time differently. */
export function sealText(key: string, text: string): string {
  return PREFIX + sealBytes(key, Buffer.from(text, 'utf8')).toString('base64');
}

export function isSealed(text: string): boolean {
  return text.startsWith(PREFIX);
}

/** Throws an Error when the text was sealed with another key. */
export function openText(key: string, sealed: string): string {
  try {
    return openBytes(key, Buffer.from(sealed.slice(PREFIX.length), 'base64')).toString('utf8');
  } catch {
    throw new Error('A kept secret cannot be read with this SECRET_KEY. Type it again.');
  }
}
