import { atom } from 'nanostores';
import type { DeskState } from '../../server/desk/desk-state.ts';
import { request } from './request.ts';

/** What the top bar and the strip show; `undefined` until the first word from the server. */
export const deskState = atom<DeskState | undefined>(undefined);
/** Whether the stream is open. */
export const connected = atom(true);

/** Until a stream that was refused is asked for again. */
const AGAIN_MS = 5000;

let source: EventSource | undefined;

/** Opens the stream once for this tab; the browser opens it again when it breaks. */
export function startLive(): void {
  if (source) return;
  source = new EventSource('/api/live');
  source.addEventListener('desk', (event) => {
    connected.set(true);
    deskState.set(JSON.parse((event as MessageEvent<string>).data) as DeskState);
  });
  source.addEventListener('open', () => connected.set(true));
  source.addEventListener('error', () => {
    connected.set(false);
    // Refused for good, as when the session is over: any question then leads to signing in.
    if (source?.readyState === EventSource.CLOSED) {
      source = undefined;
      void request('GET', '/api/today')
        .catch(() => {})
        .finally(() => setTimeout(startLive, AGAIN_MS));
    }
  });
}
