import { scimPatch, patchBodyValidation, type ScimPatch, type ScimResource } from 'scim-patch';
import { ERROR, plainKeys, readGroup, readUser, ScimError } from '../../../../core/accounts/sign-on/scim.ts';
import { listOf } from '../../../../core/accounts/sign-on/scim-query.ts';
import { RefusedError } from '../../../../core/refusal.ts';
import type { Context } from '../../../context.ts';
import type { Queries } from '../../../store/pool.ts';
import { settleGroupRoles } from '../group-roles.ts';
import { RESOURCE_TYPES, SCHEMAS, SERVICE } from './scim-about.ts';
import type { Keeper } from './keeper.ts';
import { addGroup, dropGroup, findGroup, listGroups, setGroup } from './scim-groups.ts';
import { addUser, dropUser, findUser, listUsers, setUser } from './scim-users.ts';

export interface ScimAsked {
  readonly method: string;
  /** Below `/scim/v2`. */
  readonly path: readonly string[];
  readonly query: Readonly<Record<string, string>>;
  readonly body: unknown;
}

export interface ScimAnswer {
  readonly status: number;
  readonly body?: object;
}

/** What can be done with a kind of resource. */
interface Kind {
  readonly list: (store: Queries, keeper: Keeper) => Promise<readonly object[]>;
  readonly find: (store: Queries, keeper: Keeper, id: string) => Promise<object>;
  readonly add: (tx: Queries, now: Date, keeper: Keeper, body: unknown) => Promise<number>;
  readonly set: (tx: Queries, now: Date, keeper: Keeper, id: string, body: unknown) => Promise<void>;
  readonly drop: (tx: Queries, now: Date, keeper: Keeper, id: string) => Promise<void>;
}

const USERS: Kind = {
  ...{ list: listUsers, find: findUser, drop: dropUser },
  add: (tx, now, keeper, body) => addUser(tx, now, keeper, readUser(body)),
  set: (tx, now, keeper, id, body) => setUser(tx, now, keeper, id, readUser(body)),
};
const GROUPS: Kind = {
  ...{ list: listGroups, find: findGroup },
  add: (tx, now, keeper, body) => addGroup(tx, now, keeper, readGroup(body)),
  set: (tx, now, keeper, id, body) => setGroup(tx, now, keeper, id, readGroup(body)),
  drop: (tx, _now, keeper, id) => dropGroup(tx, keeper, id),
};
const KINDS: Readonly<Record<string, Kind>> = { users: USERS, groups: GROUPS };
const ABOUT: Readonly<Record<string, object>> = {
  serviceproviderconfig: SERVICE,
  resourcetypes: RESOURCE_TYPES,
  schemas: SCHEMAS,
};

/** Answers one request of SCIM 2.0 (RFC 7644). Roles follow in the transaction that changes people or groups. */
export async function answerScim(ctx: Context, keeper: Keeper, asked: ScimAsked): Promise<ScimAnswer> {
  try {
    return await answer(ctx, keeper, asked);
  } catch (error) {
    if (error instanceof ScimError) return scimError(error);
    if (error instanceof RefusedError) return scimError(new ScimError(error.status, error.message));
    throw error;
  }
}

export function scimError({ status, message, scimType }: ScimError): ScimAnswer {
  return {
    status,
    body: { schemas: [ERROR], status: String(status), ...(scimType ? { scimType } : {}), detail: message },
  };
}

async function answer(ctx: Context, keeper: Keeper, asked: ScimAsked): Promise<ScimAnswer> {
  const [name = '', id, ...rest] = asked.path;
  const known = name.toLowerCase();
  const about = Object.hasOwn(ABOUT, known) ? ABOUT[known] : undefined;
  if (about && asked.method === 'GET') return { status: 200, body: partOf(about, id) };
  const kind = Object.hasOwn(KINDS, known) ? KINDS[known] : undefined;
  if (!kind || rest.length > 0) throw new ScimError(404, 'There is no such resource.');
  if (id === undefined) return ofAll(ctx, keeper, kind, asked);
  return ofOne(ctx, keeper, kind, id, asked);
}

/** One of what is told about the service, by its id, or all of it. */
function partOf(about: object, id: string | undefined): object {
  if (id === undefined) return about;
  const parts = 'Resources' in about ? (about.Resources as readonly { readonly id: string }[]) : [];
  const part = parts.find((p) => p.id === id);
  if (!part) throw new ScimError(404, 'There is no such resource.');
  return part;
}

async function ofAll(
  ctx: Context,
  keeper: Keeper,
  kind: Kind,
  { method, query, body }: ScimAsked,
): Promise<ScimAnswer> {
  if (method === 'GET') return { status: 200, body: listOf(await kind.list(ctx.store, keeper), query) };
  if (method !== 'POST') throw NOT_POSSIBLE;
  return ctx.store.transaction(async (tx) => {
    const id = await kind.add(tx, ctx.now(), keeper, body);
    await settleGroupRoles(tx, ctx.now(), 'system');
    return { status: 201, body: await kind.find(tx, keeper, String(id)) };
  });
}

async function ofOne(
  ctx: Context,
  keeper: Keeper,
  kind: Kind,
  id: string,
  { method, body }: ScimAsked,
): Promise<ScimAnswer> {
  if (method === 'GET') return { status: 200, body: await kind.find(ctx.store, keeper, id) };
  if (!['PUT', 'PATCH', 'DELETE'].includes(method)) throw NOT_POSSIBLE;
  return ctx.store.transaction(async (tx) => {
    if (method === 'DELETE') await kind.drop(tx, ctx.now(), keeper, id);
    else {
      const sent = method === 'PUT' ? body : patched(await kind.find(tx, keeper, id), body);
      await kind.set(tx, ctx.now(), keeper, id, sent);
    }
    await settleGroupRoles(tx, ctx.now(), 'system');
    return method === 'DELETE' ? { status: 204 } : { status: 200, body: await kind.find(tx, keeper, id) };
  });
}

const NOT_POSSIBLE = new ScimError(405, 'This is not possible here.');
const MOST_OPERATIONS = 1000;

/** A resource with the operations of RFC 7644, 3.5.2 done to it. Throws a ScimError (400). */
function patched(resource: object, body: unknown): unknown {
  const asked = plainKeys(body, ['schemas', 'Operations']) as ScimPatch;
  try {
    patchBodyValidation(asked);
    if (asked.Operations.length > MOST_OPERATIONS) throw new Error(`${MOST_OPERATIONS} operations at most`);
    return scimPatch(resource as ScimResource, asked.Operations, { mutateDocument: false });
  } catch (error) {
    throw new ScimError(400, `It cannot be changed so: ${(error as Error).message}`, 'invalidSyntax');
  }
}
