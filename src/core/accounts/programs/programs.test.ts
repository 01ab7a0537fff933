import { describe, expect, it } from 'vitest';
import { z } from 'zod';
import type { LedgerEntry } from '../../evidence/ledger.ts';
import { ACTIONS } from '../action.ts';
import { authorize, may, type Account } from '../authority.ts';
import { builtIn, isOfficer } from '../roles/held-role.ts';
import { cloudEvent, isAskedFor, NewHook, readEventName } from './event.ts';
import { NO_DESCRIPTIONS, openApi, operationId, propertiesOf, routePath, without } from './openapi.ts';
import { asToken, NewToken, TOKEN_ACTIONS } from './token.ts';

const account = (...roles: Parameters<typeof builtIn>[0][]): Account => ({
  ...{ id: 3, email: 'a@b.example', name: 'A', title: '', roles: roles.map(builtIn) },
});

describe('a token', () => {
  it('may do what it was given of what its account may, and nothing that everybody may besides', () => {
    for (const of of [account('officer'), account('data steward'), account('auditor'), account()])
      for (const actions of [
        TOKEN_ACTIONS,
        ['holdings.read', 'today.read'],
        [],
        ['no.such', 'accounts.edit'],
      ]) {
        const token = asToken(of, { id: 1, name: 'T', actions });
        for (const action of ACTIONS)
          expect(may(token, action), `${of.roles[0]?.id} ${actions.length} ${action}`).toBe(
            may(of, action) && actions.includes(action) && TOKEN_ACTIONS.includes(action),
          );
      }
  });

  it('holds no role by name, keeps to the scope, and says what it lacks', () => {
    const scope = { sites: ['a.example'] } as unknown as NonNullable<Account['scope']>;
    const token = asToken(
      { ...account('officer'), scope },
      { id: 1, name: 'Night', actions: ['today.read'] },
    );
    expect(isOfficer(token)).toBe(false);
    expect(token.scope).toBe(scope);
    const verdict = authorize(token, 'holdings.read', { kind: 'any', id: null });
    expect(verdict).toMatchObject({ allowed: false, why: expect.stringContaining('token “Night”') });
  });

  it('is never given what hands on rights, and has an end', () => {
    for (const action of ['tokens.edit', 'programs.edit', 'accounts.edit', 'accounts.roles', 'own-sessions'])
      expect(NewToken.safeParse({ name: 'T', actions: [action], days: 1 }).success, action).toBe(false);
    for (const days of [0, 366, 1.5])
      expect(NewToken.safeParse({ name: 'T', actions: ['today.read'], days }).success).toBe(false);
    expect(NewToken.safeParse({ name: ' ', actions: ['today.read'], days: 1 }).success).toBe(false);
    expect(NewToken.safeParse({ name: 'T', actions: ['today.read'], days: 365 }).success).toBe(true);
  });
});

describe('events', () => {
  const entry: LedgerEntry = {
    ...{ id: '7', at: '2026-12-01T09:00:00.000Z', actor: '3', action: 'incident.open', object: 'incident' },
    ...{ objectId: '5', detail: { kind: 'lost' } },
  };
  it('are asked for by kind or by action; all where nothing is said', () => {
    const table: [readonly string[], boolean][] = [
      [[], true],
      [['incident'], true],
      [['incident.open'], true],
      [['incident.close', 'request'], false],
    ];
    for (const [events, asked] of table) expect(isAskedFor(events, entry), String(events)).toBe(asked);
  });
  it('are CloudEvents whose id is that of their entry', () => {
    expect(cloudEvent(entry, 'https://desk.example')).toMatchObject({
      ...{ specversion: '1.0', id: '7', source: 'https://desk.example', type: 'incident.open' },
      ...{ subject: 'incident/5', time: '2026-12-01T09:00:00.000Z' },
      data: { detail: { kind: 'lost' } },
    });
  });
  it('refuse what is neither a kind nor an action, where it is typed, too', () => {
    expect(readEventName(' incident.open ')).toEqual({ value: 'incident.open' });
    expect(readEventName('Anything!')).toMatchObject({ wrong: expect.stringContaining('incident') });
    const hook = (event: string) =>
      NewHook.safeParse({ name: 'H', url: 'https://x.example', events: [event] }).success;
    expect(['incident', 'incident.open', 'access-change.add'].map(hook)).toEqual([true, true, true]);
    expect(['', 'no such kind', '*', 'DROP TABLE'].map(hook)).toEqual([false, false, false, false]);
  });
});

describe('the document', () => {
  const route = (
    method: string,
    file: string,
    input: z.ZodType,
    action: string | null = 'holdings.read',
  ) => ({
    ...{ method, file, input, action },
  });
  it('names paths and operations after their files', () => {
    expect(routePath('accounts/tokens/[id]')).toBe('/api/accounts/tokens/{id}');
    expect(routePath('accounts/index')).toBe('/api/accounts');
    expect(routePath('cases/register.csv')).toBe('/api/cases/register.csv');
    expect(operationId({ method: 'POST', file: 'accounts/[id]/index' })).toBe('postAccountsId');
  });

  it('puts each field where it is sent: the path, the query string, the body', () => {
    const input = z.object({
      id: z.coerce.number().int(),
      name: z.string().max(5),
      more: z.boolean().default(true),
    });
    const get = openApi([route('GET', 'a/[id]', input)], NO_DESCRIPTIONS, 'http://x').paths['/api/a/{id}']?.[
      'get'
    ];
    expect((get as { parameters: object[] }).parameters).toMatchObject([
      { name: 'id', in: 'path', required: true, schema: { type: 'integer' } },
      { name: 'name', in: 'query', required: true, schema: { type: 'string', maxLength: 5 } },
      { name: 'more', in: 'query', required: false },
    ]);
    const put = openApi([route('PUT', 'a/[id]', input)], NO_DESCRIPTIONS, 'http://x').paths['/api/a/{id}']?.[
      'put'
    ];
    const body = (put as { requestBody: { content: Record<string, { schema: object }> } }).requestBody;
    expect(body.content['application/json']?.schema).toMatchObject({
      required: ['name'],
      properties: { name: {}, more: {} },
    });
    expect(JSON.stringify(body)).not.toContain('"id"');
    const none = openApi(
      [route('DELETE', 'a/[id]', z.object({ id: z.string() }))],
      NO_DESCRIPTIONS,
      'http://x',
    );
    expect(none.paths['/api/a/{id}']?.['delete']).not.toHaveProperty('requestBody');
  });

  it('knows the fields of inputs of several shapes and parts', () => {
    const shapes = z.discriminatedUnion('act', [
      z.object({ id: z.string(), act: z.literal('a'), one: z.string() }),
      z.object({ id: z.string(), act: z.literal('b'), two: z.number().optional() }),
    ]);
    const schema = z.toJSONSchema(z.intersection(z.object({ host: z.string() }), shapes)) as Record<
      string,
      unknown
    >;
    const fields = propertiesOf(schema);
    expect([...fields].map(([name, f]) => `${name}${f.required ? '' : '?'}`).toSorted()).toEqual([
      ...['act', 'host', 'id', 'one?', 'two?'],
    ]);
    expect([...propertiesOf(without(schema, ['id', 'host'])).keys()].toSorted()).toEqual([
      'act',
      'one',
      'two',
    ]);
  });

  it('takes shapes that hold themselves out of the operation, under names of its own', () => {
    const Tree: z.ZodType = z.lazy(() => z.object({ below: z.array(Tree) }));
    const document = openApi([route('POST', 'a', z.object({ tree: Tree }))], NO_DESCRIPTIONS, 'http://x');
    const names = Object.keys(document.components.schemas).filter((n) => n.startsWith('postA.'));
    expect(names.length).toBeGreaterThan(0);
    const refs = [...JSON.stringify(document).matchAll(/"#\/([^"]+)"/g)].map(([, ref]) => ref ?? '');
    expect(refs.some((ref) => ref.includes('postA.'))).toBe(true);
    for (const ref of refs)
      expect(
        ref.split('/').reduce((at: unknown, key) => (at as Record<string, unknown>)?.[key], document),
        ref,
      ).toBeDefined();
  });

  it('says of any JSON that it is anything', () => {
    const document = openApi([route('POST', 'a', z.object({ any: z.json() }))], NO_DESCRIPTIONS, 'http://x');
    const own = Object.entries(document.components.schemas).filter(([n]) => n.startsWith('postA.'));
    expect(own.map(([, schema]) => schema)).toEqual([{}]);
  });

  it('tells what the source says, and that an answer is a file', () => {
    const told = {
      operations: {
        'GET a': { words: 'All of them.', answer: { type: 'array' } },
        'GET b': { words: '', answer: null },
      },
      schemas: { Thing: { type: 'object' } },
    };
    const { paths, components } = openApi(
      [route('GET', 'a', z.object({})), route('GET', 'b', z.object({}))],
      told,
      'http://x',
    );
    expect(paths['/api/a']?.['get']).toMatchObject({
      summary: 'All of them.',
      responses: { '200': { content: { 'application/json': { schema: { type: 'array' } } } } },
    });
    expect(paths['/api/b']?.['get']).toMatchObject({ responses: { '200': { description: 'A file.' } } });
    expect(components.schemas).toHaveProperty('Thing');
  });
});
