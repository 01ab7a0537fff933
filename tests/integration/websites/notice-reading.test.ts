import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { NoticeReading } from '../../../src/core/websites/reading/notice-reading.ts';
import { wayWords } from '../../../src/core/websites/reading/notice-way.ts';
import { readNotice, type NoticeFound } from '../../../src/server/websites/crawl/notice/read-notice.ts';
import { firstLook } from '../../../src/server/websites/crawl/notice/way-trial.ts';
import { crawl } from '../../../src/server/websites/crawl/crawl.ts';
import { CrawlGround } from './crawl-plan.ts';

let server: Server;
let ground: CrawlGround;

/**
 * Sites whose notices say nothing that a list of words could hold. `answer(list)` keeps what the visitor allowed and lets
 * it run; `ask(show)` calls `show` where nobody has answered.
 */
const NOTICES: Readonly<Record<string, string>> = {
  // Made of plain boxes, in a corner; a cross that keeps no answer; a header that stays, and a menu on it.
  corner: `<header style="position:sticky;top:0"><button>Menu</button><button>Search</button></header>
<script>ask(() => {
  const card = make('<div class="card"><span class="x">×</span><p>We would like to know a little about your visit.</p><div class="b1">Sounds good</div><div class="b2">Maybe later</div></div>');
  Object.assign(card.style, { position: 'fixed', right: '20px', bottom: '20px', width: '320px', background: '#fff', padding: '12px' });
  for (const e of card.querySelectorAll('div,span')) e.style.cursor = 'pointer';
  card.querySelector('.x').addEventListener('click', () => card.remove());
  card.querySelector('.b1').addEventListener('click', () => { card.remove(); answer(['count', 'offers']); });
  card.querySelector('.b2').addEventListener('click', () => { card.remove(); answer([]); });
});</script>`,
  // In a closed shadow tree, with switches behind a control; one of them is on beforehand.
  sheet: `<script>ask(() => {
  const host = make('<div></div>');
  const root = host.attachShadow({ mode: 'closed' });
  root.innerHTML = '<section style="position:fixed;inset:0 0 0 60%;background:#eee"><p>Choose what happens behind this page.</p><div id=a><button id=all>Fine by me</button><button id=pick>Let me see</button></div><div id=b hidden><p><button role="switch" aria-checked="true" aria-label="Visits">◉</button> Which pages are read</p><p><button role="switch" aria-checked="false" aria-label="Deals">◎</button> From our partners</p><p><button role="switch" aria-checked="true" aria-disabled="true" aria-label="Basics">◉</button> Keeps the site going</p><button id=keep>Go with these</button></div></section>';
  const $ = (id) => root.getElementById(id);
  $('all').onclick = () => { host.remove(); answer(['count', 'offers']); };
  $('pick').onclick = () => { $('a').hidden = true; $('b').hidden = false; };
  for (const s of root.querySelectorAll('[role=switch]:not([aria-disabled])')) s.onclick = () => s.setAttribute('aria-checked', s.getAttribute('aria-checked') !== 'true');
  $('keep').onclick = () => { const on = [...root.querySelectorAll('[role=switch]')].map((s) => s.getAttribute('aria-checked') === 'true'); host.remove(); answer([on[0] && 'count', on[1] && 'offers'].filter(Boolean)); };
});</script>`,
  // Another company's frame; the page is loaded anew after an answer.
  frame: `<script>ask(() => {
  const f = document.createElement('iframe');
  f.src = '//asks.localhost:' + location.port + '/frame';
  Object.assign(f.style, { position: 'fixed', left: 0, bottom: 0, width: '100%', height: '140px', border: 0 });
  document.body.append(f);
  addEventListener('message', (e) => { if (!e.data.answer) return; answer(e.data.answer, false); location.reload(); });
});</script>`,
  // Late, at the top of the page, with a list to subscribe to lying over it all.
  late: `<script>setTimeout(() => {
  if (localStorage.getItem('letter')) return;
  const d = make('<div style="position:fixed;inset:20% 30%;background:#fff;z-index:9"><h2>Our letter</h2><p>News of the port, once a month.</p><input type="email"><button id="yes">Send it to me</button><button id="no">Not interested</button></div>');
  d.querySelector('#no').onclick = () => { localStorage.setItem('letter', 'no'); d.remove(); };
}, 300);
setTimeout(() => ask(() => {
  const d = document.createElement('div');
  d.innerHTML = '<p>Some of what runs here belongs to others and learns from what you do. That is up to you.</p><a class="k">Alright then</a> <a class="l">Leave me be</a>';
  document.body.prepend(d);
  d.querySelector('.k').onclick = () => { d.remove(); answer(['count', 'offers']); };
  d.querySelector('.l').onclick = () => { d.remove(); answer([]); };
}), 5000);</script>`,
  // Yes and no for each, in one layer.
  rounds: `<script>ask(() => {
  const d = make('<dialog><p>Deine Daten gehören dir.</p><fieldset><legend>Besuche zählen</legend><label><input type=radio name=a value=1> Ja</label><label><input type=radio name=a value=0 checked> Nein</label></fieldset><fieldset><legend>Angebote unserer Partner</legend><label><input type=radio name=b value=1> Ja</label><label><input type=radio name=b value=0 checked> Nein</label></fieldset><button id=k>Weiter so</button></dialog>');
  d.showModal();
  d.querySelector('#k').onclick = () => { const on = (n) => d.querySelector('[name=' + n + ']:checked').value === '1'; const list = [on('a') && 'count', on('b') && 'offers'].filter(Boolean); d.remove(); answer(list); };
});</script>`,
  // Slides away, and stays in the page; what can be chosen comes in a box of its own.
  slides: `<style>.s { position: fixed; left: 0; right: 0; bottom: 0; background: #fff; transition: transform .5s, opacity .5s } .s.out { transform: translateY(120%); opacity: 0 }</style><script>ask(() => {
  const d = make('<div class="s"><p>Nous aimons savoir ce qui est lu.</p><button class="o">Volontiers</button><button class="p">Voir</button></div>');
  const out = () => d.classList.add('out');
  d.querySelector('.o').onclick = () => { out(); answer(['count', 'offers']); };
  d.querySelector('.p').onclick = () => { out(); setTimeout(() => {
    const e = make('<div class="s" style="top:20%"><h2>À vous</h2><p><label><input type=checkbox checked> Mesure</label> Compter les lecteurs</p><p><label><input type=checkbox checked> Offres</label> De nos partenaires</p><button>C’est bon</button></div>');
    e.querySelector('button').onclick = () => { const on = [...e.querySelectorAll('input')].map((i) => i.checked); e.classList.add('out'); answer([on[0] && 'count', on[1] && 'offers'].filter(Boolean)); };
  }, 300); };
});</script>`,
  // Forms that the server answers, without a script.
  forms: `<form method="post" action="/answer" style="position:absolute;z-index:5;top:10px;right:10px;background:#fff"><p>Ships remember who came aboard.</p><button name="a" value="count.offers">Aye</button><button name="a" value="">Nay</button></form>`,
  // Lets nobody look for long; what it asks is then asked by nobody.
  hangs: `<div style="position:fixed;bottom:0"><p>We use cookies.</p><button>Fine</button><button>Never</button></div><script>setTimeout(() => { for (;;); }, 900)</script>`,
  // More over the page than anybody would look through.
  crowd: `<script>for (let i = 0; i < 3000; i++) document.body.insertAdjacentHTML('beforeend', '<div style="position:fixed;top:' + i + 'px"><b style="cursor:pointer">x</b></div>')</script>`,
  // Asks nothing: only a menu and a list to subscribe to.
  none: `<header style="position:fixed;top:0"><button>Menu</button></header><div style="position:fixed;bottom:0"><p>News of the port, once a month.</p><input type="email"><button onclick="this.parentElement.remove()">Not interested</button></div>`,
};

const PAGE = (notice: string) => `<!doctype html><html><head><title>Port</title><script>
const KEY = 'm';
const run = (list) => list.forEach((p) => { const s = document.createElement('script'); s.src = '//' + p + '.localhost:' + location.port + '/' + p + '.js'; document.head.append(s); });
const kept = JSON.parse(localStorage.getItem(KEY) ?? 'null');
const answer = (list, now = true) => { localStorage.setItem(KEY, JSON.stringify(list)); if (now) run(list); };
const ask = (show) => { if (!kept) show(); };
const make = (html) => { const t = document.createElement('template'); t.innerHTML = html; const e = t.content.firstElementChild; document.body.append(e); return e; };
if (kept) run(kept);
</script></head><body>${notice}<main><h1>Port</h1><p>Ships come and go.</p><button>Load more ships</button><a href="/b">b</a></main></body></html>`;

beforeAll(async () => {
  server = createServer((request, response) => {
    const url = new URL(request.url ?? '/', `http://${request.headers.host}`);
    const name = url.hostname.split('.')[0] ?? '';
    const send = (type: string, body: string) => response.writeHead(200, { 'content-type': type }).end(body);
    if (url.pathname === '/frame')
      return send(
        'text/html',
        `<p>A word about what you let us know.</p><button onclick="parent.postMessage({ answer: ['count', 'offers'] }, '*')">Go ahead</button><button onclick="parent.postMessage({ answer: [] }, '*')">Rather not</button>`,
      );
    if (url.pathname.endsWith('.js'))
      return send(
        'text/javascript',
        `document.cookie = '${name}=' + Math.random() + '; Max-Age=9999'; fetch('//${name}.localhost:' + location.port + '/hit', { mode: 'no-cors' });`,
      );
    const cookie = /ans=([a-z.]*)/.exec(request.headers.cookie ?? '')?.[1];
    if (url.pathname === '/answer') {
      let body = '';
      request.on('data', (c) => (body += String(c)));
      return void request.on('end', () =>
        response
          .writeHead(303, {
            location: '/',
            'set-cookie': `ans=${body.replace('a=', '')}; Max-Age=9999; Path=/`,
          })
          .end(),
      );
    }
    const notice =
      name === 'forms' && cookie !== undefined
        ? `<script>run(${JSON.stringify(cookie.split('.').filter(Boolean))})</script>`
        : NOTICES[name];
    return send('text/html; charset=utf-8', notice === undefined ? '' : PAGE(notice));
  });
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
  ground = await CrawlGround.on((server.address() as AddressInfo).port);
});
afterAll(async () => {
  server.closeAllConnections();
  server.close();
  await ground.leave();
});

const read = async (host: string, kept: NoticeReading | null = null): Promise<NoticeFound> =>
  readNotice(
    { ground: ground.plan(host), kept, parallel: 3, until: Date.now() + 120_000, now: () => new Date() },
    await firstLook(ground.plan(host)),
    new AbortController().signal,
    () => {},
  );
const told = (found: NoticeFound) => {
  if (!('reading' in found)) return found.found;
  const { roles, switches } = found.reading;
  const of = (choice: keyof typeof roles) => (roles[choice] ? wayWords(roles[choice].way) : null);
  return {
    accept: of('accept'),
    refuse: of('refuse'),
    choose: of('choose'),
    switches: switches.map((s) => `${s.words}: ${s.purpose}${s.locked ? ', locked' : ''}`),
  };
};

it('gives up on a page that hangs or crowds, and leaves no browser', async () => {
  await read('hangs').catch(() => undefined);
  await read('crowd');
  // So does a visitor who is to answer there.
  const refused = ground.plan('hangs', { visitor: 'refused', until: Date.now() + 30_000 });
  expect((await crawl(refused, new AbortController().signal, () => {})).couldChoose).toBe(false);
  expect(await ground.leftVisits()).toEqual([]);
}, 280_000);

it('keeps to how it was read while the notice has the same controls, and reads it anew once it has others', async () => {
  const first = await read('forms');
  if (!('reading' in first)) throw new Error('nothing was read');
  expect(await read('forms', first.reading)).toEqual({ found: 'kept', reading: first.reading });
  const other = { ...first.reading, controls: ['Aye', 'Perhaps'] };
  expect((await read('forms', other)).found).toBe('read');
});

it.each([
  ['corner', { accept: '“Sounds good”', refuse: '“Maybe later”', choose: null, switches: [] }],
  [
    'sheet',
    {
      accept: '“Fine by me”',
      refuse: '“Let me see”, all switches off, “Go with these”',
      choose: '“Let me see”, all switches off, “Go with these”',
      switches: ['Visits: measurement', 'Deals: advertising', 'Basics: null, locked'],
    },
  ],
  ['frame', { accept: '“Go ahead”', refuse: '“Rather not”', choose: null, switches: [] }],
  ['late', { accept: '“Alright then”', refuse: '“Leave me be”', choose: null, switches: [] }],
  [
    'rounds',
    {
      accept: 'only “Besuche zählen Ja Nein”, “Angebote unserer Partner Ja Nein” on, “Weiter so”',
      refuse: 'all switches off, “Weiter so”',
      choose: 'all switches off, “Weiter so”',
      switches: ['Besuche zählen Ja Nein: measurement', 'Angebote unserer Partner Ja Nein: advertising'],
    },
  ],
  [
    'slides',
    {
      accept: '“Volontiers”',
      refuse: '“Voir”, all switches off, “C’est bon”',
      choose: '“Voir”, all switches off, “C’est bon”',
      switches: ['Mesure: measurement', 'Offres: advertising'],
    },
  ],
  ['forms', { accept: '“Aye”', refuse: '“Nay”', choose: null, switches: [] }],
  ['none', 'none'],
])('reads the notice “%s” by what its controls do', async (host, expected) => {
  const found = await read(host);
  expect(told(found)).toEqual(expected);
});
