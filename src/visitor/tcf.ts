import { CmpApi } from '@iabtcf/cmpapi';
import type { NoticeSettings } from '../core/websites/notice/shown-notice.ts';
import {
  choiceFor,
  everythingOf,
  NOTHING_CHOSEN,
  tcOffer,
  type TcChoice,
  type TcOffer,
} from '../core/websites/tcf/tc-offer.ts';
import { frameworkPhrases } from '../core/websites/tcf/framework-phrases.ts';
import { readTc, tcString } from '../core/websites/tcf/tc-string.ts';
import type { VendorList } from '../core/websites/tcf/vendor-list.ts';
import type { ChoiceBy, MakeElement } from './notice.ts';
import { cookieText, readCookie } from './choice.ts';

const NAME = 'yare_tc';
const CMP_VERSION = 1;

/** What the framework adds to a notice: the layer of purposes and vendors, the string, and what tags ask. */
export class Tcf {
  readonly #api: CmpApi;
  readonly #boxes: { readonly box: HTMLInputElement; readonly part: keyof TcChoice; readonly id: number }[] =
    [];
  #list: VendorList | undefined;
  #offer: TcOffer | undefined;

  constructor(
    readonly window: Window & typeof globalThis,
    readonly settings: NoticeSettings & { readonly tcf: NonNullable<NoticeSettings['tcf']> },
    readonly load: () => Promise<VendorList>,
  ) {
    this.#api = new CmpApi(settings.tcf.cmpId, CMP_VERSION, true);
  }

  /** Tells tags how it stands. `shown`: the notice is before the visitor’s eyes. */
  tell(answered: boolean, shown: boolean): void {
    if (!this.settings.tcf.applies) return this.#api.update(null);
    this.#api.update(answered ? this.#kept() : '', shown);
  }

  /** Loads what the layer and the string need; without it there is neither. */
  async ready(): Promise<void> {
    this.#list ??= await this.load();
    this.#offer = tcOffer(this.#list, this.settings.tcf, this.settings.purposes);
  }

  /** Keeps an answer in the framework’s terms; '' where there is none. `by` is the button that was pressed. */
  answer(by: ChoiceBy, allowed: readonly string[]): string {
    const { tcf, purposes: asked, months, domain } = this.settings;
    if (!tcf.applies) return '';
    if (!this.#list || !this.#offer) {
      // What cannot be said anew must not stand as it was.
      this.forget();
      return '';
    }
    const text = tcString({
      ...{ list: this.#list, settings: tcf, asked, at: new Date() },
      choice: this.#choice(by, allowed),
      layer: by === 'save' ? 'second' : 'first',
    });
    this.#keep(text, months, domain);
    return text;
  }

  forget(): void {
    this.#keep('', 0, this.settings.domain);
  }

  #keep(text: string, months: number, domain: string): void {
    const { document, location } = this.window;
    document.cookie = cookieText(NAME, text, months, location.protocol === 'https:', domain);
  }

  #choice(by: ChoiceBy, allowed: readonly string[]): TcChoice {
    const offer = this.#offer as TcOffer;
    if (by === 'refuse') return NOTHING_CHOSEN;
    if (by === 'accept') return everythingOf(offer);
    if (by === 'placeholder') return this.#added(allowed);
    if (this.#boxes.length === 0) return choiceFor(offer, this.settings.tcf, allowed);
    const ticked = (part: keyof TcChoice) =>
      this.#boxes.filter((b) => b.part === part && b.box.checked).map((b) => b.id);
    // A purpose of the framework is not allowed against the one of the site that it goes with.
    const open = (p: number) => allowed.some((code) => this.settings.tcf.covers[code]?.includes(p));
    return {
      purposes: ticked('purposes').filter(open),
      interests: ticked('interests'),
      specialFeatures: ticked('specialFeatures'),
      vendors: ticked('vendors'),
      vendorInterests: ticked('vendorInterests'),
    };
  }

  /** What was chosen stands, and what is allowed besides is added whole. */
  #added(allowed: readonly string[]): TcChoice {
    const { tcf } = this.settings;
    const kept = readTc(this.#kept()) ?? NOTHING_CHOSEN;
    const isNew = (code: string) => !tcf.covers[code]?.some((p) => kept.purposes.includes(p));
    const more = choiceFor(this.#offer as TcOffer, tcf, allowed.filter(isNew));
    const both = (part: keyof TcChoice) => [...kept[part], ...more[part]];
    return {
      purposes: both('purposes'),
      interests: both('interests'),
      specialFeatures: kept.specialFeatures,
      vendors: both('vendors'),
      vendorInterests: both('vendorInterests'),
    };
  }

  #kept(): string {
    const text = readCookie(this.window.document.cookie, NAME).at(-1) ?? '';
    return readTc(text) ? text : '';
  }

  /** The second layer: the framework’s purposes with each of the site’s own, special features, and vendors. */
  layer(details: HTMLElement, make: MakeElement, answered: boolean): void {
    const [list, offer] = [this.#list, this.#offer];
    if (!list || !offer || !this.settings.tcf.applies) return;
    const phrases = frameworkPhrases(this.settings.language);
    this.#boxes.length = 0;
    const kept = answered ? readTc(this.#kept()) : undefined;
    const start: TcChoice =
      kept ??
      (this.settings.tcf.interests === 'on'
        ? {
            ...NOTHING_CHOSEN,
            interests: offer.interests,
            vendorInterests: everythingOf(offer).vendorInterests,
          }
        : NOTHING_CHOSEN);
    const tick = (part: keyof TcChoice, id: number, name: string, text = '') => {
      const box = make('input', { type: 'checkbox', 'data-tc': part }) as HTMLInputElement;
      box.checked = start[part].includes(id);
      this.#boxes.push({ box, part, id });
      return make(
        'label',
        { class: 'purpose' },
        box,
        make('span', {}, make('strong', {}, name), text && ` ${text}`),
      );
    };
    const folded = (words: string, ...inside: Node[]) =>
      make('details', { class: 'uses' }, make('summary', {}, words), ...inside);
    const named = (all: Readonly<Record<string, { readonly name: string }>>, ids: readonly number[]) =>
      ids.map((id) => all[id]?.name ?? String(id)).join(' · ');

    for (const code of this.settings.purposes) {
      const own = details.querySelector<HTMLInputElement>(`input[value="${CSS.escape(code)}"]`);
      const ids = offer.purposes.filter((p) => this.settings.tcf.covers[code]?.includes(p));
      if (!own || ids.length === 0) continue;
      const lines = ids.flatMap((id) => {
        const { name = String(id), description = '' } = list.purposes[id] ?? {};
        return [
          tick('purposes', id, name, description),
          ...(offer.interests.includes(id) ? [tick('interests', id, `${name}: ${phrases.interest}`)] : []),
        ];
      });
      const inside = this.#boxes.slice(-lines.length);
      own.addEventListener('change', () => {
        for (const { box, part } of inside) if (part === 'purposes') box.checked = own.checked;
      });
      own.closest('label')?.after(folded(`${phrases.detail} (${ids.length})`, ...lines));
    }
    const features = offer.specialFeatures.map((id) => {
      const { name = String(id), description = '' } = list.specialFeatures[id] ?? {};
      return tick('specialFeatures', id, name, description);
    });
    const vendors = offer.vendors.map((v) => {
      const told = [
        named(list.purposes, [...v.consent, ...v.interest]),
        named(list.specialPurposes, v.specialPurposes),
        named(list.features, v.features),
        v.cookieDays === null ? '' : phrases.cookies.replace('{days}', String(v.cookieDays)),
        v.keptDays === null ? '' : phrases.kept.replace('{days}', String(v.keptDays)),
      ].filter(Boolean);
      const links = [v.policy, v.interest.length > 0 ? v.interestClaim : '']
        .filter((url) => /^https?:/.test(url))
        .map((href) => make('li', {}, make('a', { href, target: '_blank', rel: 'noopener' }, href)));
      return make(
        'div',
        {},
        ...(v.consent.length > 0 ? [tick('vendors', v.id, v.name)] : [make('strong', {}, v.name)]),
        ...(v.interest.length > 0 ? [tick('vendorInterests', v.id, `${v.name}: ${phrases.interest}`)] : []),
        make('ul', {}, ...told.map((t) => make('li', {}, t)), ...links),
      );
    });
    const save = details.querySelector('[data-choice=save]');
    for (const part of [...features, folded(`${phrases.vendors} (${vendors.length})`, ...vendors)])
      details.insertBefore(part, save);
    // Whoever ticks a purpose by its own name means those who use it, too.
    details.addEventListener('change', (e) => {
      const box = e.target as HTMLInputElement;
      if (!box.checked || box.dataset['tc'] === 'vendors') return;
      if (this.#boxes.some((b) => b.part === 'vendors' && b.box.checked)) return;
      if (box.dataset['tc'] === undefined || box.dataset['tc'] === 'purposes')
        for (const b of this.#boxes) if (b.part === 'vendors') b.box.checked = true;
    });
  }
}
