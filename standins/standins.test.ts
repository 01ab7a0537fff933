import { mkdtemp, rm } from 'node:fs/promises';
import { request, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startStandins } from './server.ts';
import { SITES } from './sites.ts';

let server: Server;
let folder = '';
let port = 0;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'yare-standins-'));
  server = await startStandins({
    port: 0,
    visitorOrigin: 'http://v.localhost',
    dataDir: folder,
    siteKeys: () => Object.fromEntries(SITES.map((s) => [s.host, 'k'.repeat(20)])),
  });
  port = (server.address() as AddressInfo).port;
});
afterAll(async () => {
  server.close();
  await rm(folder, { recursive: true, force: true });
});

interface Answered {
  readonly status: number;
  readonly headers: Readonly<Record<string, string | string[] | undefined>>;
  readonly text: string;
}

function ask(host: string, path: string, form?: string, cookie = ''): Promise<Answered> {
  return new Promise((resolve, reject) => {
    const asked = request(
      {
        port,
        host: '127.0.0.1',
        path,
        method: form ? 'POST' : 'GET',
        headers: { host: `${host}:${port}`, cookie },
      },
      (response) => {
        let text = '';
        response.on('data', (c) => (text += String(c)));
        response.on('end', () =>
          resolve({ status: response.statusCode ?? 0, headers: response.headers, text }),
        );
      },
    );
    asked.on('error', reject);
    asked.end(form);
  });
}

describe('the stand-in websites', () => {
  it.each(SITES.map((s) => [s.host, s] as const))(
    '%s answers every page of its sitemap',
    async (host, site) => {
      const { text } = await ask(host, '/sitemap.xml');
      expect([...text.matchAll(/<loc>/g)]).toHaveLength(site.pages.length);
      expect(new Set(site.pages.map((p) => p.path)).size).toBe(site.pages.length);
      for (const page of [site.pages[0]!, site.pages.at(-1)!])
        expect((await ask(host, page.path)).status).toBe(200);
      expect((await ask(host, '/no-such-page')).status).toBe(404);
    },
  );

  it('has some two hundred pages on the booking site', () => {
    expect(SITES[0]!.pages.length).toBeGreaterThanOrEqual(190);
  });

  it('sets a session once, and not again for who brings it back', async () => {
    const first = await ask('crew.brindlestrait.localhost', '/');
    const [cookie] = first.headers['set-cookie'] as string[];
    expect(cookie).toMatch(/^crew_sid=[0-9a-f]{32}; Path=\/; HttpOnly/);
    expect(
      (await ask('crew.brindlestrait.localhost', '/', undefined, cookie!.split(';')[0])).headers[
        'set-cookie'
      ],
    ).toBeUndefined();
  });

  it('lets the web team hold a tag and put the notice’s line in', async () => {
    const home = async () => (await ask('freight.brindlestrait.localhost', '/')).text;
    expect(await home()).not.toContain('v.localhost');
    expect(await home()).toMatch(/<script src="\/\/count\.wavemeter/);
    await ask('freight.brindlestrait.localhost', '/-/tags', 'tag=wavemeter&purpose=measurement');
    await ask('freight.brindlestrait.localhost', '/-/tags', 'tag=-script&purpose=yes');
    await ask('freight.brindlestrait.localhost', '/-/tags', 'tag=nothing&purpose=%22><script>');
    const after = await home();
    expect(after).toContain(`<script src="http://v.localhost/${'k'.repeat(20)}.js">`);
    expect(after).toContain(
      '<script type="text/plain" data-yare-purpose="measurement" src="//count.wavemeter',
    );
    expect(after.indexOf('v.localhost')).toBeLessThan(after.indexOf('wavemeter'));
    await ask('freight.brindlestrait.localhost', '/-/tags', 'tag=wavemeter&purpose=');
    expect(await home()).toMatch(/<script src="\/\/count\.wavemeter/);
  });
});

describe('the companies on them', () => {
  it.each([
    ['count.wavemeter.localhost', '/hit.gif', 'wave_uid'],
    ['sync.adbuoy.localhost', '/sync', 'adbuoy_id'],
    ['pay.paylock.localhost', '/lock.js', 'pl_session'],
    ['play.streamhull.localhost', '/film', 'sh_visitor'],
  ])('%s%s gives a visitor %s and knows it again', async (host, path, name) => {
    const [cookie] = (await ask(host, path)).headers['set-cookie'] as string[];
    expect(cookie).toMatch(new RegExp(`^${name}=[0-9a-f]{22}; Path=/; SameSite=None; Secure`));
    const pair = cookie!.split(';')[0]!;
    expect((await ask(host, path, undefined, pair)).headers['set-cookie']).toContainEqual(
      expect.stringContaining(pair),
    );
  });

  it('counts without a number for who refused', async () => {
    expect(
      (await ask('count.wavemeter.localhost', '/hit.gif?plain=1')).headers['set-cookie'],
    ).toBeUndefined();
  });

  it('are nowhere else', async () => {
    expect((await ask('nobody.localhost', '/')).status).toBe(404);
    for (const host of ['count.wavemeter.localhost', 'sync.adbuoy.localhost', 'help.talkdeck.localhost'])
      expect((await ask(host, '/else')).status).toBe(404);
  });
});
