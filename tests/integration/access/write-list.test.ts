import { execFileSync } from 'node:child_process';
import {
  mkdirSync,
  mkdtempSync,
  realpathSync,
  renameSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import { nameText } from '../../../src/core/text/name-text.ts';
import { writeList } from '../../../src/server/access/posix/write-list.ts';

const home = realpathSync(mkdtempSync(join(tmpdir(), 'yare-lists-')));
const root = join(home, 'root');
const outside = join(home, 'outside');
afterAll(() => rmSync(home, { recursive: true, force: true }));
beforeEach(() => {
  rmSync(root, { recursive: true, force: true });
  rmSync(outside, { recursive: true, force: true });
  mkdirSync(join(root, 'below'), { recursive: true });
  mkdirSync(outside);
});

const listOf = (path: string | Buffer) => {
  const bytes = Buffer.isBuffer(path) ? path : Buffer.from(path);
  // The shell hands on bytes that are no text.
  return execFileSync('getfacl', ['-ncp', '--', bytes.toString('utf8')], { encoding: 'utf8' })
    .trim()
    .split('\n');
};
const BEFORE = ['user::rw-', 'group::r--', 'other::r--'];
const AFTER = ['user::rw-', 'user:4711:r--', 'group::r--', 'mask::r--', 'other::---'];
const step = (before = BEFORE, after = AFTER) => ({ is: 'list', place: 'p', before, after }) as const;
const made = (path: string | Buffer) => {
  writeFileSync(path, 'x', { mode: 0o644 });
  execFileSync('chmod', ['644', Buffer.isBuffer(path) ? path.toString('utf8') : path]);
};

describe('a list of entries', () => {
  it.each(['plain.txt', 'two words', '--set', 'a\nline', 'quote"\'`$(x)', 'Østervig ✓', '\\x'])(
    'is set on %j, once',
    async (name) => {
      const path = join(root, 'below', name);
      made(path);
      const told = nameText(Buffer.from(path));
      expect(await writeList(root, told, step())).toBe('done');
      expect(listOf(path)).toEqual(AFTER);
      expect(await writeList(root, told, step())).toBe('already');
    },
  );

  it('is set on a name that is no text', async () => {
    const path = Buffer.concat([Buffer.from(`${root}/below/`), Buffer.from([0x4f, 0xd8, 0x73])]);
    writeFileSync(path, 'x', { mode: 0o644 });
    expect(await writeList(root, nameText(path), step())).toBe('done');
    expect(await writeList(root, nameText(path), step())).toBe('already');
    const all = execFileSync('getfacl', ['-ncpR', '--', join(root, 'below')], { encoding: 'latin1' });
    expect(all).toContain('user:4711:r--');
  });

  it('is left where somebody changed it, and where it is gone', async () => {
    const path = join(root, 'f');
    made(path);
    execFileSync('setfacl', ['-m', 'user:9:r--', path]);
    await expect(writeList(root, path, step())).rejects.toThrow('somebody changed its list meanwhile');
    rmSync(path);
    await expect(writeList(root, path, step())).rejects.toThrow('not there any more');
    made(path);
    await expect(writeList(root, path, step(BEFORE, ['nonsense']))).rejects.toThrow('it could not be set');
    expect(listOf(path)).toEqual(BEFORE);
  });

  it('reaches nothing outside, by no link and no name', async () => {
    const secret = join(outside, 'secret');
    made(secret);
    symlinkSync(secret, join(root, 'link'));
    symlinkSync(outside, join(root, 'away'));
    symlinkSync(join(root, 'below'), join(root, 'near'));
    made(join(root, 'below', 'f'));
    for (const path of [
      ...[join(root, 'link'), join(root, 'away', 'secret'), join(root, 'near', 'f'), secret],
      `${root}/../outside/secret`,
      `${root}-not`,
    ])
      await expect(writeList(root, path, step())).rejects.toThrow(/outside its source|not there/);
    expect(listOf(secret)).toEqual(BEFORE);
    expect(listOf(join(root, 'below', 'f'))).toEqual(BEFORE);
  });

  it('never lands outside while folders and links change places', async () => {
    const secret = join(outside, 'f');
    made(secret);
    made(join(root, 'below', 'f'));
    let swapping = true;
    const swap = (async () => {
      while (swapping) {
        renameSync(join(root, 'below'), join(root, 'aside'));
        symlinkSync(outside, join(root, 'below'));
        await new Promise(setImmediate);
        rmSync(join(root, 'below'));
        renameSync(join(root, 'aside'), join(root, 'below'));
        await new Promise(setImmediate);
      }
    })();
    const ended = await Promise.allSettled(
      Array.from({ length: 60 }, () => writeList(root, join(root, 'below', 'f'), step())),
    );
    swapping = false;
    await swap;
    expect(listOf(secret)).toEqual(BEFORE);
    for (const e of ended)
      if (e.status === 'rejected')
        expect(String(e.reason)).toMatch(/outside its source|not there|changed its list|could not be/);
  });
});
