import iconv from 'iconv-lite';
import { decode, type Decoded } from '../../files/extract/decode.ts';

export interface PlainText extends Decoded {
  /** It begins with the mark of its encoding. */
  readonly marked: boolean;
}

export function decodeText(bytes: Uint8Array): PlainText {
  const decoded = decode(Buffer.from(bytes));
  return { ...decoded, marked: hasMark(bytes, decoded.encoding) };
}

/** In the encoding that it had; `undefined` where a sign of it has none there. */
export function encodeText(text: string, { encoding, marked }: Omit<PlainText, 'text'>): Buffer | undefined {
  const bytes = iconv.encode(text, encoding, { addBOM: marked });
  return decodeText(bytes).text === text ? bytes : undefined;
}

function hasMark(bytes: Uint8Array, encoding: string): boolean {
  const mark = iconv.encode('', encoding, { addBOM: true });
  return mark.length > 0 && mark.equals(bytes.subarray(0, mark.length));
}
