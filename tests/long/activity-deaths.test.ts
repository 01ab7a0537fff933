import { randomBytes } from 'node:crypto';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { z } from 'zod';
import {
  EnrolmentWish,
  enrolDevice,
  enrolmentOf,
  openEnrolment,
} from '../../src/server/protection/devices/devices.ts';
import { Count } from '../../src/server/store/columns.ts';
import { readSettings } from '../../src/server/settings.ts';
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
         (SELECT n FROM activity_count WHERE id = 1) AS counted FROM activity_event`,
    );
    const all = acknowledged.size;
    expect(kept).toEqual({ n: all, ids: all, found: all, counted: all });
    for (const name of ['web', 'database', 'worker']) expect(deaths[name], name).toBeGreaterThan(0);
    process.stdout.write(`${all} acts, deaths: ${JSON.stringify(deaths)}\n`);
  },
  (MINUTES + 10) * 60_000,
);
