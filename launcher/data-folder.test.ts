import { spawn } from 'node:child_process';
import { existsSync } from 'node:fs';
import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { claimDataFolder } from './data-folder.ts';

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

it('is refused while another launcher lives, and free once it is gone', async () => {
  const other = idle('launcher/main.ts');
  await writeFile(join(folder, 'launcher-pid'), String(other.pid));
  await expect(claimDataFolder(folder)).rejects.toThrow(new RegExp(`in use by a Yare Warden.*${other.pid}`));
  const ended = new Promise((done) => other.once('close', done));
  other.kill();
  await ended;
  await expect(claimDataFolder(folder)).resolves.toBeTypeOf('function');
});

it('stops the database that a killed launcher left, and no other process', async () => {
  await mkdir(join(folder, 'mariadb'));
  const stranger = idle('something else');
  await writeFile(join(folder, 'mariadb/mariadbd.pid'), String(stranger.pid));
  await claimDataFolder(folder);
  expect(stranger.exitCode).toBeNull();
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
