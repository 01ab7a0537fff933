import { createHmac } from 'node:crypto';

/** The office's token: made from the key of this installation, so that the demo and the office know the same. */
export function officeToken(secretKey: string): string {
  return `yw_${createHmac('sha256', Buffer.from(secretKey, 'hex')).update('stand-in office').digest('base64url')}`;
}
