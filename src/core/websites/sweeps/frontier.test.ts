import { describe, expect, it, test } from 'vitest';
import { Frontier, pageAddress } from './frontier.ts';
import { WHOLE_SITE } from './scope.ts';

const base = 'https://a.example/dir/page';

test.each([
  ['next', 'https://a.example/dir/next'],
  ['/x#part', 'https://a.example/x'],
  ['?b=2&a=1', 'https://a.example/dir/page?a=1&b=2'],
  ['https://b.example/', undefined],
  ['//a.example:8080/', undefined],
  ['mailto:a@a.example', undefined],
  ['javascript:void(0)', undefined],
  ['/terms.pdf', undefined],
  ['/account/log-out', undefined],
  ['/logouts-explained', 'https://a.example/logouts-explained'],
  ['https://user:pw@a.example/', undefined],
  ['http://[', undefined],
  [`/${'x'.repeat(3000)}`, undefined],
])('%s leads to %s', (href, page) => {
  expect(pageAddress(href, base, 'a.example')).toBe(page);
});

describe('the frontier', () => {
  it('hands out every page once, nearest first', () => {
    const frontier = new Frontier('a.example', { ...WHOLE_SITE, maxPages: 10, maxDepth: 5 });
    frontier.add('/', base, 0);
    frontier.add('/deep', base, 2);
    expect(frontier.add('/#again', base, 1)).toBe(false);
    expect([frontier.next()?.url, frontier.next()?.url, frontier.next()]).toEqual([
      'https://a.example/',
      'https://a.example/deep',
      undefined,
    ]);
  });

  it('ends on a site whose links never do, and says it was cut', () => {
    const frontier = new Frontier('a.example', { ...WHOLE_SITE, maxPages: 25, maxDepth: 1000 });
    frontier.add('/1', base, 0);
    for (let page = frontier.next(), n = 1; page; page = frontier.next())
      frontier.add(`/${++n}`, page.url, page.depth + 1);
    expect(frontier.known).toBe(25);
    expect(frontier.cut).toBe(true);
  });

  it('goes no deeper than it may', () => {
    const frontier = new Frontier('a.example', { ...WHOLE_SITE, maxPages: 9, maxDepth: 1 });
    expect([frontier.add('/a', base, 1), frontier.add('/b', base, 2)]).toEqual([true, false]);
    expect(frontier.cut).toBe(true);
  });

  it('keeps to the patterns, to robots.txt, and to a sample of each shape, and counts what it left out', () => {
    const frontier = new Frontier(
      'a.example',
      { ...WHOLE_SITE, include: ['/shop/*'], exclude: ['*/print'], perShape: 3 },
      (url) => !url.includes('/private'),
    );
    frontier.addStart('/', base);
    for (let n = 1; n <= 10; n++) frontier.add(`/shop/item-${n}`, base, 1);
    for (const path of ['/news/1', '/shop/item-1/print', '/shop/private']) frontier.add(path, base, 1);
    const taken = [];
    for (let page = frontier.next(); page; page = frontier.next()) taken.push(new URL(page.url).pathname);
    expect(taken).toEqual(['/', '/shop/item-1', '/shop/item-2', '/shop/item-3']);
    expect(frontier.sampled).toEqual([{ shape: '/shop/*', kept: 3, left: 7 }]);
    expect([frontier.disallowed, frontier.cut]).toEqual([1, false]);
  });

  it('takes up again what a browser could not finish', () => {
    const frontier = new Frontier('a.example', WHOLE_SITE);
    frontier.addStart('/', base);
    const page = frontier.next();
    expect(frontier.next()).toBeUndefined();
    frontier.again(page!);
    expect(frontier.next()).toEqual(page);
  });
});
