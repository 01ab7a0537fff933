import type { Page } from 'playwright-core';
import { NoticeMeasure } from '../../../core/websites/notice/notice-measure.ts';
import { within } from '../../processes/within.ts';

/** Our notice as the browser has rendered it; `undefined` where it is not there or does not answer. */
export async function measureNotice(page: Page): Promise<NoticeMeasure | undefined> {
  const measured = await within(3000, page.evaluate(measure), null as unknown);
  return NoticeMeasure.safeParse(measured).data;
}

/* v8 ignore start: runs in the page */
function measure(): unknown {
  const host = document.querySelector('yare-notice');
  const root = host?.shadowRoot;
  const section = root?.querySelector('section');
  if (!host || !root || !section) return null;
  const parse = (colour: string) => (colour.match(/[\d.]+/g) ?? []).map(Number);
  const luminance = ([r = 0, g = 0, b = 0]: number[]) =>
    [r, g, b]
      .map((v) => v / 255)
      .map((c) => (c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4))
      .reduce((sum, c, i) => sum + c * ([0.2126, 0.7152, 0.0722][i] ?? 0), 0);
  const ground = (e: Element | null): number[] => {
    for (let at = e; at; at = at.parentElement) {
      const colour = parse(getComputedStyle(at).backgroundColor);
      if (colour.length === 3 || (colour[3] ?? 0) > 0.99) return colour;
    }
    return [255, 255, 255];
  };
  const contrastOf = (e: Element) => {
    const [a, b] = [luminance(parse(getComputedStyle(e).color)), luminance(ground(e))];
    return (Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05);
  };
  const reachable = (e: Element) => {
    const r = e.getBoundingClientRect();
    const inside = r.left >= 0 && r.top >= 0 && r.right <= innerWidth + 1 && r.bottom <= innerHeight + 1;
    const there = root.elementFromPoint(r.left + r.width / 2, r.top + r.height / 2);
    return inside && (there === e || e.contains(there));
  };
  const box = (choice: string) => {
    const e = root.querySelector(`button[data-choice="${choice}"]`);
    if (!e || e.closest('details:not([open])')) return null;
    const r = e.getBoundingClientRect();
    const style = getComputedStyle(e);
    return {
      ...{ width: r.width, height: r.height, contrast: contrastOf(e), reachable: reachable(e) },
      ...{ fontSize: parseFloat(style.fontSize), fontWeight: Number(style.fontWeight) },
    };
  };
  const r = section.getBoundingClientRect();
  const width = Math.max(0, Math.min(r.right, innerWidth) - Math.max(r.left, 0));
  const height = Math.max(0, Math.min(r.bottom, innerHeight) - Math.max(r.top, 0));
  const middle = document.elementFromPoint(innerWidth / 2, innerHeight / 2);
  // Of nine points over the window, those that the page itself has.
  const points = [0.1, 0.5, 0.9].flatMap((x) =>
    [0.1, 0.5, 0.9].map((y) => [x * innerWidth, y * innerHeight] as const),
  );
  const free = points.filter(([x, y]) => document.elementFromPoint(x, y) !== host).length;
  const scrolls = getComputedStyle(document.body).overflow !== 'hidden';
  const inBody = [...root.querySelectorAll('#body p,#body li,#body strong,#body em,#body a')];
  const texts = inBody.length > 0 ? inBody : [root.querySelector('#body') ?? section];
  const controls = [...root.querySelectorAll('button,summary,a')].filter(
    (c) => c.getBoundingClientRect().width > 0,
  );
  return {
    covers: (width * height) / (innerWidth * innerHeight),
    overMiddle: middle === host,
    pageUsable: free >= 2 && scrolls,
    ...{ refuse: box('refuse'), accept: box('accept') },
    acts: { refuse: box('refuse') ? 1 : 2, accept: box('accept') ? 1 : 2 },
    ticked: [...root.querySelectorAll<HTMLInputElement>('input:checked:not(:disabled)')].map((i) => i.value),
    textSize: Math.min(...texts.map((t) => parseFloat(getComputedStyle(t).fontSize))),
    textContrast: Math.min(...texts.map((t) => contrastOf(t))),
    small: controls
      // A link within a text may be as high as its line.
      .filter(
        (c) =>
          c.localName !== 'a' &&
          Math.min(c.getBoundingClientRect().width, c.getBoundingClientRect().height) < 24,
      )
      .map((c) => (c.textContent ?? '').trim().slice(0, 40)),
  };
}
/* v8 ignore stop */
