import { pushTo, tagEntry } from '../core/websites/gate/tag-entry.ts';
import type { KeptName } from '../core/websites/gate/gate-plan.ts';
import type { NoticeSettings, ShownText, TrackersShown } from '../core/websites/notice/shown-notice.ts';
import { isOnTrial } from '../core/websites/notice/is-on-trial.ts';
import type { GateHold } from '../core/websites/trackers/fix.ts';
import { carryCampaign } from './campaign.ts';
import { choiceCookie, mustAsk, newKey, noChoiceCookie, readChoice, type KeptChoice } from './choice.ts';
import { fromWhere } from './from-where.ts';
import { Gate } from './gate.ts';
import type { ConsentState, Left, PurposeState, Yare } from './interface.ts';
import { chooseLanguage } from './language.ts';
import type { ChoiceBy, NoticePanel } from './notice.ts';
import type { Tcf } from './tcf.ts';
import type { Sender } from './sender.ts';
import { UNSENT, type Unsent } from './unsent.ts';

/** How long a page that starts anew without what was withdrawn waits for the record. */
const RECORD_MS = 1500;
/** The service does not answer: everything stays held, and the page goes on. */
const UNREACHED = () => {};
/** What a withdrawal could not delete, for the page that starts anew. */
const LEFT = 'yare_left';

/** Put before this script by the visitor service; `null` when the site has no notice in force. */
declare const YARE_SETTINGS: NoticeSettings | null;
declare const YARE_SITE: string;
/** Of the visitor service. */
declare const YARE_ORIGIN: string;
declare const YARE_HOLDS: readonly GateHold[];
/** The part that holds by itself, where the site has something to hold. */
declare const YARE_HELD: typeof import('./holds.ts') | undefined;
/** Address of the part that is loaded when it is needed. */
declare const YARE_PANEL: string;
/** Of the part for the Transparency and Consent Framework. */
declare const YARE_TCF: string;

function start(sent: NoticeSettings | null): void {
  if (window.yare) return;
  let choice = readChoice(document.cookie);
  // Of a visitor who has not answered nothing is kept, so this one is of the page alone until they do.
  const key = choice?.key ?? newKey();
  const shownTo = sent?.trial && isOnTrial(key, sent.trial.share) ? { ...sent, ...sent.trial } : sent;
  const settings: NoticeSettings | null = shownTo && {
    ...shownTo,
    language: chooseLanguage(shownTo, document.documentElement.lang, navigator.languages),
  };
  /** What happens, for whoever on the page listens. */
  const tell = (what: string, detail: object = {}) =>
    document.dispatchEvent(new CustomEvent('yare', { detail: { what, ...detail } }));
  // As it was before scripts of the page could change it.
  const nativeFetch = window.fetch.bind(window);
  const get = async <T>(path: string): Promise<T> => {
    const answer = await nativeFetch(`${YARE_ORIGIN}/${YARE_SITE}/${path}`, { credentials: 'omit' });
    if (!answer.ok) throw new Error(path);
    return (await answer.json()) as T;
  };
  const parent = yareAbove();
  const held = (what: string, name: string, purpose: string) => tell(what, { name, purpose });
  const ask = (purpose: string) => {
    if (parent) parent.open();
    else if (settings) {
      const more = () =>
        choose(
          settings,
          settings.purposes.filter((p) => p === purpose || allowed().includes(p)),
        );
      // The framework’s answer needs its vendors; without them there is none.
      if (tcf) void tcf.ready().then(more, more);
      else more();
    }
  };
  const gates = [new Gate(document, held)];
  const holds =
    YARE_HELD &&
    new YARE_HELD.Holds(window, YARE_HOLDS, held, (inFrame) => {
      const gate = new Gate(inFrame, held);
      gates.push(gate);
      gate.allow(allowed());
    });
  const listeners = new Set<() => void>();
  const { globalPrivacyControl } = navigator as { globalPrivacyControl?: boolean };
  // Without an answer that still holds it is as it starts where the visitor is.
  const starts =
    settings?.starts.filter((p) => globalPrivacyControl !== true || !settings.signal.includes(p)) ?? [];
  const answered = () =>
    settings !== null && !mustAsk(choice, settings.asksSince, settings.months, Date.now() / 1000);
  const allowed = (): readonly string[] =>
    parent ? parent.allowed() : answered() ? (choice?.allowed ?? []) : starts;

  const state = (): ConsentState => {
    const runs = allowed();
    const said = answered();
    const of = (p: string): PurposeState =>
      runs.includes(p) ? (said ? 'allowed' : 'starts on') : said ? 'refused' : 'waits';
    return {
      answered: said,
      region: settings?.region ?? 'ZZ',
      regime: settings?.regime ?? '',
      purposes: Object.fromEntries((settings?.purposes ?? []).map((p) => [p, of(p)])),
    };
  };
  const signal = (moment: 'start' | 'change') => {
    const now = { allowed: allowed(), answered: answered(), region: settings?.region ?? 'ZZ' };
    for (const system of settings?.tagSystems ?? []) {
      const entry = tagEntry(system, moment, now);
      try {
        pushTo(window, system.queue, entry);
        tell('told', { system: system.name, entry });
      } catch {
        // A page may have put anything there.
      }
    }
  };
  /** What may run now, runs; everybody who has to know is told. */
  const apply = (moment: 'start' | 'change') => {
    if (!settings) return;
    holds?.allow(allowed());
    signal(moment);
    tcf?.tell(answered(), false);
    tell(moment === 'start' ? 'start' : 'state', { state: state() });
    for (const gate of gates) gate.allow(allowed());
    for (const listener of listeners) listener();
  };

  let text: Promise<ShownText> | undefined;
  const words = () =>
    (text ??= (async () => {
      const s = settings as NoticeSettings;
      const there = s.texts[s.language];
      if (there) return there;
      const asked = `texts?language=${s.language}&version=${s.version}`;
      return get<ShownText>(asked)
        .catch(() => get<ShownText>(asked))
        .catch(() => Object.values(s.texts)[0] as ShownText);
    })());
  let tcf: Tcf | undefined;
  /** Only where the site takes part in the framework; its tags wait for it. */
  const framework =
    settings?.tcf && !parent
      ? (import(YARE_TCF) as Promise<typeof import('./tcf.ts')>).then(({ Tcf }) => {
          tcf = new Tcf(window, settings as Tcf['settings'], () => get('vendors'));
          tcf.tell(answered(), false);
        })
      : undefined;
  framework?.catch(UNREACHED);
  let sender: Sender | undefined;
  let loaded: Promise<typeof import('./panel.ts')> | undefined;
  const part = () =>
    (loaded ??= loadPart().catch((error: unknown) => {
      // Asked for again the next time.
      loaded = panel = undefined;
      throw error;
    }));
  let panel: Promise<NoticePanel> | undefined;
  const notice = () =>
    (panel ??= Promise.all([words(), part(), framework?.then(() => tcf?.ready()).catch(UNREACHED)]).then(
      ([t, { NoticePanel }]) => {
        const s = settings as NoticeSettings;
        return new NoticePanel(
          document,
          { ...s, texts: { [s.language]: t } },
          {
            choose: (purposes, by) => choose(s, purposes, by),
            more: (...where) => tcf?.layer(...where),
            trackers: () => get<TrackersShown>(`trackers?language=${s.language}`),
          },
        );
      },
    ));

  const open = (focus: boolean) =>
    void notice().then((p) => {
      if (!focus && answered()) return;
      p.open(allowed(), answered() ? (choice?.receipt ?? '') : '', focus, left());
      tell('shown', { language: settings?.language });
      tcf?.tell(answered(), true);
      if (!focus && settings && !settings.rehearsal) countShown(settings);
    }, UNREACHED);
  const countShown = ({ version, language }: NoticeSettings) =>
    void nativeFetch(`${YARE_ORIGIN}/${YARE_SITE}/shown`, {
      method: 'POST',
      body: JSON.stringify({ version, language, ...fromWhere(window) }),
      keepalive: true,
      credentials: 'omit',
    }).catch(UNREACHED);
  const keep = (months: number, next: KeptChoice): boolean => {
    choice = next;
    // One that is kept for this host alone would stand beside the one that all hosts share.
    if (settings?.domain) document.cookie = noChoiceCookie();
    document.cookie = choiceCookie(next, months, location.protocol === 'https:', settings?.domain);
    return readChoice(document.cookie)?.at === next.at;
  };
  const send = (part: typeof import('./panel.ts')) =>
    (sender ??= new part.Sender(
      window,
      nativeFetch,
      `${YARE_ORIGIN}/${YARE_SITE}/choices`,
      new part.UnsentChoices(() => window.localStorage),
      {
        recorded: (sent, receipt) => {
          tell('recorded', { receipt });
          if (settings && choice && isCurrent(sent)) keep(settings.months, { ...choice, receipt });
        },
        refused: (sent) => {
          if (isCurrent(sent)) forget();
        },
      },
    ));

  /** Only the newest choice is the one that the cookie tells of. */
  function isCurrent(sent: Unsent): boolean {
    return (
      choice?.at === sent.at &&
      choice.key === sent.visitorKey &&
      choice.allowed.join() === sent.allowed.join()
    );
  }

  /** A choice that can never be on record takes no effect: the visitor is asked anew. */
  function forget(): void {
    const allowedSome = allowed().length > 0;
    choice = undefined;
    document.cookie = noChoiceCookie();
    if (settings?.domain) document.cookie = noChoiceCookie(settings.domain);
    tcf?.forget();
    apply('change');
    if (allowedSome) location.reload();
  }

  function offerAgain(): void {
    if (parent || document.querySelector('[data-yare-open]')) return;
    void notice().then((p) => p.offerAgain(() => open(true)), UNREACHED);
  }

  const others = 'BroadcastChannel' in window ? new BroadcastChannel('yare') : undefined;
  if (others)
    others.onmessage = () => {
      // Answered in another tab. What runs here is not started anew: somebody may be writing.
      choice = readChoice(document.cookie);
      if (answered()) void panel?.then((p) => p.close(), UNREACHED);
      apply('change');
    };

  function choose(s: NoticeSettings, purposes: readonly string[], by: ChoiceBy = 'placeholder'): void {
    const before = allowed();
    const visitorKey = choice?.key ?? key;
    const at = Math.floor(Date.now() / 1000);
    const { version, language, shown } = s;
    const kept = keep(s.months, { version, allowed: purposes, key: visitorKey, at, receipt: '' });
    // A browser that keeps nothing is one that allows nothing: there would be no telling it on the next page.
    const tc = kept ? tcf?.answer(by, purposes) : '';
    const lost = !kept && purposes.length > 0;
    if (lost) choice = { version, allowed: [], key: visitorKey, at, receipt: '' };
    const sent = part().then((p) => {
      if (!lost)
        send(p).unsent.add({
          ...{ version, allowed: [...purposes], language, visitorKey, choiceKey: newKey(), shown, at },
          ...(tc && { tc }),
          ...fromWhere(window),
        });
      return send(p).flush();
    }, UNREACHED);
    void panel?.then((p) => p.close());
    offerAgain();
    tell('answer', { allowed: allowed(), kept });
    const withdrawn = before.filter((p) => !allowed().includes(p));
    if (withdrawn.length === 0) keepLeft([]);
    apply('change');
    others?.postMessage(0);
    // What already runs cannot be taken back: after a withdrawal the page starts anew without it.
    if (withdrawn.length > 0)
      void Promise.race([
        Promise.all([sent, clearAway(withdrawn)]),
        new Promise((done) => setTimeout(done, RECORD_MS)),
      ]).then(() => location.reload());
  }

  async function clearAway(withdrawn: readonly string[]): Promise<void> {
    const names = await get<readonly KeptName[]>('kept').catch(UNREACHED);
    const { deleteKept, keptByHolds } = await part();
    const still = await deleteKept(window, names ?? keptByHolds(YARE_HOLDS), withdrawn);
    tell('deleted', { left: still });
    keepLeft(still);
  }

  function keepLeft(still: readonly Left[]): void {
    try {
      if (still.length === 0) sessionStorage.removeItem(LEFT);
      else sessionStorage.setItem(LEFT, JSON.stringify(still));
    } catch {
      // Not told after the new start, then.
    }
  }

  function left(): readonly Left[] {
    try {
      const all: unknown = JSON.parse(sessionStorage.getItem(LEFT) ?? '[]');
      return Array.isArray(all) ? (all as Left[]) : [];
    } catch {
      return [];
    }
  }

  /** Says where something held would be what it is, in the visitor's language. */
  const showHeld = () =>
    Promise.all([words(), part()]).then(([t, { placeholdersIn }]) =>
      gates[0]?.showHeld(placeholdersIn(document, t, ask)),
    );

  const listen = (listener: () => void) => {
    listeners.add(listener);
    return () => void listeners.delete(listener);
  };
  const yare: Yare = (window.yare = {
    site: YARE_SITE,
    version: settings?.version ?? 0,
    open: () => (parent ? parent.open() : settings ? open(true) : undefined),
    allowed,
    state,
    onChange: (listener) => listen(() => listener(allowed())),
    subscribe: (listener) => {
      listener(state());
      return listen(() => listener(state()));
    },
    when: (purpose, work) => {
      if (purpose === 'essential' || allowed().includes(purpose)) return work();
      const stop = listen(() => {
        if (!allowed().includes(purpose)) return;
        stop();
        work();
      });
    },
    answer: (ms) =>
      new Promise((done) => {
        if (answered()) return done(state());
        const stop = listen(() => answered() && over());
        const over = () => {
          stop();
          done(state());
        };
        setTimeout(over, ms);
      }),
    left,
  });
  const early = window.yareReady;
  window.yareReady = { push: (work) => work(yare) };
  if (Array.isArray(early)) for (const work of early as ((y: Yare) => void)[]) work(yare);

  document.addEventListener('click', (e) => {
    if (e.target instanceof Element && e.target.closest('[data-yare-open]')) {
      e.preventDefault();
      yare.open();
    }
  });
  const begin = () => {
    if (!settings) return;
    if (document.querySelector('[data-yare-purpose]')) showHeld().catch(UNREACHED);
    if (parent) return;
    if (settings.asks && !answered()) open(false);
    else offerAgain();
  };
  if (hasUnsent()) void part().then((p) => send(p).flush(), UNREACHED);
  // On its way while the page is still read.
  if (settings?.asks && !answered() && !parent) void part().catch(UNREACHED);
  apply('start');
  if (parent)
    parent.onChange(() => {
      choice = readChoice(document.cookie);
      apply('change');
    });
  carryCampaign(
    window,
    settings?.campaign ?? [],
    () => allowed().length === (settings?.purposes.length ?? 0),
  );
  if (document.readyState === 'loading') document.addEventListener('DOMContentLoaded', begin);
  else begin();
}

/** Once more under another address where it did not come, since a browser remembers that it did not. */
function loadPart(): Promise<typeof import('./panel.ts')> {
  const from = (url: string) => import(url) as Promise<typeof import('./panel.ts')>;
  return from(YARE_PANEL).catch(() => from(`${YARE_PANEL}&again`));
}

function hasUnsent(): boolean {
  try {
    return localStorage.getItem(UNSENT) !== null;
  } catch {
    return false;
  }
}

/** In a frame of the same site the page above asks, and its answer holds. */
function yareAbove(): Yare | undefined {
  try {
    const above = window.parent === window ? undefined : window.parent.yare;
    return above?.site === YARE_SITE ? above : undefined;
  } catch {
    return undefined;
  }
}

start(YARE_SETTINGS);
