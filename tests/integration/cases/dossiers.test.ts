import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { parse } from 'csv-parse/sync';
import { z } from 'zod';
import type { Account } from '../../../src/core/accounts/authority.ts';
import { NEW_IMPACT, type ImpactContent } from '../../../src/core/cases/impact/impact.ts';
import type { ImpactAct } from '../../../src/core/cases/impact/impact-act.ts';
import { AI_QUESTIONS } from '../../../src/core/cases/ai/ai-act.ts';
import { NEW_AI, type AiContent } from '../../../src/core/cases/ai/ai-system.ts';
import type { AiAct } from '../../../src/core/cases/ai/ai-record.ts';
import { NEW_VENDOR, type VendorContent } from '../../../src/core/cases/vendors/vendor.ts';
import type { VendorAct } from '../../../src/core/cases/vendors/vendor-act.ts';
import { NEW_ACTIVITY } from '../../../src/core/holdings/records/activity.ts';
import { AI_SYSTEM } from '../../../src/server/cases/ai/ai-kind.ts';
import { viewAi } from '../../../src/server/cases/ai/view-ai.ts';
import { filesOf, sendFile } from '../../../src/server/cases/dossiers/dossier-files.ts';
import type { DossierKind } from '../../../src/server/cases/dossiers/dossier-kind.ts';
import {
  actOnDossier,
  addDossier,
  findDossiers,
  knowNow,
  listDossiers,
  plainDossier,
  stepsOf,
  watchDossiers,
} from '../../../src/server/cases/dossiers/dossiers.ts';
import { registerLines } from '../../../src/server/cases/dossiers/dossier-register.ts';
import { IMPACT } from '../../../src/server/cases/impact/impact-kind.ts';
import { impactPdf } from '../../../src/server/cases/impact/impact-pdf.ts';
import { viewImpact } from '../../../src/server/cases/impact/view-impact.ts';
import { askedPage, takeAnswers } from '../../../src/server/cases/vendors/answer-questions.ts';
import { addQuestionnaire } from '../../../src/server/cases/vendors/questionnaires.ts';
import { VENDOR } from '../../../src/server/cases/vendors/vendor-kind.ts';
import { viewVendor } from '../../../src/server/cases/vendors/view-vendor.ts';
import { todayItems } from '../../../src/server/desk/today.ts';
import { addActivity } from '../../../src/server/holdings/records/activities.ts';
import { addSystem } from '../../../src/server/holdings/sources/systems.ts';
import { editObject, readObject } from '../../../src/server/rules/plain-object.ts';
import { testAccount } from '../context.ts';
import { casesTest, queuedMail, surveyed, type CasesTest } from './requesting.ts';

let test: CasesTest;
let second: Account;
let steward: Account;
let reader: Account;
let activity: string;
let system: string;
beforeAll(async () => {
  test = await casesTest('yare_dossiers');
  test.at('2026-11-27T17:00:00Z');
  second = await testAccount(test.ctx);
  steward = await testAccount(test.ctx, 'data steward');
  reader = await testAccount(test.ctx, 'auditor');
  const source = await surveyed(test, {
    'crew/fit.csv':
      'Name;E-mail;Remark\nPer Alm;per@post.example;type 1 diabetes\nÅsa Berg;asa@post.example;asthma since 2019\n',
  });
  const { store } = test.ctx;
  await store.transaction(async (tx) => {
    system = String(
      await addSystem(tx, test.ctx.now(), test.officer.id, {
        ...{
          name: 'Crew office',
          about: '',
          owner: '',
          steward: null,
          country: 'DK',
          vendors: [],
          notes: '',
        },
      }),
    );
    activity = String(
      await addActivity(tx, test.ctx.now(), test.officer.id, {
        ...NEW_ACTIVITY,
        ...{
          name: 'Crew certificates',
          people: ['crew'],
          data: ['person-name'],
          systems: [system],
          retention: '3 years',
        },
      }),
    );
  });
  await store.run('UPDATE source SET system_id = ? WHERE id = ?', [system, source]);
}, 120_000);
afterAll(() => test.close());

const begin = <C extends { readonly name: string }, R, A>(kind: DossierKind<C, R, A>, content: C) =>
  test.ctx.store.transaction((tx) => addDossier(tx, test.ctx, kind, test.officer.id, content));
const edit = async <C extends { readonly name: string }, R, A>(
  kind: DossierKind<C, R, A>,
  id: number,
  change: Partial<C>,
) => {
  const plain = plainDossier(kind);
  const { content, revision } = await readObject(test.ctx.store, plain, id);
  return test.ctx.store.transaction((tx) =>
    editObject(tx, test.ctx.now(), plain, test.officer.id, id, {
      revision,
      base: content,
      content: { ...content, ...change },
    } as never),
  );
};
const refusal = (work: Promise<unknown>) =>
  work.then(
    () => 'done',
    (e: unknown) => `${String((e as { status?: number }).status)} ${(e as Error).message}`,
  );

describe('an impact assessment', () => {
  let id: number;
  const act = (does: ImpactAct, by: Account = test.officer) => actOnDossier(test.ctx, IMPACT, by, id, does);
  beforeAll(async () => {
    id = await begin(IMPACT, { ...NEW_IMPACT, name: 'Fit for duty', countries: ['SE'] });
  });

  it('is proposed from what it is linked to: what records say, and what was found though no record says it', async () => {
    expect((await viewImpact(test.ctx, test.officer, id)).threshold.verdict).toBe('not needed');
    await edit<ImpactContent, never, never>(IMPACT as never, id, {
      links: { activities: [activity], systems: [system], sites: [] },
      about: 'Certificates of crew are read.',
    });
    const v = await viewImpact(test.ctx, test.officer, id);
    expect(v.facts).toMatchObject({ people: ['crew'], count: 2 });
    expect(v.facts.data.find((d) => d.detector === 'health-condition')).toMatchObject({ recorded: false });
    expect(v.threshold.criteria).toEqual(expect.arrayContaining(['sensitive', 'vulnerable']));
    expect(v.threshold.verdict).toBe('needed');
    expect(v.proposed.map((p) => p.risk.what)).toContain('Somebody reads what is not meant for them');
  });

  it('is decided, advised and approved in order, by those who may', async () => {
    expect(await refusal(act({ act: 'decide', needed: false, why: '' }))).toMatch(/^400 Say why/);
    expect(await refusal(act({ act: 'approve', words: '' }))).toMatch(/^409 It is not done/);
    expect(await refusal(act({ act: 'advise', proceed: true, words: 'Go on' }, steward))).toMatch(
      /^403 .*advice/,
    );
    expect(await refusal(act({ act: 'note', words: 'Hello' }, reader))).toMatch(/^403/);
    await act({ act: 'decide', needed: true, why: '' });
    await edit<ImpactContent, never, never>(IMPACT as never, id, {
      ...{ necessity: 'The law asks for it.', views: 'The union agreed.' },
      risks: [
        {
          what: 'Read by others',
          harm: '',
          likelihood: 4,
          severity: 4,
          measures: [{ what: 'Yes or no alone', likelihood: 0, severity: 1, done: true, due: '' }],
        },
      ],
    });
    await act({ act: 'advise', proceed: true, words: 'Go on' });
    expect(await refusal(act({ act: 'approve', words: '' }, second))).toMatch(/consult the authority/);
    expect(await refusal(act({ act: 'consult', on: '2026-12-24' }))).toMatch(/^400/);
    await act({ act: 'consult', on: '2026-10-20' });
    expect((await viewImpact(test.ctx, second, id)).progress).toMatchObject({
      state: 'with the authority',
      answerBy: '2026-12-15',
    });
    expect(await refusal(act({ act: 'answered', on: '2026-10-01', words: 'Lower it' }))).toMatch(/^400/);
    await act({ act: 'answered', on: '2026-11-20', words: 'Allowed for a year' });
    expect(await refusal(act({ act: 'approve', words: '' }))).toMatch(/^409 Somebody else/);
    await act({ act: 'approve', words: 'For a year' }, second);
    expect((await viewImpact(test.ctx, second, id)).progress).toMatchObject({
      state: 'approved',
      needs: [],
      changes: [],
    });
  });

  it('comes up again on Today once a survey finds a new kind of data in what it is about', async () => {
    await surveyed(test, {
      'crew/pay.csv': 'Name;IBAN\nPer Alm;DK50 0040 0440 1162 43\nÅsa Berg;DK50 0040 0440 1162 43\n',
    }).catch(() => 0);
    await test.ctx.store.run('UPDATE source SET system_id = ?', [system]);
    test.at('2026-11-27T18:00:00Z');
    await watchDossiers(IMPACT)(test.ctx);
    const [listed] = await listDossiers(test.ctx.store, IMPACT);
    expect(listed).toMatchObject({
      isWrong: true,
      next: expect.stringMatching(/look again: a new kind of data/) as string,
    });
    const item = (await todayItems(test.ctx, test.officer)).find((i) => i.link === `/cases/impact/${id}`);
    expect(item?.kind).toBe('dossier wrong');
    await act({ act: 'look again', words: 'Bank accounts came in' });
    expect((await viewImpact(test.ctx, second, id)).progress.state).toBe('threshold');
  });

  it('goes out as PDF, and stands in the ledger step by step', async () => {
    const pdf = await impactPdf(test.ctx, id);
    expect(pdf.subarray(0, 5).toString()).toBe('%PDF-');
    const actions = await test.ctx.store.all(
      z.object({ action: z.string() }),
      "SELECT action FROM ledger_entry WHERE object = 'impact assessment' AND object_id = ? ORDER BY id",
      [String(id)],
    );
    expect(actions.map((a) => a.action)).toEqual(
      expect.arrayContaining([
        'impact assessment.add',
        'impact assessment.edit',
        'impact assessment.approve',
      ]),
    );
    expect((await stepsOf(test.ctx.store, IMPACT.object, id)).map((s) => s.step).slice(-2)).toEqual([
      'decide',
      'begun',
    ]);
  });

  it('is refused a name that another has, and found by a part of its own', async () => {
    expect(await refusal(begin(IMPACT, { ...NEW_IMPACT, name: 'Fit for duty' }))).toMatch(/^409/);
    const find = findDossiers(IMPACT);
    expect((await find(test.ctx, 'for du')).map((f) => f.words)).toEqual([`IA-${id}, Fit for duty`]);
    expect(await find(test.ctx, `ia-${id}`)).toHaveLength(1);
    expect(await find(test.ctx, '%')).toEqual([]);
  });
});

describe('a vendor', () => {
  let id: number;
  let token: string;
  const act = (does: VendorAct, by: Account = test.officer) => actOnDossier(test.ctx, VENDOR, by, id, does);
  const linkSent = async () => {
    const mail = (await queuedMail(test)).at(-1);
    return /\/vendor\/([\w-]{43})/.exec(mail?.text ?? '')?.[1] ?? '';
  };
  const send = (
    fields: Record<string, string>,
    files = new Map<string, { name: string; bytes: Uint8Array }>(),
  ) => takeAnswers(test.ctx, token, { fields, files });
  beforeAll(async () => {
    id = await begin<VendorContent, never, never>(VENDOR as never, {
      ...NEW_VENDOR,
      ...{
        name: 'Lønhuset A/S',
        country: 'DK',
        access: 'hosts',
        links: { activities: [activity], systems: [], sites: [] },
      },
      contract: { signed: '2026-01-02', ends: '', notice: 0 },
    });
  });

  it('is asked what its tier is asked, by a link of its own, once somebody is there to ask', async () => {
    expect(await refusal(act({ act: 'ask', questionnaire: 0 }))).toMatch(/^409 Say first whom/);
    await edit<VendorContent, never, never>(VENDOR as never, id, { contact: 'gdpr@lonhuset.example' });
    await act({ act: 'ask', questionnaire: 0 });
    const first = await linkSent();
    await act({ act: 'ask', questionnaire: 0 });
    token = await linkSent();
    expect(token).not.toBe(first);
    expect(await askedPage(test.ctx, first)).toBeUndefined();
    expect(await askedPage(test.ctx, 'x'.repeat(43))).toBeUndefined();
    expect(await askedPage(test.ctx, `${token}'`)).toBeUndefined();
    expect(await askedPage(test.ctx, token)).toMatchObject({
      vendor: 'Lønhuset A/S',
      until: '2026-12-18',
      sentAt: null,
    });
  });

  it('answers in part, with a file, and sends only what is whole', async () => {
    const page = await askedPage(test.ctx, token);
    const [q = { id: '' }, ...rest] = page?.questions ?? [];
    const file = { name: '../../<b>policy</b>\n.pdf', bytes: Buffer.from('%PDF-1.7 made up') };
    expect(
      await send(
        { [`is-${q.id}`]: 'no', 'is-nothing': 'yes' },
        new Map([
          [`file-${q.id}`, file],
          ['file-nothing', file],
        ]),
      ),
    ).toEqual({ sent: false, lacking: [] });
    const tried = await send({ send: '1', [`is-${rest[0]?.id ?? ''}`]: 'partly' });
    expect(tried).toMatchObject({ sent: false });
    expect(tried.lacking).toHaveLength(page?.questions.length ?? 0);
    // What was refused to be sent is kept.
    expect((await askedPage(test.ctx, token))?.answers).toEqual({
      [q.id]: { is: 'no', words: '' },
      [rest[0]?.id ?? '']: { is: 'partly', words: '' },
    });
    const [kept, ...others] = await filesOf(test.ctx.store, 'vendor', id);
    expect(kept).toMatchObject({ name: 'b>.pdf', what: q.id });
    expect(others).toEqual([]);
    const sealed = await test.ctx.store.one(
      z.object({ content: z.instanceof(Buffer) }),
      'SELECT content FROM dossier_file LIMIT 1',
    );
    expect(sealed?.content.toString('latin1')).not.toContain('made up');
    const response = await sendFile(test.ctx, 'vendor', id, kept?.id ?? 0);
    expect(await response.text()).toBe('%PDF-1.7 made up');
    expect(response.headers.get('content-disposition')).toMatch(/^attachment/);
    expect(await refusal(sendFile(test.ctx, 'vendor', id + 1, kept?.id ?? 0))).toMatch(/^404/);
    const all = Object.fromEntries(rest.map((x) => [`is-${x.id}`, 'yes']));
    expect(await send({ ...all, [`words-${q.id}`]: 'From June on', send: '1' })).toEqual({
      sent: true,
      lacking: [],
    });
    expect(await refusal(send({ [`is-${q.id}`]: 'yes', send: '1' }))).toMatch(/^409/);
    const v = await viewVendor(test.ctx, id);
    expect(v.progress.score?.gaps.map((g) => [g.question.id, g.is])).toEqual([[q.id, 'no']]);
    expect(v.steps.find((s) => s.step === 'answered')).toMatchObject({ by: null });
  });

  it('is refused a file that is too large, and one question’s id used for a place of its own', async () => {
    await act({ act: 'ask', questionnaire: 0 });
    token = await linkSent();
    const large = { name: 'a.pdf', bytes: Buffer.alloc(8_000_001) };
    expect((await send({}, new Map([['file-responsible', large]]))).lacking).toMatchObject([
      { field: 'file-responsible' },
    ]);
    expect(await refusal(act({ act: 'clause', clause: '__proto__', there: true, words: '' }))).toMatch(
      /^404/,
    );
    test.at('2026-12-19T18:00:00Z');
    expect(await askedPage(test.ctx, token)).toBeUndefined();
    test.at('2026-11-27T18:00:00Z');
    const page = await askedPage(test.ctx, token);
    await send({
      ...Object.fromEntries((page?.questions ?? []).map((x) => [`is-${x.id}`, 'yes'])),
      send: '1',
    });
  });

  it('is approved when each clause was said, looked at again when a breach is told, and left with its checks', async () => {
    for (const c of (await viewVendor(test.ctx, id)).clauses)
      await act({ act: 'clause', clause: c.clause.id, there: true, words: 'read' });
    await act({ act: 'approve', words: '' }, steward);
    expect((await viewVendor(test.ctx, id)).progress).toMatchObject({ state: 'approved', needs: [] });
    await act({ act: 'event', kind: 'breach', words: 'Their mail was read' });
    expect((await listDossiers(test.ctx.store, VENDOR))[0]).toMatchObject({
      isWrong: true,
      next: 'look at it: Their mail was read',
    });
    await act({ act: 'seen', event: 1, words: 'None of ours' });
    expect(await refusal(act({ act: 'seen', event: 1, words: 'None of ours' }))).toMatch(/^404/);
    await edit<VendorContent, never, never>(VENDOR as never, id, {
      subprocessors: [{ name: 'Cloudbank', country: 'US', does: 'mail' }],
    });
    expect((await viewVendor(test.ctx, id)).progress.changes).toEqual([
      'a new subprocessor: Cloudbank in US',
    ]);
    await act({ act: 'leave', words: 'Another firm' });
    for (const check of ['data', 'access', 'people'] as const)
      await act({ act: 'left', check, words: 'Their letter' });
    expect((await viewVendor(test.ctx, id)).progress.state).toBe('left');
    expect(await refusal(act({ act: 'event', kind: 'news', words: 'More' }))).toMatch(/^409 It is left/);
  });

  it('can be asked what the organisation asks by itself', async () => {
    const own = await test.ctx.store.transaction((tx) =>
      addQuestionnaire(tx, test.ctx.now(), test.officer.id, 'Ours'),
    );
    expect((await viewVendor(test.ctx, id)).questionnaires.map((q) => [q.id, q.name])).toEqual([
      [0, 'Protection of data, as shipped'],
      [own, 'Ours'],
    ]);
  });
});

describe('an AI system', () => {
  let id: number;
  const act = (does: AiAct, by: Account = test.officer) => actOnDossier(test.ctx, AI_SYSTEM, by, id, does);
  const stage = (to: AiAct extends { act: 'stage'; to: infer S } ? S : never, on: string) =>
    act({ act: 'stage', to, on, words: '' } as AiAct);
  beforeAll(async () => {
    id = await begin<AiContent, never, never>(AI_SYSTEM as never, {
      ...NEW_AI,
      name: 'Ranks applicants',
      purpose: 'show whom to talk to first',
      owner: 'Crewing',
      people: ['applicants'],
    });
  });

  it('goes into use only once it is classed and approved, and in the order of days', async () => {
    expect((await viewAi(test.ctx, id)).questions.find((q) => q.id === 'work')?.proposed).toMatch(
      /applicants/,
    );
    await stage('tested' as never, '2026-11-20');
    expect(await refusal(stage('used' as never, '2026-11-21'))).toMatch(/^409 Answer first/);
    const answers = Object.fromEntries(AI_QUESTIONS.map((q) => [q.id, { is: q.id === 'is-ai', why: '' }]));
    await edit<AiContent, never, never>(AI_SYSTEM as never, id, { answers } as never);
    expect(await refusal(stage('used' as never, '2026-11-21'))).toMatch(/^409 Have it approved/);
    expect(await refusal(act({ act: 'approve', words: '' }))).toMatch(/Art\. 4/);
    await act({ act: 'duty', article: 'Art. 4', words: 'A course' });
    expect(await refusal(act({ act: 'duty', article: 'Art. 26(1)', words: 'A course' }))).toMatch(/^404/);
    await act({ act: 'approve', words: '' }, steward);
    expect(await refusal(stage('used' as never, '2026-11-19'))).toMatch(/^400/);
    expect(await refusal(stage('used' as never, '2027-11-19'))).toMatch(/^400/);
    await stage('used' as never, '2026-11-25');
    expect((await viewAi(test.ctx, id)).progress).toMatchObject({ state: 'used', needs: [] });
  });

  it('comes up again when its class is another, and is stopped where the law prohibits it', async () => {
    const { content } = await knowNow(test.ctx, AI_SYSTEM, id);
    await edit<AiContent, never, never>(AI_SYSTEM as never, id, {
      answers: { ...content.answers, work: { is: true, why: '' } },
    } as never);
    await watchDossiers(AI_SYSTEM)(test.ctx);
    expect((await listDossiers(test.ctx.store, AI_SYSTEM))[0]).toMatchObject({
      isWrong: true,
      next: 'look again: it is high risk now',
    });
    await edit<AiContent, never, never>(AI_SYSTEM as never, id, {
      answers: { ...content.answers, 'emotion-work': { is: true, why: '' } },
    } as never);
    expect((await viewAi(test.ctx, id)).progress.needs[0]?.words).toMatch(/stop it now/);
    await stage('paused' as never, '2026-11-26');
    expect(await refusal(stage('used' as never, '2026-11-27'))).toMatch(/prohibited/);
  });

  it('gets a lookout on what is given to it in one act, of who may watch', async () => {
    expect(await refusal(act({ act: 'watch' }, steward))).toMatch(/^403/);
    await act({ act: 'watch' });
    const rule = await test.ctx.store.one(
      z.object({ name: z.string() }),
      "SELECT name FROM rule WHERE kind = 'lookout' ORDER BY id DESC LIMIT 1",
    );
    expect(rule?.name).toBe('Data given to Ranks applicants');
  });
});

describe('the register of a kind', () => {
  const rows = async <C extends { readonly name: string; readonly owner: string }, R, A>(
    kind: DossierKind<C, R, A>,
  ): Promise<Record<string, string>[]> => {
    let text = '';
    for await (const line of registerLines(test.ctx, kind)) text += line;
    return parse(text, { columns: true });
  };

  it('tells of each what it is, what comes next, and what it was judged by', async () => {
    const { store } = test.ctx;
    await store.transaction(async (tx) => {
      await addDossier(tx, test.ctx, VENDOR, null, {
        ...{ ...NEW_VENDOR, name: '=HYPERLINK("http://evil.example")', owner: 'Head, of\n"IT"' },
        ...{ country: 'US', vital: true, certificates: [{ name: 'ISO 27001', ends: '2027-01-01' }] },
        subprocessors: [{ name: 'Ferrous', country: 'DE', does: '' }],
      });
      await addDossier(tx, test.ctx, AI_SYSTEM, null, { ...NEW_AI, name: 'Registered', assessments: ['1'] });
      await addDossier(tx, test.ctx, IMPACT, null, {
        ...NEW_IMPACT,
        name: 'Listed',
        countries: ['DK', 'SE'],
      });
    });
    const [vendors, systems, assessments] = [await rows(VENDOR), await rows(AI_SYSTEM), await rows(IMPACT)];
    expect(vendors).toHaveLength((await listDossiers(store, VENDOR)).length);
    const evil = vendors.find((v) => v['name']?.includes('HYPERLINK'));
    expect(evil).toMatchObject({
      ...{ name: `'=HYPERLINK("http://evil.example")`, owner: 'Head, of\n"IT"', state: 'being looked at' },
      ...{ country: 'US', safeguard: 'none', subprocessors: 'Ferrous (DE)' },
      certificates: 'ISO 27001 until 2027-01-01',
    });
    expect(evil?.['tier because of']).toContain('we stand still without it');
    expect(evil?.['what comes next']).not.toBe('');
    expect(systems.find((s) => s['name'] === 'Registered')).toMatchObject({
      ...{ 'impact assessments': 'IA-1', tests: '0 of 0 passed' },
    });
    expect(assessments.find((s) => s['name'] === 'Listed')).toMatchObject({
      ...{ countries: 'DK SE', decided: '', approved: '', 'risk now': 'low' },
    });
  });
});
