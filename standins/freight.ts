import type { PlacedTag, SitePage } from './site.ts';

const DAY = 86400;

/** Freight has a notice that its web team made itself: refusing takes a second step. */
export const FREIGHT_SCRIPT = `(function(){
  var port = location.port ? ':' + location.port : '';
  var kept = (document.cookie.match(/fr_consent=([a-z.]*)/) || [])[1];
  function load(src) { var s = document.createElement('script'); s.src = '//' + src.replace('/', port + '/'); document.head.appendChild(s) }
  function run(allowed) {
    if (allowed.includes('preferences')) { document.cookie = 'fr_lang=en; Max-Age=${365 * DAY}; Path=/'; if (/^.contact/.test(location.pathname)) load('help.talkdeck.localhost/late.js') }
    if (allowed.includes('measurement')) load('count.wavemeter.localhost/deep.js');
    if (allowed.includes('advertising') && /^.(rates|$)/.test(location.pathname)) { load('sync.adbuoy.localhost/a.js'); load('sync.adbuoy.localhost/links.js') }
  }
  document.cookie = 'rate_view=' + (Math.random() < .5 ? 'a' : 'b') + Math.random().toString(36).slice(2, 8) + '; Max-Age=${30 * DAY}; Path=/';
  if (kept !== undefined) return run(kept.split('.'));
  if (window.yare) return;
  var box = document.createElement('div');
  box.setAttribute('role', 'dialog');
  box.style.cssText = 'position:fixed;inset:auto 0 0 0;background:#fff;border-top:3px solid #0f3b57;padding:1rem';
  box.innerHTML = '<p>We use cookies to count visits, to remember your settings and to show advertising.</p>'
    + '<button class="all">Accept all</button> <button class="more">Cookie settings</button>'
    + '<div hidden><label><input type="checkbox" value="preferences"> Functional</label> <label><input type="checkbox" value="measurement" checked> Statistics</label> <label><input type="checkbox" value="advertising"> Marketing</label>'
    + ' <button class="none">Reject all</button> <button class="save">Save choices</button></div>';
  function choose(allowed) { document.cookie = 'fr_consent=' + allowed.join('.') + '; Max-Age=${180 * DAY}; Path=/'; box.remove(); run(allowed) }
  var $ = function (c) { return box.querySelector(c) };
  document.body.appendChild(box);
  $('.all').onclick = function () { choose(['preferences', 'measurement', 'advertising']) };
  $('.more').onclick = function () { $('div').hidden = false };
  $('.none').onclick = function () { choose([]) };
  $('.save').onclick = function () { choose(Array.from(box.querySelectorAll(':checked'), function (b) { return b.value })) };
})();`;

/** Keeps the timetables for drivers without a signal. */
export const FREIGHT_WORKER = `self.addEventListener('install', function () { self.skipWaiting() });
self.addEventListener('message', function () {});`;

const KEEP_OFFLINE = `<p><button type="button" id="keep">Keep these times offline</button></p>
<script>keep.onclick = function () {
  navigator.serviceWorker.register('/offline.js');
  caches.open('timetables');
  indexedDB.open('offline-times', 1);
}</script>`;

const PARTNER =
  '<p><a href="http://kaltenhagen-hotels.localhost:{port}/rooms">Rooms near the harbour</a></p>';

/** What stands on single pages besides their tags: a partner’s page on `path`, and what a visitor asks for. */
export function partnerOn(path: string): (page: SitePage) => string {
  return (page) =>
    (page.path.startsWith(path) ? PARTNER : '') + (page.path === '/terminals/halmsund' ? KEEP_OFFLINE : '');
}

/** An offer on some pages that leads through an advertiser, and back to `path` of the site itself. */
export function offerOf(host: string, path: string, on: PlacedTag['on']): PlacedTag {
  const back = encodeURIComponent(`http://${host}:{port}${path}`).replace('%7Bport%7D', '{port}');
  const src = `go.adbuoy.localhost/out?to=${back}`;
  return { id: 'offer', words: 'An offer', kind: 'link', src, direct: path, place: 'main', held: null, on };
}

const once = (id: string, words: string, kind: PlacedTag['kind'], src: string, path: string): PlacedTag => ({
  id,
  words,
  kind,
  src,
  place: 'main',
  held: null,
  on: (p) => p === path,
});

/** The tags of Freight, so that each kind of tracker is on some page. */
export const FREIGHT_TAGS: readonly PlacedTag[] = [
  offerOf('freight.brindlestrait.localhost', '/customs', (p) => p === '/rates'),
  once(
    'own-count',
    'Page counter of the rates',
    'script',
    'data.freight.brindlestrait.localhost/d.js',
    '/rates',
  ),
  // The page’s policy forbids this picture, which it asks for all the same.
  once('forbidden', 'Map of the depot', 'picture', 'sync.adbuoy.localhost/map.gif', '/customs'),
  once('guard', 'Paylock, fraud guard', 'script', 'pay.paylock.localhost/guard.js', '/trailer-check-in'),
  once('film', 'Film', 'frame', 'play.streamhull.localhost/film', '/dangerous-goods'),
  once('map', 'Map', 'frame', 'tiles.mapquay.localhost/map', '/terminals/halmsund'),
];

/** What the answer of a page says besides. */
export function freightHeaders(page: SitePage): Readonly<Record<string, string>> {
  return page.path === '/customs'
    ? { 'content-security-policy': "img-src 'self' data: http://count.wavemeter.localhost:*" }
    : {};
}
