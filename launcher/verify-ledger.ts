import { createReadStream, existsSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { createInterface } from 'node:readline';
import { LedgerVerifier } from '../src/core/evidence/ledger.ts';
import { ProvenCertificate, verifyCertificate } from '../src/core/retention/disposal/certificate.ts';
import { LauncherError } from './launcher-error.ts';
import { say } from './project.ts';

/** Checks an exported ledger, or a certificate of disposal with its proof. Exit code 0: in order; 1: not; 2: used wrongly. */
export async function verifyLedger(args: readonly string[]): Promise<number> {
  const [file, option, head] = args;
  if (!file || (option !== undefined && (option !== '--head' || !/^[0-9a-f]{64}$/i.test(head ?? '')))) {
    process.stderr.write(
      './yare verify-ledger FILE [--head HEX]: FILE is an export of the ledger, or a certificate of disposal in JSON; HEX is a head of 64 hexadecimal digits that you noted earlier.\n',
    );
    return 2;
  }
  if (!existsSync(file)) throw new LauncherError(`There is no file ${file}.`);
  const noted = head?.toLowerCase();
  const certificate = await readCertificate(file);
  return certificate ? verifyOne(certificate, noted) : verifyAll(file, noted);
}

/** An export holds an object a line, and can be long; a certificate is one object, over many lines. */
async function readCertificate(file: string): Promise<ProvenCertificate | undefined> {
  for await (const line of createInterface({ input: createReadStream(file), crlfDelay: Infinity })) {
    if (line.trim() === '') continue;
    if (line.includes('"line":"ledger"')) return undefined;
    break;
  }
  let value: unknown;
  try {
    value = JSON.parse(await readFile(file, 'utf8'));
  } catch {
    return undefined;
  }
  if (typeof value !== 'object' || value === null || !('certificate' in value)) return undefined;
  const parsed = ProvenCertificate.safeParse(value);
  if (parsed.success) return parsed.data;
  const [issue] = parsed.error.issues;
  throw new LauncherError(
    `${file} is no certificate of ours: ${issue?.path.join('.') ?? ''} ${issue?.message ?? ''}`,
  );
}

function verifyOne(proven: ProvenCertificate, head: string | undefined): number {
  const checked = verifyCertificate(proven, head);
  if (!checked.ok) {
    process.stderr.write(`Not in order: ${checked.why}\n`);
    return 1;
  }
  const { certificate } = proven;
  const told =
    checked.head === null
      ? 'It carries no proof yet: the ledger was not sealed when it was handed out.'
      : head === undefined
        ? `Head ${checked.head}\nCompare this head with one noted elsewhere: that is what shows a ledger rewritten whole.`
        : 'The head you noted is that of the tree it stands in.';
  say(
    `In order: ${checked.items} items, ${certificate.counts.bytes} bytes, let go under “${certificate.rule.name}”.\n${told}`,
  );
  return 0;
}

async function verifyAll(file: string, head: string | undefined): Promise<number> {
  const verifier = new LedgerVerifier(head);
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
