import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { fixPage, gateHoldOf, installInPage, tagTargetOf } from './fix.ts';
import { tracker } from './tracker.fixture.ts';
import type { Cause } from './tracker.ts';

const PAGE = 'https://a.example/';
const HTML = `<!doctype html>
<html><head><title>A &amp; B</title>
<script src="//w.example/w.js" async></script>
<script type=module src="/own.js"></script>
</head><body><!-- <script src="//w.example/w.js"> -->
<iframe src='https://m.example/map?x=1' title="Map"></iframe>
<script>
  track('<b>');
</script>
<img src=//w.example/p.gif></body></html>`;
const of = (host: string, name: string) => ({ tag: { host, name }, line: undefined });

describe('a page with its tag marked', () => {
  test.each([
    [
      'a script',
      of('w.example', '/w.js'),
      '<script type="text/plain" data-yare-purpose="measurement" src="//w.example/w.js" async="">',
    ],
    [
      'a module',
      of('a.example', '/own.js'),
      '<script type="text/plain" data-yare-purpose="measurement" data-yare-type="module" src="/own.js">',
    ],
    [
      'a frame',
      of('m.example', '/map'),
      '<iframe data-yare-purpose="measurement" data-yare-src="https://m.example/map?x=1" title="Map">',
    ],
    [
      'a picture',
      of('w.example', '/p.gif'),
      '<img data-yare-purpose="measurement" data-yare-src="//w.example/p.gif">',
    ],
    [
      'an inline script, by its line',
      { tag: undefined, line: 8 },
      '<script type="text/plain" data-yare-purpose="measurement">\n  track(',
    ],
    [
      'an inline script that loads a script',
      { tag: { host: 'x.example', name: '/x.js' }, line: 7 },
      '<script type="text/plain" data-yare-purpose="measurement">\n  track(',
    ],
  ])('%s', (_words, target, expected) => {
    const { html, changed } = fixPage(HTML, PAGE, { fix: 'mark', purpose: 'measurement', target });
    expect(changed).toBe(1);
    expect(html).toContain(expected);
    expect(html).toContain('<!-- <script src="//w.example/w.js"> -->');
    expect(html.replace(expected, '').length).toBeLessThan(HTML.length);
  });

  it('or taken out, and everything else as it was', () => {
    const { html } = fixPage(HTML, PAGE, { fix: 'remove', purpose: '', target: of('w.example', '/w.js') });
    expect(html).toBe(HTML.replace('<script src="//w.example/w.js" async></script>', ''));
  });

  it('or left alone where it holds no such tag, whatever it is', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 200 }), (html) => {
        const fixed = fixPage(html, PAGE, {
          fix: 'mark',
          purpose: 'x',
          target: of('nowhere.example', '/n.js'),
        });
        expect(fixed).toEqual({ html, changed: 0 });
      }),
    );
  });

  it('gets the notice’s line first in its head, once', () => {
    const snippet = '<script src="https://v.example/k.js"></script>';
    const once = installInPage(HTML, snippet, 'https://v.example/k.js');
    expect(once).toContain(`<head>${snippet}<title>`);
    expect(installInPage(once, snippet, 'https://v.example/k.js')).toBe(once);
    expect(installInPage('<p>no head', snippet, 'https://v.example/k.js')).toBe(`${snippet}<p>no head`);
  });
});

describe('what to hold, and which tag to mark', () => {
  const cause: Cause[] = [
    { what: 'page', url: PAGE, line: 3 },
    { what: 'script', url: 'https://w.example/w.js?v=2', line: 9 },
    { what: 'response', url: 'https://w.example/hit.gif' },
  ];
  it('is the first thing on the way that comes from elsewhere', () => {
    const cookie = tracker({ name: 'uid', host: 'w.example' }, { cause, setBy: 'http' });
    expect(gateHoldOf(cookie, 'measurement')).toEqual({
      kind: 'request',
      host: 'w.example',
      name: '/w.js',
      purpose: 'measurement',
    });
    expect(tagTargetOf(cookie)).toEqual({ tag: { host: 'w.example', name: '/w.js' }, line: 3 });
  });

  test.each([
    [
      'a cookie of the page’s own script',
      tracker({ name: 'ab' }, { cause: cause.slice(0, 1), setBy: 'script' }),
      'cookie',
    ],
    [
      'a cookie of its server',
      tracker({ name: 'ab' }, { cause: [{ what: 'response', url: PAGE }], setBy: 'http' }),
      undefined,
    ],
    [
      'a key of its own',
      tracker({ kind: 'local storage', name: 'k' }, { cause: cause.slice(0, 1) }),
      'storage',
    ],
    [
      'a pixel in the page',
      tracker({ kind: 'request', name: '/p.gif', host: 'w.example' }, { cause: cause.slice(0, 1) }),
      'request',
    ],
    [
      'a database of its own',
      tracker({ kind: 'IndexedDB', name: 'd' }, { cause: cause.slice(0, 1) }),
      'database',
    ],
    [
      'a cache of its own',
      tracker({ kind: 'cache storage', name: 'c' }, { cause: cause.slice(0, 1) }),
      'cache',
    ],
    [
      'a worker of its own',
      tracker({ kind: 'service worker', name: '/w.js' }, { cause: cause.slice(0, 1) }),
      'worker',
    ],
    [
      'a reading of the device',
      tracker({ kind: 'fingerprint', name: 'canvas' }, { cause: cause.slice(0, 1) }),
      undefined,
    ],
  ])('%s: %s', (_words, given, kind) => {
    expect(gateHoldOf(given, 'x')?.kind).toBe(kind);
  });
});
