import type { PreviewWish } from '../core/websites/notice/shown-notice.ts';
import { NoticePanel } from './notice.ts';
import { Tcf } from './tcf.ts';

/** The page behind the desk's live preview: shows whatever notice the desk sends it, and records nothing. */
const desk = document.documentElement.dataset['desk'] ?? '';
let shown: NoticePanel | undefined;

addEventListener('message', (event: MessageEvent<unknown>) => {
  if (event.origin === desk && event.source === parent) void show(event.data as PreviewWish);
});

async function show({ settings, moment, theme, trackers, vendors }: PreviewWish): Promise<void> {
  const tcf =
    settings.tcf && vendors
      ? new Tcf(window, settings as Tcf['settings'], () => Promise.resolve(vendors))
      : undefined;
  await tcf?.ready();
  document.body.style.background = theme === 'dark' ? '#12181a' : '#fff';
  for (const element of document.querySelectorAll('yare-notice, yare-again')) element.remove();
  shown?.close();
  shown = new NoticePanel(document, settings, {
    choose: () => {},
    trackers: () => Promise.resolve(trackers),
    more: (details, element) => tcf?.layer(details, element, false),
  });
  const panel = shown;
  const asks = settings.asks || moment !== 'first visit';
  if (asks) {
    const back = moment === 'changed mind';
    panel.open(back ? settings.purposes.slice(0, 1) : settings.starts, back ? '–' : '', false);
  }
  if (!asks || moment === 'changed mind') panel.offerAgain(() => panel.open(settings.starts, '', true));
  if (moment === 'second layer')
    document.querySelector('yare-notice')?.shadowRoot?.querySelector('details')?.setAttribute('open', '');
}
parent.postMessage('yare preview ready', desk);
