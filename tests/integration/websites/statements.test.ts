import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { NO_ANSWERS } from '../../../src/core/websites/statements/statement.ts';
import { sighting } from '../../../src/core/websites/trackers/tracker.fixture.ts';
import {
  publishedStatement,
  publishStatement,
  sayStatement,
  viewStatement,
} from '../../../src/server/websites/statements/statements.ts';
import { findSite } from '../../../src/server/websites/sites/sites.ts';
import { endSweep } from '../../../src/server/websites/sweeps/sweep-end.ts';
import { beginSweep, findSweep, startSweep } from '../../../src/server/websites/sweeps/sweeps.ts';
import { decidePurpose } from '../../../src/server/websites/trackers/purpose-decisions.ts';
import { observedIn, storeCrawl } from '../../../src/server/websites/trackers/sightings.ts';
import { testAccount, testContext, testSite } from '../context.ts';
import { RunningVisitor } from './running-visitor.ts';

const ctx = testContext();
let visitor: RunningVisitor;
beforeAll(async () => {
  visitor = await RunningVisitor.start(ctx);
});
afterAll(async () => {
  visitor.stop();
  await ctx.store.close();
});

describe('a statement', () => {
  it('tells what the sweep found, says what is missing, is published in its languages, and keeps its versions', async () => {
    const account = await testAccount(ctx);
    const site = await testSite(ctx);
    const { sweep: id } = await startSweep(ctx, account.id, site.host, {});
    await beginSweep(ctx, id);
    await storeCrawl(ctx, await findSweep(ctx.store, id), {
      ...{ visitor: 'accepted', notes: [], operated: null, couldChoose: true, whyNot: '', incomplete: false },
      ...{ picture: undefined, pages: [{ url: `https://${site.host}/`, status: 200, note: '' }] },
      sightings: [
        {
          kind: 'cookie',
          name: 'uid',
          host: site.host,
          sighting: sighting({ visitor: 'accepted', lifetime: 86_400 }),
        },
      ],
    });
    await ctx.store.transaction((tx) => endSweep(tx, ctx, id, 'complete'));
    const before = await viewStatement(ctx, site.host, 'da');
    expect(before.missing.map((m) => m.law)).toContain('GDPR, art. 13(1)(a)');
    const ids = (await observedIn(ctx.store, id)).map((o) => o.id);
    await decidePurpose(ctx, account.id, site.host, { ids, purpose: 'measurement', because: '' });
    const interview = { ...NO_ANSWERS, controller: 'Brindle Strait', contact: 'privacy@strait.example' };
    await sayStatement(ctx, account.id, site.host, { interview, activities: [] }, 0);
    await expect(
      sayStatement(ctx, account.id, site.host, { interview: NO_ANSWERS, activities: [] }, 0),
    ).rejects.toMatchObject({ status: 409 });
    const now = await viewStatement(ctx, site.host, 'da');
    expect(now.missing.length).toBeLessThan(before.missing.length);
    expect(JSON.stringify(now.blocks)).toContain('Måling');
    const page = (what: string) => fetch(`${visitor.origin}/${site.siteKey}/${what}?language=da`);
    expect((await page('statement')).status).toBe(404);
    expect(await publishStatement(ctx, account.id, site.host)).toEqual({ version: 1 });
    await sayStatement(
      ctx,
      account.id,
      site.host,
      { interview: { ...interview, officer: 'I. Abara' }, activities: [] },
      1,
    );
    expect(await publishStatement(ctx, account.id, site.host)).toEqual({ version: 2 });
    const { id: siteId } = await findSite(ctx.store, site.host);
    expect(JSON.stringify(await publishedStatement(ctx.store, siteId, 'en', 1))).not.toContain('Abara');
    const answer = await page('statement');
    expect(answer.headers.get('content-security-policy')).toContain("default-src 'none'");
    const html = await answer.text();
    for (const words of ['I. Abara', 'Brindle Strait', 'uid', '1 day', 'Måling'])
      expect(html).toContain(words);
    // Stays current by itself, whatever was published.
    expect(await (await page('inventory')).text()).toContain('uid');
  });
});
