import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import type { BuiltInRole } from '../../../src/core/accounts/roles/built-in-role.ts';
import { builtIn } from '../../../src/core/accounts/roles/held-role.ts';
import { endpoint, GUARDED } from '../../../src/server/http/endpoint.ts';
import { csvLine, plainCell, safeCell } from '../../../src/server/http/csv.ts';
import { PROJECT } from '../../../launcher/project.ts';
import { testContext } from '../context.ts';

const ctx = testContext();
afterAll(() => ctx.store.close());
const PAGES = join(PROJECT, 'src/pages');
const API = join(PAGES, 'api');
const METHODS = ['GET', 'POST', 'PUT', 'PATCH', 'DELETE', 'ALL'];
/** Signing in, step by step, is the one thing nobody has to be signed in for. */
const isOpen = (file: string) => file.startsWith('accounts/sign-in/');

const routesIn = async (folder: string) =>
  (await readdir(folder, { recursive: true })).filter((f) => f.endsWith('.ts'));
const routes = await routesIn(API);
/** Of the interface, those that one person’s link opens instead of a token. */
const BY_LINK = ['leave/[token].ts'];
const forPrograms = await routesIn(join(PAGES, 'interface'));

describe('every endpoint', () => {
  it.each(routes.filter((r) => !isOpen(r)))('%s asks authorize', async (file) => {
    const module = (await import(join(API, file))) as Record<string, { [GUARDED]?: true } | undefined>;
    const exported = METHODS.filter((m) => module[m]);
    expect(exported.length).toBeGreaterThan(0);
    for (const method of exported) expect(module[method]?.[GUARDED], `${method} of ${file}`).toBe(true);
  });

  it.each(routes.filter(isOpen))('%s, which is open, waits for its turn', async (file) => {
    expect(await readFile(join(API, file), 'utf8')).toMatch(/= signInEndpoint\(\{/);
  });

  it.each(forPrograms.filter((f) => !BY_LINK.includes(f)))(
    '%s, which is for programs or devices, asks for a token',
    async (file) => {
      const path = join(PAGES, 'interface', file);
      const module = (await import(path)) as Record<string, { [GUARDED]?: true } | undefined>;
      for (const method of METHODS.filter((m) => module[m])) expect(module[method]?.[GUARDED]).toBe(true);
      expect(await readFile(path, 'utf8')).toMatch(/(program|device|token)Endpoint\(\{/);
    },
  );

  it.each(BY_LINK)('%s, which a mail program posts to, looks who the link is of', async (file) => {
    const text = await readFile(join(PAGES, 'interface', file), 'utf8');
    expect(text).toMatch(/OfLink\(ctx, params/);
    expect(text).toContain('404');
  });

  it('is an endpoint of the desk, and no other file answers requests', async () => {
    expect(routes.length).toBeGreaterThan(20);
  });
});

describe('an endpoint', () => {
  const route = endpoint({
    action: 'websites.edit',
    input: z.object({ days: z.int().max(90, 'At most 90 days') }),
    run: async ({ input }) => ({ kept: input.days }),
  });
  const ask = async (role: BuiltInRole | undefined, body: string) => {
    const account = role && { id: 1, email: 'a@b.example', name: 'A', title: '', roles: [builtIn(role)] };
    const request = new Request('http://desk/api/x', { method: 'POST', body });
    const response = await (route as (api: unknown) => Promise<Response>)({
      request,
      params: {},
      url: new URL(request.url),
      locals: { requestId: 'r1', account },
    });
    return { status: response.status, body: (await response.json()) as unknown };
  };

  it('says who, may they, what is wrong with which field, in that order', async () => {
    process.env['DATABASE_URL'] ??= 'mysql://nobody@127.0.0.1:1/none';
    process.env['SECRET_KEY'] ??= 'ab'.repeat(32);
    expect(await ask(undefined, '{}')).toMatchObject({ status: 401, body: { error: 'Sign in first.' } });
    expect(await ask('auditor', '{}')).toMatchObject({ status: 403 });
    expect(await ask('officer', '{"days":91}')).toEqual({
      status: 400,
      body: {
        error: 'Some of this cannot be taken as it is.',
        fields: [{ field: 'days', message: 'At most 90 days' }],
        requestId: 'r1',
      },
    });
    expect(await ask('officer', 'no json')).toMatchObject({
      status: 400,
      body: { error: 'Send a JSON object.' },
    });
    expect(await ask('officer', '[1]')).toMatchObject({ status: 400 });
    expect(await ask('officer', JSON.stringify({ days: 1, x: 'a'.repeat(3e6) }))).toMatchObject({
      status: 413,
    });
    expect(await ask('officer', '{"days":9}')).toEqual({ status: 200, body: { kept: 9 } });
  });
});

describe('CSV', () => {
  it.each(['=1+1', '+1', '-1', '@x', '\t=1', '|calc', '  =1'])('%o is no formula', (cell) => {
    expect(safeCell(cell)).toBe(`'${cell}`);
    expect(plainCell(safeCell(cell))).toBe(cell);
  });

  it.each(["it's", "'s-Gravenhage", "'quoted'", '', 'a=b'])('%o comes back as it was', (cell) => {
    expect(plainCell(safeCell(cell))).toBe(cell);
  });

  it('keeps numbers, quotes what needs it', () => {
    expect(csvLine([-1, 'a,b', 'say "no"', null])).toBe('-1,"a,b","say ""no""",\r\n');
  });
});
