import { randomBytes } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { enrolDevice, enrolmentOf, openEnrolment } from '../../src/server/protection/devices/devices.ts';
import { readSettings } from '../../src/server/settings.ts';
import { Count } from '../../src/server/store/columns.ts';
import { RunningProcesses } from './running-processes.ts';

let all: RunningProcesses;
let token = '';
const PERSON = 'jonas@line.example';

beforeAll(async () => {
  all = await RunningProcesses.start();
  const ctx = {
    store: all.store,
    settings: readSettings({ SECRET_KEY: 'cd'.repeat(32) }),
    now: () => new Date(),
  };
  const opened = await openEnrolment(ctx, null, { groups: [], devices: 1, days: 1 });
  const { id } = await enrolmentOf(ctx, `Bearer ${opened.token}`);
  ({ token } = await enrolDevice(ctx, id, { name: 'L', person: PERSON, platform: '', can: [] }));
});
afterAll(() => all?.stop());

const ask = (path: string, body: string | undefined, authorization = `Bearer ${token}`) =>
  fetch(`http://127.0.0.1:${all.ports.web}/interface/devices/${path}`, {
    method: body === undefined ? 'GET' : 'POST',
    headers: { authorization },
    ...(body === undefined ? {} : { body }),
  });
const event = (over: object = {}) => ({
  ...{ id: randomBytes(16).toString('hex'), at: new Date().toISOString(), kind: 'device', person: PERSON },
  ...{ act: 'print', channel: 'printer', item: { name: 'a' }, findings: [] },
  ...over,
});
const kept = async () =>
  (await all.store.one(z.object({ n: Count }), 'SELECT COUNT(*) AS n FROM activity_event'))?.n;

describe('what a hostile device sends', () => {
  it.each<[string, string, number]>([
    ['more than is taken', `${JSON.stringify(event())}\n`.padEnd(51e6, ' '), 413],
    ['more lines than are taken', Array.from({ length: 5001 }, () => '{}').join('\n'), 413],
    ['bytes that are no text', '\u0000\uffff\ud800'.repeat(1000), 200],
    ['a deep nest', `${'['.repeat(30_000)}`, 200],
    [
      'a name that would be HTML',
      JSON.stringify(event({ item: { name: '<img src=x onerror=alert(1)>' } })),
      200,
    ],
    ['keys of the language', '{"__proto__":{"kind":"device"},"constructor":1}', 200],
    ['nothing', '', 200],
  ])('%s is answered, and harms nobody', async (_, body, status) => {
    const answer = await ask('events', body);
    expect(answer.status).toBe(status);
    const honest = event();
    expect(await (await ask('events', JSON.stringify(honest))).json()).toMatchObject({
      taken: 1,
      refused: [],
    });
    expect(all.ended).toEqual([]);
  });

  it('is refused without its token, or with another’s, and too often', async () => {
    const before = await kept();
    for (const wrong of [
      '',
      'Bearer ',
      `Bearer ye_${'a'.repeat(43)}`,
      `Bearer yd_${'a'.repeat(43)}`,
      `Basic ${token}`,
    ])
      expect((await ask('events', JSON.stringify(event()), wrong)).status).toBe(401);
    expect((await ask('enrol', '{"name":"x","person":"y","can":[]}', `Bearer ${token}`)).status).toBe(401);
    let last = 401;
    for (let i = 0; i < 40 && last === 401; i++)
      last = (await ask('bundle', undefined, 'Bearer yd_wrong')).status;
    expect(last).toBe(429);
    // The honest one is not held up by it.
    expect((await ask('bundle', undefined)).status).toBe(200);
    expect(await kept()).toBe(before);
  });

  it('cannot be told of others, of times to come, or twice', async () => {
    const mine = event();
    const before = (await kept()) ?? 0;
    const lines = [
      mine,
      mine,
      event({ person: 'lotte@line.example' }),
      event({ at: '2099-01-01T00:00:00.000Z' }),
    ];
    const said = (await (
      await ask('events', lines.map((l) => JSON.stringify(l)).join('\n'))
    ).json()) as object;
    expect(said).toMatchObject({ taken: 1, already: 1, refused: [{ line: 3 }, { line: 4 }] });
    for (let i = 0; i < 5; i++) await ask('events', JSON.stringify(mine));
    expect(await kept()).toBe(before + 1);
  });

  it('that is no sealed copy of what it told, or another’s, is not kept', async () => {
    const mine = event();
    await ask('events', JSON.stringify(mine));
    const to = (over: object) =>
      `evidence?${new URLSearchParams({ what: 'copy', event: mine.id, rule: '1', ...over }).toString()}`;
    for (const [path, body, status] of [
      [to({}), 'x'.repeat(100), 400],
      [to({ event: 'ab'.repeat(16) }), 'x', 404],
      [to({ event: '../../x' }), 'x', 400],
      [to({ what: 'all' }), 'x', 400],
      [to({ rule: "1' OR 1=1" }), 'x', 400],
      [to({}), 'x'.repeat(8_000_001), 413],
      ['returns?id=99999', '', 200],
      ['returns?id=-1', '', 400],
    ] as const)
      expect((await ask(path, body)).status, path).toBe(status);
    expect([401, 429]).toContain((await ask(to({}), 'x', `Bearer yd_${'b'.repeat(43)}`)).status);
    const row = await all.store.one(z.object({ n: Count }), 'SELECT COUNT(*) AS n FROM kept_evidence');
    expect(row?.n).toBe(0);
    expect(all.ended).toEqual([]);
  });

  it('with a clock a century off is told so, and breaks nothing', async () => {
    for (const now of ['1926-01-01T00:00:00.000Z', '2126-01-01T00:00:00.000Z', '9999-12-31T23:59:59.999Z'])
      expect((await ask(`bundle?now=${now}`, undefined)).status).toBe(200);
    expect((await ask('bundle?now=yesterday', undefined)).status).toBe(400);
    expect((await ask('bundle?has=-1', undefined)).status).toBe(400);
    expect((await ask(`bundle?has=99999999999999999999`, undefined)).status).toBe(400);
  });
});
