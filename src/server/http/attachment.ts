/** A download; characters that a file name cannot have are replaced. */
export function attachment(name: string, type: string, body: string | Uint8Array): Response {
  const safe = name.replace(/[^A-Za-z0-9._-]+/g, '-');
  return new Response(typeof body === 'string' ? body : new Uint8Array(body), {
    headers: {
      'content-type': type,
      'content-disposition': `attachment; filename="${safe}"`,
      'cache-control': 'no-store',
    },
  });
}
