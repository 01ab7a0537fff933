/**
 * Carries the parameters that tell of a campaign along the visit, in the links of the site itself, so that nothing has to
 * be stored for it. `may` says whether they are still needed: whoever may store does so by itself.
 */
export function carryCampaign(
  window: Window & typeof globalThis,
  names: readonly string[],
  may: () => boolean,
): void {
  if (names.length === 0) return;
  const { document, location } = window;
  const carried = () => {
    const here = new URLSearchParams(location.search);
    return names.flatMap((n) => {
      const value = here.get(n);
      return value === null ? [] : [[n, value] as const];
    });
  };
  const carry = (event: Event) => {
    const target = event.target instanceof Element ? event.target : (event.target as Node).parentElement;
    const link = target?.closest('a[href]');
    if (!(link instanceof HTMLAnchorElement) || link.host !== location.host || may()) return;
    const url = new URL(link.href);
    if (url.protocol !== location.protocol || url.href.split('#')[0] === location.href.split('#')[0]) return;
    for (const [name, value] of carried())
      if (!url.searchParams.has(name)) url.searchParams.append(name, value);
    if (url.href !== link.href) link.href = url.href;
  };
  // Before the page's own listeners, for a press by hand, by keyboard, or into a new tab.
  for (const type of ['click', 'auxclick']) document.addEventListener(type, carry, true);
}
