import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';

let font: Uint8Array | undefined;

/** A font with the letters of most scripts, as the application ships it. */
export function wideFont(): Uint8Array {
  font ??= new Uint8Array(
    readFileSync(createRequire(import.meta.url).resolve('dejavu-fonts-ttf/ttf/DejaVuSans.ttf')),
  );
  return font;
}
