import { spawn } from 'node:child_process';
import { mkdirSync, writeFileSync } from 'node:fs';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { buildPrograms } from '../../../launcher/build.ts';
import { ownDatabase } from '../../own-database.ts';
import { PROJECT } from '../../../launcher/project.ts';

let folder = '';
const ESTATE = [
  { type: 'person', id: 'tove', name: 'Tove Lindqvist' },
  { type: 'person', id: 'amira', name: 'Amira Sand' },
  { type: 'person', id: 'karl', name: 'Karl Wede', state: 'disabled' },
  { type: 'person', id: 'audit', name: '\u202etidua', guest: true },
  { type: 'group', id: 'clerks', name: 'Port clerks', members: ['tove', 'trainees', 'karl'] },
  { type: 'group', id: 'trainees', name: 'Trainees', members: ['amira'] },
  { type: 'place', id: 'port', source: 'port', name: 'Port share' },
  { type: 'place', id: 'july', source: 'port', parent: 'port', name: 'July', inherits: false },
  { type: 'place', id: 'berth', source: 'port', parent: 'july', name: 'Berth 4' },
  { type: 'grant', place: 'port', to: 'everyone here', strength: 'read' },
  { type: 'grant', place: 'july', to: 'clerks', strength: 'change' },
  { type: 'grant', place: 'berth', to: 'trainees', strength: 'change', deny: true },
  { type: 'link', id: 'l1', place: 'july', strength: 'read', to: ['audit'], until: '2026-12-01' },
  { type: 'link', id: 'l2', place: 'july', strength: 'see', to: 'anyone' },
];

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'yare-reach-'));
  await writeFile(join(folder, 'estate.jsonl'), ESTATE.map((l) => JSON.stringify(l)).join('\n'));
  await buildPrograms(['reach', 'estate']);
}, 60_000);
afterAll(() => rm(folder, { recursive: true }));

function yare(name: string, args: readonly string[], input = '', env: Readonly<Record<string, string>> = {}) {
  return new Promise<{ code: number; out: string; err: string }>((done) => {
    const child = spawn(process.execPath, [join(PROJECT, `dist/${name}.mjs`), ...args], {
      cwd: folder,
      env: { ...process.env, ...env },
    });
    let [out, err] = ['', ''];
    child.stdout.on('data', (text: Buffer) => (out += text.toString()));
    child.stderr.on('data', (text: Buffer) => (err += text.toString()));
    child.on('close', (code) => done({ code: code ?? -1, out, err }));
    child.stdin.end(input);
  });
}
const jsonOf = (out: string) =>
  out
    .trim()
    .split('\n')
    .map((l) => JSON.parse(l) as Record<string, unknown>);
const ON = ['--on', '2026-11-30'];

describe('./yare reach', () => {
  it('answers pairs, each with its ways, and names what it cannot answer', async () => {
    const pairs = [
      '{"person":"amira","place":"berth"}',
      '{"person":"karl","place":"july"}',
      '{"person":"nobody","place":"july"}',
      'no pair',
    ].join('\n');
    const { code, out } = await yare('reach', ['estate.jsonl', '--pairs', '-', '--json', ...ON], pairs);
    expect(code).toBe(1);
    expect(jsonOf(out)).toEqual([
      {
        ...{ person: 'amira', place: 'berth', strength: 'read', steps: ['see', 'read'] },
        ways: [
          {
            ...{ is: 'grant', strength: 'change', at: 'july', through: ['trainees', 'clerks'], to: 'clerks' },
            ...{ until: null, beaten: true },
          },
        ],
        denials: [
          { step: 'change', at: 'berth', to: 'trainees', through: ['trainees'] },
          { step: 'give', at: 'berth', to: 'trainees', through: ['trainees'] },
        ],
        ...{ stoppedAt: null, closed: false, unknown: null },
      },
      expect.objectContaining({ person: 'karl', strength: null, steps: [], closed: true }),
      { line: 3, refused: 'There is no person “nobody” in the estate.' },
      { line: 4, refused: 'It is no pair, {"person": "…", "place": "…"}.' },
    ]);
    const words = await yare('reach', ['estate.jsonl', '--pairs', '-', ...ON], pairs);
    expect(words.out).toContain(
      [
        'Amira Sand at Berth 4',
        '  They can read it.',
        '  Trainees › Port clerks › granted at July: change, denied',
        '  To change it is denied at Berth 4 (Trainees).',
      ].join('\n'),
    );
    expect(words.out).toContain('Their account is not open; it would be change.');
  });

  it('lists who reaches a place, and what somebody reaches', async () => {
    const place = await yare('reach', ['estate.jsonl', '--place', 'july', '--json', ...ON]);
    expect(place.code).toBe(0);
    const [head, ...people] = jsonOf(place.out);
    expect(head).toEqual({
      ...{ place: 'july', people: 3, unknown: null },
      anyone: [{ strength: 'see', at: 'july', id: 'l2', until: null }],
    });
    expect(people.map((p) => [p['person'], p['strength']])).toEqual([
      ['tove', 'change'],
      ['amira', 'change'],
      ['audit', 'read'],
    ]);
    const later = await yare('reach', ['estate.jsonl', '--place', 'july', '--json', '--on', '2026-12-02']);
    expect(jsonOf(later.out)[0]).toMatchObject({ people: 2 });
    const person = await yare('reach', ['estate.jsonl', '--person', 'tove', '--json', ...ON]);
    expect(jsonOf(person.out)).toEqual([
      { person: 'tove', counts: { see: 0, read: 1, change: 2, give: 0 }, unknown: 0 },
      { place: 'port', strength: 'read', steps: ['see', 'read'] },
      { place: 'july', strength: 'change', steps: ['see', 'read', 'change'] },
      { place: 'berth', strength: 'change', steps: ['see', 'read', 'change'] },
    ]);
  });

  it('tells of bad lines, and answers from the others', async () => {
    await writeFile(
      join(folder, 'bad.jsonl'),
      `{"type":"person"}\n${ESTATE.map((l) => JSON.stringify(l)).join('\n')}`,
    );
    const { code, out, err } = await yare('reach', ['bad.jsonl', '--person', 'amira', '--json', ...ON]);
    expect([code, err]).toEqual([1, expect.stringMatching(/^◆ line 1: id: /)]);
    expect(jsonOf(out)[0]).toMatchObject({ counts: { read: 2, change: 1 } });
  });

  it.each([
    [[], 'Say where the estate is'],
    [['estate.jsonl'], 'Ask one thing'],
    [['estate.jsonl', '--person', 'a', '--place', 'b'], 'Ask one thing'],
    [['estate.jsonl', '--person', 'tove', '--on', 'soon'], 'is no day'],
    [['nowhere.jsonl', '--person', 'tove'], 'nowhere.jsonl'],
    [['estate.jsonl', '--person', 'nobody'], 'There is no person “nobody”'],
    [['estate.jsonl', '--place', 'nowhere'], 'There is no place “nowhere”'],
    [['--what'], 'what'],
  ])('ends with 2 for %j', async (args, words) => {
    const { code, err } = await yare('reach', args);
    expect([code, err]).toEqual([2, expect.stringContaining(words)]);
  });
});

describe('./yare estate', () => {
  it('writes a folder and the accounts of this machine as reach reads them', async () => {
    const share = join(folder, 'share');
    mkdirSync(join(share, 'in'), { recursive: true });
    writeFileSync(join(share, 'in', 'a.txt'), 'x', { mode: 0o640 });
    const made = await yare('estate', ['--folder', share, '--source', 'port']);
    expect(made.code).toBe(0);
    await writeFile(join(folder, 'made.jsonl'), made.out);
    const asked = await yare('reach', ['made.jsonl', '--place', `port:${share}/in/a.txt`, '--json']);
    expect([asked.code, asked.err]).toEqual([0, '']);
    const root = jsonOf(asked.out).find((l) => l['person'] === 'user root');
    expect(root).toMatchObject({ strength: 'give', ways: [{ is: 'file system', by: 'root' }] });
    expect((await yare('estate', ['--folder', join(share, 'nowhere')])).code).toBe(2);
    expect((await yare('estate', [])).code).toBe(2);
    expect((await yare('estate', ['--folder', share, '--mariadb', 'x'])).code).toBe(2);
  });

  it('writes what a database grants', async () => {
    const at = new URL(ownDatabase());
    const args = ['--mariadb', `${at.hostname}:${at.port}`, '--user', at.username, '--source', 'db'];
    const made = await yare('estate', args, '', { ESTATE_PASSWORD: decodeURIComponent(at.password) });
    expect([made.code, made.err]).toEqual([0, '']);
    await writeFile(join(folder, 'db.jsonl'), made.out);
    const asked = await yare('reach', ['db.jsonl', '--place', 'db:mysql', '--json']);
    expect([asked.code, asked.err]).toEqual([0, '']);
    expect(jsonOf(asked.out)[0]).toMatchObject({ place: 'db:mysql' });
    const shut = await yare('estate', args, '', { ESTATE_PASSWORD: 'wrong' });
    expect([shut.code, shut.err]).toEqual([2, expect.stringMatching(/denied/i)]);
  });
});
