import { describe, expect, it, vi } from 'vitest';
import { addBounces, BounceLinks } from './bounce.ts';
import { Collector } from './collector.ts';
import type { PageProbe } from './page/page-probe.ts';

describe('links that seem to lead through another site', () => {
  it('are kept once for each address without its query, twenty at most', () => {
    const links = new BounceLinks();
    for (let i = 0; i < 40; i++) {
      links.remember(`https://go.adbuoy.example/c${i}?to=1`, `https://line.example/${i}`);
      links.remember(`https://go.adbuoy.example/c${i}?to=2`, 'https://line.example/other');
    }
    const kept = [...links];
    expect(kept).toHaveLength(20);
    expect(kept[3]).toEqual({
      link: 'https://go.adbuoy.example/c3?to=1',
      from: 'https://line.example/3',
    });
  });

  it('count where a page of the site came after them, and not where the way ended elsewhere', () => {
    const added = vi.fn();
    const on = (...urls: string[]) =>
      addBounces(
        { path: urls.map((url) => ({ url, cause: [] })), add: added } as unknown as PageProbe,
        'line.example',
        new Collector('before', 'line.example'),
      );
    on(
      'https://go.adbuoy.example/c',
      'about:blank',
      'https://line.example/fares',
      'https://paylock.example/',
    );
    expect(added).toHaveBeenCalledTimes(1);
    expect(added).toHaveBeenCalledWith(
      expect.objectContaining({ what: 'bounce', url: 'https://go.adbuoy.example/c' }),
    );
    added.mockClear();
    on('https://line.example/', 'https://paylock.example/');
    expect(added).not.toHaveBeenCalled();
  });
});
