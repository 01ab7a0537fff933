import { randomBytes } from 'node:crypto';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { send } from './server.ts';

type Answer = (request: IncomingMessage, response: ServerResponse, url: URL) => void;

const GIF = Buffer.from('R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7', 'base64');
const DAY = 86400;

/** The made-up companies whose scripts, pixels and frames the sites load; by host. */
export function thirdParties(host: string): Answer | undefined {
  return COMPANIES[host];
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
    if (url.pathname === '/hit.gif') {
      if (!url.searchParams.has('plain')) remember(request, response, 'wave_uid', 395 * DAY);
      return send(response, 'image/gif', GIF);
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
      return send(response, 'image/gif', GIF);
    }
    return send(response, 'text/plain', 'Not found', 404);
  },
  /** Talkdeck is a chat widget. */
  'help.talkdeck.localhost': (_request, response, url) => {
    if (url.pathname === '/chat.js')
      return send(
        response,
        'text/javascript',
        `(function(){var f=document.createElement('iframe');f.title='Chat';f.width=260;f.height=60;f.src='//${url.host}/panel';document.body.appendChild(f)})();`,
      );
    if (url.pathname === '/panel')
      return send(
        response,
        'text/html',
        `<!doctype html><title>Chat</title><p>May we help?</p><script>localStorage.setItem('chat_seen', Math.random().toString(36).slice(2) + Date.now().toString(36))</script>`,
      );
    return send(response, 'text/plain', 'Not found', 404);
  },
  /** Mapquay draws maps of the ports. */
  'tiles.mapquay.localhost': (_request, response, url) => {
    if (url.pathname === '/map')
      return send(
        response,
        'text/html',
        `<!doctype html><title>Map</title><script>document.cookie='mq_view=12; Max-Age=${30 * DAY}; SameSite=None; Secure; Path=/'</script><img src="/tile/7/54.png" alt="">`,
      );
    return send(response, 'image/gif', GIF);
  },
  /** Paylock takes payments. */
  'pay.paylock.localhost': (request, response, url) => {
    if (url.pathname === '/lock.js') {
      remember(request, response, 'pl_session', undefined);
      return send(response, 'text/javascript', `document.documentElement.dataset.paylock='ready';`);
    }
    return send(response, 'text/plain', `Not found: ${url.pathname}`, 404);
  },
  /** Streamhull plays films. */
  'play.streamhull.localhost': (request, response, url) => {
    if (url.pathname === '/film') {
      remember(request, response, 'sh_visitor', 365 * DAY);
      return send(
        response,
        'text/html',
        `<!doctype html><title>Film</title><p>▶ A day on board</p><script>sessionStorage.setItem('sh_quality','720')</script>`,
      );
    }
    return send(response, 'text/plain', `Not found: ${url.pathname}`, 404);
  },
};

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
