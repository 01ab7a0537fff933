import type { IncomingMessage, ServerResponse } from 'node:http';
import Provider from 'oidc-provider';
import { readBody, send } from '../answer.ts';

interface Known {
  readonly sub: string;
  readonly [claim: string]: unknown;
}

interface LoginOptions {
  readonly issuer: string;
  readonly client: {
    readonly id: string;
    readonly secret: string;
    /** Where it sends people back to. */
    readonly redirect: string;
  };
  readonly find: (sub: string) => Known | undefined;
  /**
   * Who signs on, at a request to the page of a sign-on; `asked` where that page is to be shown, `nobody` where they say no.
   */
  readonly who: (request: IncomingMessage, response: ServerResponse) => Promise<Known | 'asked' | 'nobody'>;
}

/** An OpenID provider with one client. */
export function openidProvider({ issuer, client, find, who }: LoginOptions) {
  const provider = new Provider(issuer, {
    clients: [
      {
        ...{ client_id: client.id, client_secret: client.secret, redirect_uris: [client.redirect] },
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
    findAccount: (_ctx, sub) => ({ accountId: sub, claims: () => find(sub) ?? { sub } }),
    interactions: { url: (_ctx, interaction) => `/interaction/${interaction.uid}` },
    cookies: { keys: [client.secret] },
    ttl: { AccessToken: 600, Grant: 3600, IdToken: 600, Interaction: 600, Session: 600 },
  });
  const handle = provider.callback();
  return async (request: IncomingMessage, response: ServerResponse): Promise<void> => {
    if (!request.url?.startsWith('/interaction/')) return handle(request, response);
    const { prompt, session, params } = await provider.interactionDetails(request, response);
    if (prompt.name === 'consent') {
      const grant = new provider.Grant({
        ...{ accountId: session?.accountId ?? '', clientId: String(params['client_id']) },
      });
      grant.addOIDCScope('openid email profile');
      return provider.interactionFinished(request, response, { consent: { grantId: await grant.save() } });
    }
    const person = await who(request, response);
    if (person === 'asked') return;
    return provider.interactionFinished(
      request,
      response,
      person === 'nobody'
        ? { error: 'access_denied', error_description: 'No.' }
        : { login: { accountId: person.sub, remember: false } },
    );
  };
}

/** The login of the demo: a page with the people it knows, of whom one is chosen, without a password. */
export function login(
  origin: string,
  client: LoginOptions['client'],
  people: readonly (Known & {
    readonly name: string;
    readonly title: string;
    readonly groups: readonly string[];
  })[],
) {
  const known = people.map((p) => ({ ...p, email_verified: true, amr: ['pwd', 'otp'] }));
  return openidProvider({
    ...{ issuer: origin, client },
    find: (sub) => known.find((p) => p.sub === sub),
    who: async (request, response) => {
      if (request.method !== 'POST') {
        send(response, 'text/html; charset=utf-8', page(people));
        return 'asked';
      }
      const sub = new URLSearchParams((await readBody(request, 2000)).toString('utf8')).get('sub');
      return known.find((p) => p.sub === sub) ?? 'nobody';
    },
  });
}

function page(people: Parameters<typeof login>[2]): string {
  const buttons = people.map(
    (p) =>
      `<li><button name="sub" value="${p.sub}">${p.name}</button> ${p.title} · ${p.groups.join(', ')}</li>`,
  );
  return `<!doctype html><html lang="en"><meta charset="utf-8"><title>Brindle Strait login</title>
<style>body{font:16px/1.6 sans-serif;max-width:40rem;margin:3rem auto;padding:0 1rem;color:#1b2a33}ul{list-style:none;padding:0}li{padding:.4rem 0;border-top:1px solid #d5dcdb}button{font:inherit;padding:.2rem .8rem;min-width:10rem}</style>
<h1>Brindle Strait login</h1><p>A stand-in for the login of the ferry line: choose as whom you sign on.</p>
<form method="post"><ul>${buttons.join('')}<li><button name="sub" value="">None of them</button></li></ul></form></html>`;
}
