import { describe, expect, it, test } from 'vitest';
import { Frontier, pageAddress } from './frontier.ts';

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
    const frontier = new Frontier({ host: 'a.example', maxPages: 10, maxDepth: 5 });
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
    const frontier = new Frontier({ host: 'a.example', maxPages: 25, maxDepth: 1000 });
    frontier.add('/1', base, 0);
    for (let page = frontier.next(), n = 1; page; page = frontier.next())
      frontier.add(`/${++n}`, page.url, page.depth + 1);
    expect(frontier.taken).toBe(25);
    expect(frontier.cut).toBe(true);
  });

  it('goes no deeper than it may', () => {
    const frontier = new Frontier({ host: 'a.example', maxPages: 9, maxDepth: 1 });
    expect([frontier.add('/a', base, 1), frontier.add('/b', base, 2)]).toEqual([true, false]);
    expect(frontier.cut).toBe(true);
  });
});
