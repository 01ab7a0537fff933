import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { readLimited } from '../../src/server/http/read-limited.ts';
import { send } from '../answer.ts';

/** Where a made-up directory tells of people and groups by SCIM 2.0. */
export const DIRECTORY_HOST = 'directory.localhost';

export interface ScimUser {
  readonly id: string;
  readonly userName: string;
  readonly displayName: string;
  readonly active: boolean;
  readonly userType?: string;
  readonly title?: string;
  readonly emails: readonly { readonly value: string; readonly primary: true }[];
  readonly 'urn:ietf:params:scim:schemas:extension:enterprise:2.0:User'?: { readonly department: string };
}

export interface ScimGroup {
  readonly id: string;
  readonly displayName: string;
  readonly members: readonly { readonly value: string }[];
}

export interface DirectoryBook {
  readonly users: readonly ScimUser[];
  readonly groups: readonly ScimGroup[];
}

const LIST = 'urn:ietf:params:scim:api:messages:2.0:ListResponse';

/** Answers whoever has the token; what is written outlives a restart. */
export function directory(file: string, token: string) {
  let book: DirectoryBook = existsSync(file)
    ? (JSON.parse(readFileSync(file, 'utf8')) as DirectoryBook)
    : { users: [], groups: [] };
  return async (request: IncomingMessage, response: ServerResponse, url: URL): Promise<void> => {
    const tell = (status: number, body: unknown) =>
      send(response, 'application/scim+json', status === 204 ? '' : JSON.stringify(body), status);
    if (request.headers.authorization !== `Bearer ${token}`)
      return tell(401, { detail: 'This token opens nothing.', status: '401' });
    const [, what, id] = /^\/(Users|Groups)(?:\/([^/]+))?$/.exec(url.pathname) ?? [];
    if (what === undefined) return tell(404, { detail: 'Nothing here.', status: '404' });
    const all: readonly { readonly id: string }[] = what === 'Users' ? book.users : book.groups;
    if (id === undefined) {
      const start = Math.max(1, Number(url.searchParams.get('startIndex') ?? 1));
      const count = Math.min(100, Number(url.searchParams.get('count') ?? 100));
      const some = all.slice(start - 1, start - 1 + count);
      return tell(200, {
        ...{ schemas: [LIST], totalResults: all.length, startIndex: start, itemsPerPage: some.length },
        Resources: some,
      });
    }
    const found = all.find((r) => r.id === decodeURIComponent(id));
    if (!found) return tell(404, { detail: 'Nothing is called so.', status: '404' });
    if (request.method === 'GET') return tell(200, found);
    if (request.method !== 'PATCH') return tell(405, { status: '405' });
    const body = await readLimited(request, request.headers['content-length'], 100_000, 'It is too long.');
    const patch = JSON.parse(body.toString('utf8')) as Patch;
    if (what === 'Groups') {
      const group = patched(found as ScimGroup, patch);
      book = { ...book, groups: book.groups.map((g) => (g.id === group.id ? group : g)) };
    } else {
      const active = patch.Operations.find((o) => o.op === 'replace' && o.path === 'active')?.value === true;
      book = { ...book, users: book.users.map((u) => (u.id === found.id ? { ...u, active } : u)) };
    }
    writeFileSync(file, JSON.stringify(book));
    return tell(204, {});
  };
}

interface Patch {
  readonly Operations: readonly { readonly op: string; readonly path: string; readonly value?: unknown }[];
}

/** Adds and removes members (RFC 7644, 3.5.2). */
function patched(group: ScimGroup, { Operations }: Patch): ScimGroup {
  let { members } = group;
  for (const { op, path, value } of Operations) {
    const [, named] = /^members\[value eq "(.*)"\]$/.exec(path) ?? [];
    if (op === 'add') members = [...members, ...((value ?? []) as { value: string }[])];
    else if (op === 'remove' && named !== undefined) members = members.filter((m) => m.value !== named);
  }
  return { ...group, members };
}
