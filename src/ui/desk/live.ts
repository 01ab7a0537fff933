import { atom } from 'nanostores';
import type { ChangedObject } from '../../core/desk/changed-object.ts';
import type { DeskState } from '../../server/desk/desk-state.ts';
import { readAgain, readAllAgain } from './changed.ts';
import { request } from './request.ts';

/** What the top bar and the strip show; `undefined` until the first word from the server. */
export const deskState = atom<DeskState | undefined>(undefined);
/** Whether the stream is open. */
export const connected = atom(true);

/** Until a stream that was refused is asked for again. */
const AGAIN_MS = 5000;

/** What the strip and the bar tell of besides what is on record: Today, the seal of the ledger, jobs and what they are about. */
export function changedBetween(before: DeskState | undefined, after: DeskState): readonly ChangedObject[] {
  if (!before) return [];
  const stateOf = new Map(before.jobs.map((j) => [j.id, j.state]));
  return [
    ...(before.today === after.today ? [] : [{ object: 'today', id: null }]),
    ...(before.ledger?.sealedAt === after.ledger?.sealedAt ? [] : [{ object: 'ledger', id: null }]),
    ...after.jobs.filter((j) => stateOf.get(j.id) !== j.state).map((j) => j.about),
  ];
}

let source: EventSource | undefined;

/** Opens the stream once for this tab; the browser opens it again when it breaks. */
export function startLive(): void {
  if (source) return;
  source = new EventSource('/api/live');
  source.addEventListener('desk', (event) => {
    connected.set(true);
    const state = JSON.parse((event as MessageEvent<string>).data) as DeskState;
    readAgain(changedBetween(deskState.get(), state));
    deskState.set(state);
  });
  source.addEventListener('changed', (event) =>
    readAgain([
      ...(JSON.parse((event as MessageEvent<string>).data) as ChangedObject[]),
      { object: 'ledger', id: null },
    ]),
  );
  source.addEventListener('open', () => {
    if (!connected.get()) readAllAgain();
    connected.set(true);
  });
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
