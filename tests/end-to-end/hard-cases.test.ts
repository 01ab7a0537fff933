import { readdir } from 'node:fs/promises';
import { createServer as createTlsServer, type Server } from 'node:https';
import type { AddressInfo } from 'node:net';
import type { Page } from 'playwright-core';
import { generate } from 'selfsigned';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { run } from '../../launcher/run.ts';
import { visitsFolder } from '../../src/server/websites/crawl/browser/confinement.ts';
import { startDesk, type RunningDesk } from './desk.ts';
import { OwnSite } from './own-site.ts';

const site = new OwnSite();
/** Holds its port from the beginning, so that nothing else comes to stand there. */
let untrusted: Server;
let tlsPort = 0;
let desk: RunningDesk;
let page: Page;

beforeAll(async () => {
  await site.start();
  const { private: key, cert } = await generate([{ name: 'commonName', value: 'wrong.example' }], {
    keySize: 2048,
  });
  untrusted = createTlsServer({ key, cert }, (_q, r) => r.end('<title>x</title>'));
  await new Promise<void>((ready) => untrusted.listen(0, '127.0.0.1', ready));
  tlsPort = (untrusted.address() as AddressInfo).port;
  desk = await startDesk(site.port, tlsPort);
  page = await desk.signedIn();
});
afterAll(async () => {
  site.stop();
  untrusted?.close();
  await desk?.stop();
});

interface Detail {
  readonly sweeps: readonly {
    readonly state: string;
    readonly pages: number;
    readonly trackers: number;
    readonly notes: readonly { readonly words: string }[];
  }[];
  readonly troubled: readonly { readonly url: string; readonly note: string }[];
}

const api = (method: 'get' | 'post' | 'delete', path: string, data?: object) =>
  page.request[method](`${desk.origin}/api${path}`, {
    headers: { origin: desk.origin },
    ...(data ? { data } : {}),
  });
const detail = async (host: string) =>
  (await (await api('get', `/websites/${encodeURIComponent(host)}`)).json()) as Detail;
const add = (address: string) => api('post', '/websites', { address });
const sweep = async (host: string, limits: object = {}) =>
  (await (
    await api('post', `/websites/${encodeURIComponent(host)}/sweeps`, {
      visitors: ['before', 'gpc'],
      ...limits,
    })
  ).json()) as {
    job: string;
  };

async function ended(host: string): Promise<Detail> {
  await expect
    .poll(async () => (await detail(host).catch(() => undefined))?.sweeps?.[0]?.state ?? '', {
      timeout: 150_000,
      interval: 500,
    })
    .toMatch(/complete|cancelled|failed/);
  return detail(host);
}

/** Browsers that this desk's workers started and that are still there. */
async function browsersLeft(): Promise<number> {
  const { output } = await run('ps', ['-eo', 'args']);
  return output.split('\n').filter((l) => l.includes(visitsFolder(`${desk.folder}/profiles`))).length;
}

describe('addresses that are no good site', () => {
  it('are told within their time: never answers, bad certificate', async () => {
    const refused = async (address: string) =>
      ((await (await add(address)).json()) as { fields: { field: string; message: string }[] }).fields[0];
    expect(await refused(`http://hostile.localhost:${site.port}/never`)).toMatchObject({
      field: 'address',
      message: expect.stringContaining('did not answer within 10 seconds'),
    });
    expect(await refused(`https://harbour.localhost:${tlsPort}/`)).toMatchObject({
      message: expect.stringContaining('certificate is not valid'),
    });
    expect(await refused('http://169.254.169.254/latest/meta-data')).toMatchObject({
      message: expect.stringContaining('private address'),
    });
  });
});

describe('a hostile site', () => {
  it('is swept within the limits, told page by page, and leaves no browser', async () => {
    const host = `hostile.localhost:${site.port}`;
    expect((await add(`http://${host}/`)).status()).toBe(200);
    await sweep(host, { maxPages: 14, maxMinutes: 2, visitors: ['before'] });
    const { sweeps, troubled } = await ended(host);
    expect(sweeps[0]).toMatchObject({ state: 'complete' });
    expect(sweeps[0]!.pages).toBeLessThanOrEqual(14);
    expect(sweeps[0]!.notes.map((n) => n.words)).toContain(
      'Stopped at the limit of 14 pages; the site has more.',
    );
    const notes = Object.fromEntries(troubled.map((t) => [new URL(t.url).pathname, t.note]));
    expect(notes['/circle']).toBe('Redirects in a circle');
    expect(notes['/restless']).toBe('Never came to rest');
    expect(notes['/never']).toBe('Did not finish loading in 20 seconds');
    // One word of many megabytes: whichever limit it meets first.
    expect(notes['/huge']).toMatch(/Too large: cut off|Took more memory|Did not finish loading/);
    expect(notes['/download']).toBe('A download, not a page');
    expect(notes['/dialogs']).toBeUndefined();
    await expect.poll(browsersLeft, { timeout: 15_000 }).toBe(0);
  });
});

describe('a sweep that is cut short', () => {
  it('keeps what it found when somebody cancels it', async () => {
    site.slow = 700;
    expect((await add(`http://${site.host}/`)).status()).toBe(200);
    const { job } = await sweep(site.host);
    await page.goto(`${desk.origin}/websites/${encodeURIComponent(site.host)}`);
    await page
      .getByText(/visitor 1 of 2, page [1-9]/)
      .first()
      .waitFor({ timeout: 60_000 });
    await page.getByRole('button', { name: `Cancel: Sweep of ${site.host}` }).click();
    const { sweeps } = await ended(site.host);
    expect(sweeps[0]?.state).toBe('cancelled');
    expect(sweeps[0]?.pages).toBeGreaterThan(0);
    expect((await api('delete', `/jobs/${job}`)).status()).toBe(409);
    await page.getByRole('row', { name: /^\/hit\.gif/ }).waitFor();
  });

  it('goes on in another worker when its worker is killed, and no browser is left', async () => {
    await sweep(site.host);
    await expect.poll(browsersLeft, { timeout: 30_000 }).toBeGreaterThan(0);
    await desk.processes.kill('worker');
    await expect.poll(browsersLeft, { timeout: 20_000 }).toBe(0);
    site.slow = 0;
    await desk.startAgain('worker');
    const { sweeps } = await ended(site.host);
    expect(sweeps[0]).toMatchObject({ state: 'complete', pages: 5 });
    await expect.poll(browsersLeft, { timeout: 15_000 }).toBe(0);
    await expect.poll(async () => (await readdir(visitsFolder(`${desk.folder}/profiles`))).length).toBe(0);
  });

  it('goes on when the database is killed under it and comes back', async () => {
    site.slow = 300;
    await sweep(site.host);
    await expect.poll(browsersLeft, { timeout: 30_000 }).toBeGreaterThan(0);
    await desk.restartDatabase();
    site.slow = 0;
    const { sweeps } = await ended(site.host);
    expect(sweeps[0]).toMatchObject({ state: 'complete', pages: 5 });
    await expect.poll(browsersLeft, { timeout: 15_000 }).toBe(0);
  });

  it('fails with a reason when the site is gone', async () => {
    await desk.store.run("UPDATE site SET start_url = 'http://localhost:1/' WHERE host = ?", [site.host]);
    await sweep(site.host);
    const { sweeps } = await ended(site.host);
    expect(sweeps[0]?.state).toBe('failed');
    expect(sweeps[0]?.notes.at(-1)?.words).toMatch(/No page could be loaded/);
    await page.goto(`${desk.origin}/today`);
    await page.getByRole('link', { name: `Sweep of ${site.host} failed` }).waitFor();
  });
});
