import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { openidProvider } from '../../standins/login/login.ts';

/** Somebody whom the provider knows. */
export interface KnownPerson {
  readonly sub: string;
  readonly [claim: string]: unknown;
}

export interface IdentityProvider {
  readonly issuer: string;
  /** Who signs on next, without being asked. */
  next(person: KnownPerson): void;
  /** The next one says no. */
  refuse(): void;
  stop(): Promise<void>;
}

export const CLIENT = { id: 'yare-warden', secret: 'a secret that both know' } as const;

/**
 * An OpenID provider on loopback, with one client, that signs on whom it is told and asks nothing. It has its port before it
 * is known where it sends people back to.
 */
export async function identityProvider(redirect: () => string): Promise<IdentityProvider> {
  const server: Server = createServer();
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  const issuer = `http://localhost:${(server.address() as AddressInfo).port}`;
  let next: KnownPerson | undefined;
  const people = new Map<string, KnownPerson>();
  let answer: ReturnType<typeof openidProvider> | undefined;
  server.on('request', (req, res) => {
    answer ??= openidProvider({
      ...{ issuer, client: { ...CLIENT, redirect: redirect() } },
      find: (sub) => people.get(sub),
      who: () => Promise.resolve(next ?? 'nobody'),
    });
    answer(req, res).catch((error: unknown) => {
      res.statusCode = 500;
      res.end(String(error));
    });
  });
  return {
    issuer,
    next: (person) => {
      next = person;
      people.set(person.sub, person);
    },
    refuse: () => (next = undefined),
    stop: () =>
      new Promise((done) => {
        server.closeAllConnections();
        server.close(() => done());
      }),
  };
}
/** Goes where a browser would, with its cookies, until it is sent to `redirect`; that address. */
export async function followSignOn(from: URL, redirect: string): Promise<URL> {
  const cookies = new Map<string, string>();
  let url = from;
  for (let n = 0; n < 20; n += 1) {
    const answer = await fetch(url, {
      redirect: 'manual',
      headers: { cookie: [...cookies].map(([k, v]) => `${k}=${v}`).join('; ') },
    });
    for (const set of answer.headers.getSetCookie()) {
      const [pair = ''] = set.split(';');
      cookies.set(pair.slice(0, pair.indexOf('=')), pair.slice(pair.indexOf('=') + 1));
    }
    const to = answer.headers.get('location');
    if (to === null) throw new Error(`${url.href} answered ${answer.status}: ${await answer.text()}`);
    url = new URL(to, url);
    if (url.href.startsWith(redirect)) return url;
  }
  throw new Error('It goes round.');
}
