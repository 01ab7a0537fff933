import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Account } from '../../src/core/accounts/authority.ts';
import { firstNotice } from '../../src/core/websites/notice/notice.ts';
import { WHOLE_SITE } from '../../src/core/websites/sweeps/scope.ts';
import { listEntries } from '../../src/server/evidence/ledger.ts';
import { addJob } from '../../src/server/jobs/job.ts';
import { beginUpload, takePart } from '../../src/server/files/uploads.ts';
import { addKnown, editKnown, findKnown } from '../../src/server/websites/library/known-trackers.ts';
import { findNotice } from '../../src/server/websites/notices/notices.ts';
import { moveNotice, saveDraft, takeBack } from '../integration/notice.ts';
import { editSite, findSite } from '../../src/server/websites/sites/sites.ts';
import { startInstallCheck } from '../../src/server/websites/sites/install-check.ts';
import { startSweep } from '../../src/server/websites/sweeps/sweeps.ts';
import { decidePurpose, restoreDecisions } from '../../src/server/websites/trackers/purpose-decisions.ts';
import { testAccount, testContext, testSite, unique } from '../integration/context.ts';

const ctx = testContext();
let one: Account;
let two: Account;
beforeAll(async () => {
  [one, two] = [await testAccount(ctx), await testAccount(ctx)];
});
afterAll(() => ctx.store.close());
const outcome = (work: Promise<unknown>) =>
  work.then(
    () => 'done',
    (e: { status?: number }) => e.status,
  );

describe('two people on one site', () => {
  it('lose none of sixty changes to different things at once', async () => {
    const site = await testSite(ctx);
    let [depth, pages] = [WHOLE_SITE.maxDepth, WHOLE_SITE.maxPages];
    for (let i = 1; i <= 30; i++) {
      const [nextDepth, nextPages] = [(i % 9) + 1, 100 + i];
      await Promise.all([
        editSite(ctx, one.id, site.host, { scope: { maxDepth: nextDepth } }, { scope: { maxDepth: depth } }),
        editSite(ctx, two.id, site.host, { scope: { maxPages: nextPages } }, { scope: { maxPages: pages } }),
      ]);
      const { scope } = await findSite(ctx.store, site.host);
      expect(scope).toMatchObject({ maxDepth: nextDepth, maxPages: nextPages });
      [depth, pages] = [nextDepth, nextPages];
    }
  });

  it('are told when they change the same: one of them, each time', async () => {
    const site = await testSite(ctx);
    for (let i = 0; i < 20; i++) {
      const { name } = await findSite(ctx.store, site.host);
      const both = await Promise.all(
        [one, two].map((who) =>
          outcome(editSite(ctx, who.id, site.host, { name: `${who.id} ${i}` }, { name })),
        ),
      );
      expect(both.toSorted()).toEqual([409, 'done']);
    }
  });

  it('cannot change what they have not seen', async () => {
    const site = await testSite(ctx);
    expect(await outcome(editSite(ctx, one.id, site.host, { name: 'Other' }, {}))).toBe(409);
  });
});

describe('a rule', () => {
  it('that is in force is not put in force again: nothing is written', async () => {
    const site = await testSite(ctx);
    const first = await moveNotice(ctx, one.id, site.host, 'put in force', 1);
    const again = await Promise.all(
      [1, 2, 3].map(() => moveNotice(ctx, two.id, site.host, 'put in force', 1)),
    );
    expect(again).toEqual([first, first, first]);
    const { rows } = await listEntries(
      ctx.store,
      { action: 'notice.put-in-force', objectId: String(site.id) },
      undefined,
      9,
    );
    expect(rows).toHaveLength(1);
  });

  it('is not taken back over what someone saved meanwhile', async () => {
    const site = await testSite(ctx);
    await moveNotice(ctx, one.id, site.host, 'put in force', 1);
    const base = firstNotice();
    await saveDraft(ctx, two.id, site.host, 1, base, { ...base, askAgainMonths: 3 });
    expect(await outcome(takeBack(ctx, one.id, site.host, 1, 1))).toBe(409);
    expect((await findNotice(ctx.store, site.host)).content.askAgainMonths).toBe(3);
  });

  it('gets one version when two put it in force at once', async () => {
    const site = await testSite(ctx);
    await Promise.all([one, two].map((who) => moveNotice(ctx, who.id, site.host, 'put in force', 1)));
    expect(await findNotice(ctx.store, site.host)).toMatchObject({ lastVersion: 1 });
  });
});

describe('a purpose', () => {
  const tracked = async () => {
    const site = await testSite(ctx);
    const { id } = await ctx.store.run(
      'INSERT INTO tracker (site_id, identity, shared, kind, name, host, proposal, proposed, first_seen, last_seen) VALUES (?, ?, ?, \'cookie\', \'sid\', ?, \'{"purpose":null,"confidence":0,"essential":0.5,"reasons":[]}\', \'measurement\', UTC_TIMESTAMP(3), UTC_TIMESTAMP(3))',
      [site.id, Buffer.alloc(32, site.id % 250), Buffer.alloc(32, 1), site.host],
    );
    return { site, id };
  };

  it('is decided by one of two who decide differently at once; the other is told', async () => {
    const { site, id } = await tracked();
    const decide = (who: Account, purpose: string) =>
      outcome(
        decidePurpose(ctx, who.id, site.host, {
          ids: [id],
          purpose,
          because: '',
          saw: { [id]: 'measurement' },
        }),
      );
    const both = await Promise.all([decide(one, 'advertising'), decide(two, 'preferences')]);
    expect(both.toSorted()).toEqual([409, 'done']);
  });

  it('is put back as it was only where nobody decided since, all or none', async () => {
    const { site, id } = await tracked();
    const before = await decidePurpose(ctx, one.id, site.host, {
      ids: [id],
      purpose: 'advertising',
      because: '',
    });
    await decidePurpose(ctx, two.id, site.host, { ids: [id], purpose: 'preferences', because: '' });
    expect(await outcome(restoreDecisions(ctx, one.id, site.host, before, 'advertising'))).toBe(409);
    await decidePurpose(ctx, one.id, site.host, { ids: [id], purpose: 'advertising', because: '' });
    expect(await outcome(restoreDecisions(ctx, one.id, site.host, before, 'advertising'))).toBe('done');
  });
});

it('an entry of the library is changed by one of two at once', async () => {
  const entry = {
    name: unique('known_'),
    match: 'exact' as const,
    kind: null,
    domain: '',
    provider: '',
    purpose: 'measurement',
    lifetime: '',
    texts: {},
  };
  const { id } = await addKnown(ctx, one.id, entry);
  const { revision } = await findKnown(ctx.store, id);
  const both = await Promise.all(
    ['a', 'b'].map((provider) => outcome(editKnown(ctx, one.id, id, revision, { ...entry, provider }))),
  );
  expect(both.toSorted()).toEqual([409, 'done']);
  // Names of trackers differ by case.
  await addKnown(ctx, one.id, { ...entry, name: entry.name.toUpperCase() });
});

describe('fair shares', () => {
  it('of jobs: one person leaves room for the others', async () => {
    const who = await testAccount(ctx);
    const kind = unique('kind');
    const add = (by: number) =>
      outcome(
        ctx.store.transaction((tx) =>
          addJob(tx, ctx.now(), {
            kind,
            title: unique('T'),
            about: { object: 'test', id: 1 },
            payload: {},
            createdBy: by,
          }),
        ),
      );
    const mine = await Promise.all(Array.from({ length: 20 }, () => add(who.id)));
    expect(mine.filter((o) => o === 'done')).toHaveLength(6);
    expect(mine.filter((o) => o === 429)).toHaveLength(14);
    expect(await add(two.id)).toBe('done');
    await ctx.store.run("UPDATE job SET state = 'done' WHERE kind = ?", [kind]);
  });

  it('of checks and sweeps: asked for twice at once, one runs', async () => {
    const site = await testSite(ctx);
    const checks = await Promise.all([one, two, one].map((w) => startInstallCheck(ctx, w.id, site.host)));
    expect(new Set(checks.map((c) => c.job)).size).toBe(1);
    const sweeps = await Promise.all([one, two].map((w) => outcome(startSweep(ctx, w.id, site.host, {}))));
    expect(sweeps.toSorted()).toEqual([409, 'done']);
    await ctx.store.run("UPDATE job SET state = 'done' WHERE state = 'waiting'");
  });

  it('of files that were sent: so many bytes, and only of one’s own file', async () => {
    const who = await testAccount(ctx);
    const sent = await Promise.all(
      Array.from({ length: 8 }, () => outcome(beginUpload(ctx, who.id, 'x.csv', 200e6))),
    );
    expect(sent.filter((o) => o === 'done')).toHaveLength(5);
    const { id } = await beginUpload(ctx, two.id, 'y.csv', 10);
    expect(await outcome(takePart(ctx, who.id, id, 0, 'aGVsbG8='))).toBe(404);
    expect(await outcome(takePart(ctx, two.id, id, 0, Buffer.alloc(20).toString('base64')))).toBe(400);
  });
});
