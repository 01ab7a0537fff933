import type { ShownText } from '../core/websites/notice/shown-notice.ts';
import { STYLE } from './notice-style.ts';

const SELECTOR = 'iframe,video,audio,embed,object';

/** What a placeholder says of a purpose and a host; `undefined` where the notice has no words for it. */
export type PlaceholderWords = (purpose: string, host: string) => { held: string; allow: string } | undefined;

/** Placeholders in the visitor's language. */
export function placeholdersIn(
  document: Document,
  { purposes, phrases }: ShownText,
  ask: (purpose: string) => void,
): Placeholders {
  const say: PlaceholderWords = (purpose, host) => {
    const named = purposes[purpose];
    return (
      named && {
        held: `${host} · ${named.name}: ${named.text}`,
        allow: phrases.allow.replace('{purpose}', named.name),
      }
    );
  };
  return new Placeholders(document, say, ask);
}

/** Stands where a held video, map or frame would be, says why, and asks on the spot. */
export class Placeholders {
  readonly #shown = new Map<Element, { host: HTMLElement; purpose: string }>();

  constructor(
    readonly document: Document,
    readonly words: PlaceholderWords,
    /** Asks for a purpose where its placeholder stands. */
    readonly ask: (purpose: string) => void,
  ) {}

  put(element: HTMLElement, purpose: string): void {
    if (this.#shown.has(element) || !element.matches(SELECTOR) || !element.isConnected) return;
    const { width, height } = element.getBoundingClientRect();
    // A frame nobody sees shows nobody anything.
    if (width < 60 || height < 60) return;
    const host = this.document.createElement('yare-held');
    host.style.cssText = `width:${width}px;height:${height}px`;
    const root = host.attachShadow({ mode: 'open' });
    const sheet = new CSSStyleSheet();
    sheet.replaceSync(STYLE);
    root.adoptedStyleSheets = [sheet];
    this.#shown.set(element, { host, purpose });
    this.#fill(element);
    element.before(host);
    element.hidden = true;
  }

  take(element: HTMLElement): void {
    const shown = this.#shown.get(element);
    if (!shown) return;
    this.#shown.delete(element);
    shown.host.remove();
    element.hidden = false;
  }

  #fill(element: Element): void {
    const { host, purpose } = this.#shown.get(element) ?? {};
    const source = element.getAttribute('data-yare-src') ?? element.getAttribute('data-yare-data') ?? '';
    let from = '';
    try {
      from = new URL(source, this.document.baseURI).hostname;
    } catch {
      // Says nothing of where it comes from, then.
    }
    const words = purpose === undefined ? undefined : this.words(purpose, from);
    if (!host || purpose === undefined || !words) return;
    const text = this.document.createElement('p');
    text.textContent = words.held;
    const button = this.document.createElement('button');
    button.type = 'button';
    button.textContent = words.allow;
    button.addEventListener('click', () => this.ask(purpose));
    host.shadowRoot?.replaceChildren(text, button);
  }
}
