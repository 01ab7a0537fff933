import { readFile } from 'node:fs/promises';
import type { z } from 'zod';
import { dayIn } from '../../core/retention/clock/period.ts';
import { HoldFile, judge, RetainedItem, RetentionFile } from '../../core/retention/retention-file.ts';
import { parseDay } from '../../core/text/day.ts';
import { asCommand, linesOf, readArgs, UsageError } from '../processes/command.ts';

export const RETENTION_HELP = `./yare retention --rules RULES.json --items ITEMS.jsonl [--holds HOLDS.json] [--on DATE] [--json]

  Says of every item whether it is held, kept or due, from which day it may go, which rule decides and what gave way, by
  the rules, the bounds of law and the holds of the files (docs/retention.md). Nothing is changed.

  --rules FILE     rules and bounds
  --items FILE     items, a JSON line each; - for standard input
  --holds FILE     holds; none without it
  --on DATE        the day on which it is asked; today without it
  --json           a JSON line for each item on standard output

  Ends with 0 when all were judged, 1 when a line could not be read, 2 when it could not begin.
`;

/** Judges items from the command line; the exit code. */
export function retentionCommand(args: readonly string[], now = new Date()): Promise<number> {
  return asCommand(RETENTION_HELP, () => run(args, now));
}

const ARGS = {
  options: {
    help: { type: 'boolean' },
    rules: { type: 'string' },
    items: { type: 'string' },
    holds: { type: 'string' },
    on: { type: 'string' },
    json: { type: 'boolean' },
  },
} as const;

async function run(args: readonly string[], now: Date): Promise<number> {
  const { values } = readArgs(args, ARGS);
  if (values.help) {
    process.stdout.write(RETENTION_HELP);
    return 0;
  }
  if (values.rules === undefined) throw new UsageError('Say where the rules are: --rules FILE.');
  if (values.items === undefined) throw new UsageError('Say where the items are: --items FILE.');
  const on = values.on === undefined ? undefined : parseDay(values.on);
  if (values.on !== undefined && on === undefined)
    throw new UsageError(`“${values.on ?? ''}” is no day: --on 2026-11-29.`);
  const rules = await readWhole(values.rules, RetentionFile);
  const today = on ?? dayIn(now.toISOString(), rules.zone);
  const holds = values.holds === undefined ? { holds: [] } : await readWhole(values.holds, HoldFile);
  let [number, refused] = [0, 0];
  for await (const line of linesOf(values.items)) {
    number++;
    if (line.trim() === '') continue;
    const item = parseLine(line);
    if ('wrong' in item) {
      refused++;
      process.stdout.write(
        values.json
          ? `${JSON.stringify({ line: number, refused: item.wrong })}\n`
          : `◆ line ${number}: ${item.wrong}\n`,
      );
      continue;
    }
    const answer = judge(item.read, rules, holds, today);
    process.stdout.write(
      values.json
        ? `${JSON.stringify(answer)}\n`
        : `${answer.item}: ${answer.state}${answer.goes === null ? '' : `, ${answer.goes}`}. ${answer.why.join(' ')}\n`,
    );
  }
  return refused > 0 ? 1 : 0;
}

/** Throws an Error that names the file, and what is wrong at which place of it. */
async function readWhole<T>(file: string, schema: z.ZodType<T>): Promise<T> {
  let value: unknown;
  try {
    value = JSON.parse(await readFile(file, 'utf8'));
  } catch (error) {
    throw new Error(`${file}: it cannot be read as JSON: ${(error as Error).message}`, { cause: error });
  }
  const parsed = schema.safeParse(value);
  if (parsed.success) return parsed.data;
  throw new Error(`${file}: ${wrongIn(parsed.error)}`);
}

function parseLine(line: string): { readonly read: RetainedItem } | { readonly wrong: string } {
  let value: unknown;
  try {
    value = JSON.parse(line);
  } catch (error) {
    return { wrong: `it is no JSON: ${(error as Error).message}` };
  }
  const parsed = RetainedItem.safeParse(value);
  return parsed.success ? { read: parsed.data } : { wrong: wrongIn(parsed.error) };
}

function wrongIn({ issues }: z.ZodError): string {
  return issues.map((i) => `${i.path.join('.') || 'all of it'}: ${i.message}`).join('; ');
}
