import { z } from 'zod';
import { plainEmail } from '../email.ts';

/** The parts of RFC 7643 that are kept here of people and groups. */
export const USER = 'urn:ietf:params:scim:schemas:core:2.0:User';
export const GROUP = 'urn:ietf:params:scim:schemas:core:2.0:Group';
export const LIST = 'urn:ietf:params:scim:api:messages:2.0:ListResponse';
export const PATCH = 'urn:ietf:params:scim:api:messages:2.0:PatchOp';
export const ERROR = 'urn:ietf:params:scim:api:messages:2.0:Error';

/** Why something was refused, by RFC 7644, 3.12. */
export class ScimError extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly scimType?: string,
  ) {
    super(message);
  }
}

const Text = (most: number) => z.string().trim().max(most, `${most} letters at most`);

/** Attributes of a resource in any letter case, as RFC 7643, 2.1 has their names. */
export function plainKeys(value: unknown, names: readonly string[]): unknown {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return value;
  const right = new Map(names.map((n) => [n.toLowerCase(), n]));
  return Object.fromEntries(Object.entries(value).map(([k, v]) => [right.get(k.toLowerCase()) ?? k, v]));
}

/** Some send booleans as texts. */
const Yes = z.union([z.boolean(), z.stringbool()]);

const Email = z.looseObject({ value: z.string(), primary: Yes.optional() });

const UserBody = z.looseObject({
  userName: Text(190).min(1, 'userName is empty'),
  externalId: Text(255).nullish(),
  displayName: Text(300).nullish(),
  name: z
    .looseObject({
      formatted: Text(300).nullish(),
      givenName: Text(150).nullish(),
      familyName: Text(150).nullish(),
    })
    .nullish(),
  title: Text(300).nullish(),
  active: Yes.nullish(),
  emails: z.array(Email).max(20).nullish(),
});

const USER_NAMES = ['userName', 'externalId', 'displayName', 'name', 'title', 'active', 'emails'];

export interface ScimUser {
  /** What they sign in as there; `null` where that is the address. */
  readonly userName: string | null;
  readonly email: string;
  readonly name: string;
  readonly title: string;
  readonly active: boolean;
  readonly externalId: string | null;
}

/** Reads a person. Throws a ScimError (400) that names the attribute. */
export function readUser(body: unknown): ScimUser {
  const { userName, externalId, displayName, name, title, active, emails } = parsed(
    UserBody,
    plainKeys(body, USER_NAMES),
  );
  const primary = emails?.find((e) => e.primary === true) ?? emails?.[0];
  // Accounts are told apart by their address; a user name that is one goes first.
  const address = [userName, primary?.value].find((a) => a !== undefined && z.email().safeParse(a).success);
  if (address === undefined)
    throw new ScimError(
      400,
      'userName, or the primary of emails, has to be an e-mail address.',
      'invalidValue',
    );
  const parts = [name?.givenName, name?.familyName].filter(Boolean).join(' ');
  return {
    userName: plainEmail(userName) === plainEmail(address) ? null : userName,
    email: plainEmail(address),
    name: (displayName || name?.formatted || parts || address).slice(0, 120),
    title: (title ?? '').slice(0, 120),
    active: active ?? true,
    externalId: externalId ?? null,
  };
}

const GroupBody = z.looseObject({
  displayName: Text(255).min(1, 'displayName is empty'),
  externalId: Text(255).nullish(),
  members: z
    .array(z.looseObject({ value: z.coerce.string().max(40) }))
    .max(10_000)
    .nullish(),
});

export interface ScimGroup {
  readonly name: string;
  readonly externalId: string | null;
  /** Ids of people. */
  readonly members: readonly string[];
}

/** Reads a group. Throws a ScimError (400). */
export function readGroup(body: unknown): ScimGroup {
  const { displayName, externalId, members } = parsed(
    GroupBody,
    plainKeys(body, ['displayName', 'externalId', 'members']),
  );
  return {
    name: displayName,
    externalId: externalId ?? null,
    members: [...new Set((members ?? []).map((m) => m.value))],
  };
}

function parsed<T extends z.ZodType>(schema: T, body: unknown): z.infer<T> {
  const read = schema.safeParse(body);
  if (read.success) return read.data;
  const issue = read.error.issues[0];
  throw new ScimError(400, `${issue?.path.join('.') ?? ''}: ${issue?.message ?? ''}`, 'invalidValue');
}

/** A person as told; `id` is that of the account. */
export function userResource(
  {
    id,
    userName,
    email,
    name,
    title,
    active,
    externalId,
    at,
  }: ScimUser & { readonly id: number; readonly at: Moments },
  groups: readonly { readonly id: number; readonly name: string }[],
  base: string,
): object {
  return {
    schemas: [USER],
    id: String(id),
    ...(externalId === null ? {} : { externalId }),
    userName: userName ?? email,
    displayName: name,
    name: { formatted: name },
    ...(title === '' ? {} : { title }),
    active,
    emails: [{ value: email, type: 'work', primary: true }],
    groups: groups.map((g) => ({ value: String(g.id), display: g.name, $ref: `${base}/Groups/${g.id}` })),
    meta: { resourceType: 'User', ...at, location: `${base}/Users/${id}` },
  };
}

export interface Moments {
  readonly created: string;
  readonly lastModified: string;
}

export function groupResource(
  { id, name, externalId, at }: Omit<ScimGroup, 'members'> & { readonly id: number; readonly at: Moments },
  members: readonly { readonly id: number; readonly name: string }[],
  base: string,
): object {
  return {
    schemas: [GROUP],
    id: String(id),
    ...(externalId === null ? {} : { externalId }),
    displayName: name,
    members: members.map((m) => ({ value: String(m.id), display: m.name, $ref: `${base}/Users/${m.id}` })),
    meta: { resourceType: 'Group', ...at, location: `${base}/Groups/${id}` },
  };
}
