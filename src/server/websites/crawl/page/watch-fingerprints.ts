import type { Natives } from './natives.ts';
import type { Report } from './told.ts';

/**
 * Runs in the page: tells of reads that are typical of recognising a device. A canvas counts when text was drawn on it
 * and it is read back; WebGL when the graphics card is asked for; sound when an oscillator is rendered off-line; fonts
 * when ten families or more are measured.
 */
export function watchFingerprints(
  report: Report,
  { apply, define, descriptor, weakMap, text }: Natives,
): void {
  type Method = (this: unknown, ...args: unknown[]) => unknown;
  const global = globalThis as unknown as Record<string, { prototype: Record<string, unknown> } | undefined>;
  const ENOUGH_FONTS = 10;
  const UNMASKED_VENDOR = 37445;
  const UNMASKED_RENDERER = 37446;
  const before = (owner: string, method: string, look: (self: unknown, args: unknown[]) => void) => {
    const proto = global[owner]?.prototype;
    const native = proto?.[method] as Method | undefined;
    if (!proto || typeof native !== 'function') return;
    proto[method] = function (this: unknown, ...args: unknown[]) {
      try {
        look(this, args);
      } catch {
        // The page must not notice.
      }
      return apply(native, this, args);
    };
  };
  const MOST_TOLD = 300;
  const told: Record<string, number> = { canvas: 0, WebGL: 0, audio: 0, fonts: 0 };
  const tell = (kind: string) => {
    // Which script it was is told with each; a flood of the same is not.
    const n = told[kind] ?? 0;
    if (n >= MOST_TOLD) return;
    told[kind] = n + 1;
    report('fingerprint', kind);
  };
  interface Drawn {
    text: boolean;
    gl: boolean;
  }
  const canvases = weakMap();
  const drawn = (canvas: unknown): Drawn => {
    const known = (canvases.get(canvas as object) as Drawn | undefined) ?? { text: false, gl: false };
    canvases.set(canvas as object, known);
    return known;
  };
  const big = (c: { width: number; height: number }) => c.width * c.height >= 256;
  const readBack = (canvas: unknown) => {
    const { text, gl } = drawn(canvas);
    if (!big(canvas as HTMLCanvasElement)) return;
    if (gl) tell('WebGL');
    else if (text) tell('canvas');
  };
  for (const context of ['CanvasRenderingContext2D', 'OffscreenCanvasRenderingContext2D']) {
    for (const method of ['fillText', 'strokeText'])
      before(context, method, (self) => (drawn((self as CanvasRenderingContext2D).canvas).text = true));
    before(context, 'getImageData', (self) => readBack((self as CanvasRenderingContext2D).canvas));
  }
  for (const canvas of ['HTMLCanvasElement', 'OffscreenCanvas'])
    before(canvas, 'getContext', (self, args) => {
      if (/webgl/.test(text(args[0]))) drawn(self).gl = true;
    });
  before('HTMLCanvasElement', 'toDataURL', readBack);
  before('HTMLCanvasElement', 'toBlob', readBack);
  before('OffscreenCanvas', 'convertToBlob', readBack);
  for (const gl of ['WebGLRenderingContext', 'WebGL2RenderingContext'])
    before(gl, 'getParameter', (_self, args) => {
      const name = args[0];
      if (name === UNMASKED_VENDOR || name === UNMASKED_RENDERER) tell('WebGL');
    });

  const singing = weakMap();
  before('BaseAudioContext', 'createOscillator', (self) => singing.set(self as object, true));
  before('OfflineAudioContext', 'startRendering', (self) => {
    if (singing.get(self as object)) tell('audio');
  });
  for (const method of ['getFloatFrequencyData', 'getByteFrequencyData'])
    before('AnalyserNode', method, (self) => {
      if (singing.get((self as AnalyserNode).context)) tell('audio');
    });

  const families = new Set<string>();
  const measured = (family: string) => {
    if (family === '' || families.size > 200) return;
    families.add(family);
    if (families.size >= ENOUGH_FONTS) tell('fonts');
  };
  for (const context of ['CanvasRenderingContext2D', 'OffscreenCanvasRenderingContext2D'])
    before(context, 'measureText', (self) =>
      measured((self as CanvasRenderingContext2D).font.replace(/^.*?[\d.]+(?:px|pt|em|rem|%)\S*\s/, '')),
    );
  before('FontFaceSet', 'check', (_self, args) => measured(text(args[0]).replace(/^.*?[\d.]+\S*\s/, '')));
  const styled = (self: unknown) => measured((self as HTMLElement).style?.fontFamily ?? '');
  for (const property of ['offsetWidth', 'offsetHeight']) {
    const proto = global['HTMLElement']?.prototype;
    const was = proto && descriptor(proto, property);
    if (!proto || !was?.get) continue;
    const get = was.get as Method;
    define(proto, property, {
      enumerable: was.enumerable ?? false,
      configurable: true,
      get(this: unknown) {
        try {
          styled(this);
        } catch {
          // The page must not notice.
        }
        return apply(get, this, []) as number;
      },
    });
  }
  before('Element', 'getBoundingClientRect', styled);
}
