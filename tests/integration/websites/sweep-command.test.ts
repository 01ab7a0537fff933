import { spawn } from 'node:child_process';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { build } from 'esbuild';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { PROGRAMS } from '../../../launcher/build.ts';
import { findProgram } from '../../../launcher/prerequisites.ts';
import { PROJECT } from '../../../launcher/project.ts';
import { SweepReport } from '../../../src/core/websites/sweeps/sweep-report.ts';

let server: Server;
let port = 0;
let folder = '';
const program = () => join(PROJECT, 'node_modules/.yare-test-sweep.mjs');

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'yare-command-'));
  server = createServer((request, response) => {
    const host = request.headers.host?.split('.')[0];
    const html = (body: string, headers = {}) =>
      response.writeHead(200, { 'content-type': 'text/html', ...headers }).end(`<!doctype html>${body}`);
    if (request.url !== '/') return void response.writeHead(404).end();
    if (host === 'clean')
      return void html('<h1>Nothing here</h1>', {
        'set-cookie': 'session=4f9d0a77c2b14e5b8a31d6e0; HttpOnly',
      });
    html(`<script>document.cookie = 'ad_campaign=' + '9c1f2ab47de0553188' + '; Max-Age=31536000'</script>`);
  });
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
  port = (server.address() as AddressInfo).port;
  const entries = PROGRAMS.entryPoints as Record<string, string>;
  const { outdir: _outdir, outExtension: _extension, ...options } = PROGRAMS;
  await build({ ...options, entryPoints: [entries['sweep'] as string], outfile: program() });
});
afterAll(async () => {
  server.closeAllConnections();
  server.close();
  await rm(folder, { recursive: true, force: true });
  await rm(program(), { force: true });
  await rm(`${program()}.map`, { force: true });
});

function command(...args: string[]): Promise<{ code: number; out: string; errors: string }> {
  const child = spawn(process.execPath, [program(), ...args], {
    cwd: folder,
    env: { ...process.env, DATABASE_URL: '', CHROMIUM: findProgram('chromium') ?? '' },
  });
  let out = '';
  let errors = '';
  child.stdout.on('data', (c) => (out += String(c)));
  child.stderr.on('data', (c) => (errors += String(c)));
  return new Promise((ended) => child.on('close', (code) => ended({ code: code ?? -1, out, errors })));
}

it('ends with 1 and a report of the schema when something leaks', async () => {
  const { code, out } = await command(
    `leaky.localhost:${port}`,
    '--visitors',
    'gpc,before',
    '--region',
    'DK',
    '--json',
    'found.json',
  );
  expect(code).toBe(1);
  expect(out).toContain('◆ cookie ad_campaign of leaky.localhost, advertising: before, gpc');
  const report = SweepReport.parse(JSON.parse(await readFile(join(folder, 'found.json'), 'utf8')));
  expect(report).toMatchObject({
    region: 'DK',
    regime: 'ask first',
    visitors: [{ visitor: 'before' }, { visitor: 'gpc' }],
    trackers: [
      { name: 'ad_campaign', states: ['before', 'gpc'], leaks: ['before', 'gpc'], lifetime: 31_536_000 },
    ],
  });
  expect(report.trackers[0]?.cause).toMatchObject([{ what: 'page', line: 1 }]);
});

it('follows the law of the region, and a library of one’s own', async () => {
  const here = await command(`leaky.localhost:${port}`, '--visitors', 'before', '--region', 'US-CA');
  expect(here.code).toBe(0);
  await writeFile(join(folder, 'library.csv'), 'name,purpose\nad_*,essential\nad_campaign,essential\n');
  const known = await command(
    `leaky.localhost:${port}`,
    '--visitors',
    'before',
    '--library',
    'library.csv',
    '--json',
    '-',
  );
  expect(known.code).toBe(0);
  expect(SweepReport.parse(JSON.parse(known.out)).trackers[0]).toMatchObject({ purpose: 'essential' });
});

it('ends with 0 when all was tried and nothing leaks', async () => {
  expect((await command(`clean.localhost:${port}`, '--visitors', 'before')).code).toBe(0);
});

it('ends with 3 when visitors could not be tried, and says which', async () => {
  const { code, out } = await command(`clean.localhost:${port}`);
  expect(code).toBe(3);
  expect(out.match(/Found no notice to answer/g)).toHaveLength(3);
});

it('names the file, the line and the visitor of a step that could not be done, and keeps what was found', async () => {
  await writeFile(join(folder, 'refuse.txt'), '\n\nclick "No such button"\n');
  const { code, out, errors } = await command(
    ...[`leaky.localhost:${port}`, '--visitors', 'before,refused', '--json', '-'],
    ...['--path-refuse', 'refuse.txt'],
  );
  expect(errors).toMatch(
    /--path-refuse: refuse\.txt, line 3, as visitor refused: Step 1 \(click "No such button"\)/,
  );
  const report = SweepReport.parse(JSON.parse(out));
  expect([report.state, report.visitors.map((v) => v.visitor)]).toEqual(['failed', ['before']]);
  expect(report.counts.leaks).toBe(1);
  expect(code).toBe(1);
});

it.concurrent.each([
  [['nowhere.localhost:1'], /Nothing answers at this address/],
  [[], /Give the address/],
  [['x.localhost', 'y.localhost'], /Give the address of one/],
  [['x.localhost', '--visitors', 'before,nobody'], /“nobody” is none/],
  [['x.localhost', '--pages', '0'], /At least 1 page/],
  [['x.localhost', '--region', 'Denmark'], /--region looks like/],
  [['x.localhost', '--speed', '9'], /--speed/],
  [['x.localhost', '--chosen', 'marketing'], /--chosen takes some of .*“marketing” is none/],
  [['x.localhost', '--json', '/no/such/folder/report.json'], /--json: “\/no\/such.*cannot be written/],
  [['x.localhost', '--path-refuse', 'missing.txt'], /--path-refuse: missing\.txt/],
  [['x.localhost', '--library', 'missing.csv'], /missing\.csv/],
  [['x.localhost', '--include', 'offers'], /Begin with \//],
])('%o ends with 2 and says why', async (args, says) => {
  const { code, out, errors } = await command(...args);
  expect(code).toBe(2);
  expect(out + errors).toMatch(says);
});
