import { dirname } from 'node:path';
import { fileURLToPath } from 'node:url';

export const PROJECT = dirname(dirname(fileURLToPath(import.meta.url)));

/** A line of progress; not on standard output where a report may go there. */
export function say(words: string): void {
  (['sweep', 'detect', 'stamp', 'retention', 'reach', 'estate', 'readiness', 'framework'].includes(
    process.argv[2] ?? '',
  )
    ? process.stderr
    : process.stdout
  ).write(`${words}\n`);
}
