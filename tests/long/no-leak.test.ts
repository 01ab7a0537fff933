import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { LaunchedYare } from './launched-yare.ts';

/** What an officer says of what is found, by who it belongs to; own things by name. */
const PURPOSE_OF: readonly (readonly [RegExp, string])[] = [
  [/wavemeter|^data\.|(fare_ab|rate_view|d_visit|wave_)/, 'measurement'],
  [/adbuoy|streamhull|(ab_hop|adb)/, 'advertising'],
  [/talkdeck|mapquay|_lang$/, 'preferences'],
  // Payment, sessions, and what a visitor asks to be kept on their device.
  [/paylock|_session$|_sid$|offline|timetables|yare|^\/.*\.js$/, 'essential'],
];
/** What the web team marks, besides what is marked from the start. */
const MARKED: Readonly<Record<string, string>> = {
  ...{ wavemeter: 'measurement', 'own-count': 'measurement', offer: 'advertising', forbidden: 'advertising' },
  ...{ film: 'advertising', map: 'preferences' },
};

interface Row {
  readonly id: number;
  readonly kind: string;
  readonly name: string;
  readonly host: string;
}
interface Reported extends Row {
  readonly states: readonly string[];
  readonly leaks: readonly string[];
  readonly presumed: readonly string[];
  readonly purpose: string | null;
}

let yare: LaunchedYare;
let cookie = '';
const origin = () => `http://localhost:${yare.ports.WEB_PORT}`;

async function ask<T>(method: string, path: string, body?: unknown): Promise<T> {
  const answer = await fetch(`${origin()}${path}`, {
    method,
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    headers: { 'content-type': 'application/json', origin: origin(), cookie },
  });
  if (!answer.ok) throw new Error(`${method} ${path}: ${answer.status} ${await answer.text()}`);
  return (await answer.json()) as T;
}

beforeAll(async () => {
  yare = await LaunchedYare.start();
  const signIn = await fetch(`${origin()}/api/accounts/sign-in`, {
    method: 'POST',
    body: JSON.stringify({
      email: 'ines.abara@brindlestrait.example',
      password: 'five ships, four ports',
    }),
    headers: { 'content-type': 'application/json', origin: origin() },
  });
  cookie = signIn.headers
    .getSetCookie()
    .map((c) => c.split(';')[0])
    .join('; ');
}, 1_200_000);
afterAll(() => yare?.stop());

/** As the board of the site says: its tags, and the notice's line. */
const board = async (host: string, tag: string, purpose: string) => {
  const { STANDIN_PORT } = yare.ports;
  const at = `http://127.0.0.1:${STANDIN_PORT}/-/tags`;
  const { request } = await import('node:http');
  await new Promise<void>((done, failed) => {
    const sent = request(
      at,
      { method: 'POST', headers: { host: `${host.split(':')[0]}:${STANDIN_PORT}` } },
      (answer) => {
        answer.resume();
        answer.on('end', done);
      },
    );
    sent.on('error', failed);
    sent.end(new URLSearchParams({ tag, purpose }).toString());
  });
};

async function sweep(at: string, region: string): Promise<readonly Reported[]> {
  const { sweep: id } = await ask<{ sweep: number }>('POST', `${at}/sweeps`, { region });
  for (;;) {
    await new Promise((done) => setTimeout(done, 2000));
    const { sweep: last } = await ask<{ sweep: { id: unknown; state: string } | null }>('GET', at);
    if (last && String(last.id) === String(id) && !['waiting', 'running', 'queued'].includes(last.state))
      break;
  }
  const told = await ask<{ report: { trackers: readonly Reported[] } }>(
    'GET',
    `${at}/sweeps/${id}/report.json`,
  );
  return told.report.trackers;
}

const nameOf = (t: { kind: string; host: string; name: string }) => `${t.kind} ${t.host} ${t.name}`;
const leaking = (all: readonly Reported[]) =>
  all
    .filter((t) => t.leaks.length + t.presumed.length > 0)
    .map((t) => `${nameOf(t)} (${t.purpose}): ${[...t.leaks, ...t.presumed].join()}`);

describe.each(['brindlestrait', 'crew.brindlestrait', 'cruises.brindlestrait', 'freight.brindlestrait'])(
  'the notice of %s in force',
  (name) => {
    it(
      'lets nothing run that the law does not, and everything once it is allowed',
      { timeout: 3_600_000 },
      async () => {
        const host = `${name}.localhost:${yare.ports.STANDIN_PORT}`;
        const at = `/api/websites/${encodeURIComponent(host)}`;
        await board(host, '-script', 'yes');
        for (const [tag, purpose] of Object.entries(MARKED)) await board(host, tag, purpose);
        const notice = await ask<{ siteId: number; revision: number; stage: { state: string } }>(
          'GET',
          `${at}/notice`,
        );
        const { siteId, revision } = notice;
        if (notice.stage.state === 'draft')
          await ask('POST', `/api/rules/notice/${siteId}/move`, { act: 'rehearse', revision });
        if (notice.stage.state !== 'in force')
          await ask('POST', `/api/rules/notice/${siteId}/move`, { act: 'put in force', revision });
        await new Promise((done) => setTimeout(done, 3000));

        const found = await sweep(at, 'DK');
        const { rows } = await ask<{ rows: readonly Row[] }>('GET', `${at}/trackers?size=500`);
        for (const purpose of new Set(PURPOSE_OF.map(([, p]) => p))) {
          const ids = rows
            .filter((r) => PURPOSE_OF.find(([is]) => is.test(r.host) || is.test(r.name))?.[1] === purpose)
            .map((r) => r.id);
          if (ids.length > 0) await ask('POST', `${at}/trackers`, { ids, purpose, because: 'looked at' });
        }
        const { settings } = await ask<{ settings: { mode: string } }>('GET', `${at}/gate`);
        if (settings.mode !== 'by itself')
          await ask('PATCH', `${at}/gate`, { mode: 'by itself', saw: settings });
        await new Promise((done) => setTimeout(done, 3000));

        const asked = await sweep(at, 'DK');
        expect(leaking(asked)).toEqual([]);
        const ran = (all: readonly Reported[], state: string) =>
          all.filter((t) => t.states.includes(state)).map(nameOf);
        // What is held comes back: whoever accepts sees what was there before.
        const lost = ran(found, 'accepted').filter((n) => !ran(asked, 'accepted').includes(n));
        expect(lost).toEqual([]);

        const refusable = await sweep(at, 'US-CA');
        expect(leaking(refusable)).toEqual([]);
        // What comes with an answer, and what the site itself does only after one, is not there before it.
        const ofAnswers = /yare_choice|\/choices$|_lang$/;
        expect(ran(refusable, 'before').toSorted()).toEqual(
          ran(asked, 'accepted')
            .filter((n) => !ofAnswers.test(n))
            .toSorted(),
        );
      },
    );
  },
);
