import { z } from 'zod';
import type { GroupLine, PersonLine } from '../../../core/access/estate/estate-line.ts';
import type { AccessStep } from '../../../core/access/change/access-change.ts';
import type { TokenServer } from './http-reader.ts';
import { ReaderError, StepRefused, type AccessReader, type SourceLine } from './reader.ts';

const ENTERPRISE = 'urn:ietf:params:scim:schemas:extension:enterprise:2.0:User';
const PATCH = 'urn:ietf:params:scim:api:messages:2.0:PatchOp';
const PAGE = 200;
const MOST_PAGES = 20_000;

const Listed = z.object({
  totalResults: z.int().nonnegative(),
  Resources: z.array(z.unknown()).default([]),
});
/** RFC 7643, 4.1 and 4.3. */
const User = z.object({
  id: z.string().min(1).max(400),
  userName: z.string().max(1000),
  displayName: z.string().max(1000).nullish(),
  userType: z.string().max(200).nullish(),
  title: z.string().max(1000).nullish(),
  active: z.boolean().default(true),
  emails: z.array(z.object({ value: z.string().max(254), primary: z.boolean().nullish() })).nullish(),
  [ENTERPRISE]: z.object({ department: z.string().max(1000).nullish() }).nullish(),
});
/** RFC 7643, 4.2. */
const Group = z.object({
  id: z.string().min(1).max(400),
  displayName: z.string().max(1000),
  members: z.array(z.object({ value: z.string().min(1).max(400) })).nullish(),
});

/** People and groups of a directory by SCIM 2.0 (RFC 7644), in pages; memberships are written with PATCH. */
export function scimReader(server: TokenServer): AccessReader {
  return {
    async *lines(signal) {
      yield* resources(server, 'Users', signal, userLine);
      yield* resources(server, 'Groups', signal, groupLine);
    },
    async apply(_id: string, step: AccessStep) {
      if (step.is === 'account') return setActive(server, step.person, step.after === 'open');
      if (step.is !== 'member') throw new StepRefused('a directory knows people and groups alone');
      const path = `Groups/${encodeURIComponent(step.group)}`;
      const before = await server.ask(path);
      const group = Group.safeParse(before.body);
      if (before.status === 404) throw new StepRefused('the directory has no such group any more');
      if (before.status !== 200 || !group.success)
        throw new StepRefused(`the directory answered ${before.status}`, true);
      const isIn = (group.data.members ?? []).some((m) => m.value === step.member);
      if (isIn === (step.act === 'add')) return 'already';
      const operation =
        step.act === 'add'
          ? { op: 'add', path: 'members', value: [{ value: step.member }] }
          : { op: 'remove', path: `members[value eq ${JSON.stringify(step.member)}]` };
      const { status } = await server.ask(path, {
        method: 'PATCH',
        body: { schemas: [PATCH], Operations: [operation] },
      });
      if (status !== 200 && status !== 204)
        throw new StepRefused(`the directory answered ${status}`, status >= 500 || status === 429);
      return 'done';
    },
    close: () => Promise.resolve(),
  };
}

/** Opens or closes an account (RFC 7644, 3.5.2.3). */
async function setActive(server: TokenServer, id: string, active: boolean): Promise<'done' | 'already'> {
  const path = `Users/${encodeURIComponent(id)}`;
  const before = await server.ask(path);
  const user = User.safeParse(before.body);
  if (before.status === 404) throw new StepRefused('the directory knows nobody of this name any more');
  if (before.status !== 200 || !user.success)
    throw new StepRefused(`the directory answered ${before.status}`, true);
  if (user.data.active === active) return 'already';
  const { status } = await server.ask(path, {
    method: 'PATCH',
    body: { schemas: [PATCH], Operations: [{ op: 'replace', path: 'active', value: active }] },
  });
  if (status !== 200 && status !== 204)
    throw new StepRefused(`the directory answered ${status}`, status >= 500 || status === 429);
  return 'done';
}

/** Pages by index (RFC 7644, 3.4.2.4). One that came or went meanwhile may shift them: each counts once, all have to be there. */
async function* resources(
  server: TokenServer,
  what: 'Users' | 'Groups',
  signal: AbortSignal,
  lineFrom: (value: unknown) => SourceLine & { readonly id?: string },
): AsyncGenerator<SourceLine> {
  const seen = new Set<string>();
  let [got, total] = [0, Infinity];
  for (let pages = 0; got < total; pages++) {
    signal.throwIfAborted();
    if (pages >= MOST_PAGES) throw new ReaderError(`It has more than ${MOST_PAGES} pages.`);
    const { status, body, url } = await server.ask(`${what}?startIndex=${got + 1}&count=${PAGE}`);
    if (status !== 200) throw new ReaderError(`${url.host} answered ${status} instead of ${what}.`);
    const page = Listed.safeParse(body);
    if (!page.success) throw new ReaderError(`${url.host} answers, but with no list of ${what}.`);
    total = page.data.totalResults;
    const some = page.data.Resources;
    if (some.length === 0 && got < total)
      throw new ReaderError(`${url.host} says that it has ${total} ${what}, and gives ${got}.`);
    got += some.length;
    for (const value of some) {
      const { id, ...line } = lineFrom(value);
      if (id !== undefined && seen.has(id)) continue;
      if (id !== undefined) seen.add(id);
      yield line;
    }
  }
}

export function userLine(value: unknown): SourceLine & { readonly id?: string } {
  const user = User.safeParse(value);
  if (!user.success) return faultOf('user', value, user.error);
  const { id, userName, displayName, active, userType, emails, title } = user.data;
  const mail = (emails?.find((e) => e.primary) ?? emails?.[0])?.value;
  const line: PersonLine = {
    ...{ type: 'person', id, name: displayName || userName, state: active ? 'open' : 'disabled' },
    ...(mail === undefined ? {} : { mail }),
    ...{ until: null, left: null, guest: /^guest$/i.test(userType ?? '') },
    attributes: {
      login: userName,
      ...(user.data[ENTERPRISE]?.department ? { unit: user.data[ENTERPRISE].department } : {}),
      ...(title ? { title } : {}),
    },
  };
  return { line, id };
}

export function groupLine(value: unknown): SourceLine & { readonly id?: string } {
  const group = Group.safeParse(value);
  if (!group.success) return faultOf('group', value, group.error);
  const { id, displayName, members } = group.data;
  const line: GroupLine = {
    ...{ type: 'group', id, name: displayName, where: [] },
    members: (members ?? []).map((m) => m.value),
  };
  return { line, id };
}

function faultOf(what: string, value: unknown, error: z.ZodError): SourceLine {
  const id = (value as { id?: unknown } | null)?.id;
  const [issue] = error.issues;
  return {
    fault: `A ${what}${typeof id === 'string' ? ` (${id.slice(0, 80)})` : ''} cannot be taken: ${issue?.path.join('.') ?? ''} ${issue?.message ?? ''}`,
  };
}
