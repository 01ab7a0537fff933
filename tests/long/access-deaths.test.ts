import { afterAll, beforeAll, expect, it } from 'vitest';
import type { ChangeView } from '../../src/server/access/change/view-change.ts';
import { idKey } from '../../src/server/access/keys.ts';
import { grant, peopleBook, place, RightsServer, TOKEN } from '../rights-server.ts';
import { KillableDesk, wait } from './killable-desk.ts';

const PLACES = Number(process.env['YARE_LONG_FILES'] ?? 2000);
const KILLS = 6;

const server = new RightsServer();
let desk: KillableDesk;
beforeAll(async () => {
  await server.start();
  desk = await KillableDesk.start({ ALLOWED_PRIVATE: `localhost:${server.port}` });
});
afterAll(async () => {
  await desk?.stop();
  await server.stop();
});

it(
  `a change at ${PLACES} places ends whole, every step once, while worker and database are killed; so does its undo`,
  { timeout: 60 * 60_000 },
  async () => {
    server.people(peopleBook(['karl', 'tove'], { port: ['karl'] }));
    const places = Array.from({ length: PLACES }, (_, i) => `share/p${i}`);
    server.rights([
      place('share', { owner: 'tove' }),
      ...places.flatMap((p) => [place(p), grant(p, 'karl', 'read')]),
    ]);
    const before = granted();
    const source = (name: string, kind: string, what: 'people' | 'rights') =>
      desk.ask('POST', '/api/access/sources', {
        content: { name, everyHours: null, writes: true, opens: '', holds: [] },
        address: { kind, url: server.url(what).replace('127.0.0.1', 'localhost') },
        secret: TOKEN,
      });
    await source('Directory', 'scim', 'people');
    await source('Library', 'library', 'rights');
    await desk.until<{ estate: { places: number; people: number } }>(
      '/api/access/shelf',
      ({ estate }) => estate.places === PLACES + 1 && estate.people === 2,
    );
    const { id } = await desk.ask<{ id: number }>('POST', '/api/access/changes', {
      wish: { act: 'clear', who: [idKey('karl')] },
    });
    // A membership and the account besides.
    await through(id, PLACES + 2);
    expect(granted()).toEqual([]);
    const reached = await desk.ask<{ counts: object }>('GET', `/api/access/people/${idKey('karl')}`);
    expect(reached.counts).toEqual({ see: 0, read: 0, change: 0, give: 0 });
    const undo = await desk.ask<{ id: number }>('POST', `/api/access/changes/${id}/undo`, {});
    await through(undo.id, PLACES + 2);
    expect(granted()).toEqual(before);
  },
);

/** To whom something is given, and where. */
function granted(): readonly string[] {
  return (server.book?.lines ?? []).flatMap((l) => (l.type === 'grant' ? [`${l.place} ${l.to}`] : [])).sort();
}

/** Does a change while worker and database are killed. */
async function through(id: number, steps: number): Promise<void> {
  const path = `/api/access/changes/${id}`;
  await desk.ask('POST', `${path}/begin`, {});
  await desk.until<ChangeView>(path, (c) => (c.counts.done ?? 0) > 0);
  for (let kill = 0; kill < KILLS; kill++) {
    await wait(600 + 300 * kill);
    if ((await desk.ask<ChangeView>('GET', path)).state !== 'running') break;
    await desk.kill(kill);
  }
  const done = await desk.until<ChangeView>(path, (c) => c.state !== 'running');
  expect(done).toMatchObject({ state: 'done', counts: { done: steps } });
  // Each step stands in the history once.
  const events = await desk.ask<{ total: number }>('GET', `/api/access/events?change=${id}&size=1`);
  expect(events.total).toBe(steps);
}
