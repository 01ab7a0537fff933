import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { z } from 'zod';
import { newRetentionRule } from '../../src/core/retention/rules/retention-rule.ts';
import { verifyCertificate, type ProvenCertificate } from '../../src/core/retention/disposal/certificate.ts';
import { USUAL_SOURCE } from '../../src/core/holdings/sources/source.ts';
import { USUAL_SURVEY } from '../../src/core/holdings/surveys/survey.ts';
import { BigId } from '../../src/server/store/columns.ts';
import type { DisposalView } from '../../src/server/retention/disposal/disposals.ts';
import { Estates } from './estates.ts';
import { KillableDesk, wait } from './killable-desk.ts';

const ITEMS = Number(process.env['YARE_LONG_FILES'] ?? 2000);
const KILLS = 6;

const estates = new Estates();
let desk: KillableDesk;
beforeAll(async () => {
  desk = await KillableDesk.start({ ALLOWED_PRIVATE: await estates.allowed() });
});
afterAll(async () => {
  await desk?.stop();
  await estates.stop();
});

it.each(estates.all.map((e) => [e.kind, e] as const))(
  `${ITEMS} items of a %s that go while worker and database are killed are whole or gone, and the certificate names those that are`,
  { timeout: 60 * 60_000 },
  async (kind, estate) => {
    const root = join(desk.all.folder, 'estate', kind);
    const address = await estate.fill(root, ITEMS);
    const before = await estates.hashes(estate, address, root);
    expect(before.size).toBe(ITEMS);
    const source = await desk.ask<{ id: number }>('POST', '/api/holdings/sources', {
      content: { ...USUAL_SOURCE, ...estate.content, name: kind },
      address,
      secret: estates.secretOf(estate),
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
    const proven = await desk.until<ProvenCertificate>(`${path}/certificate`, (c) => c.proof !== null);
    expect(verifyCertificate(proven)).toMatchObject({ ok: true });
    const gone = new Set(proven.certificate.items.map((i) => i.hash));
    const left = await estates.hashes(estate, address, root);
    // Each is whole, or gone and in the certificate; none is both, and none is neither.
    for (const [name, hash] of before) {
      expect(left.has(name), name).toBe(!gone.has(hash));
      if (left.has(name)) expect(left.get(name)).toBe(hash);
    }
    expect(left.size + gone.size).toBe(ITEMS);
    expect(done.counts).toEqual({ gone: ITEMS });
  },
);
