import { log } from '../log.ts';

const WINDOW_MS = 60_000;
const MOST_KINDS = 200;

interface Told {
  readonly at: number;
  unsaid: number;
}

const told = new Map<string, Told>();

/**
 * Logs a failure of ours: the first of its kind within a minute as a line of its own, the rest of that minute as a
 * count on the next. Whoever can cause a failure can cause it often; the log stays readable and the disk free.
 */
export function logFailure(
  what: string,
  error: unknown,
  detail: Readonly<Record<string, unknown>> = {},
  now = Date.now(),
): void {
  const { message, code, stack } = asError(error);
  const kind = `${what} ${code ?? ''} ${message.slice(0, 80)}`;
  const known = told.get(kind);
  if (known && now - known.at < WINDOW_MS) {
    known.unsaid++;
    return;
  }
  if (told.size >= MOST_KINDS) told.clear();
  told.set(kind, { at: now, unsaid: 0 });
  log.error({ ...detail, err: message, code, stack, ...(known?.unsaid ? { more: known.unsaid } : {}) }, what);
}

function asError(error: unknown): { message: string; code?: string; stack?: string | undefined } {
  return error instanceof Error
    ? { message: error.message, stack: error.stack, ...codeOf(error) }
    : { message: String(error) };
}

function codeOf(error: Error): { code?: string } {
  const { code } = error as NodeJS.ErrnoException;
  return typeof code === 'string' ? { code } : {};
}
