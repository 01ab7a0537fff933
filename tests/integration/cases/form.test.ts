import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { solve, WORK_BITS } from '../../../src/core/cases/requests/form/work-proof.ts';
import { newForm, takeForm, type SentForm } from '../../../src/server/cases/requests/form/take-form.ts';
import { endMail, takeMail, waitingMail } from '../../../src/server/cases/requests/form/take-mail.ts';
import { answerWho } from '../../../src/server/cases/requests/identity/ask-who.ts';
import { readProof } from '../../../src/server/cases/requests/identity/proofs.ts';
import { actOnTask, requireItemRight, tasksOf } from '../../../src/server/cases/requests/tasks/tasks.ts';
import { remindOfTasks, watchRequests } from '../../../src/server/cases/requests/request-upkeep.ts';
import { listRequests, requestFigures } from '../../../src/server/cases/requests/requests.ts';
import { REQUEST_FIGURES } from '../../../src/server/cases/requests/figures.ts';
import { todayItems } from '../../../src/server/desk/today.ts';
import { RefusedError } from '../../../src/core/refusal.ts';
import { testAccount } from '../context.ts';
import { writeFiles } from '../holdings/estate.ts';
import { insertSource } from '../../../src/server/holdings/sources/sources.ts';
import { USUAL_SOURCE } from '../../../src/core/holdings/sources/source.ts';
import {
  act,
  casesTest,
  queuedMail,
  request,
  surveyed,
  view,
  workOff,
  type CasesTest,
} from './requesting.ts';

let test: CasesTest;
beforeAll(async () => {
  test = await casesTest('yare_requests_form');
});
afterAll(() => test.close());

/** A form that was shown a while ago, filled in. */
async function filled(more: Readonly<Record<string, string>> = {}, worked = true): Promise<SentForm> {
  const form = newForm(test.ctx);
  const at = test.ctx.now().getTime();
  test.at(new Date(at + 5000).toISOString());
  return {
    fields: {
      ...{
        seed: form.seed,
        work: worked ? solve({ ...form, bits: WORK_BITS }) : '',
        kind: 'access',
        region: 'SE',
        language: 'sv',
      },
      ...{ name: 'Elin Nordin', email: 'elin@post.example', ...more },
    },
    proof: undefined,
  };
}
const send = (form: SentForm, address = '203.0.113.7') => takeForm(test.ctx, 'brindle', address, form);
const refusal = async (work: Promise<unknown>) => {
  const error = await work.then(
    () => undefined,
    (e: unknown) => e,
  );
  return error instanceof RefusedError
    ? { status: error.status, fields: error.fields.map((f) => f.field) }
    : error;
};
const all = () => listRequests(test.ctx.store, {}, undefined, 100);

describe('the public form', { timeout: 60_000 }, () => {
  it('becomes a request once, however often it is sent, and asks who it is by mail', async () => {
    const form = await filled();
    const first = await send(form);
    expect(await send(form)).toEqual(first);
    const { rows } = await all();
    expect(rows).toHaveLength(1);
    expect(rows[0]).toMatchObject({ kind: 'access', way: 'form', region: 'SE', knownBy: null });
    const mails = await queuedMail(test);
    expect(mails.map((m) => m.to)).toEqual(['elin@post.example', 'elin@post.example']);
    expect(mails[1]?.text).toMatch(/\/request\/[\w-]{43}/);
    const r = await view(test, rows[0]?.id ?? 0);
    expect(r.clock).toMatchObject({ isPaused: true });
    expect(JSON.stringify(r.letters)).not.toMatch(/\/request\/[\w-]{43}/);
  });

  it('names each field that is wrong, and takes nothing', async () => {
    const before = (await all()).rows.length;
    expect(await refusal(send(await filled({ email: 'nobody' })))).toEqual({
      status: 400,
      fields: ['email'],
    });
    expect(await refusal(send(await filled({ name: ' ' })))).toEqual({ status: 400, fields: ['name'] });
    expect(await refusal(send(await filled({ whom: 'child' })))).toEqual({ status: 400, fields: ['other'] });
    expect(await refusal(send(await filled({ whom: 'represented', other: 'A B' })))).toEqual({
      status: 400,
      fields: ['proof'],
    });
    expect(await refusal(send(await filled({ kind: 'no sale' })))).toEqual({ status: 400, fields: ['kind'] });
    const script = {
      ...(await filled({ whom: 'represented', other: 'A B' })),
      proof: { name: 'a.svg', bytes: Buffer.from('<svg onload=alert(1)>') },
    };
    expect(await refusal(send(script))).toEqual({ status: 400, fields: ['proof'] });
    expect(await refusal(send(await filled({ region: '<b>' })))).toEqual({ status: 400, fields: ['region'] });
    expect(await refusal(send({ ...(await filled()), fields: {} }))).toMatchObject({ status: 400 });
    expect((await all()).rows.length).toBe(before);
  });

  it('takes none whose seed was made up, or is old', async () => {
    const form = await filled();
    expect(
      await refusal(
        send({
          ...form,
          fields: { ...form.fields, seed: `1700000000000.${'a'.repeat(16)}.${'b'.repeat(27)}` },
        }),
      ),
    ).toEqual({ status: 400, fields: ['seed'] });
    test.at(new Date(test.ctx.now().getTime() + 7 * 3_600_000).toISOString());
    expect(await refusal(send(form))).toEqual({ status: 400, fields: ['seed'] });
  });

  it('thanks a robot, and takes nothing', async () => {
    const before = (await all()).rows.length;
    expect(await send(await filled({ homepage: 'http://x.example' }))).toEqual({ number: '–' });
    const { fields } = await filled();
    const quick = { ...fields, seed: newForm(test.ctx).seed };
    expect(await send({ fields: quick, proof: undefined })).toEqual({ number: '–' });
    expect((await all()).rows.length).toBe(before);
  });

  it('holds back a flood from one network, sooner where no work was done; another network goes on', async () => {
    for (let i = 0; i < 5; i++) await send(await filled({ email: `p${i}@post.example` }, false), '192.0.2.9');
    expect(
      await refusal(send(await filled({ email: 'p6@post.example' }, false), '192.0.2.77')),
    ).toMatchObject({ status: 429 });
    await send(await filled({ email: 'p7@post.example' }), '192.0.2.77');
    await send(await filled({ email: 'p8@post.example' }, false), '198.51.100.200');
  });

  it('writes to one address a few times a day, whoever types it', async () => {
    const before = (await queuedMail(test)).length;
    for (let i = 0; i < 5; i++) await send(await filled({ email: 'victim@post.example' }), `100.64.${i}.1`);
    expect((await queuedMail(test)).length - before).toBe(6);
  });

  it('keeps names with markup as they are, and a proof sealed until the request is closed', async () => {
    const pdf = Buffer.from('%PDF-1.4 made up');
    const name = '<img src=x onerror=alert(1)>';
    const { number } = await send(
      {
        ...(await filled({ whom: 'represented', other: name, email: 'agent@post.example', kind: 'object' })),
        proof: { name: '../../x.pdf', bytes: pdf },
      },
      '100.65.1.1',
    );
    const id = Number(number.slice(2));
    const r = await view(test, id);
    expect(r.request?.subject.name).toBe(name);
    expect(r.proofs).toHaveLength(1);
    const kept = await test.ctx.store.one(
      z.object({ content: z.instanceof(Buffer) }),
      'SELECT content FROM request_proof WHERE request_id = ?',
      [id],
    );
    expect(kept?.content.includes('made up')).toBe(false);
    const file = await readProof(test.ctx, test.officer, id, r.proofs[0]?.id ?? 0);
    expect(file.headers.get('content-disposition')).toMatch(/filename="proof-\d+\.pdf"/);
    expect(await file.text()).toBe(pdf.toString());
    await act(test, id, {
      act: 'write',
      letter: 'refused',
      subject: 'x',
      paragraphs: ['no'],
      reason: 'no power of attorney',
    });
    await act(test, id, { act: 'close', outcome: 'refused', words: '' });
    expect((await view(test, id)).proofs).toEqual([]);
  });
});

describe('who it is', { timeout: 60_000 }, () => {
  const ask = async (subject: { name: string; emails: string[] }) => {
    const id = await request(test, { subject });
    await act(test, id, { act: 'write', letter: 'prove', subject: 'x', paragraphs: ['x'], reason: '' });
    const text = (await queuedMail(test)).at(-1)?.text ?? '';
    return { id, token: /\/request\/([\w-]{43})/.exec(text)?.[1] ?? '' };
  };
  beforeAll(async () => {
    await surveyed(test, {
      'members.csv':
        'Name;E-mail;Date of birth;Phone\nOlof Berg;olof@post.example;1970-02-03;+46 70 1112233\nKarin Lund;karin@post.example;1980-03-04;+46 70 4445566\n',
    });
  });

  it('is known where the answers agree with what is held beside the address', async () => {
    const { id, token } = await ask({ name: 'Olof Berg', emails: ['olof@post.example'] });
    await answerWho(test.ctx, token, { born: '3.2.1970', phone: '070-111 22 33', address: '', number: '' });
    await workOff(test);
    const r = await view(test, id);
    expect(r.row).toMatchObject({ known_by: 'link and questions', proof: 'agrees' });
    expect(r.facts.search).toBe('done');
    expect(r.clock.isPaused).toBe(false);
  });

  it('is for a person to decide where they differ, or nothing is held; whoever answers is told the same', async () => {
    const wrong = await ask({ name: 'Karin Lund', emails: ['karin@post.example'] });
    const none = await ask({ name: 'Nobody Known', emails: ['nobody@post.example'] });
    const answers = { born: '1999-09-09', phone: '070-444 55 66', address: '', number: '' };
    expect(await answerWho(test.ctx, wrong.token, answers)).toEqual(
      await answerWho(test.ctx, none.token, answers),
    );
    await workOff(test);
    expect((await view(test, wrong.id)).row).toMatchObject({ known_by: null, proof: 'differs' });
    expect((await view(test, none.id)).row).toMatchObject({ known_by: null, proof: 'nothing held' });
    expect((await view(test, wrong.id)).needs[0]).toMatchObject({ step: 'known', wrong: true });
  });

  it('opens nothing twice, nor late, nor by a guess, and no link of another', async () => {
    const { id, token } = await ask({ name: 'Olof Berg', emails: ['olof@post.example'] });
    const answers = { born: '', phone: '', address: '', number: '' };
    expect(await refusal(answerWho(test.ctx, `${'x'.repeat(43)}`, answers))).toMatchObject({ status: 404 });
    expect(await refusal(answerWho(test.ctx, token, { ...answers, born: 'soon' }))).toEqual({
      status: 400,
      fields: ['born'],
    });
    await answerWho(test.ctx, token, answers);
    expect(await refusal(answerWho(test.ctx, token, answers))).toMatchObject({ status: 404 });
    await act(test, id, { act: 'write', letter: 'prove', subject: 'x', paragraphs: ['x'], reason: '' });
    const second = /\/request\/([\w-]{43})/.exec((await queuedMail(test)).at(-1)?.text ?? '')?.[1] ?? '';
    const now = test.ctx.now();
    test.at(new Date(now.getTime() + 15 * 86_400_000).toISOString());
    expect(await refusal(answerWho(test.ctx, second, answers))).toMatchObject({ status: 404 });
    test.at(now.toISOString());
  });
});

describe('letters that come by mail', { timeout: 60_000 }, () => {
  it('are read once, guessed at, and taken in on the day they came or set aside', async () => {
    const mail = (subject: string, body: string) =>
      `From: Åsa Berg <asa@post.example>\nTo: p@line.example\nSubject: ${subject}\nDate: Mon, 02 Nov 2026 09:00:00 GMT\n\n${body}\n`;
    writeFiles(test.root, {
      ...{
        'box/cur/1.M1.x:2,S': mail('Slet mig', 'Slet alt om mig.'),
        'box/cur/2.M2.x:2,S': mail('Offer', 'We sell pens.'),
      },
      ...{
        'box/cur/3.M3.x:2,S': Buffer.from([0xff, 0xfe, 0, 1, 2]),
        'box/new/.keep': '',
        'box/tmp/.keep': '',
      },
    });
    const box = await test.ctx.store.transaction((tx) =>
      insertSource(tx, test.ctx, null, {
        content: { ...USUAL_SOURCE, name: 'Privacy' },
        address: { kind: 'mail folder', root: `${test.root}/box` },
        secret: '',
      }),
    );
    await test.ctx.store.run(
      "UPDATE request_policy SET content = JSON_SET(content, '$.mailbox', ?) WHERE id = 1",
      [String(box)],
    );
    await takeMail(test.ctx);
    await takeMail(test.ctx);
    const waiting = (await waitingMail(test.ctx)).filter((m) => m.subject !== '');
    expect(waiting.map((m) => [m.subject, m.kind]).toSorted()).toEqual([
      ['Offer', null],
      ['Slet mig', 'delete'],
    ]);
    const wanted = waiting.find((m) => m.kind === 'delete');
    const at = await test.ctx.store.transaction((tx) =>
      endMail(tx, test.ctx, wanted?.id ?? 0, test.officer.id, 1),
    );
    expect(at.toISOString()).toBe('2026-11-02T09:00:00.000Z');
    await test.ctx.store.transaction((tx) =>
      endMail(tx, test.ctx, waiting.find((m) => !m.kind)?.id ?? 0, test.officer.id, null),
    );
    expect((await waitingMail(test.ctx)).filter((m) => m.subject !== '')).toEqual([]);
    await expect(
      test.ctx.store.transaction((tx) => endMail(tx, test.ctx, wanted?.id ?? 0, test.officer.id, 1)),
    ).rejects.toThrow(/no such letter/);
  });
});

describe('time', { timeout: 60_000 }, () => {
  it('runs out on Today and by mail, and an extension is told with its reason in time', async () => {
    test.at('2026-11-04T10:00:00Z');
    const id = await request(test, {
      kind: 'object',
      subject: { name: 'Ida Holm', emails: ['ida@post.example'] },
    });
    await act(test, id, { act: 'known', by: 'hand', words: 'telephoned from the number on file' });
    await act(test, id, { act: 'assign', to: test.officer.id });
    const other = await testAccount(test.ctx);
    const mine = async (who = test.officer) =>
      (await todayItems(test.ctx, who)).filter((t) => t.link === `/cases/requests/${id}`).map((t) => t.kind);
    expect(await mine()).toEqual([]);
    test.at('2026-11-27T10:00:00Z');
    await watchRequests(test.ctx);
    await watchRequests(test.ctx);
    expect(await mine()).toEqual(['request due']);
    expect(await mine(other), 'not its handler alone').toEqual(['request due']);
    const warned = (await queuedMail(test)).filter(
      (m) => m.to === test.officer.email && m.subject.startsWith(`R-${id}:`),
    );
    expect(warned.map((m) => m.subject)).toEqual([`R-${id}: 7 days left`]);
    await expect(
      act(test, id, { act: 'write', letter: 'extended', subject: 'x', paragraphs: ['x'], reason: '' }),
    ).rejects.toThrow(/Say why/);
    // Nothing ran on the days of 3 and 2 left: what was missed is told, and once.
    test.at('2026-12-02T10:00:00Z');
    await watchRequests(test.ctx);
    test.at('2026-12-01T10:00:00Z');
    await watchRequests(test.ctx);
    expect(
      (await queuedMail(test))
        .filter((m) => m.to === test.officer.email && m.subject.startsWith(`R-${id}:`))
        .map((m) => m.subject),
    ).toEqual([`R-${id}: 7 days left`, `R-${id}: 2 days left`]);
    test.at('2026-12-05T10:00:00Z');
    await watchRequests(test.ctx);
    expect(await mine()).toEqual(['request late']);
    await expect(
      act(test, id, { act: 'write', letter: 'extended', subject: 'x', paragraphs: ['x'], reason: 'much' }),
    ).rejects.toThrow(/too late/);
    test.at('2026-12-04T10:00:00Z');
    await act(test, id, {
      act: 'write',
      letter: 'extended',
      subject: 'x',
      paragraphs: ['x'],
      reason: 'much of it',
    });
    expect((await view(test, id)).clock).toMatchObject({
      isExtended: true,
      answerBy: '2027-02-04',
      isLate: false,
    });
    await expect(
      act(test, id, { act: 'wait', why: 'clarification', words: 'what is meant' }),
    ).rejects.toThrow(/does not let/);
  });

  it('reminds the owner of a task, and tells those above once it is late for too long', async () => {
    test.at('2026-11-04T10:00:00Z');
    const steward = await testAccount(test.ctx, 'data steward');
    const id = await request(test, {
      kind: 'object',
      subject: { name: 'Ida Dahl', emails: ['ida.d@post.example'] },
    });
    const { id: task } = await test.ctx.store.run(
      'INSERT INTO request_task (request_id, what, owner, due_on) VALUES (?)',
      [[id, 'Port: look by hand', steward.id, '2026-11-09']],
    );
    test.at('2026-11-09T10:00:00Z');
    await remindOfTasks(test.ctx);
    await remindOfTasks(test.ctx);
    const to = async (email: string) =>
      (await queuedMail(test)).filter((m) => m.to === email && m.text.includes('Port: look by hand')).length;
    expect([await to(steward.email), await to(test.officer.email)]).toEqual([1, 0]);
    test.at('2026-11-12T10:00:00Z');
    await remindOfTasks(test.ctx);
    await remindOfTasks(test.ctx);
    expect([await to(steward.email), await to(test.officer.email)]).toEqual([1, 1]);
    expect((await tasksOf(test.ctx.store, steward.id)).map((t) => t.id)).toEqual([task]);
    const other = await testAccount(test.ctx, 'records manager');
    expect(
      await refusal(actOnTask(test.ctx, other, task, { act: 'done', outcome: 'not mine' })),
    ).toMatchObject({ status: 403 });
    expect(await refusal(requireItemRight(test.ctx, other, id, '1'))).toMatchObject({ status: 404 });
    expect(await refusal(actOnTask(test.ctx, steward, task, { act: 'hand on', to: 987654 }))).toEqual({
      ...{ status: 400, fields: ['to'] },
    });
    await actOnTask(test.ctx, steward, task, { act: 'hand on', to: other.id });
    await actOnTask(test.ctx, other, task, { act: 'done', outcome: 'in no picture' });
    expect((await view(test, id)).tasks[0]).toMatchObject({ outcome: 'in no picture' });
    expect(await refusal(actOnTask(test.ctx, other, task, { act: 'done', outcome: 'again' }))).toMatchObject({
      status: 409,
    });
  });

  it('shows in figures that agree with their rows', async () => {
    const { rows } = await listRequests(test.ctx.store, { open: 'open' }, undefined, 500);
    const figures = await requestFigures(test.ctx, 365);
    expect(figures.open).toBe(rows.length);
    const open = REQUEST_FIGURES.find((f) => f.id === 'cases.requests.open');
    expect((await open?.value(test.ctx.store, test.ctx.now(), test.ctx))?.value).toBe(rows.length);
  });
});
