import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { copyFile, mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { Validator } from '@seriousme/openapi-schema-validator';
import createClient from 'openapi-fetch';
import openapiTypes, { astToString } from 'openapi-typescript';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { run } from '../../launcher/run.ts';
import { PROJECT } from '../../launcher/project.ts';
import { expectAccessible, startDesk, type RunningDesk } from './desk.ts';

let desk: RunningDesk;
let page: Page;
let token = '';

const calls: string[] = [];
const receiver = createServer((request, response) => {
  request.on('data', (part: Buffer) => calls.push(part.toString()));
  request.on('end', () => response.writeHead(204).end());
});
let receiverPort = 0;

beforeAll(async () => {
  await new Promise<void>((up) => receiver.listen(0, '127.0.0.1', up));
  receiverPort = (receiver.address() as AddressInfo).port;
  desk = await startDesk(receiverPort);
  page = await desk.signedIn();
});
afterAll(async () => {
  receiver.close();
  await desk?.stop();
});

interface Document {
  readonly openapi: string;
  readonly paths: Readonly<Record<string, Readonly<Record<string, { readonly operationId: string }>>>>;
}

const ask = (path: string, init: RequestInit = {}) =>
  fetch(`${desk.origin}${path}`, {
    ...init,
    headers: { authorization: `Bearer ${token}`, ...(init.headers as Record<string, string>) },
  });
const post = (path: string, body: unknown, headers: Record<string, string> = {}) =>
  ask(path, {
    method: 'POST',
    body: JSON.stringify(body),
    headers: { 'content-type': 'application/json', ...headers },
  });

describe('programs', () => {
  it('are given a token by keyboard, which is shown once and says what it may do', async () => {
    await page.goto(`${desk.origin}/account/programs`);
    await page.getByText('No token yet').waitFor();
    await page.keyboard.press('n');
    await page.getByLabel('What it is called').fill('Nightly <b>figures</b>');
    await page.getByRole('button', { name: /^What it may do/ }).click();
    await page.getByRole('combobox').fill('making boards');
    await page.getByRole('option').first().waitFor();
    await page.keyboard.press('Space');
    await page.keyboard.press('Escape');
    await expectAccessible(page, 'a new token');
    await page.getByRole('button', { name: 'Make it', exact: true }).click();
    token = (await page.getByLabel('Token', { exact: true }).innerText()).trim();
    expect(token).toMatch(/^yt_[\w-]{43}$/);
    await page.getByRole('button', { name: 'It is kept' }).click();
    await page.getByRole('cell', { name: 'Nightly <b>figures</b>', exact: true }).waitFor();
    await expectAccessible(page, 'programs');
  }, 60_000);

  it('do by the interface what the desk does, once for a key, and not what they were not given', async () => {
    expect((await ask('/api/websites')).status).toBe(200);
    expect((await ask('/api/accounts/sessions')).status).toBe(403);
    const refused = (await (
      await post('/api/accounts/tokens', { name: 'x', actions: ['today.read'], days: 1 })
    ).json()) as {
      error: string;
    };
    expect(refused.error).toContain('token “Nightly <b>figures</b>”');
    const board = { name: 'Made by a program', tiles: [] };
    const [one, two] = [
      await post('/api/evidence/boards', board, { 'idempotency-key': 'board-1' }),
      await post('/api/evidence/boards', board, { 'idempotency-key': 'board-1' }),
    ];
    expect([one.status, two.status], await one.clone().text()).toEqual([200, 200]);
    expect(two.headers.get('idempotency-replayed')).toBe('true');
    expect(await two.json()).toEqual(await one.json());
    expect(
      (await post('/api/evidence/boards', { ...board, name: 'Other' }, { 'idempotency-key': 'board-1' }))
        .status,
    ).toBe(422);
    const wrong = await fetch(`${desk.origin}/api/websites`, {
      headers: { authorization: 'Bearer yt_wrong' },
    });
    expect(wrong.status).toBe(401);
    // A password of a proxy in front is none of ours: the session counts.
    const behind = await page.request.get(`${desk.origin}/api/accounts/sessions`, {
      headers: { authorization: `Basic ${Buffer.from('a:b').toString('base64')}` },
    });
    expect(behind.status()).toBe(200);
    // With a session and a token, the token is what counts.
    const cookies = (await page.context().cookies()).map((c) => `${c.name}=${c.value}`).join('; ');
    expect((await ask('/api/accounts/sessions', { headers: { cookie: cookies } })).status).toBe(403);
    const entry = await desk.store.one(
      z.object({ detail: z.unknown() }),
      "SELECT detail FROM ledger_entry WHERE action = 'board.add' ORDER BY id DESC LIMIT 1",
    );
    expect(JSON.stringify(entry?.detail)).toContain('token');
  }, 60_000);

  it('find a valid document, from which a client is made that runs the main path of each area', async () => {
    const response = await page.request.get(`${desk.origin}/api/openapi.json`);
    const document = (await response.json()) as Document;
    const { valid, errors } = await new Validator().validate(structuredClone(document) as never);
    expect(valid, JSON.stringify(errors ?? '').slice(0, 2000)).toBe(true);
    expect(document.openapi).toBe('3.1.1');
    const operations = Object.values(document.paths).flatMap((p) => Object.values(p));
    expect(operations.length).toBeGreaterThan(450);
    expect(new Set(operations.map((o) => o.operationId)).size).toBe(operations.length);
    const folder = join(PROJECT, 'dist/test-client');
    await mkdir(folder, { recursive: true });
    const types = astToString(await openapiTypes(document as never));
    await writeFile(join(folder, 'schema.ts'), types);
    await writeFile(join(folder, 'main.ts'), CLIENT);
    await copyFile(join(PROJECT, 'docs/client/yare.ts'), join(folder, 'yare.ts'));
    const { code, output } = await run(join(PROJECT, 'node_modules/.bin/tsc'), [
      ...['--noEmit', '--strict', '--skipLibCheck', '--module', 'nodenext', '--target', 'es2022'],
      ...['--allowImportingTsExtensions', join(folder, 'main.ts')],
    ]);
    expect(code, output.slice(0, 3000)).toBe(0);
    type Any = Record<string, Record<string, unknown>>;
    const client = createClient<Record<string, never>>({
      baseUrl: desk.origin,
      headers: { authorization: `Bearer ${token}` },
    }) as unknown as {
      GET(path: string, init?: object): Promise<{ data?: unknown; response: Response; error?: Any }>;
    };
    for (const path of MAIN_PATHS) {
      expect(document.paths, path).toHaveProperty([path, 'get']);
      const { response, error } = await client.GET(path);
      expect(response.status, `${path} ${JSON.stringify(error)}`).toBe(200);
    }
  }, 120_000);

  it('are read of and tried in the desk', async () => {
    await page.goto(`${desk.origin}/account/interface`);
    await page.getByRole('searchbox', { name: 'Filter operations' }).fill('get accounts/{id}');
    await page.getByRole('button', { name: 'GET /api/accounts/{id}', exact: true }).click();
    const operation = page.getByRole('region', { name: 'GET /api/accounts/{id}' });
    expect(await operation.getByRole('button', { name: 'Ask it' }).isDisabled()).toBe(true);
    await operation.getByLabel('id').fill('1');
    await operation.getByRole('button', { name: 'Ask it' }).click();
    await operation.getByText(/^○ 200,/).waitFor();
    await expectAccessible(page, 'the interface');
  }, 60_000);

  it('are told of what happens by a webhook that says what became of each call', async () => {
    await page.goto(`${desk.origin}/account/programs`);
    await page.getByRole('button', { name: 'Tell a webhook …' }).click();
    await page.getByLabel('What it is called').fill('House');
    await page.getByLabel('Where it is').fill('http://10.0.0.1/hooks');
    await page.getByRole('button', { name: 'Tell it', exact: true }).click();
    await page.getByText(/It has to begin with https/).waitFor();
    await page.getByLabel('Where it is').fill(`http://localhost:${receiverPort}/hooks`);
    await page.getByRole('button', { name: 'Tell it', exact: true }).click();
    await page.getByLabel('Secret that signs the calls').waitFor();
    await page.getByRole('button', { name: 'It is kept' }).click();
    await page.getByRole('link', { name: 'House' }).click();
    await page.getByRole('button', { name: 'Try it' }).click();
    await page.getByRole('row', { name: /a trial.*taken/ }).waitFor();
    expect(calls.some((c) => c.includes('webhook.trial'))).toBe(true);
    await expectAccessible(page, 'a webhook');
    await page.getByRole('button', { name: 'Stop it …' }).click();
    await page.getByRole('button', { name: 'Stop it', exact: true }).click();
    await page.getByText(/^stopped/).waitFor();
    await page.getByRole('button', { name: 'End Nightly <b>figures</b>' }).click();
    await page.getByText(/^ended/).waitFor();
    expect((await ask('/api/websites')).status).toBe(401);
  }, 60_000);
});

/** A reading list of every area. */
const MAIN_PATHS = [
  '/api/today',
  '/api/websites',
  '/api/holdings/sources',
  '/api/holdings/shelf',
  '/api/protection/rules',
  '/api/retention/rules',
  '/api/access/people',
  '/api/obligations/measures',
  '/api/cases/shelf',
  '/api/evidence/boards',
  '/api/evidence/ledger',
  '/api/figures',
];

/** Compiles only where paths, parameters and answers are typed as they are. */
const CLIENT = `import createClient from 'openapi-fetch';
import type { paths } from './schema.ts';
import { Yare } from './yare.ts';

const client = createClient<paths>({ baseUrl: 'http://localhost' });

export async function main(): Promise<string[]> {
  const sites = await client.GET('/api/websites');
  const boards = await client.GET('/api/evidence/boards');
  const made = await client.POST('/api/accounts/tokens', {
    body: { name: 'Typed', actions: ['today.read'], days: 3 },
  });
  // @ts-expect-error what is not there cannot be asked
  await client.GET('/api/no/such');
  // @ts-expect-error a field of the wrong kind
  await client.POST('/api/accounts/tokens', { body: { name: 1, actions: [], days: 3 } });
  const token: string | undefined = made.data?.token;
  const figures: string[] = boards.data?.flatMap((b) => b.figures) ?? [];
  const yare = new Yare<paths>('http://localhost', token ?? '');
  const own = await yare.at('/api/accounts/tokens').post({
    body: { name: 'Typed', actions: ['today.read'], days: 3 },
  });
  // @ts-expect-error the path wants an id
  await yare.at('/api/accounts/hooks/{id}').get({});
  for await (const page of yare.at('/api/websites').pages({})) figures.push(...page.rows.map((r) => r.host));
  const ownToken: string = own.token;
  return [ownToken, ...figures, JSON.stringify(sites.data)];
}
`;
