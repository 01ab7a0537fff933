import { spawn } from 'node:child_process';
import { existsSync } from 'node:fs';
import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { claimDataFolder } from './data-folder.ts';
import { keptOnce } from './kept-once.ts';
import { PROJECT } from './project.ts';

let folder = '';
beforeEach(async () => (folder = await mkdtemp(join(tmpdir(), 'yare-folder-'))));
afterEach(() => rm(folder, { recursive: true, force: true }));

/** A process that does nothing, with these words on its command line. */
const idle = (...words: string[]) =>
  spawn(process.execPath, ['-e', 'setInterval(() => {}, 1000)', '--', ...words], { stdio: 'ignore' });

it('is claimed, given up, and claimed again', async () => {
  const release = await claimDataFolder(folder);
  expect(existsSync(join(folder, 'launcher-pid'))).toBe(true);
  await release();
  expect(existsSync(join(folder, 'launcher-pid'))).toBe(false);
});

it('is refused while another launcher lives, and free once it is gone, however it went', async () => {
  const other = spawn(
    process.execPath,
    [
      '--import',
      join(PROJECT, 'node_modules/tsx/dist/esm/index.mjs'),
      '-e',
      `import(${JSON.stringify(join(PROJECT, 'launcher/data-folder.ts'))}).then((m) => m.claimDataFolder(${JSON.stringify(folder)})).then(() => console.log('claimed'))`,
    ],
    { stdio: ['ignore', 'pipe', 'inherit'] },
  );
  await new Promise((done) => other.stdout.once('data', done));
  await expect(claimDataFolder(folder)).rejects.toThrow(new RegExp(`in use by a Yare Warden.*${other.pid}`));
  const ended = new Promise((done) => other.once('close', done));
  other.kill('SIGKILL');
  await ended;
  await expect.poll(() => claimDataFolder(folder).catch(() => undefined)).toBeTypeOf('function');
});

it('is claimed by one of many that start in the same moment', async () => {
  const claims = await Promise.allSettled(Array.from({ length: 12 }, () => claimDataFolder(folder)));
  expect(claims.filter((c) => c.status === 'fulfilled')).toHaveLength(1);
});

it('keeps one secret, however many make it at once', async () => {
  let n = 0;
  const kept = await Promise.all(
    Array.from({ length: 12 }, () => keptOnce(join(folder, 'secret'), () => `secret ${n++}`)),
  );
  expect(new Set(kept).size).toBe(1);
});

it('stops the database that a killed launcher left, and no other process', async () => {
  await mkdir(join(folder, 'mariadb'));
  const stranger = idle('something else');
  await writeFile(join(folder, 'mariadb/mariadbd.pid'), String(stranger.pid));
  const release = await claimDataFolder(folder);
  expect(stranger.exitCode).toBeNull();
  await release();
  stranger.kill();
  const left = idle(`--datadir=${join(folder, 'mariadb/data')}`);
  const ended = new Promise((done) => left.once('close', (_code, signal) => done(signal)));
  await writeFile(join(folder, 'mariadb/mariadbd.pid'), String(left.pid));
  await claimDataFolder(folder);
  expect(await ended).toBe('SIGTERM');
});

it('does not mind what it cannot read as a process', async () => {
  await writeFile(join(folder, 'launcher-pid'), 'not a number');
  await expect(claimDataFolder(folder)).resolves.toBeTypeOf('function');
});
