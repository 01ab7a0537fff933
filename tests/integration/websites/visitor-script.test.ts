import type { Browser, BrowserContext, Page } from 'playwright-core';
import { describe, expect, it } from 'vitest';
import type { GateHold } from '../../../src/core/websites/trackers/fix.ts';
import { browseGround } from './ground-browser.ts';
import { ScriptGround } from './script-ground.ts';

const script = new ScriptGround();
let browser: Browser;
let context: BrowserContext;
let page: Page;

browseGround(
  script,
  () => {
    Object.assign(script, { pages: {}, holds: [], kept: [], settings: {}, headers: {}, nonce: '' });
    script.reached.length = script.choices.length = 0;
  },
  (opened) => ({ browser, context, page } = opened),
);

const notice = (of = page) => of.locator('yare-notice');
const answer = async (choice: string, of = page) => {
  await notice(of).waitFor();
  await notice(of).locator(`button[data-choice="${choice}"]`).click();
};
const ran = (of = page) => of.evaluate(() => (window as { ran?: string[] }).ran ?? []);
const measured = (marked: string) =>
  `<script type="text/plain" data-yare-purpose="measurement" ${marked}</script>`;

describe('what is marked', () => {
  it('runs in the order of the page once it is allowed, without a reload', async () => {
    script.pages = {
      '/': `${measured('src="//T/slow.js">')}${measured('>(window.ran ??= []).push("inline")')}${measured('src="//T/last.js">')}`,
    };
    await page.route('**/slow.js', async (route) => {
      await new Promise((done) => setTimeout(done, 300));
      await route.continue();
    });
    await page.goto(script.at('order'));
    await page.evaluate(() => ((window as { same?: boolean }).same = true));
    await answer('accept');
    await expect.poll(() => ran()).toEqual(['/slow.js', 'inline', '/last.js']);
    expect(await page.evaluate(() => (window as { same?: boolean }).same)).toBe(true);
  });

  it('runs under a strict content security policy, and shows the notice there', async () => {
    script.nonce = 'n0nce';
    script.headers = {
      'content-security-policy':
        "default-src 'none'; script-src 'nonce-n0nce'; connect-src 'self'; style-src 'none'; base-uri 'none'",
    };
    script.pages = { '/': `${measured('nonce="n0nce">(window.ran ??= []).push("inline")')}` };
    const complaints: string[] = [];
    page.on('console', (m) => m.type() === 'error' && complaints.push(m.text()));
    await page.goto(script.at('strict'));
    await answer('accept');
    await expect.poll(() => ran()).toEqual(['inline']);
    expect(complaints.filter((c) => /Content Security Policy/.test(c))).toEqual([]);
  });

  it('shows what a held map would be, asks on the spot, and loads it', async () => {
    script.pages = {
      '/': '<iframe width="400" height="300" data-yare-purpose="preferences" data-yare-src="//T/map"></iframe>',
    };
    await page.goto(script.at('map'));
    const held = page.locator('yare-held');
    await held.waitFor();
    expect(await held.locator('p').innerText()).toContain('tally.localhost · Preferences');
    expect(script.reached).toEqual([]);
    await held.getByRole('button', { name: 'Allow Preferences' }).click();
    await expect.poll(() => script.reached).toEqual(['/map']);
    expect(await held.count()).toBe(0);
    await expect.poll(() => script.choices.map((c) => c.allowed)).toEqual([['preferences']]);
  });

  it('is let go where a single-page application puts it later, and the notice outlives a new body', async () => {
    script.pages = { '/': '<main></main>' };
    await page.goto(script.at('spa'));
    await notice().waitFor();
    await page.evaluate(() => (document.body = document.createElement('body')));
    await notice().waitFor();
    await answer('accept');
    await page.evaluate(() => {
      document.body.innerHTML = '<i data-yare-purpose="measurement"></i>';
      const s = document.createElement('script');
      s.type = 'text/plain';
      s.dataset['yarePurpose'] = 'measurement';
      s.text = '(window.ran ??= []).push("later")';
      document.body.append(s);
    });
    await expect.poll(() => ran()).toEqual(['later']);
  });
});

describe('a withdrawal', () => {
  it('stops, deletes what it can reach, says what it cannot, and touches nothing else', async () => {
    script.kept = [
      { kind: 'cookie', name: 'uid_*', host: 'left.localhost', purpose: 'measurement' },
      { kind: 'local storage', name: 'box', host: 'left.localhost', purpose: 'measurement' },
      { kind: 'cookie', name: 'ad', host: 'left.localhost', purpose: 'advertising' },
      { kind: 'other', name: 'far', host: 'tally.localhost', purpose: 'measurement' },
    ];
    script.pages = { '/deep/page': measured('src="//T/count.js">') };
    await page.goto(script.at('left', '/deep/page'));
    await answer('accept');
    await expect.poll(() => script.reached).toEqual(['/count.js']);
    await page.evaluate(() => {
      document.cookie = 'uid_77=1; Path=/deep';
      document.cookie = 'ad=1; Path=/';
      document.cookie = 'own=1; Path=/';
      localStorage.setItem('box', '1');
      localStorage.setItem('other', '1');
    });
    await page.evaluate(() => window.yare?.open());
    await notice().locator('input[value="measurement"]').uncheck();
    const anew = page.waitForNavigation();
    await answer('save');
    await anew;
    expect(await page.evaluate(() => window.yare?.allowed())).toEqual(['preferences', 'advertising']);
    const left = await page.evaluate(() => ({ cookies: document.cookie, keys: Object.keys(localStorage) }));
    expect(left.cookies).not.toContain('uid_77');
    expect(left.cookies).toContain('ad=1');
    expect(left.cookies).toContain('own=1');
    expect(left.keys).toContain('other');
    expect(left.keys).not.toContain('box');
    expect(await page.evaluate(() => window.yare?.left())).toMatchObject([{ name: 'far' }]);
    expect(script.reached).toEqual(['/count.js']);
    await page.evaluate(() => window.yare?.open());
    expect(await notice().locator('section').innerText()).toContain('far · tally.localhost');
  });

  it('in one tab holds in the other, which goes on as it is', async () => {
    script.holds = [{ kind: 'request', host: 'tally.localhost', name: '/hit', purpose: 'measurement' }];
    script.pages = { '/': '<h1>Two</h1>' };
    const other = await context.newPage();
    await page.goto(script.at('two'));
    await other.goto(script.at('two'));
    await answer('accept');
    await expect.poll(() => other.evaluate(() => window.yare?.allowed().length)).toBe(3);
    expect(await notice(other).count()).toBe(0);
    await other.evaluate(() => ((window as { same?: boolean }).same = true));
    await page.evaluate(() => window.yare?.open());
    await answer('refuse');
    await expect.poll(() => other.evaluate(() => window.yare?.allowed().length)).toBe(0);
    const at = `//tally.localhost:${script.port}/hit`;
    await other.evaluate((url) => fetch(url, { mode: 'no-cors' }), at);
    expect(script.reached).toEqual([]);
    expect(await other.evaluate(() => (window as { same?: boolean }).same)).toBe(true);
  });
});

describe('a browser that keeps nothing', () => {
  it('allows nothing, breaks nothing, and puts no permission on record', async () => {
    await page.addInitScript(() => {
      Object.defineProperty(Document.prototype, 'cookie', { get: () => '', set: () => {} });
      for (const area of ['localStorage', 'sessionStorage'])
        Object.defineProperty(window, area, {
          get: () => {
            throw new DOMException('refused', 'SecurityError');
          },
        });
    });
    script.pages = { '/': measured('src="//T/count.js">') };
    const errors: Error[] = [];
    page.on('pageerror', (e) => errors.push(e));
    await page.goto(script.at('closed'));
    await answer('accept');
    await notice().waitFor({ state: 'detached' });
    expect(await page.evaluate(() => window.yare?.allowed())).toEqual([]);
    await page.waitForTimeout(300);
    expect(script.reached).toEqual([]);
    expect(script.choices).toEqual([]);
    expect(errors).toEqual([]);
  });
});

describe('a frame of the same site', () => {
  it('asks nobody itself, and keeps to the answer of the page above', async () => {
    script.pages = {
      '/': '<iframe id="inner" src="/inner" width="300" height="200"></iframe>',
      '/inner': measured('src="//T/inner.js">'),
    };
    await page.goto(script.at('frames'));
    await notice().waitFor();
    const inner = page.frameLocator('#inner');
    expect(await inner.locator('yare-notice').count()).toBe(0);
    await answer('accept');
    await expect.poll(() => script.reached).toEqual(['/inner.js']);
  });
});

describe('signals', () => {
  const system = {
    ...{ name: 'Tagworks', queue: 'works.queue', on: 'yes', off: 'no', waitMs: 400 },
    names: { measurement: ['count'] },
    start: '["start", "$state", "$wait", "$region"]',
    change: '["change", "$state"]',
  };

  it('tell a tag system the start before any script runs, and the change', async () => {
    script.settings = { tagSystems: [system] };
    script.pages = {
      '/': '<script>window.first = JSON.stringify(window.works.queue); window.seen = []; (window.yareReady ??= []).push((y) => y.subscribe((s) => seen.push(s.purposes.measurement)));</script>',
    };
    await page.goto(script.at('signals'));
    const first = () => page.evaluate(() => (window as { first?: string }).first);
    expect(await first()).toBe('[["start",{"count":"no"},400,"DK"]]');
    const waits = page.evaluate(() => window.yare?.answer(5000).then((s) => s.answered));
    await answer('accept');
    expect(await waits).toBe(true);
    const queue = () =>
      page.evaluate(() => (window as unknown as { works: { queue: unknown[] } }).works.queue);
    expect((await queue()).at(-1)).toEqual(['change', { count: 'yes' }]);
    expect(await page.evaluate(() => (window as { seen?: string[] }).seen)).toEqual(['waits', 'allowed']);
    // The kept answer is there at once, with nothing to wait for.
    await page.reload();
    expect(await first()).toBe('[["start",{"count":"yes"},0,"DK"]]');
  });

  it('are not waited for longer than asked', async () => {
    script.pages = { '/': '' };
    await page.goto(script.at('wait'));
    expect(await page.evaluate(() => window.yare?.answer(50))).toMatchObject({
      answered: false,
      region: 'DK',
    });
    const done = await page.evaluate(() => {
      const work: string[] = [];
      window.yare?.when('measurement', () => work.push('ran'));
      return work.length;
    });
    expect(done).toBe(0);
  });

  it('carry a campaign in the site’s own links while nothing may be stored, and not after', async () => {
    script.settings = { campaign: ['campaign'] };
    script.pages = {
      '/': '<a id="own" href="/b?x=1#y">b</a> <a id="away" href="//T/away">away</a>',
      '/b': '<a id="own" href="/c">c</a>',
      '/c': '<h1>c</h1>',
    };
    await page.goto(script.at('campaign', '/?campaign=spring&other=1'));
    await page.locator('#away').evaluate((a) => a.addEventListener('click', (e) => e.preventDefault()));
    await page.locator('#away').click();
    expect(await page.locator('#away').getAttribute('href')).not.toContain('campaign');
    await page.locator('#own').click();
    await page.waitForURL(/\/b/);
    expect(page.url()).toBe(script.at('campaign', '/b?x=1&campaign=spring#y'));
    await answer('accept');
    await page.locator('#own').click();
    await page.waitForURL(/\/c/);
    expect(new URL(page.url()).search).toBe('');
  });
});

it('lets a reduced tag’s requests go without identifiers until it is allowed', async () => {
  const hold: GateHold = {
    kind: 'request',
    host: 'tally.localhost',
    name: '/hit',
    purpose: 'measurement',
    without: ['uid'],
  };
  script.holds = [hold];
  script.pages = {
    '/': '<script>window.send = () => { new Image().src = "//T/hit?uid=77&a=1"; fetch("//T/hit?uid=77&b=1"); navigator.sendBeacon("//T/hit?uid=77&c=1"); const x = new XMLHttpRequest(); x.open("GET", "//T/hit?uid=77&d=1"); x.send(); }</script>',
  };
  await page.goto(script.at('reduced'));
  const send = () => page.evaluate(() => (window as unknown as { send: () => void }).send());
  await send();
  await expect
    .poll(() => script.reached.toSorted())
    .toEqual(['/hit?a=1', '/hit?b=1', '/hit?c=1', '/hit?d=1']);
  script.reached.length = 0;
  await answer('accept');
  await send();
  await expect
    .poll(() => script.reached.toSorted())
    .toEqual(['/hit?uid=77&a=1', '/hit?uid=77&b=1', '/hit?uid=77&c=1', '/hit?uid=77&d=1']);
});

it('shows the version on trial to its share of visitors, and sends it back with the answer', async () => {
  const looks = { ...script.looks, layout: 'side sheet' as const };
  const trial = {
    version: 2,
    shown: 'two',
    languages: ['en'],
    languageBy: 'page' as const,
    texts: {},
    looks,
  };
  script.pages = { '/': '' };
  for (const [share, version, layout] of [
    [100, 2, 'side sheet'],
    [0, 1, 'strip'],
  ] as const) {
    script.choices.length = 0;
    script.settings = { trial: { ...trial, policyUrl: '', share } };
    await context.clearCookies();
    await page.goto(script.at('trial'));
    await notice().waitFor();
    expect(await notice().getAttribute('data-layout')).toBe(layout);
    await answer('refuse');
    await expect.poll(() => script.choices).toMatchObject([{ version }]);
    // Its receipt is kept, so that nothing writes the cookie once it is cleared.
    await expect.poll(() => page.evaluate(() => document.cookie)).toContain('r1');
  }
});

it('asks for the texts of another language when it is spoken, and writes it from right to left', async () => {
  script.settings = { languages: ['en', 'ar'] };
  context = await browser.newContext({ locale: 'ar-EG' });
  page = await context.newPage();
  script.settings = { ...script.settings, languageBy: 'visitor' };
  script.pages = { '/': '' };
  await page.goto(script.at('arabic'));
  await notice().waitFor();
  expect(await notice().locator('h2').innerText()).toBe('In ar');
  expect(await notice().evaluate((n) => [n.getAttribute('lang'), getComputedStyle(n).direction])).toEqual([
    'ar',
    'rtl',
  ]);
});
