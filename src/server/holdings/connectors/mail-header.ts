/** The text of a field of a mail's head, decoded (RFC 2047); '' where it has none. */
export function headerField(bytes: Uint8Array, name: string): string {
  const head =
    Buffer.from(bytes.subarray(0, 32_768))
      .toString('utf8')
      .split(/\r?\n\r?\n/, 1)[0] ?? '';
  const found = new RegExp(`^${name}:[ \\t]*((?:.*)(?:\\r?\\n[ \\t]+.*)*)`, 'im').exec(head)?.[1] ?? '';
  return decodeWords(found.replace(/\r?\n[ \t]+/g, ' '))
    .trim()
    .slice(0, 400);
}

function decodeWords(text: string): string {
  return text
    .replace(/\?=\s+=\?/g, '?==?')
    .replace(/=\?([\w-]+)\?([bq])\?([^?]*)\?=/gi, (whole, charset: string, how: string, body: string) => {
      try {
        const bytes =
          how.toLowerCase() === 'b'
            ? Buffer.from(body, 'base64')
            : Buffer.from(
                body
                  .replaceAll('_', ' ')
                  .replace(/=([0-9a-f]{2})/gi, (_, h: string) => String.fromCharCode(parseInt(h, 16))),
                'latin1',
              );
        return new TextDecoder(charset).decode(bytes);
      } catch {
        return whole;
      }
    });
}
