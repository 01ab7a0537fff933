/** Binds keys to what they are for (HKDF, RFC 5869). */
export const SEALED_INFO = 'yare sealed copy 1';

const KEY = 32;
const IV = 12;

/**
 * A copy as a device seals it: the public key made for it alone (X25519, 32 bytes), the nonce (12 bytes), and what
 * AES-256-GCM makes of it, its tag last. The key of AES is HKDF-SHA-256 of the shared secret, with the public key as salt.
 */
export const SealedParts = {
  /** Throws a RangeError for what is too short to be one. */
  split(sealed: Uint8Array): {
    readonly key: Uint8Array;
    readonly iv: Uint8Array;
    readonly body: Uint8Array;
  } {
    if (sealed.length < KEY + IV + 16) throw new RangeError('This is no sealed copy.');
    return {
      key: sealed.subarray(0, KEY),
      iv: sealed.subarray(KEY, KEY + IV),
      body: sealed.subarray(KEY + IV),
    };
  },
  join(key: Uint8Array, iv: Uint8Array, body: Uint8Array): Uint8Array<ArrayBuffer> {
    const all = new Uint8Array(key.length + iv.length + body.length);
    all.set(key);
    all.set(iv, KEY);
    all.set(body, KEY + IV);
    return all;
  },
};
