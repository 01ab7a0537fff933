import { cpus } from 'node:os';
import { readArgs, UsageError } from '../../processes/command.ts';
import { KEEP_FROM } from '../../../core/holdings/detection/detector/confidence.ts';
import { LIKENESS_FROM } from '../../../core/holdings/detection/likeness/likeness.ts';

export const DETECT_HELP = `./yare detect PATH… [options]

  Reads files and folders and tells the personal data in them, without the desk or a database.

  --json             a JSON line a finding, then one with the summary (docs/detect.md describes them)
  --reveal           with the clear values; without it they are masked
  --explain          with what each confidence is made of
  --near-misses      with what nearly counted, and what it lacked
  --min N            nothing below this confidence, from 0 to 1 (${KEEP_FROM}, or what a detector asks for)
  --only LIST        only these detectors, by id
  --detectors FILE   detectors of one’s own besides, as the desk exports them
  --no-built-in      only those
  --threads N        files at once (${Math.max(1, Math.min(4, cpus().length))})
  --seconds N        at most so long a file (120)
  --list             tell the detectors there are, and end
  --fail             end with 1 when something is found

  Three other kinds, on the paths named:
  --like FILE        a blank document or template; may be given again. Tells the copies and excerpts of it
    --like-from N    from this measure on (${LIKENESS_FROM})
  --roster TABLE     known records, a CSV file. Tells where they are met
    --key COLUMN     names a record; may be given again (the first column)
    --beside COLUMN  confirms a record; may be given again
    --corroboration N  confirming values that must stand near (0)
  --learn FOLDER     examples; with --against FOLDER, counter-examples. Or one folder that has examples/ and
                     counter-examples/. Learns to tell them apart and says so of each file
    --seed N         the same seed gives the same model (1)
    --cost-alarm N, --cost-miss N  what each error costs (1, 1)

  Ends with 0 when all was read, 2 when it could not begin.
`;

const TEXT = { type: 'string' } as const;
const LIST = { type: 'string', multiple: true } as const;
const FLAG = { type: 'boolean' } as const;

export type Values = ReturnType<typeof detectArgs>['values'];

/** Throws a UsageError. */
export function detectArgs(args: readonly string[]) {
  return readArgs(args, {
    allowPositionals: true,
    options: {
      help: FLAG,
      json: FLAG,
      reveal: FLAG,
      explain: FLAG,
      'near-misses': FLAG,
      min: TEXT,
      only: TEXT,
      detectors: LIST,
      'no-built-in': FLAG,
      threads: TEXT,
      seconds: TEXT,
      list: FLAG,
      fail: FLAG,
      like: LIST,
      'like-from': TEXT,
      roster: LIST,
      key: LIST,
      beside: LIST,
      corroboration: TEXT,
      learn: LIST,
      against: LIST,
      seed: TEXT,
      'cost-alarm': TEXT,
      'cost-miss': TEXT,
    },
  });
}

/** Throws a UsageError for what is no number of the range. */
export function number(
  text: string | undefined,
  name: string,
  fallback: number,
  from: number,
  to: number,
): number {
  if (text === undefined) return fallback;
  const n = Number(text);
  if (!Number.isFinite(n) || n < from || n > to)
    throw new UsageError(`--${name}: a number from ${from} to ${to}.`);
  return n;
}
