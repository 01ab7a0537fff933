import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir, readdir, readFile, utimes, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { z } from 'zod';
import { newRetentionRule } from '../../src/core/retention/rules/retention-rule.ts';
import { verifyCertificate, type ProvenCertificate } from '../../src/core/retention/disposal/certificate.ts';
import { USUAL_SOURCE } from '../../src/core/holdings/sources/source.ts';
import { USUAL_SURVEY } from '../../src/core/holdings/surveys/survey.ts';
import { BigId } from '../../src/server/store/columns.ts';
import type { DisposalView } from '../../src/server/retention/disposal/disposals.ts';
import { KillableDesk, wait } from './killable-desk.ts';

const FILES = Number(process.env['YARE_LONG_FILES'] ?? 2000);
const KILLS = 6;

let desk: KillableDesk;
beforeAll(async () => {
  desk = await KillableDesk.start();
});
afterAll(() => desk?.stop());

const bodyOf = (kind: string, i: number) =>
  kind === 'folder'
    ? `File ${i}: kim${i}@ferry.example`
    : `From: kim${i}@ferry.example\nSubject: Letter ${i}\nDate: Mon, 04 Jan 2021 10:00:00 +0000\n\nText ${i}\n`;

it.each(['folder', 'mail folder'] as const)(
  `${FILES} items of a %s that go while worker and database are killed are whole or gone, and the certificate names those that are`,
  { timeout: 40 * 60_000 },
  async (kind) => {
    const root = join(desk.all.folder, 'estate', kind);
    const folder = kind === 'folder' ? root : join(root, 'box', 'cur');
    await mkdir(folder, { recursive: true });
    if (kind === 'mail folder') for (const sub of ['new', 'tmp']) await mkdir(join(root, 'box', sub));
    const name = (i: number) => (kind === 'folder' ? `${i}.txt` : `${1_600_000_000 + i}.M${i}.host:2,S`);
    const old = new Date('2021-01-04T10:00:00Z');
    for (let i = 0; i < FILES; i++) {
      await writeFile(join(folder, name(i)), bodyOf(kind, i));
      await utimes(join(folder, name(i)), old, old);
    }
    const source = await desk.ask<{ id: number }>('POST', '/api/holdings/sources', {
      content: { ...USUAL_SOURCE, name: kind },
      address: { kind, root },
    });
    const survey = await desk.ask<{ id: number }>('POST', '/api/holdings/surveys', {
      ...USUAL_SURVEY,
      name: kind,
      sources: [String(source.id)],
    });
    expect(await desk.survey(survey.id)).toBe('done');
    const rule = await desk.ask<{ id: string }>('POST', '/api/retention/rules', {
      ...newRetentionRule(kind),
      ...{
        places: [String(source.id)],
        keep: { count: 1, unit: 'years' },
        then: 'delete',
        agree: 'one',
        undoDays: 0,
      },
    });
    await desk.ask('POST', `/api/rules/retention%20rule/${rule.id}/move`, {
      act: 'put in force',
      revision: 1,
    });
    let id = '';
    while (id === '') {
      await wait(500);
      const row = await desk.all.store.one(
        z.object({ id: BigId }),
        'SELECT id FROM disposal WHERE rule_id = ?',
        [rule.id],
      );
      id = row?.id ?? '';
    }
    const path = `/api/retention/disposals/${id}`;
    await desk.until<DisposalView>(path, (v) => (v.counts.gone ?? 0) > 0);
    for (let kill = 0; kill < KILLS; kill++) {
      await wait(600 + 300 * kill);
      if ((await desk.ask<DisposalView>('GET', path)).state === 'done') break;
      await desk.kill(kill);
    }
    const done = await desk.until<DisposalView>(path, (v) => v.state === 'done' && v.certified);
    expect(done.counts).toEqual({ gone: FILES });
    const proven = await desk.until<ProvenCertificate>(`${path}/certificate`, (c) => c.proof !== null);
    expect(verifyCertificate(proven)).toMatchObject({ ok: true, items: FILES });
    const hashes = new Set(proven.certificate.items.map((i) => i.hash));
    let there = 0;
    for (let i = 0; i < FILES; i++) {
      const file = join(folder, name(i));
      const hash = createHash('sha256').update(bodyOf(kind, i)).digest('hex');
      expect(existsSync(file), name(i)).toBe(!hashes.has(hash));
      if (!existsSync(file)) continue;
      there++;
      expect(await readFile(file, 'utf8')).toBe(bodyOf(kind, i));
    }
    expect(there).toBe(0);
    expect((await readdir(folder)).filter((n) => n.startsWith('.yare'))).toEqual([]);
  },
);
