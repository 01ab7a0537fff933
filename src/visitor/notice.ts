import type { NoticeSettings, ShownText, TrackersShown } from '../core/websites/notice/shown-notice.ts';
import { readRich, type Run } from '../core/text/rich-text.ts';
import { isRightToLeft } from '../core/websites/notice/writing.ts';
import type { Left } from './interface.ts';
import { STYLE } from './notice-style.ts';

export interface NoticeHandlers {
  /** By the button that was pressed. */
  choose(allowed: readonly string[], by: ChoiceBy): void;
  /** What the second layer tells of each purpose. */
  trackers?(): Promise<TrackersShown>;
  /** Adds to the second layer; `element` makes one. */
  more?(details: HTMLElement, element: MakeElement, answered: boolean): void;
}

/** The button that was pressed; `placeholder` stands where something held would be. */
export type ChoiceBy = 'accept' | 'refuse' | 'save' | 'placeholder';
export type MakeElement = (
  name: string,
  attributes: Record<string, string>,
  ...children: (Node | string)[]
) => HTMLElement;

/**
 * The notice as an element with a closed-off style of its own. It is a region at the end of the window, not a trap:
 * the page stays usable, both answers are one press away, and nothing is ticked beforehand.
 */
export class NoticePanel {
  readonly #host: HTMLElement;
  readonly #root: ShadowRoot;
  #opener: Element | null = null;
  #again: HTMLElement | undefined;
  readonly #staying = new Set<HTMLElement>();
  #watch: MutationObserver | undefined;
  #puts = 0;

  constructor(
    readonly document: Document,
    readonly settings: NoticeSettings,
    readonly handlers: NoticeHandlers,
  ) {
    this.#host = document.createElement('yare-notice');
    this.#root = this.#host.attachShadow({ mode: 'open' });
    this.#root.adoptedStyleSheets = [STYLE, settings.looks.css].map((css) => {
      const sheet = new CSSStyleSheet();
      sheet.replaceSync(css);
      return sheet;
    });
    this.#host.dataset['layout'] = settings.looks.layout;
    this.#paint(this.#host);
  }

  /** Opens with `allowed` as it stands; `receipt` tells the visitor's copy of the last choice. */
  open(allowed: readonly string[], receipt: string, focus: boolean, left: readonly Left[] = []): void {
    this.#opener = focus ? this.document.activeElement : null;
    this.#root.replaceChildren(this.#build(allowed, receipt, left));
    this.#stay(this.#host);
    if (focus) this.#root.querySelector<HTMLElement>('h2')?.focus();
  }

  /** Puts it at the end of the page, and again where the page builds itself anew. */
  #stay(element: HTMLElement): void {
    this.#staying.add(element);
    const put = () => {
      for (const e of this.#staying)
        if (!e.isConnected) (this.document.body ?? this.document.documentElement).append(e);
    };
    put();
    this.#watch ??= new MutationObserver(() => {
      // A page that fights back wins.
      if (this.#puts++ < 30) put();
      else this.#watch?.disconnect();
    });
    this.#watch.observe(this.document.documentElement, { childList: true });
    if (this.document.body) this.#watch.observe(this.document.body, { childList: true });
  }

  close(): void {
    this.#staying.delete(this.#host);
    this.#host.remove();
    if (this.#opener instanceof HTMLElement) this.#opener.focus();
  }

  /** A button of our own that opens the notice again, for pages that have none. */
  offerAgain(open: () => void): void {
    if (this.#again || this.settings.looks.again === 'page') return;
    this.#again = this.document.createElement('yare-again');
    this.#again.dataset['place'] = this.settings.looks.again;
    const root = this.#again.attachShadow({ mode: 'open' });
    root.adoptedStyleSheets = this.#root.adoptedStyleSheets;
    this.#paint(this.#again);
    const button = this.#element('button', { type: 'button', class: 'again' }, this.#text().reopen);
    button.addEventListener('click', open);
    root.append(button);
    this.#stay(this.#again);
  }

  get isOpen(): boolean {
    return this.#host.isConnected;
  }

  #build(allowed: readonly string[], receipt: string, left: readonly Left[]): HTMLElement {
    const { settings } = this;
    const text = this.#text();
    const title = this.#element('h2', { id: 'title', tabindex: '-1' }, text.title);
    const body = this.#element('div', { id: 'body' }, ...this.#rich(text.body));
    if (settings.policyUrl)
      (body.querySelector(':scope > p:last-child') ?? body).append(
        ' ',
        this.#element('a', { href: settings.policyUrl }, settings.policyUrl.replace(/^https?:\/\//, '')),
      );
    const boxes = ['essential', ...settings.purposes].map((code) => this.#purpose(code, text, allowed));
    const details = this.#element(
      'details',
      {},
      this.#element('summary', {}, text.choose),
      ...boxes,
      this.#button('save', text.save),
    );
    this.handlers.more?.(details, this.#element.bind(this), receipt !== '' || allowed.length > 0);
    if (receipt || allowed.length) details.setAttribute('open', '');
    const fill = () => void this.#tellTrackers(details, text);
    details.addEventListener('toggle', fill, { once: true });
    const buttons = this.#element(
      'div',
      { class: 'buttons' },
      this.#button('refuse', text.refuse),
      this.#button('accept', text.accept),
    );
    const parts: Node[] = [title, body, buttons, details];
    if (receipt) {
      const href = `${settings.origin}/${settings.key}/receipts/${receipt}`;
      parts.push(
        this.#element(
          'p',
          { class: 'receipt' },
          this.#element('a', { href, target: '_blank', rel: 'noopener' }, `№ ${receipt}`),
        ),
      );
    }
    if (left.length > 0)
      parts.push(
        this.#element('p', { class: 'receipt' }, text.phrases.left),
        this.#list(left.map((l) => `${l.name} · ${l.host}`)),
      );
    const panel = this.#element(
      'section',
      { role: 'region', 'aria-labelledby': 'title', 'aria-describedby': 'body' },
      ...parts,
    );
    panel.addEventListener('keydown', (e) => {
      if (e.key === 'Escape' && receipt) this.close();
    });
    return panel;
  }

  /** The second layer: under each purpose what uses it. */
  async #tellTrackers(details: HTMLElement, text: ShownText): Promise<void> {
    const shown = await this.handlers.trackers?.().catch(() => undefined);
    for (const [purpose, trackers] of Object.entries(shown ?? {})) {
      const label = details.querySelector(`input[value="${CSS.escape(purpose)}"]`)?.closest('label');
      if (!label || trackers.length === 0) continue;
      const uses = `${text.phrases.uses} (${trackers.length})`;
      label.after(
        this.#element(
          'details',
          { class: 'uses' },
          this.#element('summary', {}, uses),
          this.#list(trackers.map((t) => [t.name, t.host, t.text].filter(Boolean).join(' · '))),
        ),
      );
    }
  }

  /** A text with its few manners. */
  #rich(text: string): HTMLElement[] {
    const manner = ({ text: words, strong, em, href }: Run): Node | string => {
      const inner = em ? this.#element('em', {}, words) : words;
      const bold = strong ? this.#element('strong', {}, inner) : inner;
      return href ? this.#element('a', { href }, bold) : bold;
    };
    return readRich(text).map((b) =>
      b.is === 'list'
        ? this.#element('ul', {}, ...b.items.map((i) => this.#element('li', {}, ...i.map(manner))))
        : this.#element('p', {}, ...b.runs.map(manner)),
    );
  }

  #list(lines: readonly string[]): HTMLElement {
    return this.#element('ul', {}, ...lines.map((l) => this.#element('li', {}, l)));
  }

  #text(): ShownText {
    const { texts, language } = this.settings;
    return texts[language] ?? (Object.values(texts)[0] as ShownText);
  }

  #paint(host: HTMLElement): void {
    const { colours, face, size, radius } = this.settings.looks;
    for (const [name, value] of Object.entries(colours))
      host.style.setProperty(`--yare-${name.toLowerCase()}`, value);
    const body = this.document.body ?? this.document.documentElement;
    const family = { sans: 'system-ui,sans-serif', serif: 'Georgia,serif', page: '' }[face];
    host.style.setProperty('--yare-face', family || getComputedStyle(body).fontFamily);
    host.style.setProperty('--yare-size', `${size}px`);
    host.style.setProperty('--yare-radius', `${radius}px`);
    host.lang = this.settings.language;
    if (isRightToLeft(host.lang)) host.dir = 'rtl';
  }

  #purpose(code: string, text: ShownText, allowed: readonly string[]): HTMLElement {
    const words = text.purposes[code];
    const box = this.document.createElement('input');
    box.type = 'checkbox';
    box.value = code;
    box.disabled = code === 'essential';
    box.checked = code === 'essential' || allowed.includes(code);
    const name = this.#element('strong', {}, words?.name || code);
    return this.#element(
      'label',
      { class: 'purpose' },
      box,
      this.#element('span', {}, name, ` ${words?.text ?? ''}`),
    );
  }

  #button(choice: ChoiceBy, label: string): HTMLElement {
    const button = this.#element('button', { type: 'button', 'data-choice': choice }, label);
    button.addEventListener('click', () => this.handlers.choose(this.#chosen(choice), choice));
    return button;
  }

  #chosen(choice: ChoiceBy): readonly string[] {
    if (choice === 'accept') return this.settings.purposes;
    if (choice === 'refuse') return [];
    const ticked = [...this.#root.querySelectorAll<HTMLInputElement>('input:checked')].map((b) => b.value);
    return this.settings.purposes.filter((p) => ticked.includes(p));
  }

  #element(name: string, attributes: Record<string, string>, ...children: (Node | string)[]): HTMLElement {
    const element = this.document.createElement(name);
    for (const [key, value] of Object.entries(attributes)) element.setAttribute(key, value);
    element.append(...children);
    return element;
  }
}
