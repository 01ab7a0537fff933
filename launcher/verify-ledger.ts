import { createReadStream, existsSync } from 'node:fs';
import { createInterface } from 'node:readline';
import { LedgerVerifier } from '../src/core/evidence/ledger.ts';
import { LauncherError } from './launcher-error.ts';
import { say } from './project.ts';

/** Checks an exported ledger. Exit code 0: in order; 1: not; 2: used wrongly. */
export async function verifyLedger(args: readonly string[]): Promise<number> {
  const [file, option, head] = args;
  if (!file || (option !== undefined && (option !== '--head' || !/^[0-9a-f]{64}$/i.test(head ?? '')))) {
    process.stderr.write(
      './yare verify-ledger FILE [--head HEX]: HEX is a head of 64 hexadecimal digits that you noted earlier.\n',
    );
    return 2;
  }
  if (!existsSync(file)) throw new LauncherError(`There is no file ${file}.`);
  const verifier = new LedgerVerifier(head?.toLowerCase());
  for await (const line of createInterface({ input: createReadStream(file), crlfDelay: Infinity }))
    verifier.push(line);
  const { ok, trees, entries, head: last, why } = verifier.end();
  if (ok)
    say(
      `In order: ${entries} entries in ${trees} trees.\nHead ${last}${head ? '\nThe head you noted is in it.' : '\nCompare this head with one noted elsewhere: that is what shows a ledger rewritten whole.'}`,
    );
  else process.stderr.write(`Not in order: ${why}\n`);
  return ok ? 0 : 1;
}
