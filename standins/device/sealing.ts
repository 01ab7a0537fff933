import { SEALED_INFO, SealedParts } from '../../src/core/protection/devices/sealed-copy.ts';

/** Seals bytes so that only whoever has the private key of `key` (X25519, base64url) can open them. */
export async function sealFor(
  key: string,
  bytes: Uint8Array<ArrayBuffer>,
  random: (bytes: number) => Uint8Array,
): Promise<Uint8Array<ArrayBuffer>> {
  const { subtle } = globalThis.crypto;
  const own = (await subtle.generateKey('X25519', true, ['deriveBits'])) as CryptoKeyPair;
  const theirs = await subtle.importKey('jwk', { kty: 'OKP', crv: 'X25519', x: key }, 'X25519', false, []);
  const secret = await subtle.deriveBits({ name: 'X25519', public: theirs }, own.privateKey, 256);
  const { x } = await subtle.exportKey('jwk', own.publicKey);
  const salt = bytesOf(x ?? '');
  const aes = await subtle.deriveKey(
    { name: 'HKDF', hash: 'SHA-256', salt, info: new TextEncoder().encode(SEALED_INFO) },
    await subtle.importKey('raw', secret, 'HKDF', false, ['deriveKey']),
    { name: 'AES-GCM', length: 256 },
    false,
    ['encrypt'],
  );
  const iv = Uint8Array.from(random(12));
  const body = new Uint8Array(await subtle.encrypt({ name: 'AES-GCM', iv }, aes, bytes));
  return SealedParts.join(salt, iv, body);
}

/** Of base64, also as it stands in addresses. */
export function bytesOf(base64: string): Uint8Array<ArrayBuffer> {
  const binary = atob(base64.replaceAll('-', '+').replaceAll('_', '/'));
  return Uint8Array.from(binary, (c) => c.charCodeAt(0));
}

export function base64Of(bytes: Uint8Array): string {
  let binary = '';
  for (const b of bytes) binary += String.fromCharCode(b);
  return btoa(binary);
}

export const hexOf = (bytes: Uint8Array) => [...bytes].map((b) => b.toString(16).padStart(2, '0')).join('');
