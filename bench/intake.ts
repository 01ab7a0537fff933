import { randomBytes } from 'node:crypto';
import { mkdtemp, rm } from 'node:fs/promises';
import { Agent, createServer, request } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { z } from 'zod';
import { prepareDatabase } from '../launcher/database-command.ts';
import { freePorts } from '../launcher/free-port.ts';
import { startMariadb } from '../launcher/mariadb.ts';
import { Processes } from '../launcher/processes.ts';
import { addAccount } from '../src/server/accounts/account.ts';
import { openContext } from '../src/server/context.ts';
import { moveRule } from '../src/server/rules/rule-moves.ts';
import { readSettings } from '../src/server/settings.ts';
import { NOTICE } from '../src/server/websites/notices/notice-kind.ts';
import { insertSite } from '../src/server/websites/sites/sites.ts';
import { shownToken } from '../src/server/websites/visitor/shown-token.ts';
import { figure, median } from './figure.ts';

/** Choices acknowledged a second, on record, against a bare server that parses the same JSON: one run, one generator. */
const TOGETHER = 64;
const CHOICES = Number(process.env['BENCH_ITEMS'] ?? 3000);
const TIMES = 3;
const SECRET_KEY = 'cd'.repeat(32);

const agent = new Agent({ keepAlive: true, maxSockets: TOGETHER });

/** Each from a network of its own, as a proxy before the service would say it. */
function post(port: number, path: string, body: string, n: number): Promise<number> {
  return new Promise((done, failed) => {
    const sent = request(
      {
        ...{ host: '127.0.0.1', port, path, method: 'POST', agent },
        headers: {
          'content-type': 'text/plain',
          'content-length': Buffer.byteLength(body),
          'x-forwarded-for': `10.${(n >> 8) & 255}.${n & 255}.7`,
        },
      },
      (answer) => {
        answer.resume();
        answer.on('end', () => done(answer.statusCode ?? 0));
      },
    );
    sent.on('error', failed);
    sent.end(body);
  });
}

async function perSecond(port: number, path: string, bodies: readonly string[]): Promise<number> {
  let next = 0;
  const begun = performance.now();
  const one = async () => {
    for (let n = next++; n < bodies.length; n = next++) {
      const status = await post(port, path, bodies[n] as string, n);
      if (status !== 201) throw new Error(`It answered ${status}.`);
    }
  };
  await Promise.all(Array.from({ length: TOGETHER }, one));
  return (bodies.length * 1000) / (performance.now() - begun);
}

const folder = await mkdtemp(join(tmpdir(), 'yare-bench-'));
const [port = 0, visitor = 0] = await freePorts(2);
const database = await startMariadb(folder, port, true);
const processes = new Processes();
const bare = createServer((asked, answer) => {
  const parts: Buffer[] = [];
  asked.on('data', (part: Buffer) => parts.push(part));
  asked.on('end', () => {
    const { choiceKey } = JSON.parse(Buffer.concat(parts).toString()) as { choiceKey: string };
    answer
      .writeHead(201, { 'content-type': 'application/json' })
      .end(JSON.stringify({ receipt: { id: choiceKey } }));
  });
});
try {
  const { store } = await prepareDatabase(database.url);
  const ctx = openContext(readSettings({ DATABASE_URL: database.url, SECRET_KEY, LOG_LEVEL: 'silent' }));
  const by = await addAccount(store, {
    ...{ email: 'o@bench.example', name: 'O', title: '', role: 'officer', passwordHash: 'none' },
  });
  const site = await store.transaction(async (tx) => {
    const made = await insertSite(tx, ctx.now(), {
      ...{ host: 'bench.example', startUrl: 'https://bench.example/', name: 'B', by },
    });
    await moveRule(tx, ctx.now(), NOTICE, by, made.id, 'put in force', 1);
    return made;
  });
  const env = {
    ...{ DATABASE_URL: database.url, VISITOR_PORT: String(visitor), DATA_DIR: folder, SECRET_KEY },
    ...{ LOG_LEVEL: 'error', TRUST_PROXY: 'yes' },
  };
  await processes.start('visitor', env, visitor);
  await new Promise<void>((up) => bare.listen(0, '127.0.0.1', up));
  const shown = shownToken(SECRET_KEY, site.siteKey, 1, ctx.now());
  const choices = () =>
    Array.from({ length: CHOICES }, () =>
      JSON.stringify({
        ...{ version: 1, allowed: ['measurement'], language: 'en', shown, device: 'desktop', page: '' },
        visitorKey: randomBytes(16).toString('hex'),
        choiceKey: randomBytes(16).toString('hex'),
      }),
    );
  const [ours, others]: [number[], number[]] = [[], []];
  for (let i = 0; i <= TIMES; i++) {
    const a = await perSecond(visitor, `/${site.siteKey}/choices`, choices());
    const b = await perSecond((bare.address() as AddressInfo).port, '/choices', choices());
    // The first warms both.
    if (i > 0) {
      ours.push(a);
      others.push(b);
    }
  }
  const kept = await store.one(
    z.object({ n: z.coerce.number() }),
    'SELECT COUNT(*) AS n FROM consent_record',
  );
  if (kept?.n !== CHOICES * (TIMES + 1)) throw new Error(`${kept?.n} are on record.`);
  figure('intake', 'choices acknowledged a second, on record', median(ours), '1/s');
  figure('intake', 'the same by a bare server that keeps nothing', median(others), '1/s');
  figure('intake', 'ours / bare', median(ours) / median(others), '×');
  await ctx.store.close();
  await store.close();
} finally {
  agent.destroy();
  bare.close();
  await processes.stop();
  await database.stop();
  await rm(folder, { recursive: true, force: true });
}
