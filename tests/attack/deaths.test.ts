import { afterAll, beforeAll, expect, it } from 'vitest';
import { isHealthy } from '../../launcher/processes.ts';
import { run } from '../../launcher/run.ts';
import { tellEnded } from '../../launcher/desk-news.ts';
import type { TodayItem } from '../../src/server/desk/today.ts';
import { RunningProcesses } from './running-processes.ts';

let all: RunningProcesses;
beforeAll(async () => {
  all = await RunningProcesses.start();
});
afterAll(() => all?.stop());

const PATIENCE = { timeout: 60_000, interval: 200 };
const status = (path: string, headers: Record<string, string> = {}) =>
  fetch(`http://localhost:${all.ports.web}${path}`, { headers });

it.each(['worker', 'visitor', 'web', 'standins'] as const)(
  'a %s that is killed is started again, and says how it ended',
  async (name) => {
    await all.processes.kill(name);
    expect(await isHealthy(all.ports[name])).toBe(false);
    await expect.poll(() => isHealthy(all.ports[name]), PATIENCE).toBe(true);
    expect(all.ended.at(-1)).toMatchObject({ name, how: 'killed by SIGKILL', againIn: 500 });
  },
);

it('the desk is told of it, and the officer takes it off once seen to', async () => {
  tellEnded(all.database.url, { name: 'worker', how: 'killed by SIGKILL', said: '', againIn: 500 });
  const cookie = await all.signIn();
  const items = async () => (await (await status('/api/today', { cookie })).json()) as TodayItem[];
  const told = async () =>
    (await items()).find((i) => i.words === 'The worker ended by itself and was started again');
  await expect.poll(told, PATIENCE).toBeDefined();
  const { kind, key } = (await told())!;
  await fetch(`http://localhost:${all.ports.web}/api/today`, {
    method: 'DELETE',
    body: JSON.stringify({ kind, key }),
    headers: { cookie, origin: `http://localhost:${all.ports.web}` },
  });
  expect(await told()).toBeUndefined();
});

it('without its database every process says so in words, keeps running, and comes back with it', async () => {
  const cookie = await all.signIn();
  const script = `http://localhost:${all.ports.visitor}/${all.siteKey}.js`;
  const before = await (await fetch(script)).text();
  const deaths = all.ended.length;
  await run('pkill', ['-9', '-f', `mariadbd.*${all.folder}`]);
  const away = await status('/api/websites', { cookie });
  expect(away.status).toBe(503);
  expect(await away.json()).toMatchObject({ error: expect.stringContaining('database does not answer') });
  expect((await status('/today', { cookie })).status).toBe(503);
  for (const port of [all.ports.web, all.ports.visitor, all.ports.worker])
    expect((await fetch(`http://127.0.0.1:${port}/healthz`)).status).toBe(503);
  expect(await (await fetch(script)).text()).toBe(before);
  await expect.poll(async () => (await status('/api/websites', { cookie })).status, PATIENCE).toBe(200);
  await expect.poll(() => isHealthy(all.ports.worker), PATIENCE).toBe(true);
  expect(all.ended.length).toBe(deaths);
});
