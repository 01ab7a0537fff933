const CHUNK = 32_768;

/** Bytes as a text with one character a byte (0 to 255), so that they can be searched and cut as text. */
export function binaryOf(bytes: Uint8Array): string {
  const parts: string[] = [];
  for (let at = 0; at < bytes.length; at += CHUNK)
    parts.push(String.fromCharCode(...bytes.subarray(at, at + CHUNK)));
  return parts.join('');
}

export function bytesOf(binary: string): Uint8Array {
  const bytes = new Uint8Array(binary.length);
  for (let i = 0; i < binary.length; i++) bytes[i] = binary.charCodeAt(i);
  return bytes;
}

/** A text in a character set (WHATWG Encoding); `undefined` where that has no way to write it, or is not known. */
export function encodedIn(text: string, charset: string): string | undefined {
  if (/^utf-?8$/i.test(charset)) return binaryOf(new TextEncoder().encode(text));
  // What it says first in all sets of characters that mail may be in.
  if (/^[\t\n\r\x20-\x7e]*$/.test(text)) return text;
  const table = singleBytes(charset);
  if (!table) return undefined;
  let out = '';
  for (const c of text) {
    const byte = table.get(c);
    if (byte === undefined) return undefined;
    out += byte;
  }
  return out;
}

/** The other way; `undefined` where the bytes are none of that set. */
export function decodedFrom(binary: string, charset: string): string | undefined {
  try {
    return new TextDecoder(charset, { fatal: true, ignoreBOM: true }).decode(bytesOf(binary));
  } catch {
    return undefined;
  }
}

/** Characters of a set that has one byte for each; `undefined` for others. */
function singleBytes(charset: string): ReadonlyMap<string, string> | undefined {
  if (!/^(?:iso-8859-\d+|windows-125\d|windows-874|koi8-[ru]|macintosh)$/i.test(charset)) return undefined;
  try {
    const decoder = new TextDecoder(charset);
    return new Map(
      Array.from({ length: 256 }, (_, b) => [decoder.decode(Uint8Array.of(b)), String.fromCharCode(b)]),
    );
  } catch {
    return undefined;
  }
}
