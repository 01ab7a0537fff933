import { appendFileSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Engine } from '../../../../core/holdings/detection/engine/engine.ts';
import { builtInDetectors } from '../../../../core/holdings/detection/library/library.ts';
import { examineBytes, examineFile, type Examiners } from './examine.ts';

const IDS = ['dk-cpr', 'email', 'phone', 'person-name', 'password'];
const examiners: Examiners = {
  engine: new Engine(builtInDetectors().filter((d) => IDS.includes(d.id))),
  rosters: [],
  likeness: [],
  learned: [],
};
let folder = '';
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'examine-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** A file of more than is read at once, made of the same part again and again. */
function longFile(name: string, head: string, part: string, bytes: number): string {
  const path = join(folder, name);
  writeFileSync(path, head);
  const many = part.repeat(Math.ceil(1e6 / part.length));
  for (let size = 0; size < bytes; size += many.length) appendFileSync(path, many);
  return path;
}

describe('a file too large to be read at once', () => {
  it('tells the lines of what it finds in plain text', async () => {
    const filler = `${'The ferry leaves the quay at noon, and the gulls — as ever — follow it.\n'.repeat(4000)}`;
    const path = longFile('log.txt', '', `${filler}Skriv til tove@brindlestrait.example\n`, 25e6);
    const { findings, kind } = await examineFile(path, 'log.txt', examiners, {});
    expect(kind).toBe('plain text');
    expect(findings.length).toBeGreaterThan(50);
    expect(findings.map((f) => f.place.line)).toEqual(findings.map((_, i) => 4001 * (i + 1)));
  });

  it('reads a table some rows at a time, and finds what it finds in a small one', async () => {
    const head = 'navn;cpr;mobil;note\n';
    const row = 'Tove Lindqvist;010180-1234;32145566;"skriv til\n""hr@brindlestrait.example"""\n';
    const small = await examineBytes(Buffer.from(head + row), 'a.csv', examiners, { reveal: true });
    const wanted = small.findings.map((f) => [f.detector, f.value, f.heading]);
    expect(wanted.length).toBe(4);
    const filler = ';;;the ferry leaves the quay at noon\n'.repeat(3000);
    const path = longFile('crew.csv', head, row + filler, 25e6);
    const { findings, length } = await examineFile(path, 'crew.csv', examiners, { reveal: true });
    expect(findings.length).toBe(((length - head.length) / (row + filler).length) * 4);
    const isWanted = findings.every((f, i) => {
      const [detector, value, heading] = wanted[i % 4] ?? [];
      const isIts = f.detector === detector && f.value === value && f.heading === heading;
      return isIts && f.place.row === 2 + 3001 * Math.floor(i / 4);
    });
    expect(isWanted).toBe(true);
  });

  it('reads whole fields in all of them', async () => {
    const row = 'Zbigniew Wrzosek;hav3nFlod22;\n';
    const filler = ';;the ferry leaves the quay at noon\n'.repeat(3000);
    const path = longFile('users.csv', 'full name;password;note\n', row + filler, 25e6);
    const { findings } = await examineFile(path, 'users.csv', examiners, { reveal: true });
    const rows = (value: string) => findings.filter((f) => f.value === value).map((f) => f.place.row);
    expect(rows('hav3nFlod22').length).toBeGreaterThan(200);
    expect(rows('hav3nFlod22')).toEqual(rows('Zbigniew Wrzosek'));
    expect(rows('hav3nFlod22')).toEqual(rows('hav3nFlod22').map((_, i) => 2 + 3001 * i));
  });

  it('reads lines of JSON some at a time', async () => {
    const part = '{"name":"Tove Lindqvist","cpr":"010180-1234","note":"a\\nb","mobil":32145566}\n';
    const filler = '{"note":"the ferry leaves the quay at noon","deck":4}\n'.repeat(3000);
    const path = longFile('crew.jsonl', '', part + filler, 25e6);
    const { findings, kind } = await examineFile(path, 'crew.jsonl', examiners, {});
    expect(kind).toBe('JSON');
    expect(findings.length % 3).toBe(0);
    expect(new Set(findings.map((f) => `${f.detector} ${f.heading}`))).toEqual(
      new Set(['person-name name', 'dk-cpr cpr', 'phone mobil']),
    );
  });
});
