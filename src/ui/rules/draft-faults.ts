import type { z } from 'zod';
import type { Draft } from './use-draft.ts';

/** What is wrong at a path of a draft or below it: as its schema says, else as the last save was refused. */
export function draftFaults<T>(
  schema: z.ZodType<T>,
  { content, error }: Pick<Draft<T>, 'content' | 'error'>,
): (path: readonly string[]) => string | undefined {
  const issues = schema.safeParse(content).error?.issues ?? [];
  return (path) =>
    issues.find((i) => path.every((step, at) => String(i.path[at]) === step))?.message ??
    error?.field(path.join('.'));
}
