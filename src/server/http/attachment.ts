/** The name of a file, without what one cannot have. */
export function safeName(name: string): string {
  return name.replace(/[^A-Za-z0-9._-]+/g, '-');
}

/** A download; characters that a file name cannot have are replaced. */
export function attachment(name: string, type: string, body: string | Uint8Array): Response {
  return new Response(typeof body === 'string' ? body : new Uint8Array(body), {
    headers: {
      'content-type': type,
      'content-disposition': `attachment; filename="${safeName(name)}"`,
      'cache-control': 'no-store',
    },
  });
}
