import type { Initiator, Stack } from './cause-chains.ts';

/** A script as the browser tells of it (Debugger.scriptParsed of the Chrome DevTools Protocol). */
export interface ParsedScript {
  readonly scriptId: string;
  readonly url: string;
  /** The name is one that the script gave itself, by a `sourceURL` comment. */
  readonly hasSourceURL?: boolean;
  /** Where it came from, whatever it calls itself. */
  readonly embedderName?: string;
  /** Who had it made, where it is made of a text. */
  readonly stackTrace?: Stack;
}

const MOST_SCRIPTS = 20_000;

/** Where scripts really came from: a script can call itself by another's address, and so put the blame on it. */
export class ScriptNames {
  readonly #real = new Map<string, string>();
  #full = false;

  parsed(script: ParsedScript): void {
    if (this.#real.size >= MOST_SCRIPTS) {
      this.#full = true;
      return;
    }
    const given = script.hasSourceURL ? (script.embedderName ?? '') : script.url;
    this.#real.set(script.scriptId, given || this.#makerOf(script.stackTrace));
  }

  clear(): void {
    this.#real.clear();
    this.#full = false;
  }

  /** The same stack under the real names; a script that nobody knows has none where there were too many to know. */
  stack(stack: Stack | undefined): Stack | undefined {
    if (!stack) return undefined;
    const parent = this.stack(stack.parent);
    return {
      callFrames: stack.callFrames.map((f) => ({
        url: this.#real.get(f.scriptId ?? '') ?? (this.#full ? '' : f.url),
        lineNumber: f.lineNumber,
      })),
      ...(parent ? { parent } : {}),
    };
  }

  initiator(initiator: Initiator): Initiator {
    const stack = this.stack(initiator.stack);
    return stack ? { ...initiator, stack } : initiator;
  }

  #makerOf(stack: Stack | undefined): string {
    for (let s = this.stack(stack); s; s = s.parent) {
      const frame = s.callFrames.find((f) => f.url !== '');
      if (frame) return frame.url;
    }
    return '';
  }
}
