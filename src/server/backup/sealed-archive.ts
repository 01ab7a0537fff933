import { createCipheriv, createDecipheriv, createHash, randomBytes, scrypt } from 'node:crypto';
import { z } from 'zod';

/**
 * A file that a passphrase opens, written and read as a stream: `YAREBK1\n`, the length of a head as 32 bits, the head in
 * JSON (when it was made, and how the key comes of the passphrase), then frames. A frame is the length of what is sealed
 * as 32 bits, the bytes sealed by AES-256-GCM, and the tag of 16 bytes. The nonce of a frame is its number in 11 bytes and
 * whether it is the last in one; what is authenticated besides is the SHA-256 of the head. So no frame can be changed,
 * moved, left out or cut off without being found out. The key comes of the passphrase by scrypt (RFC 7914).
 */
const MAGIC = Buffer.from('YAREBK1\n');
const FRAME = 1_000_000;
const TAG = 16;
const MOST_HEAD = 10_000;

const Head = z.strictObject({
  made: z.iso.datetime(),
  kdf: z.strictObject({
    name: z.literal('scrypt'),
    // No file makes whoever opens it work longer than ours do.
    N: z
      .int()
      .min(2)
      .max(1 << 17),
    r: z.int().min(1).max(8),
    p: z.int().min(1).max(4),
    salt: z.base64(),
  }),
  cipher: z.literal('aes-256-gcm'),
});
type Head = z.infer<typeof Head>;

/** As OWASP advises for scrypt: 128 MiB of memory. */
const COST = { N: 1 << 17, r: 8, p: 1 } as const;

/** What is wrong with a file, or with the passphrase. */
export class ArchiveError extends Error {}

function keyOf(passphrase: string, { kdf: { N, r, p, salt } }: Head): Promise<Buffer> {
  return new Promise((resolve, reject) =>
    scrypt(
      passphrase.normalize('NFC'),
      Buffer.from(salt, 'base64'),
      32,
      { N, r, p, maxmem: 256 * N * r + 1_000_000 },
      (error, key) => (error ? reject(new ArchiveError('The head of the file is damaged.')) : resolve(key)),
    ),
  );
}

function nonceOf(frame: number, isLast: boolean): Buffer {
  const nonce = Buffer.alloc(12);
  nonce.writeBigUInt64BE(BigInt(frame), 3);
  nonce[11] = isLast ? 1 : 0;
  return nonce;
}

/** Seals bytes as they come. `cost` is for tests. */
export async function* sealArchive(
  passphrase: string,
  made: Date,
  bytes: AsyncIterable<Uint8Array>,
  cost: Pick<Head['kdf'], 'N' | 'r' | 'p'> = COST,
): AsyncGenerator<Buffer> {
  const head: Head = {
    made: made.toISOString(),
    kdf: { name: 'scrypt', ...cost, salt: randomBytes(16).toString('base64') },
    cipher: 'aes-256-gcm',
  };
  const headBytes = Buffer.from(JSON.stringify(head));
  const key = await keyOf(passphrase, head);
  const about = createHash('sha256').update(headBytes).digest();
  yield Buffer.concat([MAGIC, length(headBytes.length), headBytes]);
  let frame = 0;
  const sealed = (plain: Buffer, isLast: boolean): Buffer => {
    const cipher = createCipheriv('aes-256-gcm', key, nonceOf(frame++, isLast));
    cipher.setAAD(about);
    const body = Buffer.concat([cipher.update(plain), cipher.final()]);
    return Buffer.concat([length(body.length), body, cipher.getAuthTag()]);
  };
  let held: Buffer[] = [];
  let size = 0;
  for await (const chunk of bytes)
    for (let at = 0; at < chunk.length;) {
      const piece = Buffer.from(chunk.subarray(at, at + FRAME - size));
      held.push(piece);
      size += piece.length;
      at += piece.length;
      if (size < FRAME) continue;
      yield sealed(Buffer.concat(held), false);
      [held, size] = [[], 0];
    }
  yield sealed(Buffer.concat(held), true);
}

function length(n: number): Buffer {
  const bytes = Buffer.alloc(4);
  bytes.writeUInt32BE(n);
  return bytes;
}

/** Reads so many bytes at a time of a stream. */
class Reader {
  readonly #chunks: AsyncIterator<Uint8Array>;
  #held = Buffer.alloc(0);

  constructor(bytes: AsyncIterable<Uint8Array>) {
    this.#chunks = bytes[Symbol.asyncIterator]();
  }

  async #fill(n: number): Promise<void> {
    const chunks = [this.#held];
    let size = this.#held.length;
    while (size < n) {
      const { value, done } = await this.#chunks.next();
      if (done) break;
      chunks.push(Buffer.from(value));
      size += value.length;
    }
    this.#held = Buffer.concat(chunks);
  }

  /** Throws an ArchiveError where there are fewer. */
  async take(n: number): Promise<Buffer> {
    await this.#fill(n);
    if (this.#held.length < n) throw new ArchiveError('The file is cut off.');
    const taken = this.#held.subarray(0, n);
    this.#held = this.#held.subarray(n);
    return taken;
  }

  async isEmpty(): Promise<boolean> {
    await this.#fill(1);
    return this.#held.length === 0;
  }
}

/** The bytes that were sealed, frame by frame; throws an ArchiveError before any that cannot be trusted is told. */
export async function* openArchive(
  passphrase: string,
  bytes: AsyncIterable<Uint8Array>,
): AsyncGenerator<Buffer> {
  const reader = new Reader(bytes);
  const magic = await reader.take(MAGIC.length).catch(() => Buffer.alloc(0));
  if (!magic.equals(MAGIC)) throw new ArchiveError('This is no backup of ours.');
  const size = (await reader.take(4)).readUInt32BE();
  if (size > MOST_HEAD) throw new ArchiveError('The head of the file is damaged.');
  const headBytes = Buffer.from(await reader.take(size));
  const head = readHead(headBytes);
  const key = await keyOf(passphrase, head);
  const about = createHash('sha256').update(headBytes).digest();
  for (let frame = 0; ; frame++) {
    const sealed = (await reader.take(4)).readUInt32BE();
    if (sealed > FRAME) throw new ArchiveError(`Frame ${frame} of the file is damaged.`);
    const body = Buffer.from(await reader.take(sealed));
    const tag = Buffer.from(await reader.take(TAG));
    const isLast = await reader.isEmpty();
    const decipher = createDecipheriv('aes-256-gcm', key, nonceOf(frame, isLast));
    decipher.setAAD(about);
    decipher.setAuthTag(tag);
    let plain: Buffer;
    try {
      plain = Buffer.concat([decipher.update(body), decipher.final()]);
    } catch {
      throw new ArchiveError(
        frame === 0
          ? 'The passphrase does not open this file, or the file is damaged.'
          : isLast
            ? 'The file is cut off, or its end is damaged.'
            : `Frame ${frame} of the file is damaged.`,
      );
    }
    yield plain;
    if (isLast) return;
  }
}

function readHead(bytes: Buffer): Head {
  try {
    return Head.parse(JSON.parse(bytes.toString()));
  } catch {
    throw new ArchiveError('The head of the file is damaged.');
  }
}
