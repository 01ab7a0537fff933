import { randomBytes } from 'node:crypto';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { z } from 'zod';
import { isHealthy } from '../../launcher/processes.ts';
import { verifyWhole } from '../../src/server/evidence/verify.ts';
import { Count } from '../../src/server/store/columns.ts';
import { readSettings } from '../../src/server/settings.ts';
import { CONSENT_WITNESS } from '../../src/server/websites/consents/consent-record.ts';
import { moveNotice } from '../integration/notice.ts';
import { shownToken } from '../../src/server/websites/visitor/shown-token.ts';
import { insertSite } from '../../src/server/websites/sites/sites.ts';
import { LaunchedYare } from './launched-yare.ts';

const MINUTES = Number(process.env['YARE_LONG_MINUTES'] ?? 10);
const EVERY_MS = 12_000;
const VISITORS = 12;
const HOST = 'long.example';

let yare: LaunchedYare;
let siteKey = '';

beforeAll(async () => {
  yare = await LaunchedYare.start('--empty');
  const site = { host: HOST, startUrl: `https://${HOST}/`, name: 'Long', by: null };
  ({ siteKey } = await yare.store.transaction((tx) => insertSite(tx, new Date(), site)));
  const settings = readSettings({ SECRET_KEY: yare.secret });
  await moveNotice({ store: yare.store, settings, now: () => new Date() }, 1, HOST, 'put in force', 1);
}, 600_000);

afterAll(() => yare?.stop());

interface Counts {
  made: number;
  acknowledged: Map<string, string>;
  deaths: Record<string, number>;
}

/** Makes choices one after the other as a visitor's browser does: each is sent until it is acknowledged. */
async function visitor(n: number, until: () => boolean, counts: Counts): Promise<void> {
  const visitorKey = randomBytes(16).toString('hex');
  while (until()) {
    const choice = {
      version: 1,
      allowed: Math.random() < 0.5 ? ['measurement'] : [],
      language: 'en',
      visitorKey,
      choiceKey: randomBytes(16).toString('hex'),
      shown: shownToken(yare.secret, siteKey, 1, new Date()),
    };
    counts.made++;
    for (let tries = 0; ; tries++) {
      const answer = await fetch(`http://127.0.0.1:${yare.ports.VISITOR_PORT}/${siteKey}/choices`, {
        method: 'POST',
        body: JSON.stringify(choice),
        headers: { origin: `https://${HOST}`, 'x-forwarded-for': `100.${n}.${counts.made % 250}.1` },
        signal: AbortSignal.timeout(15_000),
      }).catch(() => undefined);
      if (answer?.status === 201) {
        const { receipt } = (await answer.json().catch(() => ({}))) as { receipt?: { id: string } };
        // An answer that was lost on the way is asked for again.
        if (receipt) {
          counts.acknowledged.set(choice.choiceKey, receipt.id);
          break;
        }
      } else if (answer && answer.status < 500 && answer.status !== 429)
        throw new Error(`A choice was refused: ${answer.status} ${await answer.text()}`);
      await new Promise((done) => setTimeout(done, Math.min(2000, 50 * 2 ** tries)));
    }
    await new Promise((done) => setTimeout(done, 60));
  }
}

it(
  `loses and doubles nothing while each process is killed in turn for ${MINUTES} minutes`,
  async () => {
    const end = Date.now() + MINUTES * 60_000;
    const counts: Counts = { made: 0, acknowledged: new Map(), deaths: {} };
    const visitors = Array.from({ length: VISITORS }, (_, i) => visitor(i, () => Date.now() < end, counts));
    const turns = ['visitor', 'worker', 'web', 'database'] as const;
    for (let turn = 0; Date.now() < end - EVERY_MS; turn++) {
      await new Promise((done) => setTimeout(done, EVERY_MS));
      const name = turns[turn % turns.length] as (typeof turns)[number];
      const pid = await yare.pidOf(name);
      if (pid === undefined) continue;
      process.kill(pid, 'SIGKILL');
      counts.deaths[name] = (counts.deaths[name] ?? 0) + 1;
    }
    await Promise.all(visitors);
    const { WEB_PORT, VISITOR_PORT, WORKER_PORT } = yare.ports;
    for (const port of [WEB_PORT, VISITOR_PORT, WORKER_PORT])
      await expect.poll(() => isHealthy(port), { timeout: 120_000, interval: 500 }).toBe(true);
    const kept = await yare.store.one(
      z.object({ n: Count, ids: Count }),
      'SELECT COUNT(*) AS n, COUNT(DISTINCT id) AS ids FROM consent_record',
    );
    expect(counts.acknowledged.size).toBe(counts.made);
    expect(kept).toEqual({ n: counts.made, ids: counts.made });
    expect(new Set(counts.acknowledged.values()).size).toBe(counts.made);
    for (const name of turns) expect(counts.deaths[name], name).toBeGreaterThan(0);
    // What waits to be sealed is sealed by the worker that came back.
    await expect
      .poll(
        async () =>
          (
            await yare.store.one(
              z.object({ n: Count }),
              'SELECT COUNT(*) AS n FROM ledger_entry WHERE tree IS NULL',
            )
          )?.n,
        { timeout: 60_000, interval: 1000 },
      )
      .toBe(0);
    const verified = await verifyWhole(yare.store, new Date(), { witnesses: [CONSENT_WITNESS] });
    expect(verified).toMatchObject({ ok: true, records: counts.made });
    const told = await yare.store.all(
      z.object({ item_key: z.string() }),
      "SELECT item_key FROM today_item WHERE kind = 'process'",
    );
    expect(told.map((t) => t.item_key).toSorted()).toEqual(turns.toSorted());
    process.stdout.write(`${counts.made} choices, deaths: ${JSON.stringify(counts.deaths)}\n`);
  },
  (MINUTES + 10) * 60_000,
);
