import {
  createCipheriv,
  createDecipheriv,
  createPrivateKey,
  createPublicKey,
  diffieHellman,
  generateKeyPairSync,
  hkdfSync,
  randomBytes,
  type KeyObject,
} from 'node:crypto';
import { SEALED_INFO, SealedParts } from '../../../core/protection/devices/sealed-copy.ts';
import type { Context } from '../../context.ts';

/** DER of an X25519 private key up to its 32 bytes (RFC 8410, 7). */
const PKCS8 = Buffer.from('302e020100300506032b656e04220420', 'hex');

type Keyed = Pick<Context, 'settings'>;

/** What copies are sealed for: always the same of one secret. */
function privateKey({ settings }: Keyed): KeyObject {
  const seed = hkdfSync('sha256', Buffer.from(settings.SECRET_KEY, 'hex'), '', 'yare kept evidence', 32);
  return createPrivateKey({ key: Buffer.concat([PKCS8, Buffer.from(seed)]), format: 'der', type: 'pkcs8' });
}

/** As devices are told it: 32 bytes in base64url. */
export function evidenceKey(ctx: Keyed): string {
  return String(createPublicKey(privateKey(ctx)).export({ format: 'jwk' }).x);
}

/** Seals what the desk itself keeps, as a device would. */
export function sealHere(ctx: Keyed, bytes: Uint8Array): Uint8Array {
  const own = generateKeyPairSync('x25519');
  const secret = diffieHellman({
    privateKey: own.privateKey,
    publicKey: createPublicKey(privateKey(ctx)),
  });
  const key = Buffer.from(String(own.publicKey.export({ format: 'jwk' }).x), 'base64url');
  const aes = Buffer.from(hkdfSync('sha256', secret, key, SEALED_INFO, 32));
  const iv = randomBytes(12);
  const cipher = createCipheriv('aes-256-gcm', aes, iv);
  const body = Buffer.concat([cipher.update(bytes), cipher.final(), cipher.getAuthTag()]);
  return SealedParts.join(key, iv, body);
}

/** Opens what a device sealed. Throws an Error where it was sealed for another key, or changed. */
export function openSealed(ctx: Keyed, sealed: Uint8Array): Buffer {
  const { key, iv, body } = SealedParts.split(sealed);
  const secret = diffieHellman({
    privateKey: privateKey(ctx),
    publicKey: createPublicKey({
      key: { kty: 'OKP', crv: 'X25519', x: Buffer.from(key).toString('base64url') },
      format: 'jwk',
    }),
  });
  const aes = Buffer.from(hkdfSync('sha256', secret, key, SEALED_INFO, 32));
  const decipher = createDecipheriv('aes-256-gcm', aes, iv);
  decipher.setAuthTag(body.subarray(body.length - 16));
  return Buffer.concat([decipher.update(body.subarray(0, body.length - 16)), decipher.final()]);
}
