import type { Moment, Sighting, TrackerKey } from '../src/core/websites/trackers/tracker.ts';
import type { Visitor } from '../src/core/websites/trackers/visitor.ts';

/** One tracker that stands on a stand-in site, as a sweep must tell it. */
export interface Planted extends TrackerKey {
  readonly seen: readonly Visitor[];
  /** Hosts and paths from the page to what did it, without scheme and port; `/` for the page itself. */
  readonly cause: readonly string[];
  readonly moment?: Moment;
  readonly party?: Sighting['party'];
  readonly attempt?: true;
  readonly alias?: string;
  /** A stored value that goes out with it. */
  readonly sends?: string;
  readonly lifetime?: number | null;
  readonly blockable?: boolean;
}

const DAY = 86400;
const ALWAYS: readonly Visitor[] = ['before', 'refused', 'accepted', 'chosen', 'gpc'];
const AFTER: readonly Visitor[] = ['refused', 'accepted', 'chosen'];
const MEASURED: readonly Visitor[] = ['accepted', 'chosen'];
const ALL: readonly Visitor[] = ['accepted'];

const SITE = 'freight.brindlestrait.localhost';
const OWN = `${SITE}/site.js`;
const WAVE = 'count.wavemeter.localhost';
const BUOY = 'sync.adbuoy.localhost';
const DECK = 'help.talkdeck.localhost';
const QUAY = 'tiles.mapquay.localhost';
const HULL = 'play.streamhull.localhost';
const LOCK = 'pay.paylock.localhost';

/** Everything on Freight, swept with a choice of Measurement; nothing else may be found there. */
export const FREIGHT_ANSWERS: readonly Planted[] = [
  {
    kind: 'cookie',
    name: 'fr_session',
    host: SITE,
    seen: ALWAYS,
    cause: [SITE],
    party: 'first',
    lifetime: null,
  },
  { kind: 'cookie', name: 'rate_view', host: SITE, seen: ALWAYS, cause: ['/', OWN], lifetime: 30 * DAY },
  { kind: 'cookie', name: 'fr_consent', host: SITE, seen: AFTER, cause: ['/', OWN], lifetime: 180 * DAY },
  { kind: 'cookie', name: 'fr_lang', host: SITE, seen: ALL, cause: ['/', OWN] },
  // Counted from the first page on, whatever the visitor says.
  { kind: 'request', name: '/w.js', host: WAVE, seen: ALWAYS, cause: ['/'], party: 'third' },
  { kind: 'request', name: '/hit.gif', host: WAVE, seen: ALWAYS, cause: ['/', `${WAVE}/w.js`] },
  {
    kind: 'cookie',
    name: 'wave_uid',
    host: WAVE,
    seen: ALWAYS,
    cause: ['/', `${WAVE}/w.js`, `${WAVE}/hit.gif`],
    party: 'third',
    lifetime: 395 * DAY,
    blockable: true,
  },
  { kind: 'local storage', name: 'wave_buf', host: SITE, seen: ALWAYS, cause: ['/', `${WAVE}/w.js`] },
  // Under a name of the site's own.
  {
    kind: 'request',
    name: '/d.js',
    host: `data.${SITE}`,
    seen: ALWAYS,
    cause: ['/'],
    party: 'third',
    alias: 'cname.wavemeter.localhost',
  },
  {
    kind: 'cookie',
    name: 'd_visit',
    host: `data.${SITE}`,
    seen: ALWAYS,
    cause: ['/', `data.${SITE}/d.js`],
    party: 'third',
    alias: 'cname.wavemeter.localhost',
  },
  // Measurement, once allowed.
  { kind: 'request', name: '/deep.js', host: WAVE, seen: MEASURED, cause: ['/', OWN] },
  { kind: 'cookie', name: 'wave_vid', host: SITE, seen: MEASURED, cause: ['/', OWN, `${WAVE}/deep.js`] },
  {
    kind: 'local storage',
    name: 'wave_page',
    host: SITE,
    seen: MEASURED,
    cause: ['/', OWN, `${WAVE}/deep.js`],
  },
  {
    kind: 'request',
    name: '/alive',
    host: WAVE,
    seen: MEASURED,
    cause: ['/', OWN, `${WAVE}/deep.js`],
    sends: 'wave_vid',
  },
  {
    kind: 'request',
    name: '/left',
    host: WAVE,
    seen: MEASURED,
    cause: ['/', OWN, `${WAVE}/deep.js`],
    moment: 'leave',
  },
  // Advertising, once allowed: frames, scripts and a redirect.
  { kind: 'request', name: '/a.js', host: BUOY, seen: ALL, cause: ['/', OWN] },
  { kind: 'request', name: '/slot', host: BUOY, seen: ALL, cause: ['/', OWN, `${BUOY}/a.js`] },
  {
    kind: 'request',
    name: '/m.js',
    host: BUOY,
    seen: ALL,
    cause: ['/', OWN, `${BUOY}/a.js`, `${BUOY}/slot`],
  },
  {
    kind: 'request',
    name: '/sync',
    host: BUOY,
    seen: ALL,
    cause: ['/', OWN, `${BUOY}/a.js`, `${BUOY}/slot`, `${BUOY}/m.js`],
  },
  {
    kind: 'cookie',
    name: 'adbuoy_id',
    host: BUOY,
    seen: ALL,
    cause: ['/', OWN, `${BUOY}/a.js`, `${BUOY}/slot`, `${BUOY}/m.js`, `${BUOY}/sync`],
  },
  {
    kind: 'request',
    name: '/m.gif',
    host: 'match.streamhull.localhost',
    seen: ALL,
    cause: ['/', OWN, `${BUOY}/a.js`, `${BUOY}/slot`, `${BUOY}/m.js`, `${BUOY}/sync`],
  },
  { kind: 'request', name: '/links.js', host: BUOY, seen: ALL, cause: ['/', OWN] },
  { kind: 'local storage', name: 'ab_click', host: SITE, seen: ALL, cause: ['/', OWN, `${BUOY}/links.js`] },
  {
    kind: 'IndexedDB',
    name: 'adbuoy_segments',
    host: SITE,
    seen: ALL,
    cause: ['/', OWN, `${BUOY}/links.js`],
  },
  {
    kind: 'link decoration',
    name: 'ab_click',
    host: 'kaltenhagen-hotels.localhost',
    seen: ALL,
    cause: ['/', OWN, `${BUOY}/links.js`],
    sends: 'ab_click',
  },
  {
    kind: 'request',
    name: '/seen.gif',
    host: BUOY,
    seen: ALL,
    cause: ['/', OWN, `${BUOY}/links.js`],
    moment: 'scroll',
  },
  // On the way of a link.
  { kind: 'bounce', name: '/out', host: 'go.adbuoy.localhost', seen: ALWAYS, cause: ['/'], moment: 'click' },
  {
    kind: 'cookie',
    name: 'ab_hop',
    host: 'go.adbuoy.localhost',
    seen: ALWAYS,
    cause: ['/', 'go.adbuoy.localhost/out'],
    moment: 'click',
    blockable: false,
  },
  // Forbidden by the page's own policy, and asked for all the same.
  { kind: 'request', name: '/map.gif', host: BUOY, seen: ALWAYS, cause: ['/'], attempt: true },
  // Chat, five seconds late, in a frame within a frame.
  { kind: 'request', name: '/late.js', host: DECK, seen: ALL, cause: ['/', OWN] },
  {
    kind: 'request',
    name: '/chat.js',
    host: DECK,
    seen: ALL,
    cause: ['/', OWN, `${DECK}/late.js`],
    moment: 'wait',
  },
  {
    kind: 'request',
    name: '/live',
    host: DECK,
    seen: ALL,
    cause: ['/', OWN, `${DECK}/late.js`],
    moment: 'wait',
  },
  {
    kind: 'request',
    name: '/panel',
    host: DECK,
    seen: ALL,
    cause: ['/', OWN, `${DECK}/late.js`, `${DECK}/chat.js`],
  },
  {
    kind: 'local storage',
    name: 'chat_seen',
    host: DECK,
    seen: ALL,
    cause: ['/', OWN, `${DECK}/late.js`, `${DECK}/chat.js`, `${DECK}/panel`],
    party: 'third',
  },
  {
    kind: 'request',
    name: '/typing',
    host: DECK,
    seen: ALL,
    cause: ['/', OWN, `${DECK}/late.js`, `${DECK}/chat.js`, `${DECK}/panel`],
  },
  {
    kind: 'session storage',
    name: 'chat_draft',
    host: DECK,
    seen: ALL,
    cause: ['/', OWN, `${DECK}/late.js`, `${DECK}/chat.js`, `${DECK}/panel`, `${DECK}/typing`],
  },
  // A map and a film that nobody holds back.
  { kind: 'request', name: '/map', host: QUAY, seen: ALWAYS, cause: ['/'] },
  { kind: 'request', name: '/tile/7/54.png', host: QUAY, seen: ALWAYS, cause: ['/', `${QUAY}/map`] },
  { kind: 'cookie', name: 'mq_view', host: QUAY, seen: ALWAYS, cause: ['/', `${QUAY}/map`], blockable: true },
  {
    kind: 'cookie',
    name: 'mq_part',
    host: QUAY,
    seen: ALWAYS,
    cause: ['/', `${QUAY}/map`],
    blockable: false,
  },
  {
    kind: 'cache storage',
    name: 'mq-tiles',
    host: QUAY,
    seen: ALWAYS,
    cause: ['/', `${QUAY}/map`],
    party: 'third',
  },
  { kind: 'request', name: '/film', host: HULL, seen: ALWAYS, cause: ['/'] },
  { kind: 'cookie', name: 'sh_visitor', host: HULL, seen: ALWAYS, cause: ['/', `${HULL}/film`] },
  { kind: 'cookie', name: 'sh_old', host: HULL, seen: ALWAYS, cause: ['/', `${HULL}/film`], attempt: true },
  { kind: 'session storage', name: 'sh_quality', host: HULL, seen: ALWAYS, cause: ['/', `${HULL}/film`] },
  // Kept by the site itself, once a button is pressed.
  { kind: 'service worker', name: '/offline.js', host: SITE, seen: ALWAYS, cause: ['/'], moment: 'click' },
  { kind: 'cache storage', name: 'timetables', host: SITE, seen: ALWAYS, cause: ['/'], moment: 'click' },
  { kind: 'IndexedDB', name: 'offline-times', host: SITE, seen: ALWAYS, cause: ['/'], moment: 'click' },
  // The device itself, read.
  { kind: 'request', name: '/guard.js', host: LOCK, seen: ALWAYS, cause: ['/'] },
  ...['canvas', 'WebGL', 'audio', 'fonts'].map((name): Planted => ({
    kind: 'fingerprint',
    name,
    host: LOCK,
    seen: ALWAYS,
    cause: ['/', `${LOCK}/guard.js`],
  })),
];
