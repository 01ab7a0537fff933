import type { Layout, NoticeText } from '../core/websites/notice/notice.ts';
import { STYLE } from './notice-style.ts';

export interface NoticeSettings {
  readonly key: string;
  readonly version: number;
  /** The oldest version whose choices still hold. */
  readonly asksSince: number;
  readonly months: number;
  readonly purposes: readonly string[];
  /** Purposes that run before the visitor has said anything, by the law of where they are. */
  readonly starts: readonly string[];
  /** Those of them that Global Privacy Control refuses there. */
  readonly signal: readonly string[];
  /** Whether the notice opens by itself. */
  readonly asks: boolean;
  readonly language: string;
  readonly texts: Readonly<Record<string, NoticeText>>;
  readonly colours: Readonly<Record<'background' | 'text' | 'button' | 'buttonText', string>>;
  readonly layout: Layout;
  readonly policyUrl: string;
  readonly rehearsal: boolean;
  /** Goes back with a choice: proof that this version was shown; empty in a rehearsal. */
  readonly shown: string;
  /** Of the visitor service; empty in a preview. */
  readonly origin: string;
}

export interface NoticeHandlers {
  choose(allowed: readonly string[]): void;
}

/**
 * The notice as an element with a closed-off style of its own. It is a region at the end of the window, not a trap:
 * the page stays usable, both answers are one press away, and nothing is ticked beforehand.
 */
export class NoticePanel {
  readonly #host: HTMLElement;
  readonly #root: ShadowRoot;
  #opener: Element | null = null;
  #again: HTMLElement | undefined;

  constructor(
    readonly document: Document,
    readonly settings: NoticeSettings,
    readonly handlers: NoticeHandlers,
  ) {
    this.#host = document.createElement('yare-notice');
    this.#root = this.#host.attachShadow({ mode: 'open' });
    const sheet = new CSSStyleSheet();
    sheet.replaceSync(STYLE);
    this.#root.adoptedStyleSheets = [sheet];
    this.#host.dataset['layout'] = settings.layout;
    this.#paint(this.#host);
  }

  /** Opens with `allowed` as it stands; `receipt` tells the visitor's copy of the last choice. */
  open(allowed: readonly string[], receipt: string, focus: boolean): void {
    this.#opener = focus ? this.document.activeElement : null;
    this.#root.replaceChildren(this.#build(allowed, receipt));
    if (!this.#host.isConnected) (this.document.body ?? this.document.documentElement).append(this.#host);
    if (focus) this.#root.querySelector<HTMLElement>('h2')?.focus();
  }

  close(): void {
    this.#host.remove();
    if (this.#opener instanceof HTMLElement) this.#opener.focus();
  }

  /** A button of our own that opens the notice again, for pages that have none. */
  offerAgain(open: () => void): void {
    if (this.#again) return;
    this.#again = this.document.createElement('yare-again');
    const root = this.#again.attachShadow({ mode: 'open' });
    root.adoptedStyleSheets = this.#root.adoptedStyleSheets;
    this.#paint(this.#again);
    const button = this.#element('button', { type: 'button', class: 'again' }, this.#text().reopen);
    button.addEventListener('click', open);
    root.append(button);
    (this.document.body ?? this.document.documentElement).append(this.#again);
  }

  get isOpen(): boolean {
    return this.#host.isConnected;
  }

  #build(allowed: readonly string[], receipt: string): HTMLElement {
    const { settings } = this;
    const text = this.#text();
    const title = this.#element('h2', { id: 'title', tabindex: '-1' }, text.title);
    const body = this.#element('p', { id: 'body' }, text.body);
    if (settings.policyUrl)
      body.append(
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
    if (receipt || allowed.length) details.setAttribute('open', '');
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

  #text(): NoticeText {
    const { texts, language } = this.settings;
    return texts[language] ?? (Object.values(texts)[0] as NoticeText);
  }

  #paint(host: HTMLElement): void {
    for (const [name, value] of Object.entries(this.settings.colours))
      host.style.setProperty(`--yare-${name.toLowerCase()}`, value);
    host.lang = this.settings.language;
  }

  #purpose(code: string, text: NoticeText, allowed: readonly string[]): HTMLElement {
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

  #button(choice: 'accept' | 'refuse' | 'save', label: string): HTMLElement {
    const button = this.#element('button', { type: 'button', 'data-choice': choice }, label);
    button.addEventListener('click', () => this.handlers.choose(this.#chosen(choice)));
    return button;
  }

  #chosen(choice: 'accept' | 'refuse' | 'save'): readonly string[] {
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
