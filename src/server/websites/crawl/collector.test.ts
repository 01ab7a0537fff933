import { describe, expect, it } from 'vitest';
import { Collector, joinSightings, type JarCookie } from './collector.ts';
import type { Seen } from './seen.ts';
import { readSitemapXml } from './site-map.ts';

const PAGE = 'https://www.shop.example/';
const NOW = 1_790_000_000;
const script = (url: string) => [
  { what: 'page' as const, url: PAGE },
  { what: 'script' as const, url },
];
const cookie = (over: Partial<JarCookie> = {}): JarCookie => ({
  name: 'uid',
  value: '9c1f2ab47de0',
  domain: '.count.other.example',
  expires: NOW + 3600,
  ...over,
});
const TRAITS = { httpOnly: false, secure: true, sameSite: 'none', partitioned: false } as const;
const set = (name: string, domain: string, over: Partial<Extract<Seen, { what: 'cookie' }>> = {}): Seen => ({
  what: 'cookie',
  name,
  domain,
  value: '9c1f2ab47de0',
  lifetime: 3600,
  traits: TRAITS,
  by: 'http',
  refused: '',
  top: false,
  cause: [],
  moment: 'load',
  ...over,
});
const asked = (url: string, resource = 'image'): Seen => ({
  what: 'request',
  url,
  resource,
  body: '',
  headers: {},
  by: 'script',
  refused: '',
  moment: 'load',
  cause: script('https://count.other.example/w.js'),
});
const collect = (pages: readonly (readonly [string, readonly Seen[], readonly JarCookie[]])[]) => {
  const collector = new Collector('before', 'www.shop.example');
  for (const [url, seen, jar] of pages) collector.addPage(url, seen, jar);
  return collector;
};

describe('the collector', () => {
  it('lists requests to others, and none to the site or for plain files of its own', () => {
    const collector = collect([
      [
        PAGE,
        [
          asked('https://count.other.example/hit.gif?u=1'),
          asked('https://img.shop.example/a.png'),
          asked('https://www.shop.example/b.png'),
        ],
        [],
      ],
    ]);
    expect(collector.sightings()).toMatchObject([
      {
        kind: 'request',
        name: '/hit.gif',
        host: 'count.other.example',
        sighting: { party: 'third', setBy: 'script', pages: 1 },
      },
    ]);
  });

  it.each([
    ['a call', asked('https://api.shop.example/list', 'fetch'), true],
    ['a frame', asked('https://pay.shop.example/in', 'document'), true],
    ['a beacon', asked('https://stats.shop.example/b', 'ping'), true],
    [
      'a picture that a script asks for with something to tell',
      asked('https://stats.shop.example/h.gif?u=1'),
      true,
    ],
    ['a picture', asked('https://img.shop.example/a.png'), false],
    ['a style sheet', asked('https://img.shop.example/a.css?v=3', 'stylesheet'), false],
    ['a script', asked('https://img.shop.example/a.js', 'script'), false],
    ['the site without www', asked('https://shop.example/list', 'fetch'), false],
  ])('tells of %s of another host of the site’s own: %#', (_what, request, told) => {
    const found = collect([[PAGE, [request], []]]).sightings();
    expect(found.map((s) => s.sighting.party)).toEqual(told ? ['first'] : []);
  });

  it('tells of a plain file of the site’s own where it carries what is stored, or is a script that sets something', () => {
    const collector = collect([
      [
        PAGE,
        [
          set('uid', 'shop.example', { by: 'script', cause: script('https://stats.shop.example/s.js') }),
          asked('https://stats.shop.example/s.js', 'script'),
          asked('https://img.shop.example/other.js', 'script'),
          asked('https://img.shop.example/9c1f2ab47de0/a.png'),
        ],
        [],
      ],
    ]);
    const requests = collector.sightings().filter((s) => s.kind === 'request');
    expect(requests.map((s) => s.name).toSorted()).toEqual(['/9c1f2ab47de0/a.png', '/s.js']);
  });

  it('takes a public suffix for no site of its own', () => {
    const collector = new Collector('before', 'one.co.uk');
    expect([
      collector.party('two.co.uk'),
      collector.party('www.one.co.uk'),
      collector.party('one.github.io'),
    ]).toEqual(['third', 'first', 'third']);
  });

  it('counts a cookie on each page that set it, at its longest, and tells a refused one as an attempt', () => {
    const seen = [
      set('uid', 'count.other.example'),
      set('refused', 'count.other.example', { refused: 'no SameSite' }),
      set('doubt', 'www.shop.example', { by: 'script', refused: '?' }),
    ];
    const again = [
      set('uid', 'count.other.example', { lifetime: 7200, moment: 'scroll' }),
      set('doubt', 'www.shop.example', { by: 'script', refused: '?' }),
    ];
    const collector = collect([
      [PAGE, seen, []],
      [`${PAGE}a`, again, [cookie({ name: 'doubt', domain: 'www.shop.example' })]],
      [PAGE, seen, []],
    ]);
    const byName = Object.fromEntries(collector.sightings().map((s) => [s.name, s.sighting]));
    expect(byName['uid']).toMatchObject({
      pages: 2,
      lifetime: 7200,
      valueLength: 12,
      party: 'third',
      moment: 'load',
      refused: '',
      blockable: true,
      cookie: TRAITS,
    });
    expect(byName['refused']?.refused).toBe('no SameSite');
    // Kept once is kept, though the browser refused it at another time.
    expect(byName['doubt']?.refused).toBe('');
  });

  it('finds a stored number in what goes out, in links too, and names what carries it', () => {
    const collector = new Collector('before', 'www.shop.example');
    collector.addPage(
      PAGE,
      [
        asked('https://count.other.example/hit.gif?v=9c1f2ab47de0'),
        set('vid', 'www.shop.example', { traits: TRAITS }),
        {
          what: 'link',
          url: 'https://hotel.example/?id=9c1f2ab47de0&x=1',
          before: 'https://hotel.example/?x=1',
          moment: 'load',
          cause: script('https://ads.example/l.js'),
        },
      ],
      [],
      ['https://hotel.example/?id=9c1f2ab47de0', 'https://www.shop.example/?id=9c1f2ab47de0'],
    );
    const found = collector.sightings();
    expect(found.find((s) => s.kind === 'request')?.sighting.sends).toMatchObject([
      { name: 'vid', where: 'v' },
    ]);
    expect(found.filter((s) => s.kind === 'link decoration')).toMatchObject([
      {
        name: 'id',
        host: 'hotel.example',
        sighting: { setBy: 'script', cause: script('https://ads.example/l.js') },
      },
    ]);
  });

  it('takes a host of the site’s own that is another company by its address for that company', () => {
    const collector = collect([
      [
        PAGE,
        [
          asked('https://data.shop.example/d.js', 'script'),
          asked('https://img.shop.example/a.png'),
          set('d', 'data.shop.example'),
        ],
        [],
      ],
    ]);
    expect(collector.ownHosts).toEqual(expect.arrayContaining(['data.shop.example', 'img.shop.example']));
    collector.setAliases(
      new Map([
        ['data.shop.example', 'collect.other.example'],
        ['img.shop.example', 'cdn.shop.example'],
      ]),
    );
    expect(collector.sightings().map((s) => [s.name, s.sighting.party, s.sighting.alias])).toEqual([
      ['d', 'third', 'collect.other.example'],
      ['/d.js', 'third', 'collect.other.example'],
    ]);
  });

  it('gives one name to cookies that carry a number of their own', () => {
    const collector = collect([
      [
        PAGE,
        [set('s_12345', 'www.shop.example'), set('s_67890', 'www.shop.example')],
        [
          cookie({ name: 's_12345', domain: 'www.shop.example' }),
          cookie({ name: 's_67890', domain: 'www.shop.example' }),
        ],
      ],
    ]);
    expect(collector.sightings().map((s) => s.name)).toEqual(['s_*']);
  });

  it('tells of cookies that no page was seen to set, at the end', () => {
    const collector = collect([[PAGE, [], [cookie()]]]);
    expect(collector.size).toBe(0);
    collector.finish([cookie()], PAGE, NOW);
    expect(collector.sightings()).toMatchObject([{ name: 'uid', sighting: { cause: [] } }]);
  });

  it('counts stored things on every page that ran the script behind them', () => {
    const w = 'https://count.other.example/w.js';
    const stored: Seen = {
      what: 'stored',
      refused: '',
      moment: 'load',
      area: 'local storage',
      origin: 'https://www.shop.example',
      key: 'buf',
      value: '1',
      length: 1,
      cause: script(w),
    };
    const collector = collect([
      [PAGE, [asked(w, 'script'), stored], []],
      [`${PAGE}a`, [asked(w, 'script')], []],
    ]);
    const found = Object.fromEntries(collector.sightings().map((s) => [s.name, s.sighting.pages]));
    expect(found).toEqual({ '/w.js': 2, buf: 2 });
  });

  it('joins what several visitors saw into one tracker', () => {
    const seen = collect([[PAGE, [asked('https://count.other.example/hit.gif')], []]]).sightings();
    const joined = joinSightings([
      seen,
      seen.map((s) => ({ ...s, sighting: { ...s.sighting, visitor: 'accepted' as const } })),
    ]);
    expect(joined).toHaveLength(1);
    expect(joined[0]?.sightings.map((s) => s.visitor)).toEqual(['before', 'accepted']);
  });
});

describe('a sitemap', () => {
  it.each([
    [
      '<urlset><url><loc> https://a.example/1 </loc></url><url><loc>https://a.example/2?a=1&amp;b=2</loc></url></urlset>',
      ['https://a.example/1', 'https://a.example/2?a=1&b=2'],
      [],
    ],
    [
      '<sitemapindex><sitemap><loc>https://a.example/s1.xml</loc></sitemap></sitemapindex>',
      [],
      ['https://a.example/s1.xml'],
    ],
    ['<html><body>Not found</body></html>', [], []],
    ['', [], []],
    ['<urlset><url/></urlset>', [], []],
    [
      '<!DOCTYPE x [<!ENTITY a "b">]><urlset><url><loc>https://a.example/&a;</loc></url></urlset>',
      expect.any(Array),
      [],
    ],
  ])('%s', (text, pages, sitemaps) => {
    expect(readSitemapXml(text)).toEqual({ pages, sitemaps });
  });
});
