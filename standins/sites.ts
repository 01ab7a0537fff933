import {
  FREIGHT_SCRIPT,
  FREIGHT_TAGS,
  FREIGHT_WORKER,
  freightHeaders,
  offerOf,
  partnerOn,
} from './freight.ts';
import type { PlacedTag, SitePage, StandinSite } from './site.ts';

const everywhere = () => true;
const tag = (
  id: string,
  words: string,
  src: string,
  held: string | null,
  on: PlacedTag['on'] = everywhere,
  kind: PlacedTag['kind'] = 'script',
  place: PlacedTag['place'] = 'end',
): PlacedTag => ({ id, words, src, held, on, kind, place });

const SHIPS = ['MS Hale', 'MS Brindle', 'MS Corrie', 'MS Sandvik Bay', 'MS Ottermere'];
const PORTS = ['Halmsund', 'Østervig', 'Kaltenhagen', 'Marrow Quay'];
const ROUTES = PORTS.flatMap((a) => PORTS.filter((b) => b !== a).map((b) => [a, b] as const));
const slug = (text: string) =>
  text
    .toLowerCase()
    .replaceAll('ø', 'o')
    .replace(/[^a-z0-9]+/g, '-');
const page = (path: string, title: string, text = `${title}, by Brindle Strait Ferries.`): SitePage => ({
  path,
  title,
  text,
});

const HELP = [
  'Check-in times',
  'Travelling with pets',
  'Assistance on board',
  'Lost property',
  'Changing a booking',
  'Group and school trips',
  'Bicycles',
  'Luggage',
  'Onboard Wi-Fi',
  'Delays and rights',
  'Saltmiles club',
  'Contact',
];

const WEEKDAYS = ['monday', 'tuesday', 'wednesday', 'thursday', 'friday', 'saturday', 'sunday'];
const NEWS = [
  'New ramp at Marrow Quay',
  'MS Corrie back from the yard',
  'More bicycles on the night sailing',
  'Quiet cabins on MS Hale',
  'Winter timetable is out',
  'Kaltenhagen terminal by tram',
  'Fewer plastic cups on board',
  'Østervig harbour festival',
  'School trips in spring',
  'Saltmiles turns ten',
  'Storm on Thursday: what to know',
  'A new menu by the strait',
];
const ON_BOARD = ['Cabins', 'Restaurants', 'Play room', 'Sun deck', 'Shop', 'Car deck', 'Wi-Fi on board'];
const OFFERS = ['Spring sail', 'Two cars, one price', 'Saltmiles double'];

const booking: readonly SitePage[] = [
  page('/', 'Brindle Strait Ferries', 'Five ships, four ports. Where to?'),
  page('/routes', 'All routes'),
  ...ROUTES.map(([a, b]) => page(`/routes/${slug(a)}-${slug(b)}`, `${a} to ${b}`)),
  ...ROUTES.flatMap(([a, b]) =>
    ['summer', 'winter'].map((season) =>
      page(`/timetable/${season}/${slug(a)}-${slug(b)}`, `Timetable ${season}: ${a} to ${b}`),
    ),
  ),
  page('/ships', 'Our ships'),
  ...SHIPS.flatMap((s) => [
    page(`/ships/${slug(s)}`, s),
    ...['Deck plan', 'Cabins', 'Menu'].map((part) =>
      page(`/ships/${slug(s)}/${slug(part)}`, `${s}: ${part.toLowerCase()}`),
    ),
  ]),
  page('/ports', 'Our ports'),
  ...PORTS.flatMap((p) => [
    page(`/ports/${slug(p)}`, `${p} terminal`),
    ...['Parking', 'Getting there'].map((part) =>
      page(`/ports/${slug(p)}/${slug(part)}`, `${p}: ${part.toLowerCase()}`),
    ),
  ]),
  page('/help', 'Help'),
  ...HELP.map((h) => page(`/help/${slug(h)}`, h)),
  ...ROUTES.flatMap(([a, b]) =>
    WEEKDAYS.map((day) => page(`/sailings/${slug(a)}-${slug(b)}/${day}`, `${a} to ${b}, ${day}s`)),
  ),
  page('/onboard', 'On board'),
  ...ON_BOARD.map((o) => page(`/onboard/${slug(o)}`, o)),
  page('/news', 'News'),
  ...NEWS.map((n) => page(`/news/${slug(n)}`, n)),
  page('/offers', 'Offers'),
  ...OFFERS.map((o) => page(`/offers/${slug(o)}`, o)),
  page('/book', 'Book a sailing'),
  page('/book/travellers', 'Who travels'),
  page('/book/pay', 'Pay'),
  page('/terms', 'Terms'),
  page('/privacy', 'Privacy'),
];

const crew: readonly SitePage[] = [
  page('/', 'Crew portal', 'Sign in to see your roster.'),
  ...['Roster', 'Payroll', 'Leave', 'Medical certificates', 'Safety drills', 'Handbook', 'News'].map((t) =>
    page(`/${slug(t)}`, t),
  ),
  ...SHIPS.map((s) => page(`/roster/${slug(s)}`, `Roster ${s}`)),
];

const cruises: readonly SitePage[] = [
  page('/', 'Brindle Strait Cruises', 'Slow weeks along four coasts.'),
  ...[
    'Northern lights week',
    'Skerries and fjords',
    'Old harbours',
    'Christmas markets',
    'Bird cliffs',
    'Lighthouse trail',
  ].flatMap((c) => [
    page(`/cruises/${slug(c)}`, c),
    page(`/cruises/${slug(c)}/prices`, `${c}: prices`),
    page(`/cruises/${slug(c)}/cabins`, `${c}: cabins`),
  ]),
  page('/film', 'A day on board'),
  page('/privacy', 'Privacy'),
];

const freight: readonly SitePage[] = [
  page('/', 'Brindle Strait Freight', 'Trailers, four ports, every night.'),
  ...['Rates', 'Dangerous goods', 'Customs', 'Trailer check-in', 'Contact'].map((t) =>
    page(`/${slug(t)}`, t),
  ),
  ...PORTS.map((p) => page(`/terminals/${slug(p)}`, `Freight terminal ${p}`)),
];

const experiment = `document.cookie='fare_ab='+(Math.random()<.5?'a':'b')+Math.random().toString(36).slice(2,8)+'; Max-Age=${30 * 86400}; Path=/';`;
const language = `function allowed(p){return (document.cookie.match(/yare_choice=([^;]*)/)||[])[1]?.includes(p)}
if(allowed('preferences'))document.cookie='bs_lang='+(navigator.language||'en').slice(0,2)+'; Max-Age=${365 * 86400}; Path=/';`;

export const SITES: readonly StandinSite[] = [
  {
    host: 'brindlestrait.localhost',
    name: 'Booking and sailings',
    sessionCookie: 'bs_session',
    installed: true,
    pages: booking,
    script: language + experiment,
    extras: partnerOn('/offers/'),
    tags: [
      offerOf('brindlestrait.localhost', '/offers', (p) => p.startsWith('/offers/')),
      tag(
        'wavemeter',
        'Wavemeter, counts visits',
        'count.wavemeter.localhost/w.js',
        null,
        (p) => p !== '/book/pay',
        'script',
        'head',
      ),
      tag(
        'adbuoy',
        'Adbuoy, advertising',
        'sync.adbuoy.localhost/a.js',
        'advertising',
        (p) => p === '/' || p.startsWith('/offers'),
      ),
      tag('talkdeck', 'Talkdeck, chat', 'help.talkdeck.localhost/chat.js', 'preferences', (p) =>
        p.startsWith('/help'),
      ),
      tag(
        'mapquay',
        'Mapquay, map of the port',
        'tiles.mapquay.localhost/map',
        'preferences',
        (p) => /^\/ports\/[^/]+$/.test(p),
        'frame',
      ),
      tag('paylock', 'Paylock, payment', 'pay.paylock.localhost/lock.js', null, (p) =>
        p.startsWith('/book/pay'),
      ),
      tag('paylock-guard', 'Paylock, fraud guard', 'pay.paylock.localhost/guard.js', null, (p) =>
        p.startsWith('/book/pay'),
      ),
      tag(
        'wavemeter-deep',
        'Wavemeter, paths through the site',
        'count.wavemeter.localhost/deep.js',
        'measurement',
        (p) => p.startsWith('/routes') || p.startsWith('/book'),
      ),
      tag('own-count', 'Page counter of the news', 'data.brindlestrait.localhost/d.js', null, (p) =>
        p.startsWith('/news/'),
      ),
      tag('adbuoy-links', 'Adbuoy, partner links', 'sync.adbuoy.localhost/links.js', 'advertising', (p) =>
        p.startsWith('/offers/'),
      ),
      tag(
        'streamhull',
        'Streamhull, films',
        'play.streamhull.localhost/film',
        'advertising',
        (p) => p.startsWith('/onboard/'),
        'frame',
      ),
    ],
  },
  {
    host: 'crew.brindlestrait.localhost',
    name: 'Staff portal',
    sessionCookie: 'crew_sid',
    installed: true,
    pages: crew,
    script: '',
    tags: [],
  },
  {
    host: 'cruises.brindlestrait.localhost',
    name: 'Cruises',
    sessionCookie: 'cr_session',
    installed: true,
    pages: cruises,
    script: language.replaceAll('bs_lang', 'cr_lang'),
    tags: [
      tag(
        'wavemeter',
        'Wavemeter, counts visits',
        'count.wavemeter.localhost/w.js',
        'measurement',
        everywhere,
        'script',
        'head',
      ),
      tag(
        'adbuoy',
        'Adbuoy, advertising',
        'sync.adbuoy.localhost/a.js',
        'advertising',
        (p) => p === '/' || p.endsWith('/prices'),
      ),
      tag(
        'streamhull',
        'Streamhull, films',
        'play.streamhull.localhost/film',
        'advertising',
        (p) => p === '/film',
        'frame',
      ),
    ],
  },
  {
    host: 'freight.brindlestrait.localhost',
    name: 'Freight',
    sessionCookie: 'fr_session',
    installed: false,
    pages: freight,
    script: FREIGHT_SCRIPT,
    worker: FREIGHT_WORKER,
    extras: partnerOn('/rates'),
    headers: freightHeaders,
    tags: [
      tag('wavemeter', 'Wavemeter, counts visits', 'count.wavemeter.localhost/w.js', null),
      ...FREIGHT_TAGS,
    ],
  },
];
