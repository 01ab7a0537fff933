/** What would hide, reorder or break what stands around it where people read it. */
const UNSAFE = /[\0-\x1f\x7f-\x9f\u061c\u200b-\u200f\u2028-\u202e\u2060-\u206f\ufeff\\/]/gu;

const encoder = new TextEncoder();

/**
 * A name of a file as text that people can read and that leads back to the same bytes: what is no UTF-8, control
 * characters, invisible signs and the backslash itself stand as `\xHH`. It holds no `/`.
 */
export function nameText(bytes: Uint8Array): string {
  let text: string;
  try {
    text = new TextDecoder('utf-8', { fatal: true, ignoreBOM: true }).decode(bytes);
  } catch {
    return [...bytes]
      .map((b) => (b < 32 || b > 126 || b === 92 || b === 47 ? hex(b) : String.fromCharCode(b)))
      .join('');
  }
  return text.replace(UNSAFE, (c) => [...encoder.encode(c)].map(hex).join(''));
}

/** The bytes of a name that `nameText` wrote. */
export function nameBytes(text: string): Uint8Array {
  if (!text.includes('\\')) return encoder.encode(text);
  const parts = text.split(/\\x([0-9a-f]{2})/);
  const bytes: number[] = [];
  for (const [i, part] of parts.entries())
    if (i % 2 === 1) bytes.push(parseInt(part, 16));
    else bytes.push(...encoder.encode(part));
  return Uint8Array.from(bytes);
}

function hex(byte: number): string {
  return `\\x${byte.toString(16).padStart(2, '0')}`;
}
