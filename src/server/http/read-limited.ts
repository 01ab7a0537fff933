import { RefusedError } from '../../core/refusal.ts';

/**
 * The bytes of a body, read no further than `most`: one that says it is longer is not read at all, one that does not
 * say is let go where it goes beyond. Throws a RefusedError (413) with `words`.
 */
export async function readLimited(
  body: AsyncIterable<Uint8Array> | null,
  declared: string | null | undefined,
  most: number,
  words: string,
): Promise<Buffer> {
  if (Number(declared ?? 0) > most) throw new RefusedError(words, [], 413);
  if (!body) return Buffer.alloc(0);
  const parts: Uint8Array[] = [];
  let size = 0;
  for await (const part of body) {
    size += part.length;
    if (size > most) throw new RefusedError(words, [], 413);
    parts.push(part);
  }
  return Buffer.concat(parts);
}

/** The JSON that a body holds; throws a RefusedError where it holds none. Bytes that are no UTF-8 are none. */
export function parseJson(body: Buffer): unknown {
  try {
    return JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(body));
  } catch {
    throw new RefusedError('Send a JSON object.', [{ field: '', message: 'The body is not JSON.' }]);
  }
}
