import { describe, expect, it } from 'vitest';
import { Collector, joinSightings, type JarCookie } from './collector.ts';
import { readSitemapXml } from './crawl.ts';
import type { Seen } from './page-probe.ts';

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
const set = (name: string, domain: string): Seen => ({ what: 'cookie', name, domain, by: 'http', cause: [] });
const asked = (url: string, resource = 'image'): Seen => ({
  what: 'request',
  url,
  resource,
  cause: script('https://count.other.example/w.js'),
});
const collect = (pages: readonly (readonly [string, readonly Seen[], readonly JarCookie[]])[]) => {
  const collector = new Collector('before', 'www.shop.example');
  for (const [url, seen, jar] of pages) collector.addPage(url, seen, jar, NOW);
  return collector;
};

describe('the collector', () => {
  it('lists requests to others, and none to the site and its own subdomains', () => {
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

  it('takes a public suffix for no site of its own', () => {
    const collector = new Collector('before', 'one.co.uk');
    expect([
      collector.party('two.co.uk'),
      collector.party('www.one.co.uk'),
      collector.party('one.github.io'),
    ]).toEqual(['third', 'first', 'third']);
  });

  it('counts a cookie only where the browser kept it, on each page that set it, at its longest', () => {
    const seen = [set('uid', 'count.other.example'), set('refused', 'count.other.example')];
    const collector = collect([
      [PAGE, seen, [cookie()]],
      [`${PAGE}a`, seen, [cookie({ expires: NOW + 7200 })]],
      [PAGE, seen, [cookie()]],
    ]);
    expect(collector.sightings()).toMatchObject([
      {
        kind: 'cookie',
        name: 'uid',
        host: 'count.other.example',
        sighting: { pages: 2, lifetime: 7200, valueLength: 12, party: 'third' },
      },
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
      what: 'storage',
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
