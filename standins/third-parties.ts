import { randomBytes } from 'node:crypto';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { READS_DEVICE } from './device-reads.ts';
import { send } from './answer.ts';

type Answer = (request: IncomingMessage, response: ServerResponse, url: URL) => void;

const GIF = Buffer.from('R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7', 'base64');
const DAY = 86400;

/** The made-up companies whose scripts, pixels and frames the sites load; by host. */
export function thirdParties(host: string): Answer | undefined {
  return COMPANIES[host] ?? (host.startsWith('data.') ? COMPANIES['cname.wavemeter.localhost'] : undefined);
}

/** Names of the sites' own that lead to another company, as a name server tells them. */
export function canonicalName(host: string): string | undefined {
  return /^data\.(?:[a-z]+\.)?brindlestrait\.localhost$/.test(host) ? 'cname.wavemeter.localhost' : undefined;
}

const COMPANIES: Readonly<Record<string, Answer>> = {
  /** Wavemeter counts visits. Without permission it still sends its hit, only without its cookie. */
  'count.wavemeter.localhost': (request, response, url) => {
    if (url.pathname === '/w.js')
      return send(
        response,
        'text/javascript',
        `(function(){
  var refused = /yare_choice=[^;]*/.test(document.cookie) && !/measurement/.test(decodeURIComponent(document.cookie));
  localStorage.setItem('wave_buf', JSON.stringify({ n: 1 + (+(JSON.parse(localStorage.getItem('wave_buf') || '{}').n) || 0) }));
  new Image().src = '//${url.host}/hit.gif?p=' + encodeURIComponent(location.pathname) + (refused ? '&plain=1' : '');
})();`,
      );
    if (url.pathname === '/deep.js')
      return send(
        response,
        'text/javascript',
        `(function(){
  var known = (document.cookie.match(/wave_vid=([0-9a-f]+)/) || [])[1];
  var vid = known || Array.from(crypto.getRandomValues(new Uint8Array(9)), function (b) { return (b + 256).toString(16).slice(1) }).join('');
  document.cookie = 'wave_vid=' + vid + '; Max-Age=${395 * DAY}; Path=/; SameSite=Lax';
  localStorage.wave_page = location.pathname;
  setTimeout(function () { fetch('//${url.host}/alive', { method: 'POST', mode: 'no-cors', body: JSON.stringify({ v: vid }) }) }, 15000);
  addEventListener('pagehide', function () { navigator.sendBeacon('//${url.host}/left?p=' + encodeURIComponent(location.pathname)) });
})();`,
      );
    if (url.pathname === '/hit.gif') {
      if (!url.searchParams.has('plain')) remember(request, response, 'wave_uid', 395 * DAY);
      return send(response, 'image/gif', GIF);
    }
    if (url.pathname === '/alive' || url.pathname === '/left') return send(response, 'text/plain', '', 204);
    return send(response, 'text/plain', 'Not found', 404);
  },
  /** Wavemeter again, behind a name of the site’s own. */
  'cname.wavemeter.localhost': (request, response, url) => {
    if (url.pathname === '/d.js') {
      remember(request, response, 'd_visit', 365 * DAY);
      return send(response, 'text/javascript', '/* counts */');
    }
    return send(response, 'text/plain', 'Not found', 404);
  },
  /** Adbuoy shows advertising: a script opens a frame, which asks another script to match its number. */
  'sync.adbuoy.localhost': (request, response, url) => {
    if (url.pathname === '/a.js')
      return send(
        response,
        'text/javascript',
        `(function(){var f=document.createElement('iframe');f.title='Advertisement';f.width=300;f.height=80;f.src='//${url.host}/slot';document.body.appendChild(f)})();`,
      );
    if (url.pathname === '/slot')
      return send(
        response,
        'text/html',
        `<!doctype html><title>Advertisement</title><p>Sail in spring</p><script src="/m.js"></script>`,
      );
    if (url.pathname === '/m.js')
      return send(response, 'text/javascript', `new Image().src='/sync?to=partner';`);
    if (url.pathname === '/sync') {
      remember(request, response, 'adbuoy_id', 390 * DAY);
      return redirect(response, `//match.streamhull.localhost:${url.port}/m.gif`);
    }
    if (url.pathname === '/links.js')
      return send(
        response,
        'text/javascript',
        `(function(){
  var click = localStorage.getItem('ab_click') || crypto.randomUUID();
  localStorage.setItem('ab_click', click);
  indexedDB.open('adbuoy_segments', 1);
  for (const a of document.querySelectorAll('a[href*="hotels.localhost"]')) { var u = new URL(a.href); u.searchParams.set('ab_click', click); a.href = u.href }
  addEventListener('scroll', function () { new Image().src = '//${url.host}/seen.gif' }, { once: true });
})();`,
      );
    if (url.pathname === '/seen.gif' || url.pathname === '/map.gif') return send(response, 'image/gif', GIF);
    return send(response, 'text/plain', 'Not found', 404);
  },
  /** Adbuoy counts clicks on links by standing on the way. */
  'go.adbuoy.localhost': (request, response, url) => {
    remember(request, response, 'ab_hop', 30 * DAY);
    return redirect(response, url.searchParams.get('to') ?? '/');
  },
  'match.streamhull.localhost': (_request, response) => send(response, 'image/gif', GIF),
  /** Talkdeck is a chat widget. */
  'help.talkdeck.localhost': (_request, response, url) => {
    if (url.pathname === '/chat.js')
      return send(
        response,
        'text/javascript',
        `(function(){var f=document.createElement('iframe');f.title='Chat';f.width=260;f.height=60;f.src='//${url.host}/panel';document.body.appendChild(f)})();`,
      );
    if (url.pathname === '/late.js')
      return send(
        response,
        'text/javascript',
        `setTimeout(function(){var s=document.createElement('script');s.src='//${url.host}/chat.js';document.head.appendChild(s);new WebSocket('ws://${url.host}/live')},5000);`,
      );
    if (url.pathname === '/panel')
      return send(
        response,
        'text/html',
        `<!doctype html><title>Chat</title><p>May we help?</p><script>localStorage.setItem('chat_seen', Math.random().toString(36).slice(2) + Date.now().toString(36))</script><iframe src="/typing" title="typing"></iframe>`,
      );
    if (url.pathname === '/typing')
      return send(
        response,
        'text/html',
        `<!doctype html><title>…</title><script>sessionStorage.setItem('chat_draft','')</script>`,
      );
    return send(response, 'text/plain', 'Not found', 404);
  },
  /** Mapquay draws maps of the ports. */
  'tiles.mapquay.localhost': (_request, response, url) => {
    if (url.pathname === '/map') {
      response.setHeader(
        'set-cookie',
        `mq_part=${randomBytes(9).toString('hex')}; Max-Age=${30 * DAY}; Path=/; SameSite=None; Secure; Partitioned`,
      );
      return send(
        response,
        'text/html',
        `<!doctype html><title>Map</title><script>document.cookie='mq_view=12; Max-Age=${30 * DAY}; SameSite=None; Secure; Path=/';caches.open('mq-tiles')</script><img src="/tile/7/54.png" alt="">`,
      );
    }
    return send(response, 'image/gif', GIF);
  },
  /** Paylock takes payments, and looks closely at the device. */
  'pay.paylock.localhost': (request, response, url) => {
    if (url.pathname === '/lock.js') {
      remember(request, response, 'pl_session', undefined);
      return send(response, 'text/javascript', `document.documentElement.dataset.paylock='ready';`);
    }
    if (url.pathname === '/guard.js') return send(response, 'text/javascript', READS_DEVICE);
    return send(response, 'text/plain', `Not found: ${url.pathname}`, 404);
  },
  /** Streamhull plays films; one of its cookies is older than the browsers of today. */
  'play.streamhull.localhost': (request, response, url) => {
    if (url.pathname === '/film') {
      remember(request, response, 'sh_visitor', 365 * DAY);
      response.appendHeader(
        'set-cookie',
        `sh_old=${randomBytes(9).toString('hex')}; Max-Age=${365 * DAY}; Path=/`,
      );
      return send(
        response,
        'text/html',
        `<!doctype html><title>Film</title><p>▶ A day on board</p><script>sessionStorage.setItem('sh_quality','720')</script>`,
      );
    }
    return send(response, 'text/plain', `Not found: ${url.pathname}`, 404);
  },
  'kaltenhagen-hotels.localhost': (_request, response) =>
    send(
      response,
      'text/html',
      '<!doctype html><title>Hotels in Kaltenhagen</title><h1>Hotels in Kaltenhagen</h1>',
    ),
};

function redirect(response: ServerResponse, location: string): void {
  response.setHeader('location', location);
  send(response, 'text/plain', '', 302);
}

/** A number for this visitor, kept if they bring it back. */
function remember(
  request: IncomingMessage,
  response: ServerResponse,
  name: string,
  seconds: number | undefined,
): void {
  const known = new RegExp(`(?:^|; )${name}=([0-9a-f]{22})`).exec(request.headers.cookie ?? '')?.[1];
  const value = known ?? randomBytes(11).toString('hex');
  response.setHeader(
    'set-cookie',
    `${name}=${value}; Path=/; SameSite=None; Secure${seconds === undefined ? '' : `; Max-Age=${seconds}`}`,
  );
}
