import { describe, expect, it } from 'vitest';
import { GUIDE_PAGES } from '../../core/desk/guide.ts';
import { guideHtml } from './guide-html.ts';

const [start] = GUIDE_PAGES as [(typeof GUIDE_PAGES)[number]];

describe('a page of the guide', () => {
  it('leads to pages of the guide, and shows words alone where it has no page', async () => {
    const html = await guideHtml(start, '[a](websites.md) [b](../client/yare.ts) [c](https://x.example/)');
    expect(html).toBe('<p><a href="/guide/websites">a</a> b <a href="https://x.example/">c</a></p>\n');
  });
  it('calls a page by its name where the text has the name of its file', async () => {
    const html = await guideHtml(start, '[docs/today.md](../today.md) [docs/x.md](../x.md)');
    expect(html).toBe('<p><a href="/guide/today">Today</a> docs/x.md</p>\n');
  });
  it('has headings to lead to, and no HTML of its own', async () => {
    expect(await guideHtml(start, '## What `it` does')).toBe(
      '<h2 id="what-it-does">What <code>it</code> does</h2>\n',
    );
    expect(await guideHtml(start, 'a <script>x</script> b')).not.toContain('<script');
    expect(await guideHtml(start, '![alt words](x.png)')).toBe('<p>alt words</p>\n');
  });
});
