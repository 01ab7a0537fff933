import { z } from 'zod';
import { plainEmail } from '../email.ts';
import { MOST_GROUPS, type ProviderContent } from './provider.ts';

/** Somebody as a provider tells of them. */
export interface Person {
  readonly subject: string;
  readonly email: string | undefined;
  readonly verified: boolean;
  readonly name: string;
  readonly title: string;
  /** `undefined` where it tells none, which is not the same as being in none. */
  readonly groups: readonly string[] | undefined;
  /** It says that a second factor was used. */
  readonly secondFactor: boolean;
}

/** Methods of RFC 8176 that are, or come with, a second factor. */
const SECOND_FACTOR = new Set([
  'mfa',
  'otp',
  'hwk',
  'swk',
  'sc',
  'fpt',
  'face',
  'iris',
  'retina',
  'sms',
  'tel',
]);
const MOST_TEXT = 120;

/** Reads the claims of OpenID Connect Core 1.0 and RFC 8176. Claims that are no text, or too long, are as if not told. */
export function personOf(
  claims: Readonly<Record<string, unknown>>,
  { groupsClaim }: Pick<ProviderContent, 'groupsClaim'>,
): Person {
  const email = z.email().max(190).safeParse(textOf(claims['email'])).data;
  return {
    subject: textOf(claims['sub']) ?? '',
    email: email === undefined ? undefined : plainEmail(email),
    // Some providers write booleans as texts.
    verified: claims['email_verified'] === true || claims['email_verified'] === 'true',
    name: nameOf(claims, email).slice(0, MOST_TEXT),
    title: (textOf(claims['title']) ?? '').slice(0, MOST_TEXT),
    groups: groupsOf(claims, groupsClaim),
    secondFactor: listOf(claims['amr'])?.some((m) => SECOND_FACTOR.has(m)) ?? false,
  };
}

function nameOf(claims: Readonly<Record<string, unknown>>, email: string | undefined): string {
  const parts = [textOf(claims['given_name']), textOf(claims['family_name'])].filter((p) => p !== undefined);
  return (
    textOf(claims['name']) ??
    (parts.length > 0 ? parts.join(' ') : undefined) ??
    textOf(claims['preferred_username']) ??
    email ??
    ''
  );
}

/** By its name, or, where there is none of that name, along a path such as `realm_access.roles`. */
function groupsOf(claims: Readonly<Record<string, unknown>>, path: string): readonly string[] | undefined {
  if (Object.hasOwn(claims, path)) return listOf(claims[path]);
  let at: unknown = claims;
  for (const part of path.split('.')) {
    if (typeof at !== 'object' || at === null || !Object.hasOwn(at, part)) return undefined;
    at = (at as Readonly<Record<string, unknown>>)[part];
  }
  return listOf(at);
}

/** A list of texts, or one. */
function listOf(value: unknown): readonly string[] | undefined {
  if (typeof value === 'string') return value.trim() === '' ? [] : [value.trim()];
  if (!Array.isArray(value)) return undefined;
  const texts = value.flatMap((v) =>
    typeof v === 'string' && v.trim() !== '' ? [v.trim().slice(0, 255)] : [],
  );
  return [...new Set(texts)].slice(0, MOST_GROUPS);
}

function textOf(value: unknown): string | undefined {
  return typeof value === 'string' && value.trim() !== '' && value.length <= 1000 ? value.trim() : undefined;
}
