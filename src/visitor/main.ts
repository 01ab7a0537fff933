import { choiceCookie, mustAsk, newKey, noChoiceCookie, readChoice, type KeptChoice } from './choice.ts';
import type { GateHold } from '../core/websites/trackers/fix.ts';
import { Gate } from './gate.ts';
import { Holds } from './holds.ts';
import { chooseLanguage } from './language.ts';
import { NoticePanel, type NoticeSettings } from './notice.ts';
import { Sender } from './sender.ts';
import { UnsentChoices, type Unsent } from './unsent.ts';

/** How long a page that starts anew without what was withdrawn waits for the record. */
const RECORD_MS = 1500;

/** What the page may use: open the notice, know the choice, be told of changes. */
interface Yare {
  readonly site: string;
  readonly version: number;
  open(): void;
  allowed(): readonly string[];
  onChange(listener: (allowed: readonly string[]) => void): void;
}

declare global {
  interface Window {
    yare?: Yare;
  }
}

/** Put before this script by the visitor service; `null` when the site has no notice in force. */
declare const YARE_SETTINGS: NoticeSettings | null;
declare const YARE_SITE: string;
/** Of the visitor service. */
declare const YARE_ORIGIN: string;
declare const YARE_HOLDS: readonly GateHold[];

function start(sent: NoticeSettings | null): void {
  if (window.yare) return;
  const settings = sent && {
    ...sent,
    language: chooseLanguage(Object.keys(sent.texts), document.documentElement.lang, navigator.languages),
  };
  const gate = new Gate(document);
  const holds = new Holds(window, YARE_HOLDS);
  const letGo = (purposes: readonly string[]) => {
    holds.allow(purposes);
    gate.allow(purposes);
  };
  const listeners: ((allowed: readonly string[]) => void)[] = [];
  let choice = readChoice(document.cookie);
  const { globalPrivacyControl } = navigator as { globalPrivacyControl?: boolean };
  // Without an answer that still holds it is as it starts where the visitor is.
  const starts =
    settings?.starts.filter((p) => globalPrivacyControl !== true || !settings.signal.includes(p)) ?? [];
  const unanswered = () =>
    settings !== null && mustAsk(choice, settings.asksSince, settings.months, Date.now() / 1000);
  const allowed = () => (unanswered() ? starts : (choice?.allowed ?? []));
  const panel = settings
    ? new NoticePanel(document, settings, { choose: (purposes) => choose(settings, purposes) })
    : undefined;

  const open = (focus: boolean) => panel?.open(allowed(), choice?.receipt ?? '', focus);
  const keep = (months: number, next: KeptChoice) => {
    choice = next;
    document.cookie = choiceCookie(next, months, location.protocol === 'https:');
  };
  const unsent = new UnsentChoices(() => window.localStorage);
  const sender = new Sender(window, `${YARE_ORIGIN}/${YARE_SITE}/choices`, unsent, {
    recorded: (sent, receipt) => {
      if (settings && choice && isCurrent(sent)) keep(settings.months, { ...choice, receipt });
    },
    refused: (sent) => {
      if (isCurrent(sent)) forget();
    },
  });

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
    for (const listener of listeners) listener([]);
    if (allowedSome) location.reload();
  }

  function offerAgain(): void {
    if (!document.querySelector('[data-yare-open]')) panel?.offerAgain(() => open(true));
  }

  function choose(s: NoticeSettings, purposes: readonly string[]): void {
    const before = allowed();
    const visitorKey = choice?.key ?? newKey();
    const at = Math.floor(Date.now() / 1000);
    const { version, language, shown } = s;
    unsent.add({ version, allowed: [...purposes], language, visitorKey, choiceKey: newKey(), shown, at });
    keep(s.months, { version, allowed: purposes, key: visitorKey, at, receipt: '' });
    panel?.close();
    offerAgain();
    // What already runs cannot be taken back: after a withdrawal the page starts anew without it.
    const withdrawn = before.some((p) => !purposes.includes(p));
    if (!withdrawn) letGo(purposes);
    for (const listener of listeners) listener(purposes);
    const sent = sender.flush();
    if (withdrawn)
      void Promise.race([sent, new Promise((done) => setTimeout(done, RECORD_MS))]).then(() =>
        location.reload(),
      );
  }

  window.yare = {
    site: YARE_SITE,
    version: settings?.version ?? 0,
    open: () => open(true),
    allowed,
    onChange: (listener) => void listeners.push(listener),
  };
  document.addEventListener('click', (e) => {
    if (e.target instanceof Element && e.target.closest('[data-yare-open]')) {
      e.preventDefault();
      open(true);
    }
  });
  const begin = () => {
    if (settings?.asks && unanswered()) open(false);
    else if (settings) offerAgain();
  };
  void sender.flush();
  if (settings) letGo(allowed());
  if (document.readyState === 'loading') document.addEventListener('DOMContentLoaded', begin);
  else begin();
}

start(YARE_SETTINGS);
