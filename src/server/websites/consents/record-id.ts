import { randomBytes } from 'node:crypto';

/** RFC 9562 section 5.7: 48 bits of Unix milliseconds, then random bits. */
export function uuidv7(at: Date, random: Buffer = randomBytes(16)): Buffer {
  const bytes = Buffer.from(random);
  bytes.writeUIntBE(at.getTime(), 0, 6);
  bytes[6] = 0x70 | ((bytes[6] as number) & 0x0f);
  bytes[8] = 0x80 | ((bytes[8] as number) & 0x3f);
  return bytes;
}

/** Milliseconds since the epoch. */
export function uuidTime(bytes: Buffer): number {
  return bytes.readUIntBE(0, 6);
}

export function formatUuid(bytes: Buffer): string {
  return bytes.toString('hex').replace(/^(.{8})(.{4})(.{4})(.{4})(.{12})$/, '$1-$2-$3-$4-$5');
}

export function parseUuid(text: string): Buffer | undefined {
  return /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/i.test(text)
    ? Buffer.from(text.replaceAll('-', ''), 'hex')
    : undefined;
}
