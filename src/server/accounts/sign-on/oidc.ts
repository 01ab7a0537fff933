import {
  allowInsecureRequests,
  authorizationCodeGrant,
  buildAuthorizationUrl,
  calculatePKCECodeChallenge,
  ClientSecretPost,
  customFetch,
  discovery,
  enableNonRepudiationChecks,
  fetchUserInfo,
  None,
  randomNonce,
  randomPKCECodeVerifier,
  randomState,
  type Configuration,
} from 'openid-client';
import { z } from 'zod';
import { personOf, type Person } from '../../../core/accounts/sign-on/claims.ts';
import { ProviderContent } from '../../../core/accounts/sign-on/provider.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { destinationRules, isAllowedPrivate } from '../../http/allowed-destination.ts';
import { AskError, checkedFetch } from '../../http/checked-request.ts';
import { openText } from '../../secret.ts';
import { JsonColumn } from '../../store/columns.ts';
import { endStep, keepStep, tryStep } from '../sign-in/sign-in-step.ts';

const SCOPE = 'openid email profile';
const FRESH_MS = 10 * 60_000;

interface Client {
  readonly issuer: string;
  readonly clientId: string;
  readonly secret: string;
}

/** Configurations that were read lately, by who asks whom. */
const read = new Map<string, { readonly at: number; readonly configuration: Promise<Configuration> }>();

/** Reads how a provider is asked (OpenID Connect Discovery 1.0). Throws a RefusedError that says why it cannot be. */
export async function readConfiguration(
  { settings, now }: Context,
  { issuer, clientId, secret }: Client,
): Promise<Configuration> {
  const key = JSON.stringify([issuer, clientId, secret]);
  const known = read.get(key);
  if (known && now().getTime() - known.at < FRESH_MS) return known.configuration;
  const url = new URL(issuer);
  const port = Number(url.port || 80);
  if (url.protocol === 'http:' && !isAllowedPrivate(url.hostname, port, destinationRules(settings)))
    throw new RefusedError('Without TLS anybody could say who somebody is.', [
      { field: 'issuer', message: 'Give an address that begins with https://.' },
    ]);
  const configuration = discovery(
    url,
    clientId,
    undefined,
    secret === '' ? None() : ClientSecretPost(secret),
    {
      [customFetch]: checkedFetch(settings),
      execute: [...(url.protocol === 'http:' ? [allowInsecureRequests] : []), enableNonRepudiationChecks],
    },
  ).catch((error: Error) => {
    read.delete(key);
    throw unreadable(issuer, error);
  });
  read.set(key, { at: now().getTime(), configuration });
  if (read.size > 50) read.delete([...read.keys()][0] ?? '');
  return configuration;
}

function unreadable(issuer: string, error: Error & { code?: string }): RefusedError {
  const cause = error instanceof AskError ? error : error.cause instanceof AskError ? error.cause : undefined;
  return new RefusedError(cause?.message ?? `${new URL(issuer).host} does not say how it is asked.`, [
    {
      field: 'issuer',
      message: `See that ${issuer}/.well-known/openid-configuration opens, and names this issuer.`,
    },
  ]);
}

const Row = z.object({
  issuer: z.string(),
  client_secret: z.string(),
  content: JsonColumn(ProviderContent),
});

async function clientOf(ctx: Context, provider: number) {
  const row = await ctx.store.one(
    Row,
    'SELECT issuer, client_secret, content FROM identity_provider WHERE id = ? AND stopped_at IS NULL',
    [provider],
  );
  if (!row) throw notFound('provider');
  const secret = row.client_secret === '' ? '' : openText(ctx.settings.SECRET_KEY, row.client_secret);
  return {
    content: row.content,
    configuration: await readConfiguration(ctx, {
      issuer: row.issuer,
      clientId: row.content.clientId,
      secret,
    }),
  };
}

export function redirectUri({ settings }: Pick<Context, 'settings'>): string {
  return `${settings.WEB_ORIGIN}/sign-on/back`;
}

const Step = z.object({
  provider: z.number(),
  verifier: z.string(),
  state: z.string(),
  nonce: z.string(),
  to: z.string(),
  /** Who only looks what it would say. */
  tries: z.number().nullable(),
});

/** Where a browser is sent to sign on, and what it brings back. Throws a RefusedError. */
export async function beginSignOn(
  ctx: Context,
  provider: number,
  { to, tries }: { readonly to: string; readonly tries: number | null },
): Promise<{ readonly step: string; readonly url: URL }> {
  const { configuration } = await clientOf(ctx, provider);
  const [verifier, state, nonce] = [randomPKCECodeVerifier(), randomState(), randomNonce()];
  const url = buildAuthorizationUrl(configuration, {
    ...{ redirect_uri: redirectUri(ctx), scope: SCOPE, state, nonce },
    ...{ code_challenge: await calculatePKCECodeChallenge(verifier), code_challenge_method: 'S256' },
    // Whoever looks what it would say says as whom.
    ...(tries === null ? {} : { prompt: 'login' }),
  });
  return {
    url,
    step: await keepStep(ctx, 'sign-on', undefined, { provider, verifier, state, nonce, to, tries }),
  };
}

export interface Told {
  readonly provider: number;
  readonly content: ProviderContent;
  readonly person: Person;
  readonly to: string;
  readonly tries: number | null;
}

/** Reads what a provider said of whoever came back from it. Throws a RefusedError. */
export async function endSignOn(ctx: Context, token: string | undefined, back: URL): Promise<Told> {
  const { content: step } = await tryStep(ctx, 'sign-on', token, Step);
  await endStep(ctx, token ?? '');
  const { content, configuration } = await clientOf(ctx, step.provider);
  // Behind a proxy the desk is called otherwise than it is asked.
  const asked = new URL(redirectUri(ctx));
  asked.search = back.search;
  const tokens = await authorizationCodeGrant(configuration, asked, {
    ...{ pkceCodeVerifier: step.verifier, expectedState: step.state, expectedNonce: step.nonce },
    idTokenExpected: true,
  }).catch((error: unknown) => {
    throw notSignedOn(content.name, error);
  });
  const claims = tokens.claims();
  if (!claims) throw notSignedOn(content.name, undefined);
  const more = configuration.serverMetadata().userinfo_endpoint
    ? await fetchUserInfo(configuration, tokens.access_token, claims.sub).catch((error: unknown) => {
        throw notSignedOn(content.name, error);
      })
    : {};
  return {
    ...{ provider: step.provider, content, to: step.to, tries: step.tries },
    // What is signed counts where both tell.
    person: personOf({ ...more, ...claims }, content),
  };
}

function notSignedOn(name: string, error: unknown): RefusedError {
  const { error: code, error_description: told } = z
    .object({ error: z.string().catch(''), error_description: z.string().catch('') })
    .catch({ error: '', error_description: '' })
    .parse(error ?? {});
  if (code === 'access_denied') return new RefusedError(`${name} did not let you in.`, [], 403);
  return new RefusedError(
    `${name} did not say who you are${told === '' ? '' : `: ${told.slice(0, 200)}`}.`,
    [{ field: 'provider', message: 'Try again. If it goes on, ask your privacy officer.' }],
    403,
  );
}
