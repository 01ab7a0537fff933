import { ALONE_AFTER, ALONE_BEFORE } from './number-bounds.ts';

interface Run {
  readonly kind: 'digits' | 'capitals' | 'small' | 'space' | 'sign';
  readonly text: string;
}

/**
 * A pattern that matches the examples and what is built like them: digits may be others, letters only where the
 * examples differ in them. Examples of another build become another way of writing it. Throws a RangeError for none.
 */
export function patternFromExamples(examples: readonly string[]): string {
  const runs = examples.map((e) => runsOf(e.trim())).filter((r) => r.length > 0);
  if (runs.length === 0) throw new RangeError('Give an example of how it is written.');
  const builds = new Map<string, (readonly Run[])[]>();
  for (const r of runs) {
    const build = r.map((x) => (x.kind === 'sign' ? x.text : x.kind)).join('\u0000');
    builds.set(build, [...(builds.get(build) ?? []), r]);
  }
  const bodies = [...builds.values()].map((all) =>
    (all[0] as readonly Run[]).map((_, i) => pieceOf(all.map((r) => r[i] as Run))).join(''),
  );
  return standAlone(bodies.join('|'));
}

/** A pattern held to whole words and numbers. */
export function standAlone(body: string): string {
  return `${ALONE_BEFORE}${body}${ALONE_AFTER}`;
}

/** The pattern within, where it is held to whole words and numbers; else `undefined`. */
export function bodyOfAlone(pattern: string): string | undefined {
  return pattern.startsWith(ALONE_BEFORE) && pattern.endsWith(ALONE_AFTER)
    ? pattern.slice(ALONE_BEFORE.length, -ALONE_AFTER.length)
    : undefined;
}

function runsOf(text: string): readonly Run[] {
  const runs: Run[] = [];
  for (const [part] of text.matchAll(/\d+|\p{Lu}+|\p{Ll}+|\s+|[^\d\p{Lu}\p{Ll}\s]/gu)) {
    const kind = /^\d/.test(part)
      ? 'digits'
      : /^\p{Lu}/u.test(part)
        ? 'capitals'
        : /^\p{Ll}/u.test(part)
          ? 'small'
          : part.trim() === ''
            ? 'space'
            : 'sign';
    runs.push({ kind, text: part });
  }
  return runs;
}

function pieceOf(all: readonly Run[]): string {
  const [{ kind, text }] = all as readonly [Run];
  const lengths = all.map((r) => r.text.length);
  const [least, most] = [Math.min(...lengths), Math.max(...lengths)];
  const times = most === 1 ? '' : least === most ? `{${least}}` : `{${least},${most}}`;
  if (kind === 'digits') return `\\d${times}`;
  if (kind === 'space') return most === 1 ? '\\s?' : `\\s{0,${most}}`;
  if (kind === 'sign') return text.replace(/[\\^$.*+?()[\]{}|/]/g, '\\$&');
  if (all.every((r) => r.text === text)) return text;
  return `${kind === 'capitals' ? '\\p{Lu}' : '\\p{Ll}'}${times}`;
}
