import { createHash, randomBytes } from 'node:crypto';

/** The last step of an address that opens something without an account: 43 characters that nobody guesses. */
export const newToken = (): string => randomBytes(32).toString('base64url');

export const isToken = (text: string): boolean => /^[\w-]{43}$/.test(text);

/** What is kept of one. */
export const tokenHash = (token: string): Buffer => createHash('sha256').update(token).digest();
