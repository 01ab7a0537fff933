import { choiceCookie, mustAsk, newKey, readChoice, type KeptChoice } from './choice.ts';
import type { GateHold } from '../core/websites/fix.ts';
import { Gate } from './gate.ts';
import { Holds } from './holds.ts';
import { chooseLanguage } from './language.ts';
import { NoticePanel, type NoticeSettings } from './notice.ts';

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
  const allowed = () => choice?.allowed ?? [];
  const panel = settings
    ? new NoticePanel(document, settings, { choose: (purposes) => choose(settings, purposes) })
    : undefined;

  const open = (focus: boolean) => panel?.open(allowed(), choice?.receipt ?? '', focus);
  const keep = (months: number, next: KeptChoice) => {
    choice = next;
    document.cookie = choiceCookie(next, months, location.protocol === 'https:');
  };

  function offerAgain(): void {
    if (!document.querySelector('[data-yare-open]')) panel?.offerAgain(() => open(true));
  }

  function choose(s: NoticeSettings, purposes: readonly string[]): void {
    const before = allowed();
    const key = choice?.key ?? newKey();
    keep(s.months, {
      version: s.version,
      allowed: purposes,
      key,
      at: Math.floor(Date.now() / 1000),
      receipt: choice?.receipt ?? '',
    });
    panel?.close();
    offerAgain();
    // What already runs cannot be taken back: after a withdrawal the page starts anew without it.
    const withdrawn = before.some((p) => !purposes.includes(p));
    if (!withdrawn) letGo(purposes);
    for (const listener of listeners) listener(purposes);
    void send(s, key, purposes).then((receipt) => {
      if (receipt && choice) keep(s.months, { ...choice, receipt });
      if (withdrawn) location.reload();
    });
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
    if (settings && mustAsk(choice, settings.asksSince, settings.months, Date.now() / 1000)) open(false);
    else if (choice) offerAgain();
  };
  if (settings && !mustAsk(choice, settings.asksSince, settings.months, Date.now() / 1000)) letGo(allowed());
  if (document.readyState === 'loading') document.addEventListener('DOMContentLoaded', begin);
  else begin();
}

/** Sends the choice, three times if need be; the receipt's number, or '' when the service cannot be reached. */
async function send(s: NoticeSettings, visitorKey: string, allowed: readonly string[]): Promise<string> {
  const body = JSON.stringify({ version: s.version, allowed, language: s.language, visitorKey });
  for (let attempt = 0; attempt < 3; attempt++) {
    try {
      const response = await fetch(`${s.origin}/${s.key}/choices`, {
        method: 'POST',
        body,
        keepalive: true,
        credentials: 'omit',
      });
      if (response.ok) return ((await response.json()) as { receipt: { id: string } }).receipt.id;
      if (response.status < 500) return '';
    } catch {
      // Tried again below.
    }
    await new Promise((done) => setTimeout(done, 400 * 3 ** attempt));
  }
  return '';
}

start(YARE_SETTINGS);
