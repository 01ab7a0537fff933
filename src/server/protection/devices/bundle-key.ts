import { createPrivateKey, createPublicKey, hkdfSync, sign, type KeyObject } from 'node:crypto';
import type { Context } from '../../context.ts';

/** DER of an Ed25519 private key up to its 32 bytes (RFC 8410, 7). */
const PKCS8 = Buffer.from('302e020100300506032b657004220420', 'hex');

/** The key that bundles are signed with: always the same of one secret. */
function privateKey({ settings }: Pick<Context, 'settings'>): KeyObject {
  const seed = hkdfSync('sha256', Buffer.from(settings.SECRET_KEY, 'hex'), '', 'yare rule bundles', 32);
  return createPrivateKey({ key: Buffer.concat([PKCS8, Buffer.from(seed)]), format: 'der', type: 'pkcs8' });
}

/** As a device is given it when it is enrolled: 32 bytes in base64url. */
export function bundleKey(ctx: Pick<Context, 'settings'>): string {
  const { x } = createPublicKey(privateKey(ctx)).export({ format: 'jwk' });
  return String(x);
}

export function signBundle(ctx: Pick<Context, 'settings'>, text: string): string {
  return sign(null, Buffer.from(text), privateKey(ctx)).toString('base64url');
}
