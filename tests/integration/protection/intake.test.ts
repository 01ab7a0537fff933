import { connect } from 'node:tls';
import { createTransport } from 'nodemailer';
import { SMTPServer } from 'smtp-server';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { z } from 'zod';
import type { Account } from '../../../src/core/accounts/authority.ts';
import { parseLens } from '../../../src/core/lens/lens-text.ts';
import { firstHandlingRule } from '../../../src/core/protection/handling/handling-rule.ts';
import { addProgram } from '../../../src/server/accounts/programs/program.ts';
import type { Context } from '../../../src/server/context.ts';
import { freePorts } from '../../../launcher/free-port.ts';
import { ownCertificate } from '../../../src/server/own-certificate.ts';
import { countEvents, listEvents } from '../../../src/server/protection/activity/events.ts';
import { addHandlingRule, HANDLING_RULE } from '../../../src/server/protection/handling/handling-rules.ts';
import { addNamedGroup } from '../../../src/server/protection/handling/named-groups.ts';
import { giveBack, listEvidence } from '../../../src/server/protection/evidence/evidence.ts';
import { MailGateway, passOnReturned } from '../../../src/server/protection/intake/mail-gateway.ts';
import { SyslogServer } from '../../../src/server/protection/intake/syslog-server.ts';
import { takeOcsf } from '../../../src/server/protection/intake/take-ocsf.ts';
import { renewBundle } from '../../../src/server/protection/devices/bundles.ts';
import { moveRule } from '../../../src/server/rules/rule-moves.ts';
import { readSettings } from '../../../src/server/settings.ts';
import { freshDatabase } from '../../fresh-database.ts';
import { testAccount } from '../context.ts';

const NOW = '2026-11-29T10:00:00.000Z';
const TOKEN = 'yp_0123456789abcdefghijklmnop';
let ctx: Context;
let officer: Account;
let folder: string;
const passed: { from: string; to: string[]; text: string }[] = [];
let sink: SMTPServer;
let gateway: MailGateway;
let syslog: SyslogServer;
const ports = { sink: 0, gateway: 0, syslog: 0 };
let cert = '';

async function ruleInForce(name: string, step: 'ask' | 'stop', lens: string, says: string): Promise<string> {
  const content = { ...firstHandlingRule(name, { mail: step }), lens: parseLens(lens), says: { en: says } };
  const id = await ctx.store.transaction((tx) => addHandlingRule(tx, ctx.now(), officer.id, content));
  await ctx.store.transaction((tx) =>
    moveRule(tx, ctx.now(), HANDLING_RULE, officer.id, id, 'put in force', 1),
  );
  return id;
}

beforeAll(async () => {
  const { url, store } = await freshDatabase('yare_take_in');
  folder = await mkdtemp(join(tmpdir(), 'yare-intake-'));
  ctx = {
    store,
    settings: readSettings({ DATABASE_URL: url, SECRET_KEY: 'ab'.repeat(32), LOG_LEVEL: 'silent' }),
    now: () => new Date(NOW),
  };
  officer = await testAccount(ctx);
  await store.transaction((tx) =>
    addProgram(tx, ctx.now(), officer.id, { name: 'Files', scope: 'activity' }, TOKEN),
  );
  await store.transaction((tx) =>
    addNamedGroup(tx, ctx.now(), officer.id, {
      ...{ name: 'Ours', kind: 'destinations', ours: true, members: ['line.example'] },
    }),
  );
  await ruleInForce(
    'Cards by mail',
    'stop',
    'matches:payment-card at least 2',
    'Card numbers stay here – også her.',
  );
  await ruleInForce('Addresses by mail', 'ask', 'matches:email at least 5', 'Does everybody need these?');
  await renewBundle(ctx);
  [ports.sink = 0, ports.gateway = 0, ports.syslog = 0] = await freePorts(3);
  sink = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS', 'AUTH'],
    onData(stream, session, done) {
      const parts: Buffer[] = [];
      stream.on('data', (p: Buffer) => parts.push(p));
      stream.on('end', () => {
        const { mailFrom, rcptTo } = session.envelope;
        passed.push({
          from: mailFrom ? mailFrom.address : '',
          to: rcptTo.map((r) => r.address),
          text: Buffer.concat(parts).toString(),
        });
        done();
      });
    },
  });
  await new Promise<void>((ready) => void sink.listen(ports.sink, '127.0.0.1', ready));
  gateway = new MailGateway(ctx, `smtp://127.0.0.1:${ports.sink}`);
  await gateway.start(ports.gateway, '127.0.0.1');
  const made = await ownCertificate(join(folder, 'cert'), 'test', ['localhost']);
  ({ cert } = made);
  expect(await ownCertificate(join(folder, 'cert'), 'test', ['localhost'])).toEqual(made);
  syslog = new SyslogServer(ctx, made);
  await syslog.start(ports.syslog, '127.0.0.1');
}, 60_000);
afterAll(async () => {
  await Promise.all([gateway.close(), syslog.close()]);
  sink.close();
  await ctx.store.close();
  await rm(folder, { recursive: true, force: true });
});

const eventsOf = async (wish: object) =>
  (await listEvents(ctx.store, { ...wish }, undefined, 50)).rows.map((r) => r.event);

describe('mail on its way out', () => {
  const send = async (mail: {
    to: string;
    subject: string;
    text: string;
    attachment?: string;
    id?: string;
  }) => {
    const transport = createTransport({ host: '127.0.0.1', port: ports.gateway, secure: false });
    try {
      await transport.sendMail({
        ...{ from: 'Jonas@line.example', to: mail.to, subject: mail.subject, text: mail.text },
        ...(mail.id ? { messageId: mail.id } : {}),
        attachments:
          mail.attachment === undefined ? [] : [{ filename: 'list.csv', content: mail.attachment }],
      });
      return 'passed';
    } catch (error) {
      return (error as { response: string }).response;
    } finally {
      transport.close();
    }
  };
  const CARDS = 'Card 4111 1111 1111 1111, card 5500 0055 5555 5559';
  const PEOPLE = `name,email\n${Array.from({ length: 6 }, (_, i) => `P${i},guest${i}@mail.example`).join('\n')}`;

  it('goes on where no rule holds, whole, and is told without its words', async () => {
    expect(await send({ to: 'bo@elsewhere.example', subject: 'Lunch', text: 'At noon?' })).toBe('passed');
    expect(passed.at(-1)).toMatchObject({ from: 'Jonas@line.example', to: ['bo@elsewhere.example'] });
    expect(passed.at(-1)?.text).toContain('At noon?');
    const [event] = await eventsOf({ kind: 'mail' });
    expect(event).toMatchObject({
      person: 'jonas@line.example',
      outcome: 'go',
      towards: ['bo@elsewhere.example'],
    });
    expect(JSON.stringify(event)).not.toMatch(/Lunch|noon/);
  });

  it('is stopped by what stands in it, with words that a mail server can carry', async () => {
    const before = passed.length;
    expect(await send({ to: 'shop@elsewhere.example', subject: 'Pay', text: CARDS })).toMatch(
      /^550 5\.7\.1 Card numbers stay here \? ogsa her\. \(Cards by mail\)$/,
    );
    expect(passed).toHaveLength(before);
    const [event] = await eventsOf({ kind: 'mail', outcome: 'stop' });
    expect(event?.findings.find((f) => f.detector === 'payment-card')?.matches).toBe(2);
    // To ourselves it goes.
    expect(await send({ to: 'till@line.example', subject: 'Pay', text: CARDS })).toBe('passed');
  });

  it('is asked about by what is attached to it, and goes on with a reason; sent twice it is one act', async () => {
    const mail = { to: 'port@elsewhere.example', text: 'As asked.', attachment: PEOPLE };
    expect(await send({ ...mail, subject: 'List', id: '<one@line.example>' })).toContain(
      'say why in its subject',
    );
    expect(await send({ ...mail, subject: 'List', id: '<one@line.example>' })).toContain(
      'Does everybody need these?',
    );
    expect(await eventsOf({ kind: 'mail', outcome: 'ask' })).toHaveLength(1);
    expect(await send({ ...mail, subject: 'List [reason: the port asked]' })).toBe('passed');
    const [second, first] = await eventsOf({ kind: 'mail', outcome: 'ask' });
    expect([first, second].map((e) => [e?.answer, e?.reason]).toSorted()).toEqual([
      ['turned back', ''],
      ['went on', 'the port asked'],
    ]);
    expect(first?.item?.name).toBe('list.csv');
  });

  it('that a rule moves away is kept whole, sealed, and goes to whom it was for once it is given back', async () => {
    await ctx.store.run(
      'UPDATE rule_bundle SET content = REPLACE(content, \'"quarantine":false\', \'"quarantine":true\')',
    );
    await ctx.store.run('UPDATE rule_bundle SET number = number + 1');
    const before = passed.length;
    const mail = { to: 'bank@elsewhere.example', subject: 'Cards', text: CARDS };
    expect(await send(mail)).toMatch(/^550/);
    const kept = (await listEvidence(ctx.store, {}, undefined, 10)).rows;
    expect(kept).toMatchObject([{ what: 'quarantine', person: 'jonas@line.example', state: 'kept' }]);
    const bodies = await ctx.store.all(
      z.object({ body: z.instanceof(Buffer) }),
      'SELECT body FROM kept_evidence',
    );
    expect(bodies[0]?.body.includes('4111')).toBe(false);
    await giveBack(ctx, officer, kept[0]?.id ?? 0, 'The bank asked for it');
    // Two services at once pass it on once.
    const both = [1, 2].map(() => passOnReturned(ctx, `smtp://127.0.0.1:${ports.sink}`));
    expect((await Promise.all(both)).reduce((a, b) => a + b)).toBe(1);
    expect(await passOnReturned(ctx, `smtp://127.0.0.1:1`)).toBe(0);
    expect(passed).toHaveLength(before + 1);
    expect(passed.at(-1)).toMatchObject({ from: 'jonas@line.example', to: ['bank@elsewhere.example'] });
    expect(passed.at(-1)?.text).toContain('4111 1111 1111 1111');
  });

  it('is tried again later where it cannot be looked at or passed on, and never let go unseen', async () => {
    const nowhere = new MailGateway(ctx, `smtp://127.0.0.1:1`);
    const [port = 0] = await freePorts(1);
    await nowhere.start(port, '127.0.0.1');
    const transport = createTransport({ host: '127.0.0.1', port, secure: false });
    await expect(
      transport.sendMail({ from: 'a@line.example', to: 'b@x.example', text: 'x' }),
    ).rejects.toMatchObject({ responseCode: 451 });
    transport.close();
    await nowhere.close();
  });
});

describe('syslog', () => {
  const say = (...messages: readonly string[]) =>
    new Promise<void>((done, failed) => {
      const socket = connect(
        { host: '127.0.0.1', port: ports.syslog, ca: cert, servername: 'localhost' },
        () => {
          const bytes = Buffer.concat(messages.map((m) => Buffer.from(`${Buffer.byteLength(m)} ${m}`)));
          // In pieces, as networks have it.
          for (let at = 0; at < bytes.length; at += 700) socket.write(bytes.subarray(at, at + 700));
          socket.end();
        },
      );
      socket.on('error', failed);
      socket.on('close', () => done());
      socket.resume();
    });
  const line = (more: string, token = TOKEN) =>
    `<134>1 2026-11-28T08:00:00Z files app 1 ACT [activity@32473 token="${token}" kind="source" person="ann@line.example" ${more}] free`;

  it('is taken over TLS by the token of a program, each once', async () => {
    const messages = Array.from({ length: 30 }, (_, i) => line(`act="open" name="høring ${i}.docx"`));
    await say(...messages);
    await say(messages[0] ?? '');
    await new Promise((done) => setTimeout(done, 400));
    await syslog.flush();
    const told = await eventsOf({ kind: 'source', act: 'open' });
    expect(told).toHaveLength(30);
    expect(told[0]?.item?.name).toMatch(/^høring \d+\.docx$/);
  });

  it('is taken however much comes at once, and held back until it is committed', async () => {
    await say(...Array.from({ length: 6000 }, (_, i) => line(`act="delete" name="many ${i}"`)));
    await expect.poll(() => countEvents(ctx.store, { act: 'delete' }), { timeout: 30_000 }).toBe(6000);
    await ctx.store.run("DELETE FROM activity_event WHERE act = 'delete'");
  });

  it.each<[string, string]>([
    ['of nobody', line('act="open"', 'yp_wrongwrongwrongwrongwrong')],
    ['of an act that is none', line('act="burn"')],
    ['that is none', 'hello there'],
    ['that says what it may not', line('act="change"').replace('kind="source"', 'kind="desk"')],
  ])('%s is not taken', async (_, message) => {
    const before = { ...syslog.counts };
    await say(message);
    await new Promise((done) => setTimeout(done, 400));
    await syslog.flush();
    expect(syslog.counts).toEqual({ taken: before.taken, refused: before.refused + 1 });
  });

  it('ends a sender whose counts are none, and goes on with others', async () => {
    await new Promise<void>((done) => {
      const socket = connect(
        { host: '127.0.0.1', port: ports.syslog, ca: cert, servername: 'localhost' },
        () => socket.write('nonsense without end '),
      );
      socket.on('error', () => {});
      socket.on('close', () => done());
      socket.resume();
    });
    await say(line('act="delete" name="x"'));
    await new Promise((done) => setTimeout(done, 400));
    await syslog.flush();
    expect(await eventsOf({ kind: 'source', act: 'delete' })).toHaveLength(1);
  });
});

describe('events of OCSF', () => {
  it('are taken line by line, each once', async () => {
    const lines = [
      {
        class_uid: 3002,
        activity_id: 1,
        status_id: 2,
        time: Date.parse(NOW) - 1000,
        user: { name: 'ann' },
        metadata: { uid: 'a' },
      },
      { class_uid: 9, activity_id: 1, time: 0, user: { name: 'x' } },
    ].map((l) => JSON.stringify(l));
    const teller = { kinds: ['sign-in'] as const, device: 0, aheadMs: 0 };
    const text = [lines[0], 'nonsense', lines[1]].join('\n');
    expect(await takeOcsf(ctx, teller, 1, text)).toMatchObject({
      taken: 1,
      refused: [{ line: 2 }, { line: 3 }],
    });
    expect(await takeOcsf(ctx, teller, 1, text)).toMatchObject({ taken: 0, already: 1 });
    expect(await eventsOf({ kind: 'sign-in' })).toMatchObject([{ act: 'fail to sign in', person: 'ann' }]);
  });
});
