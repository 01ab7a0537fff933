import { spawn } from 'node:child_process';
import { expect, it } from 'vitest';
import { commandOf, family, processes } from './process-table.ts';

it('knows a process, what came of it, and nothing else', async () => {
  const child = spawn('/bin/sh', ['-c', 'sleep 30; true'], { stdio: 'ignore' });
  try {
    await expect.poll(async () => commandsUnder(child.pid ?? 0)).toContain('sleep 30 ');
    const all = await commandsUnder(process.pid);
    expect(all).toEqual(expect.arrayContaining([expect.stringContaining('sleep 30; true')]));
    expect((await commandsUnder(child.pid ?? 0)).some((c) => c.includes('vitest'))).toBe(false);
    const own = (await processes()).find((p) => p.pid === process.pid);
    expect(own?.parent).toBe(process.ppid);
    expect(own?.bytes).toBeGreaterThan(1e6);
    expect(own?.threads).toBeGreaterThan(0);
  } finally {
    child.kill();
  }
});

it('says nothing of a process that is gone', async () => {
  expect(await commandOf(2 ** 22 + 1)).toBe('');
});

async function commandsUnder(root: number): Promise<readonly string[]> {
  return Promise.all(family(await processes(), root).map((p) => commandOf(p.pid)));
}
