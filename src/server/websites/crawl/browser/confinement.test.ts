import { existsSync } from 'node:fs';
import { mkdtemp, readFile, rename, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { basename, dirname, join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { makeVisitFolder, removeLeftVisits, removeVisitFolder, visitsFolder } from './confinement.ts';

/** Named as a deep data folder of somebody's may be. */
let profiles = '';
let top = '';

beforeAll(async () => {
  top = await mkdtemp(join(tmpdir(), 'yare-test-'));
  profiles = join(top, 'a folder of a long name/'.repeat(8), 'profiles');
});
afterAll(async () => {
  await rm(top, { recursive: true, force: true });
  await rm(visitsFolder(profiles), { recursive: true, force: true });
});

it('keeps sockets on a path that a socket may have, however deep the data folder lies', async () => {
  const folder = await makeVisitFolder(profiles, { 'Default/Preferences': '{}' });
  // unix(7): 108 bytes with the zero at the end.
  const socket = join(folder.tmp, 'org.chromium.Chromium.XXXXXX', 'SingletonSocket');
  expect(Buffer.byteLength(socket)).toBeLessThan(108);
  expect(await readFile(join(folder.home, 'Default/Preferences'), 'utf8')).toBe('{}');
  expect((await stat(folder.tmp)).mode & 0o077).toBe(0);
  await removeVisitFolder(folder);
  expect([folder.home, folder.tmp].filter(existsSync)).toEqual([]);
});

it('removes what a process left that is no more, and nothing of one that runs', async () => {
  const [ours, left] = [await makeVisitFolder(profiles, {}), await makeVisitFolder(profiles, {})];
  const begunAtOtherTime = join(
    dirname(left.home),
    basename(left.home).replace(
      /-(\d+)-(\w{6})$/,
      (_, ticks: string, own: string) => `-${Number(ticks) + 1}-${own}`,
    ),
  );
  await rename(left.home, begunAtOtherTime);
  await removeLeftVisits(profiles);
  expect([ours.home, ours.tmp, begunAtOtherTime, left.tmp].map((f) => existsSync(f))).toEqual([
    true,
    true,
    false,
    false,
  ]);
  await removeVisitFolder(ours);
});
