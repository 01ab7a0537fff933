import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { sighting } from '../../../src/core/websites/trackers/tracker.fixture.ts';
import { seal } from '../../../src/server/evidence/ledger.ts';
import { openConsent } from '../../../src/server/websites/consents/consent-record.ts';
import { findNotice } from '../../../src/server/websites/notices/notices.ts';
import {
  moveSite,
  readAddresses,
  retireSite,
  sayAddresses,
} from '../../../src/server/websites/sites/site-addresses.ts';
import { findSite, findSiteById } from '../../../src/server/websites/sites/sites.ts';
import { endSweep } from '../../../src/server/websites/sweeps/sweep-end.ts';
import {
  beginSweep,
  findSweep,
  latestSweeps,
  startSweep,
} from '../../../src/server/websites/sweeps/sweeps.ts';
import { decidePurpose } from '../../../src/server/websites/trackers/purpose-decisions.ts';
import { observedIn, storeCrawl } from '../../../src/server/websites/trackers/sightings.ts';
import { testAccount, testContext, testSite } from '../context.ts';
import { moveNotice } from '../notice.ts';
import { RunningVisitor } from './running-visitor.ts';

let server: Server;
let visitor: RunningVisitor;
let ctx = testContext();

beforeAll(async () => {
  server = createServer((_request, response) =>
    response.writeHead(200, { 'content-type': 'text/html' }).end('<title>Moved</title>'),
  );
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
  ctx = {
    ...ctx,
    settings: { ...ctx.settings, ALLOWED_PRIVATE: `localhost:${port()},moved.localhost:${port()}` },
  };
  visitor = await RunningVisitor.start(ctx);
});
afterAll(async () => {
  visitor.stop();
  server.close();
  await ctx.store.close();
});
const port = () => (server.address() as AddressInfo).port;
const soon = () => new Promise((done) => setTimeout(done, 2200));

it('keeps its notice, decisions, sweeps and records when its address changes', async () => {
  const account = (await testAccount(ctx)).id;
  const site = await testSite(ctx);
  const { id } = await findSite(ctx.store, site.host);
  const sweep = async (host: string) => {
    const started = await startSweep(ctx, account, (await findSiteById(ctx.store, id)).host, {});
    await beginSweep(ctx, started.sweep);
    await storeCrawl(ctx, await findSweep(ctx.store, started.sweep), {
      ...{ visitor: 'accepted', notes: [], operated: null, couldChoose: true, whyNot: '', incomplete: false },
      ...{ picture: undefined, pages: [{ url: `http://${host}/`, status: 200, note: '' }] },
      sightings: [{ kind: 'cookie', name: 'fare', host, sighting: sighting({ visitor: 'accepted' }) }],
    });
    await ctx.store.transaction((tx) => endSweep(tx, ctx, started.sweep, 'complete'));
    const [only] = await observedIn(ctx.store, started.sweep);
    return only?.id ?? 0;
  };
  await moveNotice(ctx, account, site.host, 'rehearse', 1);
  await moveNotice(ctx, account, site.host, 'put in force', 1);
  const tracker = await sweep(site.host);
  await decidePurpose(ctx, account, site.host, { ids: [tracker], purpose: 'measurement', because: '' });
  await soon();
  const choose = async (host: string) => {
    const answer = await visitor.send({ siteKey: site.siteKey, host }, visitor.choice(site.siteKey), {
      origin: `http://${host}`,
    });
    return { status: answer.status, receipt: answer.ok ? await visitor.receiptOf(answer) : undefined };
  };
  const before = await choose(site.host);
  const moved = `moved.localhost:${port()}`;
  await expect(moveSite(ctx, account, site.host, 'not an address')).rejects.toMatchObject({
    fields: [{ field: 'address' }],
  });
  expect(await moveSite(ctx, account, site.host, `http://${moved}/`)).toEqual({ host: moved });
  expect(await readAddresses(ctx.store, id)).toMatchObject({ firstHost: site.host, retiredAt: null });
  expect((await findNotice(ctx.store, moved)).stage.state).toBe('in force');
  expect(await latestSweeps(ctx.store, id)).toHaveLength(1);
  // What its own host stored is the same tracker under the new one, decided as it was.
  expect(await sweep('moved.localhost')).toBe(tracker);
  await soon();
  const after = await choose(moved);
  expect((await choose(site.host)).status).toBe(403);
  await sayAddresses(ctx, account, moved, [site.host], []);
  await expect(sayAddresses(ctx, account, moved, [], [])).rejects.toMatchObject({ status: 409 });
  await soon();
  const also = await choose(site.host);
  await seal(ctx.store, ctx.now());
  // Each receipt names the host of its day, and is as the ledger was told.
  for (const [said, host] of [
    [before, site.host],
    [after, moved],
    [also, moved],
  ] as const) {
    const opened = await openConsent(ctx.store, id, said.receipt?.id ?? '');
    expect(opened).toMatchObject({ matches: true, receipt: { site: host } });
  }
  await retireSite(ctx, account, moved, true);
  await soon();
  const script = async () => (await fetch(`${visitor.origin}/${site.siteKey}.js`)).text();
  expect(await script()).toContain('YARE_SETTINGS=null');
  expect((await openConsent(ctx.store, id, before.receipt?.id ?? '')).matches).toBe(true);
  await retireSite(ctx, account, moved, false);
  await soon();
  expect(await script()).not.toContain('YARE_SETTINGS=null');
}, 60_000);
