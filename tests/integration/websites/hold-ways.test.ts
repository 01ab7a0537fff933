import type { BrowserContext, Page } from 'playwright-core';
import { describe, expect, it } from 'vitest';
import type { GateHold } from '../../../src/core/websites/trackers/fix.ts';
import { browseGround } from './ground-browser.ts';
import { ScriptGround } from './script-ground.ts';

const script = new ScriptGround();
let context: BrowserContext;
let page: Page;

const hold = (kind: GateHold['kind'], name: string, host = 'tally.localhost'): GateHold => ({
  ...{ kind, name, host },
  purpose: 'measurement',
});

browseGround(
  script,
  () => {
    Object.assign(script, {
      pages: { '/': '<main></main>' },
      settings: {},
      headers: {},
      nonce: '',
      kept: [],
    });
    script.holds = [
      hold('request', '/held*'),
      ...(['cookie', 'storage', 'database', 'cache', 'worker'] as const).map((k) => hold(k, '*held*')),
    ];
    script.reached.length = script.choices.length = 0;
  },
  (opened) => ({ context, page } = opened),
);

const open = async () => {
  await page.goto(script.at('ways'));
  await page.locator('yare-notice').waitFor();
};
/** What a script of the page does; `//T/` stands for the other company. */
const does = (work: string) =>
  page.evaluate(work.replaceAll('//T/', `http://tally.localhost:${script.port}/`));
/** A request of the page that nothing holds, after all that was asked for before it. */
const settle = async () => {
  await does(
    `new Promise((done) => { const i = new Image(); i.onload = i.onerror = done; i.src = '//T/free'; })`,
  );
  await page.waitForTimeout(120);
  return script.reached.filter((r) => r !== '/free');
};
const accept = () => page.locator('yare-notice button[data-choice="accept"]').click();

const put = (tag: string, attribute: string) =>
  `const e = document.createElement('${tag}'); e.${attribute} = '//T/held'; document.body.append(e);`;

/** Ways of asking for something by an element: each waits, and is let go when it is allowed. */
const ELEMENT_WAYS: readonly (readonly [string, string])[] = [
  ['a script', put('script', 'src')],
  [
    'a script by its attribute',
    `const e = document.createElement('script'); e.setAttribute('SRC', '//T/held'); document.head.append(e);`,
  ],
  ['a picture that is never put in the page', `window.kept = new Image(); kept.src = '//T/held';`],
  ['a picture in several sizes', put('img', 'srcset')],
  ['a frame', put('iframe', 'src')],
  ['a video', put('video', 'src')],
  ['an embedded document', put('object', 'data')],
  [
    'a style sheet',
    `const e = document.createElement('link'); e.rel = 'stylesheet'; e.href = '//T/held'; document.head.append(e);`,
  ],
  [
    'something to be fetched in advance',
    `const e = document.createElement('link'); e.rel = 'preload'; e.as = 'image'; e.href = '//T/held'; document.head.append(e);`,
  ],
  ['HTML', `document.querySelector('main').innerHTML = '<p>Us<img src="//T/held" alt=""></p>';`],
  [
    'HTML beside something',
    `document.querySelector('main').insertAdjacentHTML('afterend', '<iframe src="//T/held"></iframe>');`,
  ],
  [
    'HTML in the place of something',
    `document.querySelector('main').outerHTML = '<main><picture><source srcset="//T/held 2x"><img alt=""></picture></main>';`,
  ],
  [
    'HTML in a tree of its own',
    `document.querySelector('main').attachShadow({ mode: 'open' }).innerHTML = '<img src="//T/held" alt="">';`,
  ],
  [
    'HTML of a fragment, with a script that runs',
    `document.body.append(document.createRange().createContextualFragment('<script src="//T/held"></scr' + 'ipt>'));`,
  ],
  [
    'a template that is copied',
    `const t = document.createElement('template'); t.innerHTML = '<div><img src="//T/held" alt=""></div>'; document.body.append(t.content.cloneNode(true));`,
  ],
];

describe('by an element', () => {
  it.each(ELEMENT_WAYS)('%s waits, and is let go once it is allowed', async (_, work) => {
    await open();
    await does(`(() => { ${work} })()`);
    expect(await settle()).toEqual([]);
    await accept();
    await expect.poll(() => script.reached).toContain('/held');
  });
});

it('what a page writes while it is read waits, the script in it too', async () => {
  script.pages = {
    '/': `<script>document.write('<script type="module" src="//T/held"></scr', 'ipt>', '<img src="//T/held2" alt="">')</script><main></main>`,
  };
  await open();
  expect(await settle()).toEqual([]);
  await accept();
  await expect.poll(() => script.reached).toContain('/held2');
  await expect.poll(() => page.evaluate(() => (window as { ran?: string[] }).ran)).toEqual(['/held']);
});

/** Ways of asking without an element: what is asked for never goes, and whoever waits for it hears something. */
const REQUEST_WAYS: readonly (readonly [string, string, unknown])[] = [
  ['fetch', `fetch('//T/held').then((r) => r.status)`, 204],
  ['a fetch of a request', `fetch(new Request('//T/held')).then((r) => r.status)`, 204],
  ['a beacon', `navigator.sendBeacon('//T/held', 'x')`, true],
  [
    'the older request',
    `new Promise((done) => { const x = new XMLHttpRequest(); x.open('GET', '//T/held'); x.onloadend = () => done(x.status); x.send(); })`,
    0,
  ],
  [
    'a socket',
    `new Promise((done) => { const s = new WebSocket('//T/held'.replace('http', 'ws')); s.onclose = () => done(s instanceof WebSocket && s.readyState); s.send; })`,
    3,
  ],
  [
    'a stream',
    `new Promise((done) => { const s = new EventSource('//T/held'); s.addEventListener('error', () => done(s.readyState)); })`,
    2,
  ],
  [
    'an empty frame’s own fetch',
    `(() => { const f = document.createElement('iframe'); document.body.append(f); return f.contentWindow.fetch('//T/held').then((r) => r.status); })()`,
    204,
  ],
  [
    'an empty frame that is found by its place',
    `(() => { const f = document.createElement('iframe'); document.body.appendChild(f); return window.frames[0].navigator.sendBeacon('//T/held'); })()`,
    true,
  ],
];

describe('without an element', () => {
  it.each(REQUEST_WAYS)('%s never goes', async (_, work, hears) => {
    await open();
    expect(await does(work)).toBe(hears);
    expect(await settle()).toEqual([]);
    await accept();
    await does(work);
    await expect.poll(() => script.reached.length).toBeGreaterThan(1);
  });
});

it('a picture written into an empty frame waits, and is let go', async () => {
  await open();
  await does(
    `(() => { const f = document.createElement('iframe'); document.body.append(f); f.contentDocument.write('<img src="//T/held" alt="">'); })()`,
  );
  expect(await settle()).toEqual([]);
  await accept();
  await expect.poll(() => script.reached).toContain('/held');
});

/** Ways of keeping something: `is` says whether it was. */
const WRITE_WAYS: readonly (readonly [string, string, string])[] = [
  ['a cookie', `document.cookie = 'held=1'`, `document.cookie.includes('held')`],
  ['a stored value', `localStorage.setItem('held', '1')`, `localStorage.getItem('held') !== null`],
  ['a stored value, like a property', `localStorage.held = '1'`, `'held' in localStorage`],
  [
    'a stored value, defined',
    `Object.defineProperty(sessionStorage, 'held', { value: '1', configurable: true, enumerable: true, writable: true })`,
    `'held' in sessionStorage`,
  ],
  [
    'a stored value, by the method of another',
    `Storage.prototype.setItem.call(sessionStorage, 'held', '1')`,
    `Object.keys(sessionStorage).includes('held')`,
  ],
  [
    'a database',
    `new Promise((done) => { const r = indexedDB.open('held'); r.onsuccess = () => { r.result.close(); done('kept'); }; r.onerror = (e) => done(e.target === r && r instanceof IDBOpenDBRequest && r.error.name); })`,
    `indexedDB.databases().then((all) => all.length > 0)`,
  ],
  ['a cache', `caches.open('held').then(() => 'kept', (e) => e.name)`, `caches.has('held')`],
  [
    'a worker',
    `navigator.serviceWorker.register('/held.js').then(() => 'kept', (e) => e.name)`,
    `navigator.serviceWorker.getRegistrations().then((all) => all.length > 0)`,
  ],
];

describe('what is kept', () => {
  it.each(WRITE_WAYS)('%s is not until it is allowed', async (_, write, is) => {
    await open();
    await does(`Promise.resolve(${write}).then(() => {})`);
    expect(await does(is)).toBe(false);
    await accept();
    await does(`Promise.resolve(${write}).then(() => {})`);
    expect(await does(is)).toBe(true);
  });
});

it('nothing shows that something stands before the storage of a page', async () => {
  await open();
  const other = await context.newPage();
  await other.goto(script.at('ways'));
  const heard = page.evaluate(
    () =>
      new Promise((done) =>
        addEventListener('storage', (e) => done([e.key, e.storageArea === localStorage, e.newValue])),
      ),
  );
  await page.waitForTimeout(100);
  await other.evaluate(() => localStorage.setItem('free', '1'));
  expect(await heard).toEqual(['free', true, '1']);
  expect(
    await page.evaluate(() => {
      localStorage['mine'] = 2;
      delete localStorage['free'];
      const keys = Object.keys(localStorage);
      const said = [
        localStorage instanceof Storage,
        localStorage.length,
        localStorage['mine'],
        localStorage.key(0),
      ];
      localStorage.clear();
      return [...said, keys, localStorage.length, Object.prototype.toString.call(localStorage)];
    }),
  ).toEqual([true, 1, '2', 'mine', ['mine'], 0, '[object Storage]']);
});

it('a withdrawal takes away databases, caches and workers too', async () => {
  script.kept = [
    { kind: 'IndexedDB', name: 'held*', host: 'ways.localhost', purpose: 'measurement' },
    { kind: 'cache storage', name: 'held', host: 'ways.localhost', purpose: 'measurement' },
    { kind: 'service worker', name: '/held.js', host: 'ways.localhost', purpose: 'measurement' },
  ];
  await open();
  await accept();
  for (const [words, write] of WRITE_WAYS.slice(5))
    expect([words, await does(write)]).not.toContain('UnknownError');
  await does(`caches.open('free')`);
  await does('window.yare.open()');
  await page.locator('yare-notice input[value="measurement"]').uncheck();
  const anew = page.waitForNavigation();
  await page.locator('yare-notice button[data-choice="save"]').click();
  await anew;
  for (const [words, , is] of WRITE_WAYS.slice(5)) expect([words, await does(is)]).toEqual([words, false]);
  expect(await does(`caches.keys()`)).toEqual(['free']);
  expect(await does('window.yare.left()')).toEqual([]);
});
