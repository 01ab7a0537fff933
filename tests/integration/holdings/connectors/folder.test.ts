import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import {
  chmodSync,
  linkSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  symlinkSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir, userInfo } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { connect } from '../../../../src/server/holdings/connectors/connect.ts';
import { ItemError, SourceError } from '../../../../src/server/holdings/connectors/connector.ts';
import { folderConnector } from '../../../../src/server/holdings/connectors/folder.ts';
import { readSettings } from '../../../../src/server/settings.ts';
import { connectorSuite, walked } from './suite.ts';

const home = mkdtempSync(join(tmpdir(), 'yare-folder-'));
afterAll(() => rmSync(home, { recursive: true, force: true }));

function folder(name: string, files: Readonly<Record<string, string>>): string {
  const root = join(home, name);
  mkdirSync(root, { recursive: true });
  for (const [path, text] of Object.entries(files)) {
    mkdirSync(join(root, path, '..'), { recursive: true });
    writeFileSync(join(root, path), text);
  }
  return root;
}

describe('a folder', () => {
  const root = folder('share', {
    'readme.txt': 'top',
    'Manifests/2024/a.txt': 'one',
    'Manifests/2024/b.txt': 'two',
    'Manifests/2025/two\nlines.txt': 'three',
    'Manifests-old/c.txt': 'four',
    'Østervig/sejlads.txt': 'fire',
    'a/b/c/d/e/deep.txt': 'five',
    'back\\slash/x.txt': 'six',
  });
  mkdirSync(join(root, 'empty', 'emptier'), { recursive: true });
  symlinkSync(root, join(root, 'a', 'loop'));
  symlinkSync('/etc/passwd', join(root, 'a', 'passwd'));
  execFileSync('mkfifo', [join(root, 'a', 'pipe')]);
  writeFileSync(Buffer.concat([Buffer.from(`${root}/a/`), Buffer.of(0xf8, 0x2e)]), 'no UTF-8');
  const sample = join(root, 'Manifests/2024/b.txt');
  connectorSuite(() => ({
    removes: true,
    connector: () => Promise.resolve(folderConnector(`${root}/`)),
    expected: {
      '': 1,
      'Manifests/2024': 2,
      'Manifests/2025': 1,
      'Manifests-old': 1,
      Østervig: 1,
      a: 1,
      'a/b/c/d/e': 1,
      'back\\x5cslash': 1,
    },
    sample: { place: 'Manifests/2024', text: 'two' },
    change: () => Promise.resolve(writeFileSync(sample, 'two, and more')),
    remove: () => Promise.resolve(rmSync(sample)),
  }));
});

describe('a folder that changes while it is read', () => {
  it('notices a folder that was swapped for a link, and reads nothing through it', async () => {
    const root = folder('swapped', { 'in/a.txt': 'mine' });
    const elsewhere = folder('elsewhere', { 'a.txt': 'not mine' });
    const connector = folderConnector(root);
    await connector.check();
    const [item] = await connector.details('in', ['a.txt']);
    renameSync(join(root, 'in'), join(root, 'was'));
    symlinkSync(elsewhere, join(root, 'in'));
    await expect(connector.read('in', item as never)).rejects.toBeInstanceOf(ItemError);
    expect((await connector.list('in')).problem).toContain('through a link');
  });

  it('never waits for a pipe that took the place of a file', async () => {
    const root = folder('piped', { 'a.txt': 'file' });
    const connector = folderConnector(root);
    const [item] = await connector.details('', ['a.txt']);
    rmSync(join(root, 'a.txt'));
    execFileSync('mkfifo', [join(root, 'a.txt')]);
    await expect(connector.read('', item as never)).rejects.toBeInstanceOf(ItemError);
  });

  it('tells that the whole of it is gone', async () => {
    const root = folder('vanishing', { 'a.txt': 'x' });
    const connector = folderConnector(root);
    await connector.check();
    rmSync(root, { recursive: true });
    await expect(connector.list('')).rejects.toThrow();
    await expect(folderConnector(root).check()).rejects.toThrow(/not there/);
  });

  it('tells a place that it may not list, and reads the rest', async () => {
    const root = folder('locked', { 'shut/a.txt': 'x', 'open/b.txt': 'y' });
    chmodSync(join(root, 'shut'), 0);
    const places = await walked(folderConnector(root));
    chmodSync(join(root, 'shut'), 0o700);
    expect(places.map((p) => p.path)).toContain('open');
    if (process.getuid?.() !== 0)
      expect(places.find((p) => p.path === 'shut')?.problem).toContain('may not read');
  });
});

it('goes through ten thousand empty folders, and tells none of them', async () => {
  const root = folder('empties', { 'z/a.txt': 'x' });
  for (let i = 0; i < 100; i++)
    for (let j = 0; j < 100; j++) mkdirSync(join(root, `${i}/${j}`), { recursive: true });
  expect((await walked(folderConnector(root))).map((p) => p.path)).toEqual(['z']);
});

it('reads a path as deep as the system has them', async () => {
  const root = folder('deep', { 'a.txt': 'x' });
  const deep = Array.from({ length: 900 }, () => 'd').join('/');
  mkdirSync(join(root, deep), { recursive: true });
  writeFileSync(join(root, deep, 'b.txt'), 'y');
  expect((await walked(folderConnector(root))).map((p) => p.path)).toEqual(['', deep]);
});

describe('where folders may lie', () => {
  const settings = readSettings({ SECRET_KEY: 'ab'.repeat(32), SOURCE_ROOTS: join(home, 'share') });
  const to = (root: string) =>
    connect(settings, { kind: 'folder', root }, '', { rowsPerTable: null, rowTemplates: [] });

  it('is below those that are opened, also by another way there', async () => {
    symlinkSync('/etc', join(home, 'share', 'way-out'));
    for (const root of [
      '/etc',
      join(home, 'share', 'way-out'),
      join(home, 'share', '..'),
      `${join(home, 'share')}-not`,
    ])
      await expect(to(root), root).rejects.toThrow(SourceError);
    await expect(to(join(home, 'share', 'Manifests'))).resolves.toBeDefined();
  });
});

describe('a file that is replaced', () => {
  const root = folder('replaced', {
    'in/a.txt': 'old',
    'in/b.txt': 'old',
    'in/c d.txt': 'old',
    'in/e.txt': 'old',
  });
  const connector = folderConnector(root);
  const listed = async (name: string) => (await connector.details('in', [name]))[0]!;
  const replace = async (name: string, text: string, item?: Awaited<ReturnType<typeof listed>>) =>
    connector.replace!('in', item ?? (await listed(name)), Buffer.from(text));

  it('is new to the last byte, with the rights and times it had, and nothing is left beside it', async () => {
    const path = join(root, 'in/a.txt');
    chmodSync(path, 0o640);
    utimesSync(path, 1_700_000_000, 1_600_000_000);
    const before = await listed('a.txt');
    const after = await replace('a.txt', 'quite new');
    expect(readFileSync(path, 'utf8')).toBe('quite new');
    expect(statSync(path).mode & 0o777).toBe(0o640);
    expect(before.owner).toBe(userInfo().username);
    expect(after).toMatchObject({ size: 9, changed: before.changed, owner: before.owner });
    expect(after.version).not.toBe(before.version);
    expect(await listed('a.txt')).toEqual(after);
    expect(readdirSync(join(root, 'in')).toSorted()).toEqual(['a.txt', 'b.txt', 'c d.txt', 'e.txt']);
  });

  it('stays as it is where somebody changed it meanwhile, where it is gone, or has another name', async () => {
    const before = await listed('b.txt');
    writeFileSync(join(root, 'in/b.txt'), 'theirs');
    await expect(replace('b.txt', 'mine', before)).rejects.toThrow('somebody changed it meanwhile');
    expect(readFileSync(join(root, 'in/b.txt'), 'utf8')).toBe('theirs');
    await expect(replace('z.txt', 'mine', { ...before, name: 'z.txt' })).rejects.toThrow('it is gone');
    linkSync(join(root, 'in/e.txt'), join(root, 'other.txt'));
    await expect(replace('e.txt', 'mine')).rejects.toThrow('other names');
    expect(readFileSync(join(root, 'other.txt'), 'utf8')).toBe('old');
    expect(readdirSync(join(root, 'in')).some((n) => n.startsWith('.yare'))).toBe(false);
  });

  it('is written over what a process that died left beside it, which no survey lists', async () => {
    await replace('c d.txt', 'first');
    const beside = `.yare-new-${createHash('sha256').update('c d.txt').digest('hex').slice(0, 32)}`;
    writeFileSync(join(root, 'in', beside), 'half of a much longer text that was never finis');
    expect((await connector.list('in')).items).not.toContain(beside);
    await replace('c d.txt', 'second');
    expect(readFileSync(join(root, 'in/c d.txt'), 'utf8')).toBe('second');
    expect(readdirSync(join(root, 'in'))).not.toContain(beside);
  });

  it('is never one that a link leads to', async () => {
    const outside = folder('outside', { 'x.txt': 'not ours' });
    symlinkSync(outside, join(root, 'way'));
    const is = { ...(await listed('a.txt')), name: 'x.txt' };
    await expect(connector.replace!('way', is, Buffer.from('mine'))).rejects.toThrow(ItemError);
    expect(readFileSync(join(outside, 'x.txt'), 'utf8')).toBe('not ours');
  });
});
