import { RefusedError } from '../../core/refusal.ts';
import { readLimited } from './read-limited.ts';

/** What a form sent that needs no account. */
export interface SentFields {
  readonly fields: Readonly<Record<string, string>>;
  /** Files that were chosen, by field. */
  readonly files: ReadonlyMap<string, { readonly name: string; readonly bytes: Uint8Array }>;
}

/**
 * What a page’s form sent, read no further than `most` bytes. Throws a RefusedError: (413) for one that is longer, (400) for
 * what is no form.
 */
export async function readForm(request: Request, most: number): Promise<SentFields> {
  const body = await readLimited(
    request.body as unknown as AsyncIterable<Uint8Array> | null,
    request.headers.get('content-length'),
    most,
    'It is too long.',
  );
  const form = await new Response(new Uint8Array(body), {
    headers: { 'content-type': request.headers.get('content-type') ?? '' },
  })
    .formData()
    .catch(() => {
      throw new RefusedError('That is no form.');
    });
  const fields: Record<string, string> = {};
  const files = new Map<string, { name: string; bytes: Uint8Array }>();
  for (const [name, value] of form)
    if (typeof value === 'string') fields[name] = value;
    else if (value.size > 0)
      files.set(name, { name: value.name, bytes: new Uint8Array(await value.arrayBuffer()) });
  return { fields, files };
}
