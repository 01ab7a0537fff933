import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { AREAS } from '../areas.ts';
import { GUIDE_PAGES, guideLink, linkInGuide } from './guide.ts';

const DOCS = join(import.meta.dirname, '../../../docs');
const files = (readdirSync(DOCS, { recursive: true }) as string[]).filter((f) => f.endsWith('.md'));

describe('the guide', () => {
  it('has every page of the documentation, each once', () => {
    expect(GUIDE_PAGES.map((p) => p.file).toSorted()).toEqual(files.toSorted());
    expect(new Set(GUIDE_PAGES.map((p) => p.id)).size).toBe(GUIDE_PAGES.length);
  });

  it('leads somewhere with every link of every page', () => {
    for (const page of GUIDE_PAGES) {
      const text = readFileSync(join(DOCS, page.file), 'utf8');
      for (const [, href = ''] of text.matchAll(/\]\(([^)\s]+)\)/g)) {
        if (href.endsWith('.md') && !href.endsWith('README.md'))
          expect(linkInGuide(page, href) ?? '', `${page.file}: ${href}`).toMatch(/^\/guide\//);
        else if (!/^https?:|^#/.test(href))
          expect(
            () => readFileSync(join(DOCS, page.file, '..', href)),
            `${page.file}: ${href}`,
          ).not.toThrow();
      }
    }
  });

  it('has a page for every area, and reads links as they are written', () => {
    for (const { area } of AREAS)
      if (!['desk', 'accounts'].includes(area)) expect(guideLink(area), area).toBe(`/guide/${area}`);
    expect(guideLink('no such')).toBe('/guide/start');
    const start = GUIDE_PAGES[0] as (typeof GUIDE_PAGES)[number];
    const table: [string, string | undefined][] = [
      ['websites.md', '/guide/websites'],
      ['../retention.md', '/guide/retention-items'],
      ['../interface.md#tokens', '/guide/interface#tokens'],
      ['https://x.example/', 'https://x.example/'],
      ['#here', '#here'],
      ['../client/yare.ts', undefined],
      ['../../README.md', undefined],
    ];
    for (const [href, to] of table) expect(linkInGuide(start, href), href).toBe(to);
  });
});
