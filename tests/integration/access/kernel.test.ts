import { spawnSync } from 'node:child_process';
import {
  chmodSync,
  chownSync,
  lstatSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { EstateReader } from '../../../src/core/access/estate/estate.ts';
import { Reach } from '../../../src/core/access/reach/reach.ts';
import { nameText } from '../../../src/core/text/name-text.ts';
import { folderLines } from '../../../src/server/access/posix/read-folder.ts';

const isRoot = process.getuid?.() === 0;
const UIDS = [61_001, 61_002, 61_003, 61_004, 61_005];
const GIDS = [62_001, 62_002, 62_003, 62_004];

/** The same numbers each time: a failure can be looked at again. */
let seed = 7;
const random = (n: number) => {
  seed = (seed * 48_271) % 2_147_483_647;
  return seed % n;
};
const pick = <T>(of: readonly T[]): T => of[random(of.length)] as T;
const bits = (n: number) => `${n & 4 ? 'r' : '-'}${n & 2 ? 'w' : '-'}${n & 1 ? 'x' : '-'}`;
// Few closed folders, or nobody gets anywhere.
const open = () => (random(4) === 0 ? random(8) : 5 | random(8));

const home = mkdtempSync(join(tmpdir(), 'yare-acl-'));
const root = join(home, 'share');
afterAll(() => rmSync(home, { recursive: true, force: true }));

function dress(path: string, isFolder: boolean): void {
  chownSync(path, pick([0, ...UIDS]), pick(GIDS));
  const mode = () => (isFolder ? open() : random(8));
  chmodSync(path, (mode() << 6) | (mode() << 3) | mode());
  const entries = [
    ...UIDS.filter(() => random(5) === 0).map((u) => `u:${u}:${bits(mode())}`),
    ...GIDS.filter(() => random(5) === 0).map((g) => `g:${g}:${bits(mode())}`),
    ...(random(4) === 0 ? [`m::${bits(mode())}`] : []),
  ];
  if (entries.length === 0) return;
  const done = spawnSync('setfacl', ['-m', entries.join(','), path]);
  if (done.status !== 0) throw new Error(done.stderr.toString());
  if (isFolder && random(3) === 0) spawnSync('setfacl', ['-d', '-m', `u:${pick(UIDS)}:rwx`, path]);
}

function fill(folder: string, depth: number): void {
  mkdirSync(folder);
  for (let i = 0; i < 4; i++) {
    const file = join(folder, i === 0 ? `odd name\t\\${i}\nø` : `file ${i}`);
    writeFileSync(file, 'x');
    dress(file, false);
  }
  if (depth > 0) for (let i = 0; i < 3; i++) fill(join(folder, `folder ${i}`), depth - 1);
  dress(folder, true);
}

function pathsIn(folder: string): readonly string[] {
  return readdirSync(folder).flatMap((name) => {
    const path = join(folder, name);
    return lstatSync(path).isDirectory() ? [path, ...pathsIn(path)] : [path];
  });
}

/** A path as places name it. */
const steps = (path: string) =>
  path
    .split('/')
    .map((s) => nameText(Buffer.from(s)))
    .join('/');

/** What the kernel lets somebody do, asked as them. */
const ASK = `
const { accessSync, constants: c } = require('node:fs');
const may = (path, mode) => { try { accessSync(path, mode); return true; } catch { return false; } };
const paths = JSON.parse(require('node:fs').readFileSync(0, 'utf8'));
process.stdout.write(JSON.stringify(paths.map(({ path, folder }) => {
  const pass = folder ? c.X_OK : 0;
  return [may(path, c.F_OK), may(path, c.R_OK | pass), may(path, c.W_OK | pass)];
})));`;

describe.skipIf(!isRoot)('reach in a file system', () => {
  beforeAll(() => {
    chmodSync(home, 0o711);
    fill(root, 3);
  }, 60_000);

  it('is the kernel’s own answer for every file and person', async () => {
    const members = new Map(GIDS.map((g) => [g, UIDS.filter(() => random(2) === 0)]));
    const reader = new EstateReader();
    for await (const line of folderLines(root, 'share')) reader.take(line);
    for (const uid of UIDS) reader.add(JSON.stringify({ type: 'person', id: `u${uid}`, uid, gid: 63_000 }));
    for (const [gid, of] of members)
      reader.add(JSON.stringify({ type: 'group', id: `g${gid}`, gid, members: of.map((u) => `u${u}`) }));
    const estate = reader.done();
    expect(estate.faults).toEqual([]);
    const reach = new Reach(estate, '2026-11-30');
    const paths = [root, ...pathsIn(root)];
    const asked = JSON.stringify(paths.map((path) => ({ path, folder: lstatSync(path).isDirectory() })));
    let [pairs, reached] = [0, 0];
    for (const uid of UIDS) {
      const groups = [...members].flatMap(([g, of]) => (of.includes(uid) ? [g] : []));
      const told = spawnSync(
        'setpriv',
        [
          ...[
            `--reuid=${uid}`,
            '--regid=63000',
            groups.length > 0 ? `--groups=${groups.join(',')}` : '--clear-groups',
          ],
          ...[process.execPath, '-e', ASK],
        ],
        { input: asked, cwd: '/', maxBuffer: 64e6 },
      );
      expect(told.status, told.stderr.toString()).toBe(0);
      const answers = JSON.parse(told.stdout.toString()) as [boolean, boolean, boolean][];
      const person = estate.people.persons[estate.people.number(`u${uid}`) ?? -1];
      if (!person) throw new Error(String(uid));
      for (const [i, path] of paths.entries()) {
        const at = estate.tree.number(`share:${steps(path)}`);
        expect(at, path).toBeDefined();
        const { steps: is } = reach.pair(person, at ?? -1);
        const [see, read, change] = answers[i] as [boolean, boolean, boolean];
        expect([(is & 1) !== 0, (is & 2) !== 0, (is & 4) !== 0], `${uid} ${path}`).toEqual([
          see,
          read,
          change,
        ]);
        expect((is & 8) !== 0, `${uid} gives ${path}`).toBe(see && lstatSync(path).uid === uid);
        const sets = reach.whoReaches(at ?? -1);
        const n = estate.people.number(person.id) ?? -1;
        expect(
          [0, 1, 2].map((s) => sets[s]?.has(n)),
          `from the place, ${path}`,
        ).toEqual([see, read, change]);
        pairs++;
        if (read) reached++;
      }
    }
    expect(pairs).toBeGreaterThanOrEqual(1000);
    // Neither all nor nothing.
    expect(reached / pairs).toBeGreaterThan(0.1);
    expect(reached / pairs).toBeLessThan(0.9);
  }, 60_000);

  it('reads names of any kind, leaves links alone, and tells what it cannot read', async () => {
    const lines = [];
    for await (const line of folderLines(root, 'share')) if (line.type === 'place') lines.push(line);
    expect(lines[0]).toMatchObject({ id: 'share:/', parent: null, posix: { is: 'folder' } });
    expect(lines.filter((l) => l.name?.startsWith('odd name')).length).toBeGreaterThan(10);
    expect(new Set(lines.map((l) => l.id)).size).toBe(lines.length);
    await expect(folderLines(join(root, 'nowhere'), 's').next()).rejects.toThrow('cannot be read');
    await expect(folderLines(join(root, 'file 1'), 's').next()).rejects.toThrow('is no folder');
  });
});
