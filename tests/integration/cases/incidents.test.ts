import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { NewIncident } from '../../../src/core/cases/incidents/incident.ts';
import type { IncidentAct } from '../../../src/core/cases/incidents/incident-act.ts';
import type { ActivityEvent } from '../../../src/core/protection/activity/event.ts';
import { actOnIncident, takeIncident } from '../../../src/server/cases/incidents/act-on-incident.ts';
import { incidentCells, listIncidents } from '../../../src/server/cases/incidents/incident-register.ts';
import { watchIncidents } from '../../../src/server/cases/incidents/known-incident.ts';
import { viewIncident } from '../../../src/server/cases/incidents/view-incident.ts';
import { todayItems } from '../../../src/server/desk/today.ts';
import { insertEvents } from '../../../src/server/protection/activity/event-store.ts';
import type { Account } from '../../../src/core/accounts/authority.ts';
import { testAccount } from '../context.ts';
import { casesTest, surveyed, type CasesTest } from './requesting.ts';

let test: CasesTest;
let second: Account;
let source: number;
let device: number;
beforeAll(async () => {
  test = await casesTest('yare_incidents');
  test.at('2026-11-27T17:00:00Z');
  second = await testAccount(test.ctx);
  source = await surveyed(test, {
    'staff/list.csv':
      'Name;E-mail;Date of birth;Remark\nPer Alm;per@post.example;1980-01-02;type 1 diabetes\nÅsa Berg;asa@post.example;1975-05-05;\nIda Holm;ida@post.example;1990-09-09;\n',
    'staff/again.csv': 'Name;E-mail\nPer Alm;per@post.example\nOlof Lund;olof@post.example\n',
    'other/x.csv': 'Name;E-mail\nKarin Dahl;karin@post.example\nEmil Ravn;emil@post.example\n',
  });
  device = (
    await test.ctx.store.run(
      "INSERT INTO device (name, person, platform, token_hash, can, enrolled_at) VALUES ('Laptop 9', 'jonas@line.example', 'x', ?, '[]', '2026-01-01')",
      [Buffer.alloc(32, 7)],
    )
  ).id;
  const event = (
    n: number,
    at: string,
    more: Partial<ActivityEvent>,
  ): { device: number; event: ActivityEvent } => ({
    device,
    event: {
      ...{
        id: String(n).padStart(32, '0'),
        at,
        kind: 'device',
        person: 'jonas@line.example',
        act: 'copy',
        channel: 'removable drive',
      },
      ...{
        program: '',
        network: '',
        towards: [],
        outcome: 'record',
        answer: null,
        rules: [],
        counted: [],
        reason: '',
        change: null,
      },
      item: {
        name: 'manifest.xlsx',
        format: 'xlsx',
        size: 9,
        level: null,
        document: null,
        people: 318,
        origin: '',
      },
      findings: [{ detector: 'person-name', matches: 318, confidence: 0.9 }],
      ...more,
    } as unknown as ActivityEvent,
  });
  const item = (name: string, people: number) => ({
    name,
    format: 'csv',
    size: 9,
    level: null,
    document: null,
    people,
    origin: '',
  });
  await test.ctx.store.transaction((tx) =>
    insertEvents(tx, test.ctx.now(), [
      event(1, '2026-11-10T10:00:00.000Z', {}),
      event(2, '2026-11-12T10:00:00.000Z', {
        findings: [
          { detector: 'person-name', matches: 200, confidence: 0.9 },
          { detector: 'passport', matches: 300, confidence: 0.9 },
        ],
      } as never),
      event(3, '2026-11-12T11:00:00.000Z', { outcome: 'stop', item: item('stopped.csv', 900) } as never),
      event(4, '2026-11-13T11:00:00.000Z', { item: item('gone.csv', 50) } as never),
      event(5, '2026-11-13T12:00:00.000Z', { act: 'delete', item: item('gone.csv', 50) } as never),
      event(6, '2026-05-01T12:00:00.000Z', { item: item('long-ago.csv', 77) } as never),
      {
        ...event(7, '2026-11-14T12:00:00.000Z', { item: item('other-laptop.csv', 33) } as never),
        device: device + 1,
      },
    ]),
  );
});
afterAll(() => test.close());

const take = (given: Partial<z.input<typeof NewIncident>> = {}) =>
  test.ctx.store.transaction((tx) =>
    takeIncident(
      tx,
      test.ctx,
      NewIncident.parse({
        kind: 'lost device',
        title: 'Laptop left on a ship',
        knownAt: '2026-11-27T16:30:00Z',
        ...given,
      }),
      test.officer.id,
    ),
  );
const act = (id: number, does: IncidentAct, who = test.officer) => actOnIncident(test.ctx, who, id, does);
const view = (id: number, who = test.officer) => viewIncident(test.ctx, who, id);
const today = async (id: number) =>
  (await todayItems(test.ctx, test.officer)).filter((t) => t.link === `/cases/incidents/${id}`);

describe('an incident', { timeout: 60_000 }, () => {
  it('is not known of later than now, and its time runs from when it was', async () => {
    await expect(take({ knownAt: '2026-11-28T16:30:00Z' })).rejects.toThrow(/still to come/);
    const id = await take({ regions: ['DK', 'US-CA'] });
    const i = await view(id);
    expect(i.deadlines.map((d) => [d.id, d.by])).toEqual([
      ['gdpr-33', '2026-11-30T16:30:00.000Z'],
      ['us-ca', '2026-12-27T16:30:00.000Z'],
      ['us-ca-ag', '2027-01-11T16:30:00.000Z'],
      ['gdpr-34', null],
    ]);
    expect((await today(id))[0]).toMatchObject({ kind: 'incident open', due: '2026-11-30T16:30:00.000Z' });
  });

  it('is reckoned from what a lost laptop had in hand, without what was stopped, deleted, long ago or another’s', async () => {
    const id = await take();
    await expect(act(id, { act: 'reckon' })).rejects.toThrow(/what it touched/);
    await act(id, {
      act: 'touch',
      touched: [{ what: 'device', id: device }],
      regions: ['DK'],
      nis2: false,
      hipaa: false,
    });
    await act(id, { act: 'reckon' });
    const { reckoned, severityInput, evidence } = await view(id);
    expect(reckoned).toMatchObject({ items: 1, people: null, atMost: 318 });
    expect(reckoned?.listed.map((l) => [l.name, l.where])).toEqual([['manifest.xlsx', 'device Laptop 9']]);
    expect(reckoned?.data.map((d) => [d.detector, d.matches])).toEqual([
      ['person-name', 318],
      ['passport', 300],
    ]);
    expect(severityInput).toMatchObject({
      data: 'behavioural',
      ease: 'maximum',
      confidentiality: 'unknown recipients',
      malicious: false,
    });
    expect(evidence).toHaveLength(1);
  });

  it('counts people of a folder once, however many lists they stand in, and freezes what was there', async () => {
    const id = await take({ kind: 'open to many', title: 'A list for all staff' });
    await act(id, {
      act: 'touch',
      touched: [{ what: 'place', source, path: 'staff' }],
      regions: ['SE'],
      nis2: false,
      hipaa: false,
    });
    await act(id, { act: 'reckon' });
    const { reckoned, severityInput, evidence } = await view(id);
    expect(reckoned).toMatchObject({ items: 2, people: 4, atMost: 0, error: 0 });
    expect(severityInput.data).toBe('sensitive');
    const ledger = await test.ctx.store.one(
      z.object({ detail: z.string() }),
      "SELECT CAST(detail AS CHAR) AS detail FROM ledger_entry WHERE action = 'incident.reckon' AND object_id = ?",
      [String(id)],
    );
    expect(ledger?.detail).toContain(evidence[0]?.hash ?? '?');
  });

  it('is decided by two people, told with the time on record, and closed only when all is done', async () => {
    const id = await take({ regions: ['DK'], touched: [{ what: 'place', source, path: '' }] });
    await act(id, { act: 'reckon' });
    const { severityInput } = await view(id);
    await expect(
      act(id, { act: 'decide', authority: 'tell', people: 'tell', reason: 'grave' }),
    ).rejects.toThrow(/how grave/);
    await act(id, { act: 'weigh', severity: severityInput });
    const weighed = await view(id);
    expect(weighed.severity).toMatchObject({ score: 4.5, level: 'very high' });
    expect(weighed.proposal).toMatchObject({ authority: 'tell', people: 'tell' });
    await act(id, {
      act: 'decide',
      authority: 'tell',
      people: 'do not tell',
      reason: 'the lists were opened by two of us',
    });
    await expect(act(id, { act: 'agree', agrees: true, words: '' })).rejects.toThrow(/Somebody else/);
    await expect(act(id, { act: 'told', deadline: 'gdpr-33', at: '2026-11-27T16:45:00Z' })).rejects.toThrow(
      /Two people/,
    );
    await act(id, { act: 'agree', agrees: false, words: 'there are health notes in it' }, second);
    expect((await view(id)).decision).toBeNull();
    await act(id, {
      act: 'decide',
      authority: 'tell',
      people: 'do not tell',
      reason: 'opened by two of us alone, who were asked',
    });
    await act(id, { act: 'agree', agrees: true, words: '' }, second);
    await expect(act(id, { act: 'close', words: '' })).rejects.toThrow(/tell the authority/);
    await expect(act(id, { act: 'told', deadline: 'gdpr-33', at: '2026-11-27T16:00:00Z' })).rejects.toThrow(
      /cannot|can have/i,
    );
    await act(id, { act: 'told', deadline: 'gdpr-33', at: '2026-11-27T16:50:00Z' });
    await expect(act(id, { act: 'close', words: '' })).rejects.toThrow(/does not happen again/);
    await act(id, {
      act: 'measure',
      what: 'lists lie where crew alone can open them',
      owner: second.id,
      due: '2026-12-11',
    });
    await act(id, { act: 'close', words: 'lists go to the crew share' });
    expect(await today(id)).toEqual([]);
    await expect(act(id, { act: 'reckon' })).rejects.toThrow(/closed/);
    const listed = (await listIncidents(test.ctx)).find((x) => x.id === id);
    if (!listed) throw new Error('not listed');
    expect(await incidentCells(test.ctx, listed)).toMatchObject({
      severity: '4.50 (very high)',
      told: 'gdpr-33 2026-11-27T16:50:00Z',
      measures: 'lists lie where crew alone can open them',
    });
  });

  it('stands on Today as late once a time is over', async () => {
    const id = await take({ regions: ['DK'] });
    test.at('2026-11-30T17:30:00Z');
    await watchIncidents(test.ctx);
    expect((await today(id))[0]).toMatchObject({
      kind: 'incident late',
      words: expect.stringContaining('1 hour late') as string,
    });
    await act(id, { act: 'assign', to: second.id });
    expect(await today(id), 'told to everybody who may handle it').toHaveLength(1);
    test.at('2026-11-27T17:00:00Z');
  });

  it('runs no time for whom two people decided not to tell', async () => {
    const id = await take({ regions: ['DK'], touched: [{ what: 'device', id: device }] });
    await act(id, { act: 'reckon' });
    await act(id, { act: 'weigh', severity: { ...(await view(id)).severityInput, unreadable: true } });
    await act(id, {
      act: 'decide',
      authority: 'do not tell',
      people: 'do not tell',
      reason: 'its disk is sealed',
    });
    expect(
      (await view(id)).deadlines.every((d) => !d.unwanted),
      'one person alone',
    ).toBe(true);
    await act(id, { act: 'agree', agrees: true, words: '' }, second);
    const { next, deadlines } = await view(id);
    expect(next).toBeNull();
    expect(deadlines.every((d) => d.unwanted)).toBe(true);
  });

  it('is set aside where it is none, stays in the register with the reason, and can be opened again', async () => {
    const id = await take({ regions: ['DK'], title: 'A bag was left' });
    await act(id, { act: 'no breach', words: 'Found at the desk, still sealed.' });
    expect(await today(id)).toEqual([]);
    await expect(act(id, { act: 'weigh', severity: (await view(id)).severityInput })).rejects.toThrow(
      /closed/,
    );
    const listed = (await listIncidents(test.ctx)).find((x) => x.id === id);
    expect(listed).toMatchObject({ isNone: true, next: 'no breach' });
    expect(listed && (await incidentCells(test.ctx, listed))).toMatchObject({
      ...{ decision: 'no breach', reason: 'Found at the desk, still sealed.' },
    });
    await act(id, { act: 'open again', words: 'It was opened after all.' });
    expect((await view(id)).noBreach).toBeNull();
    expect(await today(id)).toHaveLength(1);
    await expect(act(id, { act: 'open again', words: 'once more' })).rejects.toThrow(/It is open/);
  });

  it('takes a time to the second for what it is, at the very end of 72 hours', async () => {
    const id = await take({ regions: ['DK'], touched: [{ what: 'device', id: device }] });
    await act(id, { act: 'reckon' });
    await act(id, { act: 'weigh', severity: (await view(id)).severityInput });
    await act(id, { act: 'decide', authority: 'tell', people: 'do not tell', reason: 'as it is' });
    await act(id, { act: 'agree', agrees: true, words: '' }, second);
    test.at('2026-12-01T10:00:00Z');
    await act(id, { act: 'told', deadline: 'gdpr-33', at: '2026-11-30T16:30:00Z' });
    const steps = (await view(id)).steps.filter((s) => s.kind === 'told');
    expect(steps.map((s) => s.words)).toEqual(['GDPR, Art. 33(1)']);
    test.at('2026-11-27T17:00:00Z');
  });

  it('lists every one in the register, however few are shown', async () => {
    const all = await listIncidents(test.ctx, Number.MAX_SAFE_INTEGER);
    expect(all.length).toBeGreaterThan(3);
    expect((await listIncidents(test.ctx, 2)).map((i) => i.id)).toEqual(all.slice(0, 2).map((i) => i.id));
  });

  it('has both letters from its facts, in the language of the people', async () => {
    const id = await take({ regions: ['SE'], touched: [{ what: 'place', source, path: 'staff' }] });
    await act(id, { act: 'reckon' });
    await act(id, {
      act: 'words',
      words: {
        happened: 'En lista låg öppen.',
        consequences: 'Någon kan ha läst den.',
        contact: 'p@line.example',
        late: '',
      },
    });
    const { letters } = await viewIncident(test.ctx, test.officer, id, 'sv');
    expect(letters.authority.paragraphs.join('\n')).toMatch(/4 people/);
    expect(letters.people.paragraphs.join('\n')).toMatch(
      /något har hänt med uppgifter om dig\. En lista låg öppen\./,
    );
  });

  it('keeps what it says of people sealed', async () => {
    const rows = await test.ctx.store.all(
      z.object({ content: z.string(), words: z.string().nullable() }),
      'SELECT content, words FROM incident',
    );
    for (const r of rows) expect(`${r.content} ${r.words ?? ''}`).not.toMatch(/Laptop|lista|ship/);
  });
});
