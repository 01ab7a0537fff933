import { NoticePanel, type NoticeSettings } from './notice.ts';

/** The page behind the desk's live preview: shows whatever notice the desk sends it, and records nothing. */
const desk = document.documentElement.dataset['desk'] ?? '';
let shown: NoticePanel | undefined;

addEventListener('message', (event: MessageEvent<unknown>) => {
  if (event.origin !== desk || event.source !== parent) return;
  shown?.close();
  shown = new NoticePanel(document, event.data as NoticeSettings, { choose: () => {} });
  shown.open([], '', false);
});
parent.postMessage('yare preview ready', desk);
