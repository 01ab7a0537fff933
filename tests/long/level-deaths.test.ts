import { mkdir, readdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { unzipSync } from 'fflate';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { z } from 'zod';
import { readFileLevel, unstampFile } from '../../src/core/protection/stamp/stamp-file.ts';
import { USUAL_SOURCE } from '../../src/core/holdings/sources/source.ts';
import { USUAL_SURVEY } from '../../src/core/holdings/surveys/survey.ts';
import { BigId, JsonColumn } from '../../src/server/store/columns.ts';
import { wordFile } from '../integration/protection/levels.ts';
import { KillableDesk, wait } from './killable-desk.ts';

const FILES = Number(process.env['YARE_LONG_FILES'] ?? 2000);
const KILLS = 6;

let desk: KillableDesk;
beforeAll(async () => {
  desk = await KillableDesk.start();
});
afterAll(() => desk?.stop());

interface View {
  readonly run: { readonly id: string; readonly state: string; readonly ended_at: string | null };
}

const parts = (bytes: Uint8Array) =>
  Object.fromEntries(
    Object.entries(unzipSync(bytes)).map(([n, b]) => [n, Buffer.from(b).toString('latin1')]),
  );

it(
  `${FILES} documents whose levels are set while worker and database are killed are old or new, and whole, and none is stamped twice`,
  { timeout: 40 * 60_000 },
  async () => {
    const root = join(desk.all.folder, 'estate', 'share');
    await mkdir(root, { recursive: true });
    const before = new Map<string, Buffer>();
    for (let i = 0; i < FILES; i++) {
      const bytes = await wordFile(`Letter ${i}: write to kim${i}@ferry.example.`);
      before.set(`letter-${i}.docx`, bytes);
      await writeFile(join(root, `letter-${i}.docx`), bytes);
    }
    const source = await desk.ask<{ id: number }>('POST', '/api/holdings/sources', {
      content: { ...USUAL_SOURCE, name: 'Share' },
      address: { kind: 'folder', root },
    });
    const survey = await desk.ask<{ id: number }>('POST', '/api/holdings/surveys', {
      ...USUAL_SURVEY,
      name: 'All of it',
      sources: [String(source.id)],
    });
    expect(await desk.survey(survey.id)).toBe('done');

    const level = await desk.ask<{ id: string }>('POST', '/api/protection/levels', { name: 'Internal' });
    await desk.ask('POST', `/api/rules/level/${level.id}/move`, { act: 'put in force', revision: 1 });
    const rule = await desk.ask<{ id: string }>('POST', '/api/protection/rules', {
      ...{ name: 'Everything', level: level.id, lens: { all: [] }, keeps: 'step', because: '' },
    });
    await desk.ask('POST', `/api/rules/level%20rule/${rule.id}/move`, { act: 'put in force', revision: 1 });
    const { id } = await desk.ask<{ id: string }>('POST', '/api/protection/runs', { mode: 'set' });
    const path = `/api/protection/runs/${id}`;
    await desk.until<View>(path, (v) => v.run.state === 'estimated');
    await desk.ask('POST', `/api/runs/${id}`, { act: 'start' });
    for (let kill = 0; kill < KILLS; kill++) {
      await wait(900 + 400 * kill);
      if ((await desk.ask<View>('GET', path)).run.ended_at !== null) break;
      await desk.kill(kill);
    }
    const { run: done } = await desk.until<View>(path, (v) => v.run.ended_at !== null);
    expect(done.state).toBe('done');

    const results = await desk.all.store.all(
      z.object({ content: JsonColumn(z.object({ is: z.string(), item: z.number(), name: z.string() })) }),
      'SELECT content FROM run_result WHERE run_id = ?',
      [id],
    );
    const stamped = results.filter((r) => r.content.is === 'stamped').map((r) => r.content.name);
    expect(new Set(stamped).size).toBe(stamped.length);
    let carrying = 0;
    for (const [name, bytes] of before) {
      const now = await readFile(join(root, name));
      const carried = await readFileLevel(now);
      expect(carried?.id === level.id, name).toBe(stamped.includes(name));
      if (!carried) {
        expect(now.equals(bytes), name).toBe(true);
        continue;
      }
      carrying++;
      // What is there besides what was stamped is what was there, part by part: it was stamped once.
      expect(parts(unstampFile(now).bytes)).toEqual(parts(bytes));
    }
    expect(carrying).toBe(FILES);
    expect((await readdir(root)).filter((n) => n.startsWith('.yare'))).toEqual([]);
    const left = await desk.all.store.all(
      z.object({ item_id: BigId }),
      "SELECT item_id FROM level_step WHERE run_id = ? AND state = 'begun'",
      [id],
    );
    expect(left).toEqual([]);
  },
);
