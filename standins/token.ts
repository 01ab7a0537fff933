import { createHmac } from 'node:crypto';

/** The token of a stand-in: made from the key of this installation, so that the demo and the stand-in know the same. */
export function standinToken(secretKey: string, of: 'office' | 'directory' | 'library' | 'login'): string {
  return `yw_${createHmac('sha256', Buffer.from(secretKey, 'hex')).update(`stand-in ${of}`).digest('base64url')}`;
}
