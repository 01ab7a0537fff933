import { z } from 'zod';

const Words = z.string().max(120);

const FoundControl = z.object({
  /** Its place among the elements kept for pressing. */
  index: z.int().nonnegative(),
  words: Words,
  /** How many before it in the box say the same. */
  nth: z.int().nonnegative(),
  /** Share of the window. */
  size: z.number().min(0).max(1),
});
export type FoundControl = z.infer<typeof FoundControl>;

const FoundSwitch = z.object({
  /** Unlike every other switch's of the box. */
  words: Words,
  about: z.string().max(300),
  on: z.boolean(),
  locked: z.boolean(),
  /** What to press to have it on, and off. */
  turnsOn: z.int().nonnegative(),
  turnsOff: z.int().nonnegative(),
});
export type FoundSwitch = z.infer<typeof FoundSwitch>;

/** Something on a page that may be its notice. */
export const FoundBox = z.object({
  words: z.string().max(500),
  over: z.boolean(),
  /** Speaks of consent, in words. */
  asks: z.boolean(),
  /** How much it is like a notice; above 0 it may be one. */
  score: z.number(),
  /** The same for the same element at every look. */
  element: z.string().max(60),
  controls: z.array(FoundControl).max(20),
  switches: z.array(FoundSwitch).max(24),
});
export type FoundBox = z.infer<typeof FoundBox>;

/** Under which name the elements that can be pressed are kept. */
export const KEPT = 'yareBoxControls';

export interface Looking {
  /** Words of controls that do something for good, as a pattern. */
  readonly leaveAlone: string;
  /** Words that a notice is known by, as a pattern. */
  readonly asking: string;
  /** The page is a frame in another. */
  readonly framed: boolean;
}

export const ASKING =
  'cookie|consent|samtyk|samtyck|einwillig|kakor|informasjonskaps|eväste|zustimm|toestemming|ciasteczk|consentement|consentimiento|consenso|privacy|datenschutz|privatliv|integritet|personvern|tietosuoj|confidentialité|privacidad|prywatno|tracking|sporing|your data|dine data|deine daten|ihre daten';

/**
 * Runs in the page: boxes that may be a notice, likeliest first: over the page or at its edge, with a few controls. Where
 * closed shadow trees are, they have been put into `yareClosed` of its world.
 */
export function findBoxes({ leaveAlone, asking, framed }: Looking): FoundBox[] {
  const [MOST_ELEMENTS, MOST_BOXES, MOST_CONTROLS, MOST_SWITCHES, MOST_TEXT] = [12_000, 6, 16, 24, 9000];
  /** Parts that lie over the page, or controls, of which what is around them is looked at. */
  const MOST_EXAMINED = 150;
  const keep = globalThis as unknown as {
    yareClosed?: ShadowRoot[];
    yareBoxControls?: Element[];
    yareNumbers?: WeakMap<Element, string>;
  };
  const kept: Element[] = [];
  const numbers = (keep.yareNumbers ??= new WeakMap());
  keep.yareBoxControls = kept;
  const asks = new RegExp(asking, 'i');
  const forGood = new RegExp(leaveAlone, 'i');
  const screen = Math.max(1, innerWidth * innerHeight);
  const rootOf = (e: Element) => e.shadowRoot ?? (keep.yareClosed ?? []).find((r) => r.host === e) ?? null;
  const childrenOf = (e: Element): Element[] => {
    const root = rootOf(e);
    if (root) return [...root.children];
    const slotted = e.localName === 'slot' ? (e as HTMLSlotElement).assignedElements() : [];
    return slotted.length > 0 ? slotted : Array.from(e.children);
  };
  const parentOf = (e: Element): Element | null => {
    if (e.assignedSlot) return e.assignedSlot;
    const root = e.getRootNode();
    return e.parentElement ?? (root instanceof ShadowRoot ? root.host : null);
  };
  /** All that can be seen, each before what is in it; `ends` where what is in it ends. */
  const all: Element[] = [];
  const places = new Map<Element, number>();
  const ends: number[] = [];
  const gather = (e: Element): void => {
    if (all.length >= MOST_ELEMENTS || /^(script|style|template|noscript|svg|canvas)$/.test(e.localName))
      return;
    const at = all.push(e) - 1;
    places.set(e, at);
    for (const child of childrenOf(e)) gather(child);
    ends[at] = all.length;
  };
  if (document.body) gather(document.body);
  const inside = (box: Element): Element[] => {
    const at = places.get(box);
    return at === undefined ? [] : all.slice(at + 1, ends[at]);
  };
  const isWithin = (e: Element, box: Element): boolean => {
    const [at, from] = [places.get(e), places.get(box)];
    return at !== undefined && from !== undefined && at >= from && at < (ends[from] ?? 0);
  };
  const isSeen = (e: Element): boolean => {
    const { width, height, right, left, bottom } = e.getBoundingClientRect();
    if (width < 1 || height < 1 || right <= 0 || left >= innerWidth || bottom <= 0) return false;
    return e.checkVisibility({ opacityProperty: true, visibilityProperty: true });
  };
  const squeeze = (text: string) => text.replace(/\s+/g, ' ').trim();
  /** What is written in it, through shadow trees. */
  const textOf = (box: Element, most: number): string => {
    let text = '';
    const read = (node: Node): void => {
      if (text.length >= most) return;
      if (node.nodeType === Node.TEXT_NODE) text += ` ${node.nodeValue ?? ''}`;
      else if (node instanceof Element) {
        if (/^(script|style|template|noscript)$/.test(node.localName)) return;
        const root = rootOf(node);
        for (const child of Array.from(root ? root.childNodes : node.childNodes)) read(child);
      }
    };
    read(box);
    return squeeze(text.slice(0, most * 2)).slice(0, most);
  };
  const wordsOf = (e: Element): string => {
    const value = /^(button|submit)$/.test((e as HTMLInputElement).type ?? '')
      ? (e as HTMLInputElement).value
      : '';
    const said = textOf(e, 400) || (e.localName === 'input' ? String(value) : '');
    return squeeze(said || e.getAttribute('aria-label') || e.getAttribute('title') || '').slice(0, 120);
  };
  const isSwitch = (e: Element): boolean =>
    /^(switch|checkbox)$/.test(e.getAttribute('role') ?? '') ||
    (e.localName === 'input' && (e as HTMLInputElement).type === 'checkbox') ||
    (e.localName === 'button' && e.hasAttribute('aria-pressed'));
  const isRadio = (e: Element) => e.localName === 'input' && (e as HTMLInputElement).type === 'radio';
  const isField = (e: Element): boolean =>
    /^(textarea|select)$/.test(e.localName) ||
    (e.localName === 'input' &&
      /^(text|email|password|search|tel|url|number)$/.test((e as HTMLInputElement).type));
  const leadsAway = (e: Element): boolean => {
    if (e.localName !== 'a') return false;
    const href = e.getAttribute('href');
    return href !== null && !/^(#|\?|javascript:)/i.test(href.trim());
  };
  const isControl = (e: Element): boolean => {
    if (isSwitch(e) || isRadio(e) || isField(e)) return false;
    if (
      /^(button|summary)$/.test(e.localName) ||
      /^(button|link|menuitem)$/.test(e.getAttribute('role') ?? '')
    )
      return true;
    if (e.localName === 'input') return /^(button|submit|image)$/.test((e as HTMLInputElement).type);
    if (e.localName === 'a' || e.hasAttribute('onclick') || e.getAttribute('tabindex') === '0') return true;
    if (e.localName === 'label' || e.closest('label')) return false;
    // Made a control by a script alone: the hand over it tells.
    const parent = parentOf(e);
    return (
      getComputedStyle(e).cursor === 'pointer' && (!parent || getComputedStyle(parent).cursor !== 'pointer')
    );
  };
  const controlsIn = (box: Element): Element[] => {
    const found = inside(box).filter((e) => isControl(e) && isSeen(e));
    // Of one in another, the inner one is pressed.
    return found.filter((e) => !found.some((o) => o !== e && isWithin(o, e)));
  };
  const layered = (e: Element): boolean => {
    const role = e.getAttribute('role') ?? '';
    if (/^(dialog|alertdialog)$/.test(role) || e.getAttribute('aria-modal') === 'true') return true;
    if (e.localName === 'dialog' && (e as HTMLDialogElement).open) return true;
    const style = getComputedStyle(e);
    if (style.position === 'fixed' || style.position === 'sticky') return true;
    return style.position === 'absolute' && Number(style.zIndex) > 0;
  };
  const candidates: { box: Element; over: boolean }[] = [];
  const fewEnough = (e: Element) => {
    const controls = controlsIn(e);
    return (
      controls.some((c) => !leadsAway(c)) &&
      controls.length <= MOST_CONTROLS &&
      textOf(e, MOST_TEXT).length < MOST_TEXT
    );
  };
  const taken = (e: Element) => candidates.some(({ box }) => isWithin(e, box) || isWithin(box, e));
  let examined = 0;
  for (const e of all) {
    if (candidates.length >= 12 || examined >= MOST_EXAMINED) break;
    // A box may itself be no larger than a point, and hold what lies over the page.
    if (e === document.body || !layered(e) || taken(e) || (!isSeen(e) && !rootOf(e))) continue;
    examined++;
    if (fewEnough(e)) candidates.push({ box: e, over: true });
  }
  if (framed && document.body && candidates.length === 0 && fewEnough(document.body))
    candidates.push({ box: document.body, over: true });
  // At the edge of the page: what asks in words and has controls of its own, or stands first or last on the page.
  const atEdge = (): Element[] => {
    let from = document.body as Element | null;
    for (let depth = 0; from && depth < 4; depth++) {
      const seen = childrenOf(from).filter((c) => isSeen(c) || c.getBoundingClientRect().top > innerHeight);
      if (seen.length !== 1) return seen.length > 0 ? [...seen.slice(0, 2), ...seen.slice(-2)] : [];
      from = seen[0] ?? null;
    }
    return [];
  };
  examined = 0;
  for (const e of all) {
    if (candidates.length >= 12 || examined >= MOST_EXAMINED) break;
    if (!isControl(e) || leadsAway(e) || !isSeen(e)) continue;
    examined++;
    let at = parentOf(e);
    for (let depth = 0; at && at !== document.body && depth < 6; depth++, at = parentOf(at)) {
      const text = textOf(at, 3000);
      if (text.length >= 3000) break;
      if (text.length >= 30 && asks.test(text)) {
        if (!taken(at) && fewEnough(at)) candidates.push({ box: at, over: false });
        break;
      }
    }
  }
  for (const e of atEdge())
    if (
      candidates.length < 12 &&
      !taken(e) &&
      !/^(header|nav|main|footer)$/.test(e.localName) &&
      fewEnough(e)
    )
      candidates.push({ box: e, over: false });

  const score = (box: Element, over: boolean, text: string): number => {
    const controls = controlsIn(box);
    const away = controls.filter(leadsAway);
    const marks = `${box.id} ${String(box.getAttribute('class') ?? '')} ${box.localName}`;
    const parts = inside(box);
    const fields = parts.filter((e) => isField(e) && isSeen(e)).length;
    const policy = away.some((a) => asks.test(`${a.getAttribute('href') ?? ''} ${wordsOf(a)}`));
    const { width, height } = box.getBoundingClientRect();
    return (
      (over ? 1.5 : 0) +
      (asks.test(text) ? 2.5 : 0) +
      (asks.test(marks) ? 1 : 0) +
      (policy ? 1 : 0) +
      (controls.length - away.length >= 2 ? 1 : 0) +
      Math.min(2, parts.filter((e) => isSwitch(e) || isRadio(e)).length) * 0.7 -
      Math.min(2, fields) * 1.5 -
      (parts.some((e) => /^(nav|main|article)$/.test(e.localName)) || box.localName === 'header' ? 2 : 0) -
      Math.max(0, away.length - 3) * 0.7 -
      (text.length < 25 ? 1.5 : 0) -
      (width * height < screen * 0.004 && rootOf(box) === null ? 0.5 : 0)
    );
  };
  const switchesIn = (box: Element): FoundSwitch[] => {
    const labelOf = (e: Element): string => {
      const by = (e.getAttribute('aria-labelledby') ?? '').split(/\s+/).filter(Boolean);
      const root = e.getRootNode() as Document | ShadowRoot;
      const named = by.map((id) => root.getElementById(id)).filter((x) => x !== null);
      const label = (e as HTMLInputElement).labels?.[0] ?? e.closest('label');
      const said = [
        e.getAttribute('aria-label') ?? '',
        ...named.map((x) => textOf(x, 120)),
        label ? textOf(label, 120) : '',
        textOf(e, 120),
      ];
      return squeeze(said.find((s) => s.trim().length > 1) ?? '');
    };
    /** The text of the smallest part around it that holds no other switch. */
    const around = (e: Element, own: readonly Element[]): string => {
      let text = '';
      for (let at = parentOf(e); at && isWithin(at, box); at = parentOf(at)) {
        if (all.some((o) => (isSwitch(o) || isRadio(o)) && !own.includes(o) && isWithin(o, at as Element)))
          break;
        text = textOf(at, 300);
        if (at === box) break;
      }
      return text;
    };
    const target = (e: Element): Element => {
      const label = (e as HTMLInputElement).labels?.[0] ?? e.closest('label');
      return isSeen(e) || !label ? e : label;
    };
    const isOn = (e: Element): boolean =>
      (e as HTMLInputElement).checked === true ||
      e.getAttribute('aria-checked') === 'true' ||
      e.getAttribute('aria-pressed') === 'true';
    const isLocked = (e: Element): boolean =>
      (e as HTMLInputElement).disabled === true || e.getAttribute('aria-disabled') === 'true';
    const push = (e: Element): number => kept.push(target(e)) - 1;
    const parts = inside(box);
    const shown = (e: Element) => isSeen(e) || isSeen(target(e));
    const found: FoundSwitch[] = [];
    const names = new Map<string, number>();
    const unlike = (words: string): string => {
      const n = (names.get(words) ?? 0) + 1;
      names.set(words, n);
      return n === 1 ? words : `${words.slice(0, 110)} (${n})`;
    };
    for (const e of parts.filter((x) => isSwitch(x) && shown(x))) {
      // One inside another is the same switch.
      if (parts.some((o) => o !== e && isSwitch(o) && isWithin(e, o))) continue;
      const about = around(e, [e]);
      const words = unlike((labelOf(e) || about || e.id || 'switch').slice(0, 120));
      const at = push(e);
      found.push({ words, about, on: isOn(e), locked: isLocked(e), turnsOn: at, turnsOff: at });
    }
    // Two rounds of one name, as yes and no.
    const groups = new Map<string, Element[]>();
    for (const e of parts.filter((x) => isRadio(x) && shown(x))) {
      const name = (e as HTMLInputElement).name || '?';
      groups.set(name, [...(groups.get(name) ?? []), e]);
    }
    for (const [name, pair] of groups) {
      const [first, second] = pair;
      if (pair.length !== 2 || !first || !second) continue;
      const no = /^(no|off|nej|av|nein|aus|ei|non|nee|uit|nie|não|fra)\b/i;
      const flipped = no.test(labelOf(first)) && !no.test(labelOf(second));
      const [yes, not] = flipped ? [second, first] : [first, second];
      const about = around(first, pair);
      found.push({
        words: unlike((about || name).slice(0, 120)),
        about,
        on: isOn(yes),
        locked: isLocked(yes) || isLocked(not),
        turnsOn: push(yes),
        turnsOff: push(not),
      });
    }
    return found.slice(0, MOST_SWITCHES);
  };
  const scored = candidates
    .map(({ box, over }) => ({ box, over, text: textOf(box, 3000) }))
    .map((c) => ({ ...c, points: score(c.box, c.over, c.text) }))
    .filter((c) => c.points > 0)
    .sort((a, b) => b.points - a.points)
    .slice(0, MOST_BOXES);
  return scored.map(({ box, over, text, points }) => {
    if (!numbers.has(box)) numbers.set(box, `${Math.random()}`);
    const said = new Map<string, number>();
    const controls: FoundControl[] = [];
    for (const e of controlsIn(box)) {
      const words = wordsOf(e);
      if (leadsAway(e) || forGood.test(words)) continue;
      const nth = said.get(words) ?? 0;
      said.set(words, nth + 1);
      const { width, height } = e.getBoundingClientRect();
      const size = Math.min(1, (width * height) / screen);
      controls.push({ index: kept.push(e) - 1, words, nth, size });
    }
    return {
      words: text.slice(0, 500),
      over,
      asks: asks.test(text),
      score: points,
      element: numbers.get(box) ?? '',
      controls: controls.slice(0, 20),
      switches: switchesIn(box),
    };
  });
}
