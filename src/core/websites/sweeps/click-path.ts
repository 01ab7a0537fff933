import { z } from 'zod';

const Target = z
  .string()
  .trim()
  .min(1, 'Say what to press: a CSS selector, or the words on it in “quotes”')
  .max(500, 'At most 500 characters');

/**
 * One step of a recorded path. `on` names an element: by the words on it, in double quotes, or by a CSS selector.
 * `secret` values are kept encrypted and never shown again.
 */
export const ClickStep = z.discriminatedUnion('act', [
  z.strictObject({ act: z.literal('go to'), path: z.string().trim().max(1000).regex(/^\//, 'Begin with /') }),
  z.strictObject({ act: z.literal('click'), on: Target }),
  z.strictObject({
    act: z.literal('type'),
    on: Target,
    text: z.string().max(500, 'At most 500 characters'),
    secret: z.boolean().default(false),
  }),
  z.strictObject({ act: z.literal('wait for'), on: Target }),
]);
export type ClickStep = z.infer<typeof ClickStep>;

export const ClickPath = z.array(ClickStep).max(40, 'At most 40 steps');
export type ClickPath = z.infer<typeof ClickPath>;

/** The recorded paths of a site, by what they are for. Empty where heuristics do. */
export const SitePaths = z.object({
  signIn: ClickPath.default([]),
  refuse: ClickPath.default([]),
  accept: ClickPath.default([]),
  choose: ClickPath.default([]),
});
export type SitePaths = z.infer<typeof SitePaths>;

export const NO_PATHS: SitePaths = { signIn: [], refuse: [], accept: [], choose: [] };

const LINE = /^(go to|click|type|wait for)\s+(.+)$/i;

/**
 * Reads a path as it is written, a step a line: `click "Sign in"`, `type "me@example" in #user`,
 * `type secret "…" in #password`, `go to /account`, `wait for .welcome`. Throws an Error naming the line.
 */
export function readClickPath(text: string): ClickPath {
  const lines = text.split('\n').map((l) => l.trim());
  const steps = lines.flatMap((line, i) => {
    if (line === '') return [];
    const [, act = '', rest = ''] = LINE.exec(line) ?? [];
    const step = readStep(act.toLowerCase(), rest.trim());
    const read = ClickStep.safeParse(step);
    if (!step || !read.success)
      throw new Error(
        `Line ${i + 1}: ${read.success ? '' : (read.error.issues[0]?.message ?? '')} Write click "words", type "text" in selector, wait for selector, or go to /path.`,
      );
    return [read.data];
  });
  return ClickPath.parse(steps);
}

/** The line of each step of a path as it is written, from 1: empty lines are none. */
export function stepLines(text: string): readonly number[] {
  return text.split('\n').flatMap((line, i) => (line.trim() === '' ? [] : [i + 1]));
}

function readStep(act: string, rest: string): unknown {
  switch (act) {
    case 'go to':
      return { act, path: rest };
    case 'click':
    case 'wait for':
      return { act, on: rest };
    case 'type': {
      const [, secret, text = '', on = ''] =
        /^(secret\s+)?"((?:[^"\\]|\\.)*)"\s+in\s+(.+)$/i.exec(rest) ?? [];
      return on && { act, on, text: text.replace(/\\(.)/g, '$1'), secret: Boolean(secret) };
    }
    default:
      return undefined;
  }
}

/** A path as it is written; secrets show as `…`. */
export function writeClickPath(path: ClickPath): string {
  return path
    .map((s) => {
      switch (s.act) {
        case 'go to':
          return `go to ${s.path}`;
        case 'click':
        case 'wait for':
          return `${s.act} ${s.on}`;
        case 'type':
          return `type ${s.secret ? 'secret ' : ''}"${s.secret ? '…' : s.text.replace(/["\\]/g, '\\$&')}" in ${s.on}`;
      }
    })
    .join('\n');
}
