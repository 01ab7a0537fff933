import { readdir } from 'node:fs/promises';
import { connect } from 'node:net';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { PROJECT } from '../../launcher/project.ts';
import { chanceOf, type Chance } from '../corpus/chance.ts';
import { HOST, RunningProcesses } from './running-processes.ts';

const REQUESTS = 2000;
let all: RunningProcesses;
let ports: RunningProcesses['ports'];
let cookie = '';
let siteKey = '';

beforeAll(async () => {
  all = await RunningProcesses.start();
  ({ ports, siteKey } = all);
  cookie = await all.signIn();
});
afterAll(() => all?.stop());

/** One request as bytes; what comes back of it, as far as its status. */
function raw(port: number, bytes: Buffer, patienceMs = 12_000): Promise<number> {
  return new Promise((resolve) => {
    let text = '';
    const socket = connect(port, '127.0.0.1', () => socket.write(bytes));
    const late = setTimeout(() => socket.destroy(), patienceMs);
    socket.on('data', (c: Buffer) => {
      text += c.toString('latin1');
      if (/^HTTP\/1\.1 \d{3}/.test(text)) socket.destroy();
    });
    socket.on('error', () => {});
    socket.on('close', () => {
      clearTimeout(late);
      resolve(Number(/^HTTP\/1\.1 (\d{3})/.exec(text)?.[1] ?? 0));
    });
  });
}

const METHODS = [
  'GET',
  'GET',
  'GET',
  'POST',
  'POST',
  'PUT',
  'PATCH',
  'DELETE',
  'HEAD',
  'OPTIONS',
  'TRACE',
  'CONNECT',
  'PROPFIND',
  'M-SEARCH',
  'get',
  'BREW',
];
const ODD = [
  '',
  '/',
  '//',
  '///x',
  '/\\',
  '/%',
  '/%00',
  '/%ff%fe',
  '/..%2f..%2fetc/passwd',
  '/%2e%2e/',
  '/?',
  '/?a=1&a=2&__proto__=x',
  '*',
  'http://[',
  'http://evil.example/',
  '/x'.repeat(900),
  '/\u00e9',
  '/;',
  '/@',
  '/.well-known/x',
  '/favicon.ico',
  '/_astro/../../x',
];
const VALUES: readonly unknown[] = [
  null,
  true,
  0,
  -1,
  1e308,
  'x',
  '',
  '\u0000',
  '\ud800',
  '<script>',
  "' OR 1=1 --",
  '__proto__',
  [],
  [[[]]],
  {},
  { __proto__: 1 },
  'a'.repeat(5000),
  '9'.repeat(30),
  '2026-13-45',
  '../../x',
  'Infinity',
  1.5,
  ['a', 1, null],
  'ß'.repeat(300),
];
const HEADERS: readonly (readonly [string, string])[] = [
  ['origin', 'null'],
  ['origin', 'http://evil.example'],
  ['origin', 'http://['],
  ['sec-fetch-site', 'cross-site'],
  ['sec-fetch-site', 'same-origin'],
  ['content-type', 'text/plain'],
  ['content-type', 'multipart/form-data'],
  ['content-length', '-1'],
  ['content-length', '99999999'],
  ['transfer-encoding', 'chunked'],
  ['expect', '100-continue'],
  ['upgrade', 'websocket'],
  ['connection', 'upgrade'],
  ['range', 'bytes=5-2'],
  ['range', 'bytes=-'],
  ['if-none-match', '"x"'],
  ['accept-encoding', 'zz'],
  ['cookie', 'yare_session=%'],
  ['cookie', 'yare_session='],
  ['cookie', `yare_session=${'a'.repeat(3000)}`],
  ['x-forwarded-for', '999.1.1.1'],
  ['x-forwarded-host', 'evil.example'],
  ['x-forwarded-proto', 'javascript'],
  ['x-yare-rehearsal', 'f'.repeat(64)],
  ['x-yare-holds', '!!!'],
  ['host', ''],
  ['host', 'a b'],
  ['host', '[::'],
  ['user-agent', ''],
  ['x', '\u00ff'.repeat(50)],
];

function randomRequest(
  chance: Chance,
  paths: readonly string[],
  fields: readonly string[],
  cookies: string,
): Buffer {
  const method = chance.pick(METHODS);
  let path = chance.below(5) === 0 ? chance.pick(ODD) : chance.pick(paths);
  path = path.replaceAll(/\[[^\]]*\]/g, () =>
    chance.below(3) === 0
      ? encodeURIComponent(HOST)
      : encodeURIComponent(
          String(chance.pick(VALUES.filter((v) => typeof v !== 'object')) ?? 'x').replace(
            /\p{Surrogate}/gu,
            '',
          ),
        ).slice(0, 300),
  );
  const value = () => chance.pick(VALUES);
  const body = Object.fromEntries(
    Array.from({ length: chance.below(6) }, () => [
      chance.pick(fields),
      chance.below(3) ? value() : chance.below(100),
    ]),
  );
  if (chance.below(2))
    path += `${path.includes('?') ? '&' : '?'}${new URLSearchParams(Object.entries(body).map(([k, v]) => [k, String(v).slice(0, 500)])).toString()}`;
  const text =
    chance.below(4) === 0
      ? String(chance.pick(['{', '[', 'null', '"x"', '{"a":', '\u0000', '[]', '{}', '['.repeat(50_000)]))
      : JSON.stringify(body);
  const headers = new Map<string, string>([
    ['host', `localhost:${ports.web}`],
    ['connection', 'close'],
    ['content-length', String(Buffer.byteLength(text))],
    ...(chance.below(4) ? ([['origin', `http://localhost:${ports.web}`]] as const) : []),
    ...(cookies && chance.below(4) ? ([['cookie', cookies]] as const) : []),
  ]);
  for (let i = chance.below(3); i > 0; i--) headers.set(...chance.pick(HEADERS));
  const head = `${method} ${path || '/'} HTTP/1.1\r\n${[...headers].map(([k, v]) => `${k}: ${v}\r\n`).join('')}\r\n`;
  return Buffer.concat([Buffer.from(head, chance.below(2) ? 'utf8' : 'latin1'), Buffer.from(text)]);
}

/** Signing out would end the attack. */
const LEFT_OUT = /^\/api\/accounts\/(sign-out|sessions)/;

async function attack(
  port: number,
  paths: readonly string[],
  fields: readonly string[],
  cookies = '',
): Promise<string[]> {
  const chance = chanceOf(20261128 + (port % 7));
  const wrong: string[] = [];
  let sent = 0;
  const one = async () => {
    while (sent < REQUESTS) {
      sent++;
      const bytes = randomRequest(chance, paths, fields, cookies);
      const status = await raw(port, bytes);
      // 503 is for a database that is away, and ours is there.
      if (status === 500 || status === 503)
        wrong.push(`${status}: ${bytes.toString('latin1').slice(0, 700)}`);
    }
  };
  await Promise.all(Array.from({ length: 24 }, one));
  return wrong;
}

const alive = (port: number, path = '/healthz') =>
  fetch(`http://127.0.0.1:${port}${path}`).then((r) => r.status);

it('a body of the desk that comes slowly is cut as early as a head', async () => {
  const begun = Date.now();
  const slow = (path: string) =>
    raw(
      ports.web,
      Buffer.from(
        `POST ${path} HTTP/1.1\r\nhost: localhost:${ports.web}\r\norigin: http://localhost:${ports.web}\r\ncookie: ${cookie}\r\ncontent-length: 90\r\n\r\n{`,
      ),
      50_000,
    );
  await Promise.all([slow('/api/accounts/sign-in'), slow('/api/websites')]);
  expect(Date.now() - begun).toBeLessThan(30_000);
});

describe(`${REQUESTS} random requests`, () => {
  it('against the desk: none ends it, none is told as our fault', async () => {
    const routes = (await readdir(join(PROJECT, 'src/pages'), { recursive: true }))
      .filter((f) => /\.(ts|astro)$/.test(f))
      .map(
        (f) =>
          `/${f
            .replace(/\.(ts|astro)$/, '')
            .replace(/(^|\/)index$/, '')
            .replace('[...path]', '[x]')}`,
      )
      .filter((p) => !LEFT_OUT.test(p));
    const fields = [
      'host',
      'id',
      'name',
      'size',
      'after',
      'from',
      'to',
      'text',
      'revision',
      'version',
      'purpose',
      'because',
      'ids',
      'saw',
      'of',
      'draft',
      'base',
      'content',
      'act',
      'email',
      'password',
      'current',
      'next',
      'key',
      'kind',
      'base64',
      'upload',
      'marks',
      'label',
      'disabled',
      'detector',
      'address',
      'scope',
      'region',
      'sort',
      'order',
      'show',
      'visitors',
      'fix',
    ];
    expect(await attack(ports.web, routes, fields, cookie)).toEqual([]);
    expect(await alive(ports.web)).toBe(200);
  });

  it('against the visitor service', async () => {
    const paths = [
      `/${siteKey}.js`,
      `/${siteKey}/choices`,
      `/${siteKey}/receipts/[x]`,
      '/preview',
      '/preview.js',
      '/healthz',
      '/[x].js',
    ];
    const fields = ['version', 'allowed', 'language', 'visitorKey', 'choiceKey', 'shown', 'x'];
    expect(await attack(ports.visitor, paths, fields)).toEqual([]);
    expect(await alive(ports.visitor)).toBe(200);
  });

  it('against the worker', async () => {
    expect(await attack(ports.worker, ['/healthz', '/', '/[x]'], ['x'])).toEqual([]);
    expect(await alive(ports.worker)).toBe(200);
  });

  it('against the stand-ins', async () => {
    await attack(ports.standins, ['/', '/-/tags', '/[x]', '/healthz'], ['x', 'purpose']);
    expect(await alive(ports.standins)).toBe(200);
  });

  it('and afterwards all that answered answer still, and none was started again', async () => {
    expect(all.ended).toEqual([]);
    expect(await alive(ports.visitor, `/${siteKey}.js`)).toBe(200);
    const signedIn = await fetch(`http://localhost:${ports.web}/api/today`, { headers: { cookie } });
    expect(signedIn.status).toBe(200);
  });
});

describe('a request from elsewhere', () => {
  const ask = (path: string, headers: Record<string, string>, method = 'GET', body?: string) =>
    fetch(`http://localhost:${ports.web}${path}`, {
      method,
      headers: { cookie, ...headers },
      ...(body ? { body } : {}),
    });

  it.each([['null'], [`https://localhost:0`], ['http://localhost.evil.example'], ['http://evil.example']])(
    'with the origin %s writes nothing',
    async (origin) => {
      expect((await ask('/api/evidence/verify', { origin }, 'POST', '{}')).status).toBe(403);
    },
  );

  it('of another scheme or port is another origin', async () => {
    for (const origin of [`https://localhost:${ports.web}`, `http://localhost:${ports.web + 1}`])
      expect((await ask('/api/evidence/verify', { origin }, 'POST', '{}')).status).toBe(403);
    expect(
      (await ask('/api/evidence/verify', { origin: `http://127.0.0.1:${ports.web}` }, 'POST', '{}')).status,
    ).toBe(200);
  });

  it('cannot export, or write to the ledger, by reading', async () => {
    const before = await all.store.one(z.object({ n: z.number() }), 'SELECT COUNT(*) AS n FROM ledger_entry');
    for (const path of ['/api/evidence/export', `/api/websites/${HOST}/consents.csv`])
      for (const site of ['cross-site', 'same-site'])
        expect((await ask(path, { 'sec-fetch-site': site })).status).toBe(403);
    const after = await all.store.one(z.object({ n: z.number() }), 'SELECT COUNT(*) AS n FROM ledger_entry');
    expect(after).toEqual(before);
    expect((await ask('/api/evidence/export', { 'sec-fetch-site': 'same-origin' })).status).toBe(200);
  });

  it('finds a policy that frames the preview alone', async () => {
    const page = await ask('/today', {});
    expect(page.headers.get('content-security-policy')).toContain(
      `frame-src http://localhost:${ports.visitor}`,
    );
    expect(page.headers.get('content-security-policy')).not.toContain('frame-src *');
  });

  it('with a body without end is cut where it is too long, signed in or not', async () => {
    const endless = (headers: Record<string, string>, path: string) =>
      new Promise<{ status: number; sent: number }>((resolve) => {
        let text = '';
        let sent = 0;
        const socket = connect(ports.web, '127.0.0.1', () => {
          const extra = Object.entries(headers)
            .map(([k, v]) => `${k}: ${v}\r\n`)
            .join('');
          socket.write(
            `POST ${path} HTTP/1.1\r\nhost: localhost:${ports.web}\r\norigin: http://localhost:${ports.web}\r\ntransfer-encoding: chunked\r\n${extra}\r\n`,
          );
          const chunk = Buffer.concat([
            Buffer.from('10000\r\n'),
            Buffer.alloc(65536, 'x'),
            Buffer.from('\r\n'),
          ]);
          const more = () => {
            while (!socket.destroyed && sent < 60e6) {
              sent += 65536;
              if (!socket.write(chunk)) return void socket.once('drain', more);
            }
          };
          more();
        });
        socket.on('data', (c: Buffer) => {
          text += c.toString();
          socket.destroy();
        });
        socket.on('error', () => {});
        socket.on('close', () => resolve({ status: Number(/ (\d{3}) /.exec(text)?.[1] ?? 0), sent }));
      });
    for (const [headers, path] of [
      [{}, '/api/accounts/sign-in'],
      [{ cookie }, '/api/holdings/detectors/trial'],
    ] as const) {
      const { status, sent } = await endless(headers, path);
      expect([413, 0]).toContain(status);
      expect(sent).toBeLessThan(30e6);
    }
    expect((await endless({}, '/api/holdings/detectors/trial')).status).not.toBe(200);
  });

  it('that listens is let go when its session ends', async () => {
    const other = await all.signIn();
    const live = await fetch(`http://localhost:${ports.web}/api/live`, { headers: { cookie: other } });
    const reader = live.body!.getReader();
    await reader.read();
    await fetch(`http://localhost:${ports.web}/api/accounts/sign-out`, {
      method: 'POST',
      headers: { cookie: other, origin: `http://localhost:${ports.web}` },
    });
    const over = (async () => {
      for (;;) if ((await reader.read()).done) return 'over';
    })();
    expect(
      await Promise.race([over, new Promise((done) => setTimeout(() => done('still open'), 15_000))]),
    ).toBe('over');
  });
});
