import { randomBytes } from 'node:crypto';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { z } from 'zod';
import {
  EnrolmentWish,
  enrolDevice,
  enrolmentOf,
  openEnrolment,
} from '../../src/server/protection/devices/devices.ts';
import { firstLookout } from '../../src/core/protection/lookouts/lookout-content.ts';
import { addLookout, LOOKOUT } from '../../src/server/protection/lookouts/lookouts.ts';
import { moveRule } from '../../src/server/rules/rule-moves.ts';
import { Count } from '../../src/server/store/columns.ts';
import { readSettings } from '../../src/server/settings.ts';
import { testAccount } from '../integration/context.ts';
import { LaunchedYare } from './launched-yare.ts';

const MINUTES = Number(process.env['YARE_LONG_MINUTES'] ?? 10);
const EVERY_MS = 12_000;
const DEVICES = 6;

let yare: LaunchedYare;
const tokens: string[] = [];

beforeAll(async () => {
  yare = await LaunchedYare.start('--empty');
  const ctx = {
    store: yare.store,
    settings: readSettings({ SECRET_KEY: yare.secret }),
    now: () => new Date(),
  };
  const officer = await testAccount(ctx);
  const every = { channels: ['printer' as const], when: { is: 'every time' as const } };
  const lookout = await yare.store.transaction((tx) =>
    addLookout(tx, ctx.now(), officer.id, firstLookout('All that is printed', every)),
  );
  await yare.store.transaction((tx) =>
    moveRule(tx, ctx.now(), LOOKOUT, officer.id, lookout, 'put in force', 1),
  );
  const wish = EnrolmentWish.parse({ groups: [], devices: DEVICES, days: 1 });
  const { token } = await openEnrolment(ctx, null, wish);
  for (let i = 0; i < DEVICES; i++) {
    const { id } = await enrolmentOf(ctx, `Bearer ${token}`);
    const told = { name: `L${i}`, person: `p${i}@x.example`, platform: '', can: [] };
    tokens.push((await enrolDevice(ctx, id, told)).token);
  }
}, 600_000);
afterAll(() => yare?.stop());

/** Tells of acts a few at a time, each batch again and again until it is answered. */
async function device(n: number, until: () => boolean, acknowledged: Set<string>): Promise<void> {
  while (until()) {
    const events = Array.from({ length: 1 + (acknowledged.size % 7) }, () => ({
      ...{ id: randomBytes(16).toString('hex'), at: new Date().toISOString(), kind: 'device' },
      ...{ person: `p${n}@x.example`, act: 'print', channel: 'printer', item: { name: 'a' } },
      findings: [{ detector: 'email', matches: 1, confidence: 0.9 }],
    }));
    const body = events.map((e) => JSON.stringify(e)).join('\n');
    for (let tries = 0; ; tries++) {
      const answer = await fetch(`http://127.0.0.1:${yare.ports.WEB_PORT}/interface/devices/events`, {
        method: 'POST',
        body,
        headers: { authorization: `Bearer ${tokens[n]}` },
        signal: AbortSignal.timeout(15_000),
      }).catch(() => undefined);
      const said = answer?.ok
        ? ((await answer.json().catch(() => undefined)) as
            { taken: number; already: number; refused: unknown[] } | undefined)
        : undefined;
      if (said) {
        expect(said.refused).toEqual([]);
        expect(said.taken + said.already).toBe(events.length);
        for (const e of events) acknowledged.add(e.id);
        break;
      }
      if (answer && answer.status < 500 && answer.status !== 429)
        throw new Error(`${answer.status}: ${await answer.text()}`);
      await new Promise((done) => setTimeout(done, Math.min(2000, 50 * 2 ** tries)));
    }
    await new Promise((done) => setTimeout(done, 80));
  }
}

it(
  `keeps what was told once, while processes are killed in turn for ${MINUTES} minutes`,
  async () => {
    const end = Date.now() + MINUTES * 60_000;
    const acknowledged = new Set<string>();
    const devices = tokens.map((_, i) => device(i, () => Date.now() < end, acknowledged));
    const deaths: Record<string, number> = {};
    for (let turn = 0; Date.now() < end - EVERY_MS; turn++) {
      await new Promise((done) => setTimeout(done, EVERY_MS));
      const name = (['web', 'database', 'worker'] as const)[turn % 3] ?? 'web';
      const pid = await yare.pidOf(name);
      if (pid === undefined) continue;
      process.kill(pid, 'SIGKILL');
      deaths[name] = (deaths[name] ?? 0) + 1;
    }
    await Promise.all(devices);
    const Kept = z.object({ n: Count, ids: Count, found: Count, counted: Count });
    const kept = await yare.store.one(
      Kept,
      `SELECT COUNT(*) AS n, COUNT(DISTINCT id) AS ids, (SELECT COUNT(*) FROM activity_finding) AS found,
         (SELECT n FROM activity_count WHERE id = 1)
           - (SELECT COUNT(*) FROM activity_event WHERE kind <> 'device') AS counted
       FROM activity_event WHERE kind = 'device'`,
    );
    const all = acknowledged.size;
    expect(kept).toEqual({ n: all, ids: all, found: all, counted: all });
    // The lookout saw each of them once, whatever died while it looked.
    const seen = () =>
      yare.store.one(
        z.object({ waiting: Count, n: Count, ids: Count, acts: Count }),
        `SELECT (SELECT COUNT(*) FROM activity_batch) AS waiting, COUNT(*) AS n, COUNT(DISTINCT id) AS ids,
           (SELECT SUM(acts) FROM alert) AS acts FROM alert_event`,
      );
    await expect.poll(async () => (await seen())?.waiting, { timeout: 120_000, interval: 1000 }).toBe(0);
    expect(await seen()).toEqual({ waiting: 0, n: all, ids: all, acts: all });
    const alerts = await yare.store.one(z.object({ n: Count }), 'SELECT COUNT(*) AS n FROM alert');
    expect(alerts?.n).toBe(DEVICES);
    for (const name of ['web', 'database', 'worker']) expect(deaths[name], name).toBeGreaterThan(0);
    process.stdout.write(`${all} acts, deaths: ${JSON.stringify(deaths)}\n`);
  },
  (MINUTES + 10) * 60_000,
);
