import type { Readable } from 'node:stream';
import { crc32, gunzipSync } from 'node:zlib';
import { extract as untar } from 'tar-stream';
import yauzl from 'yauzl';
import { decode } from './decode.ts';
import { UnreadableError, type Limits } from './extracted.ts';

export interface Entry {
  readonly name: string;
  readonly bytes: Buffer;
  /** CRC-32 as a ZIP archive says it. */
  readonly crc?: number;
}

/** What may still be unpacked of one file, shared by all archives in it. */
export class Allowance {
  bytes: number;
  parts: number;

  constructor(readonly limits: Limits) {
    this.bytes = limits.unpackedBytes;
    this.parts = limits.parts;
  }

  /** Throws an UnreadableError when that is too much. */
  take(bytes: number, packed: number): void {
    this.bytes -= bytes;
    if (--this.parts < 0)
      throw new UnreadableError('too large', `It holds more than ${this.limits.parts} parts`);
    if (this.bytes < 0)
      throw new UnreadableError(
        'too large',
        `It unpacks to more than ${Math.round(this.limits.unpackedBytes / 1e6)} MB`,
      );
    if (bytes > 10e6 && bytes > packed * this.limits.ratio)
      throw new UnreadableError('too large', `It unpacks to more than ${this.limits.ratio} times its size`);
  }
}

/**
 * The parts of a ZIP archive one by one; `wanted` chooses by name. Encrypted and damaged parts are told, not read; a part
 * whose name leads out of the archive is read, and told, since nothing is ever written under it.
 */
export async function readZip(
  bytes: Buffer,
  allowance: Allowance,
  each: (entry: Entry) => Promise<void>,
  told: (name: string, kind: 'encrypted' | 'misnamed' | 'damaged', words: string) => void,
  wanted: (name: string) => boolean = () => true,
): Promise<void> {
  let zip: yauzl.ZipFile;
  try {
    zip = await new Promise<yauzl.ZipFile>((done, fail) =>
      yauzl.fromBuffer(
        bytes,
        // Names are decoded below: a bad one must not end the reading.
        { lazyEntries: true, validateEntrySizes: true, decodeStrings: false },
        (error, z) => (error ? fail(error) : done(z)),
      ),
    );
  } catch (error) {
    throw new UnreadableError('damaged', `It is no sound ZIP archive: ${(error as Error).message}`);
  }
  await new Promise<void>((done, fail) => {
    // What is thrown in a handler would end the thread, not this promise.
    const held =
      <A extends readonly unknown[]>(act: (...args: A) => void) =>
      (...args: A): void => {
        try {
          act(...args);
        } catch (error) {
          fail(
            error instanceof UnreadableError
              ? error
              : new UnreadableError('damaged', `One of its parts: ${(error as Error).message}`),
          );
        }
      };
    zip.on('error', (error: Error) =>
      fail(new UnreadableError('damaged', `It is no sound ZIP archive: ${error.message}`)),
    );
    zip.on('end', done);
    zip.on(
      'entry',
      held((entry: yauzl.Entry) => {
        const { name, bad } = nameOf(entry);
        if (name.endsWith('/') || !wanted(name)) return zip.readEntry();
        if ((entry.generalPurposeBitFlag & 1) !== 0) {
          told(name, 'encrypted', 'It is encrypted');
          return zip.readEntry();
        }
        allowance.take(entry.uncompressedSize, entry.compressedSize);
        if (bad) told(name, 'misnamed', 'Its name leads out of the archive; it was read all the same');
        const damaged = held((error: Error) => {
          told(name, 'damaged', `It could not be unpacked: ${error.message}`);
          zip.readEntry();
        });
        zip.openReadStream(
          entry,
          held((error: Error | null, stream: Readable) => {
            if (error) return damaged(error);
            const chunks: Buffer[] = [];
            let size = 0;
            stream.on('data', (chunk: Buffer) => {
              size += chunk.length;
              if (size > entry.uncompressedSize + 1024) stream.destroy(new Error('larger than it says'));
              chunks.push(chunk);
            });
            stream.on('error', damaged);
            stream.on('end', () => {
              each({ name, bytes: Buffer.concat(chunks), crc: entry.crc32 }).then(
                held(() => zip.readEntry()),
                fail,
              );
            });
          }),
        );
      }),
    );
    zip.readEntry();
  });
}

/** The name of a part as it is shown, and whether it leads out of the archive (APPNOTE.TXT, 4.4.17). */
function nameOf(entry: yauzl.Entry): { readonly name: string; readonly bad: boolean } {
  const raw = entry.fileName as unknown as Buffer;
  const text = (entry.generalPurposeBitFlag & 0x800) !== 0 ? raw.toString('utf8') : decode(raw).text;
  const name = text.replaceAll('\\', '/').replace(/[\0-\x1f\x7f]/g, '\ufffd');
  const bad = name.startsWith('/') || /^[a-z]:/i.test(name) || name.split('/').includes('..');
  return { name: name.slice(0, 1000) || 'without a name', bad };
}

/** Chosen parts of a ZIP by name. */
export async function partsOf(
  bytes: Buffer,
  allowance: Allowance,
  wanted: (name: string) => boolean,
  /** Parts must be as their checksum says: what is taken from them counts, and is not only searched. */
  checked = false,
): Promise<ReadonlyMap<string, Buffer>> {
  const parts = new Map<string, Buffer>();
  await readZip(
    bytes,
    allowance,
    async ({ name, bytes: b, crc }) => {
      if (checked && crc32(b) !== crc)
        throw new UnreadableError('damaged', `${name} is not as it was written`);
      parts.set(name, b);
    },
    (name, kind, words) => {
      if (kind === 'encrypted') throw new UnreadableError('encrypted', `${name} is encrypted`);
      if (kind === 'damaged') throw new UnreadableError('damaged', `${name}: ${words}`);
    },
    wanted,
  );
  return parts;
}

export function gunzip(bytes: Buffer, allowance: Allowance): Buffer {
  try {
    const out = gunzipSync(bytes, {
      maxOutputLength: Math.max(
        1,
        Math.min(allowance.bytes, Math.max(10e6, bytes.length * allowance.limits.ratio)),
      ),
    });
    allowance.take(out.length, bytes.length);
    return out;
  } catch (error) {
    if (error instanceof UnreadableError) throw error;
    const large = (error as NodeJS.ErrnoException).code === 'ERR_BUFFER_TOO_LARGE';
    throw new UnreadableError(
      large ? 'too large' : 'damaged',
      large ? 'It unpacks to more than it may' : `It is no sound gzip file: ${(error as Error).message}`,
    );
  }
}

export async function readTar(
  bytes: Buffer,
  allowance: Allowance,
  each: (entry: Entry) => Promise<void>,
): Promise<void> {
  const tar = untar();
  const all = (async () => {
    for await (const entry of tar) {
      const chunks: Buffer[] = [];
      for await (const chunk of entry) chunks.push(chunk as Buffer);
      if (entry.header.type !== 'file') continue;
      const content = Buffer.concat(chunks);
      allowance.take(content.length, content.length);
      await each({ name: entry.header.name, bytes: content });
    }
  })();
  tar.end(bytes);
  try {
    await all;
  } catch (error) {
    if (error instanceof UnreadableError) throw error;
    throw new UnreadableError('damaged', `It is no sound tar archive: ${(error as Error).message}`);
  }
}
