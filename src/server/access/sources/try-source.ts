import type { AccessAddress, AccessSourceContent } from '../../../core/access/sources/access-source.ts';
import { takesAccessSecret } from '../../../core/access/sources/access-source.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { readUpload } from '../../files/uploads.ts';
import { sealText } from '../../secret.ts';
import { fileLines } from '../readers/estate-file.ts';
import { openReader } from '../readers/open-reader.ts';
import { ReaderError } from '../readers/reader.ts';
import type { AccessSource } from './access-sources.ts';

export interface TriedSource {
  readonly content: AccessSourceContent;
  readonly address: AccessAddress;
  readonly secret: string;
  /** Of an estate file: the upload that holds it. */
  readonly upload?: number | undefined;
}

/** More than this is kept in no row of the database. */
const MOST_FILE = 16e6;
/** Of a file more lines than this that cannot be taken make it none. */
const MOST_FAULTS = 20;

/** Tries whether a source can be read as it is to be kept, with the bytes of its file. Throws a RefusedError. */
export async function trySource(
  ctx: Context,
  account: number,
  { content, address, secret, upload }: TriedSource,
): Promise<Buffer | undefined> {
  if (address.kind === 'estate file') return estateFile(ctx, account, upload);
  const source: AccessSource = {
    ...{ id: 0, name: content.name, content, address, created_at: '', known_since: null },
    ...{ read_at: null, tried_at: null, problem: null, faults: [] },
    secret: takesAccessSecret(address.kind) ? sealText(ctx.settings.SECRET_KEY, secret) : null,
  };
  try {
    const reader = await openReader(ctx, source);
    try {
      for await (const _ of reader.lines(new AbortController().signal)) break;
    } finally {
      await reader.close();
    }
  } catch (error) {
    if (!(error instanceof ReaderError)) throw error;
    throw new RefusedError('It could not be read.', [
      { field: /token|password/.test(error.message) ? 'secret' : 'address', message: error.message },
    ]);
  }
  return undefined;
}

async function estateFile(ctx: Context, account: number, upload: number | undefined): Promise<Buffer> {
  if (upload === undefined)
    throw new RefusedError('Choose a file.', [
      { field: 'upload', message: 'An estate as docs/estate.md says: a JSON object a line.' },
    ]);
  const { name, bytes } = await readUpload(ctx, account, upload);
  if (bytes.length > MOST_FILE)
    throw new RefusedError(`“${name}” is larger than ${MOST_FILE / 1e6} MB.`, [
      { field: 'upload', message: 'Serve it as a library (docs/library-interface.md), in pages.' },
    ]);
  const faults: string[] = [];
  let lines = 0;
  for (const line of fileLines(Buffer.from(bytes))) {
    lines++;
    if ('fault' in line && faults.length < MOST_FAULTS) faults.push(line.fault);
  }
  if (lines === 0 || faults.length >= MOST_FAULTS || faults.length === lines)
    throw new RefusedError(
      lines === 0 ? `“${name}” is empty.` : `“${name}” is no estate file.`,
      faults.slice(0, 5).map((message) => ({ field: 'upload', message })),
    );
  return Buffer.from(bytes);
}
