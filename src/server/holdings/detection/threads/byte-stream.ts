import { isAscii } from 'node:buffer';
import { evenText } from '../../../../core/holdings/detection/pattern/even-text.ts';
import type { TextStream } from '../../../../core/holdings/detection/engine/text-stream.ts';
import { unitsOf } from './folded-text.ts';

const asText = (bytes: Uint8Array): string =>
  Buffer.from(bytes.buffer, bytes.byteOffset, bytes.length).toString('latin1');

/** Hands the bytes of a text on to a stream of text, piece by piece. */
export class ByteStream {
  #decoder: TextDecoder | undefined;
  #begun = false;
  /** The pieces so far end with a whole sign. */
  #whole = true;

  /** The encoding is UTF-8, or one of a byte a sign in which the first 128 are ASCII. */
  constructor(
    readonly stream: TextStream,
    readonly encoding: string,
  ) {}

  push(bytes: Buffer): void {
    if (this.#whole && isAscii(bytes)) this.stream.pushAscii(bytes, asText);
    else {
      this.#hand(this.#decode(bytes));
      this.#whole = (bytes.at(-1) ?? 0) < 128;
    }
    this.#begun ||= bytes.length > 0;
  }

  /** Hands on what a text that ends in the middle of a sign has left. */
  end(): void {
    if (!this.#whole) this.#hand(this.#decode(undefined));
  }

  #decode(bytes: Buffer | undefined): string {
    // A mark of the byte order is one at the very beginning only.
    this.#decoder ??= new TextDecoder(this.encoding.toLowerCase(), { ignoreBOM: this.#begun });
    return this.#decoder.decode(bytes, { stream: bytes !== undefined });
  }

  #hand(decoded: string): void {
    const text = evenText(decoded);
    if (text !== '') this.stream.push(text, unitsOf(text));
  }
}
