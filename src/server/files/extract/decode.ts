import chardet from 'chardet';
import iconv from 'iconv-lite';

export interface Decoded {
  readonly text: string;
  readonly encoding: string;
}

const MARKS: readonly [readonly number[], string][] = [
  [[0xff, 0xfe, 0, 0], 'UTF-32LE'],
  [[0, 0, 0xfe, 0xff], 'UTF-32BE'],
  [[0xef, 0xbb, 0xbf], 'UTF-8'],
  [[0xff, 0xfe], 'UTF-16LE'],
  [[0xfe, 0xff], 'UTF-16BE'],
];

/** Text in any encoding: by its mark, as UTF-8 where it is sound, by its zeros, else by what is likeliest. */
export function decode(bytes: Buffer): Decoded {
  for (const [mark, encoding] of MARKS)
    if (mark.every((b, i) => bytes[i] === b)) return { text: strip(iconv.decode(bytes, encoding)), encoding };
  try {
    const text = new TextDecoder('utf-8', { fatal: true }).decode(bytes);
    if (!text.slice(0, 4000).includes('\0')) return { text, encoding: 'UTF-8' };
  } catch {
    // Not UTF-8.
  }
  const wide = wideEncoding(bytes);
  if (wide) return { text: iconv.decode(bytes, wide), encoding: wide };
  const guess = chardet.detect(bytes.subarray(0, 64_000)) ?? 'windows-1252';
  const encoding =
    /^(?:ISO-8859-1|ASCII|UTF-8)$/i.test(guess) || !iconv.encodingExists(guess) ? 'windows-1252' : guess;
  return { text: iconv.decode(bytes, encoding), encoding };
}

const strip = (text: string) => (text.charCodeAt(0) === 0xfeff ? text.slice(1) : text);

/** Text of the Western kind in two bytes a sign has a zero in every second byte. */
function wideEncoding(bytes: Buffer): string | undefined {
  const sample = bytes.subarray(0, 2000);
  let even = 0;
  let odd = 0;
  for (let i = 0; i + 1 < sample.length; i += 2) {
    if (sample[i] === 0) even++;
    if (sample[i + 1] === 0) odd++;
  }
  const pairs = sample.length / 2;
  if (odd > pairs * 0.6 && even < pairs * 0.1) return 'UTF-16LE';
  return even > pairs * 0.6 && odd < pairs * 0.1 ? 'UTF-16BE' : undefined;
}
