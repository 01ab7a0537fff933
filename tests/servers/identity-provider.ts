import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import Provider from 'oidc-provider';

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

/** An OpenID provider on loopback, with one client, that signs on whom it is told and asks nothing. */
export async function identityProvider(redirect: string, port = 0): Promise<IdentityProvider> {
  const server: Server = createServer();
  await new Promise<void>((done) => server.listen(port, '127.0.0.1', done));
  const issuer = `http://localhost:${(server.address() as AddressInfo).port}`;
  let next: KnownPerson | undefined;
  const people = new Map<string, KnownPerson>();
  const provider = new Provider(issuer, {
    clients: [
      {
        ...{ client_id: CLIENT.id, client_secret: CLIENT.secret, redirect_uris: [redirect] },
        ...{ grant_types: ['authorization_code'], response_types: ['code'] },
        token_endpoint_auth_method: 'client_secret_post',
      },
    ],
    claims: {
      openid: ['sub', 'amr'],
      email: ['email', 'email_verified'],
      profile: ['name', 'title', 'groups'],
    },
    conformIdTokenClaims: false,
    pkce: { required: () => true },
    features: { devInteractions: { enabled: false } },
    findAccount: (_ctx, sub) => ({
      accountId: sub,
      claims: () => people.get(sub) ?? { sub },
    }),
    interactions: { url: (_ctx, interaction) => `/interaction/${interaction.uid}` },
    cookies: { keys: ['made up'] },
  });
  const handle = provider.callback();
  server.on('request', (req, res) => {
    void (async () => {
      if (!req.url?.startsWith('/interaction/')) return handle(req, res);
      const details = await provider.interactionDetails(req, res);
      if (!next) {
        return provider.interactionFinished(req, res, { error: 'access_denied', error_description: 'No.' });
      }
      if (details.prompt.name !== 'consent')
        return provider.interactionFinished(req, res, { login: { accountId: next.sub, remember: false } });
      const grant = new provider.Grant({
        accountId: details.session?.accountId ?? next.sub,
        clientId: String(details.params['client_id']),
      });
      grant.addOIDCScope('openid email profile');
      return provider.interactionFinished(req, res, { consent: { grantId: await grant.save() } });
    })().catch((error: unknown) => {
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
