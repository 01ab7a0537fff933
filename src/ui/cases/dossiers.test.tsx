// @vitest-environment jsdom
import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { AUDITOR, sheetTest } from '../../../tests/sheet.tsx';
import { AI_QUESTIONS, proposeAiAnswers } from '../../core/cases/ai/ai-act.ts';
import { aiProgress } from '../../core/cases/ai/ai-progress.ts';
import { NO_AI_RECORD, type AiRecord } from '../../core/cases/ai/ai-record.ts';
import { aiText, NEW_AI, type AiContent } from '../../core/cases/ai/ai-system.ts';
import { proposeAnswers } from '../../core/cases/impact/criteria.ts';
import { NEW_IMPACT, type ImpactContent } from '../../core/cases/impact/impact.ts';
import { NO_IMPACT_RECORD, type ImpactRecord } from '../../core/cases/impact/impact-act.ts';
import { impactProgress, refusalToApprove } from '../../core/cases/impact/impact-progress.ts';
import { proposeRisks, weighRisk } from '../../core/cases/impact/risk.ts';
import { threshold } from '../../core/cases/impact/threshold.ts';
import { marksOf, NO_FACTS, type LinkedFacts } from '../../core/cases/linked/linked.ts';
import { proposeClauses } from '../../core/cases/vendors/contract-clauses.ts';
import { SHIPPED_QUESTIONNAIRE } from '../../core/cases/vendors/shipped-questionnaire.ts';
import { NEW_VENDOR, type VendorContent } from '../../core/cases/vendors/vendor.ts';
import { NO_VENDOR_RECORD, type VendorRecord } from '../../core/cases/vendors/vendor-act.ts';
import { clausesFor, vendorProgress } from '../../core/cases/vendors/vendor-progress.ts';
import type { ViewedAi } from '../../server/cases/ai/view-ai.ts';
import type { ListedDossier } from '../../server/cases/dossiers/dossiers.ts';
import type { ViewedImpact } from '../../server/cases/impact/view-impact.ts';
import type { ViewedVendor } from '../../server/cases/vendors/view-vendor.ts';
import { AiSheet } from './ai/AiSheet.tsx';
import { AiSoundings } from './ai/AiSoundings.tsx';
import { DossierTable } from './dossiers/DossierRegister.tsx';
import { DossiersSheet } from './dossiers/DossiersSheet.tsx';
import { ImpactSheet } from './impact/ImpactSheet.tsx';
import { ImpactSoundings } from './impact/ImpactSoundings.tsx';
import { DOSSIERS, type DossierWhat } from './links.ts';
import { VendorSheet } from './vendors/VendorSheet.tsx';
import { VendorSoundings } from './vendors/VendorSoundings.tsx';

const test = sheetTest('/cases/impact/3');
const TODAY = '2026-12-01';
const AT = '2026-11-20T09:00:00.000Z';
const SAID = { by: 1, at: AT };
const NAMES = { 1: 'Ines Abara', 2: 'Sanne Holm' };
const OPTIONS = {
  activities: [{ value: '5', words: 'Boarding' }],
  systems: [{ value: '7', words: 'Gate cameras' }],
  sites: [],
};
const HEALTH: LinkedFacts = {
  ...NO_FACTS,
  activities: [{ id: '5', name: 'Boarding', purpose: 'let passengers board', retention: '' }],
  data: [
    {
      detector: 'health-condition',
      name: 'Health condition',
      category: 'health',
      recorded: true,
      items: 4,
    },
  ],
  people: ['passengers'],
};
const STEPS = [{ at: AT, step: 'begun', by: 'Ines Abara', words: '' }];

/** Has the server hold one, as it is written and as it stands. */
function serve(what: DossierWhat, id: number, content: object, view: object): void {
  const { one } = DOSSIERS[what];
  const path = `/api/objects/${encodeURIComponent(one)}/${id}`;
  test.answers[`GET ${path}`] = { revision: 4, content };
  test.answers[`PUT ${path}`] = { revision: 5 };
  test.answers[`GET ${path}/edits`] = [];
  test.answers[`GET /api/cases/${what}/${id}`] = view;
  test.answers[`POST /api/cases/${what}/${id}`] = {};
}
const sent = (method: string) =>
  test
    .sent()
    .filter((a) => a.method === method)
    .at(-1)?.body;
const kept = <C,>() => (sent('PUT') as { content: C } | undefined)?.content;
const button = (name: string) => screen.findByRole('button', { name });

const IMPACT: ImpactContent = { ...NEW_IMPACT, name: '<i>Gates</i> that know faces', countries: ['DK'] };
function impact(
  content: ImpactContent = IMPACT,
  record: ImpactRecord = NO_IMPACT_RECORD,
  facts: LinkedFacts = HEALTH,
): ViewedImpact {
  const verdict = threshold(proposeAnswers(facts, content.about), content.answers, content.countries);
  const all = { content, record, threshold: verdict, marks: marksOf(facts), today: TODAY };
  return {
    ...{ id: 3, record, facts, threshold: verdict, progress: impactProgress(all), steps: STEPS },
    weighed: content.risks.map(weighRisk),
    proposed: proposeRisks(facts, false).filter((p) => !content.risks.some((r) => r.what === p.risk.what)),
    ...{ names: NAMES, options: OPTIONS, mayNotApprove: refusalToApprove(all, 1) ?? null, today: TODAY },
  };
}
const serveImpact = (content?: ImpactContent, record?: ImpactRecord, facts?: LinkedFacts) =>
  serve('impact', 3, content ?? IMPACT, impact(content, record, facts));
const WHOLE: ImpactContent = {
  ...IMPACT,
  ...{ about: 'Cameras at gates', necessity: 'Queues', views: 'Asked' },
  risks: [
    {
      what: 'Faces leak',
      harm: '',
      likelihood: 2,
      severity: 2,
      measures: [{ what: 'Keys', done: true, due: '', likelihood: 1, severity: 0 }],
    },
  ],
};

describe('an impact assessment', () => {
  it('shows of each question what is proposed and why, and what of the law asks for it', async () => {
    serveImpact();
    test.show(<ImpactSheet id="3" />);
    const table = within(await screen.findByRole('table', { name: 'What decides' }));
    const view = impact();
    expect(table.getAllByRole('row')).toHaveLength(view.threshold.questions.length);
    const health = view.threshold.questions.find((q) => q.is);
    const row = table.getByRole('button', { name: health?.words ?? '?' }).closest('tr');
    expect(row?.textContent).toContain('◼');
    expect(row?.textContent).toContain('(proposed)');
    const holding = view.threshold.clauses.filter((c) => c.holds).length;
    await screen.findByText(`${holding} of ${view.threshold.clauses.length} rules ask for it`);
    expect(screen.getByText(`${view.threshold.words}.`)).toBeTruthy();
    // What somebody wrote is text.
    expect(screen.getByRole('heading', { level: 1 }).textContent).toContain('<i>Gates</i>');
  });

  it('takes another answer only with why', async () => {
    serveImpact();
    const user = userEvent.setup();
    test.show(<ImpactSheet id="3" />);
    const question = impact().threshold.questions.find((q) => !q.is);
    await user.click(await button(question?.words ?? '?'));
    await user.selectOptions(screen.getByLabelText('It is so'), 'yes');
    await user.click(screen.getByRole('button', { name: 'Yes' }));
    await screen.findByText(/Say why: the authority may read it/);
    expect(kept()).toBeUndefined();
    await user.type(screen.getByRole('textbox', { name: 'Why' }), 'The pilot says so');
    await user.click(screen.getByRole('button', { name: 'Yes' }));
    await waitFor(() =>
      expect(kept<ImpactContent>()?.answers).toEqual({
        [question?.id ?? '?']: { is: true, why: 'The pilot says so' },
      }),
    );
  });

  it('takes countries by two letters, each once', async () => {
    serveImpact();
    const user = userEvent.setup();
    test.show(<ImpactSheet id="3" />);
    await user.click(await button('Countries: Denmark'));
    const field = await screen.findByRole('textbox');
    await user.clear(field);
    await user.type(field, 'Denmark{Enter}');
    await screen.findByText(/Two letters of each country/);
    await user.clear(field);
    await user.type(field, 'dk se, DK{Enter}');
    await waitFor(() => expect(kept<ImpactContent>()?.countries).toEqual(['DK', 'SE']));
  });

  it('takes in a risk that is proposed, and tells what remains of those that are written', async () => {
    serveImpact();
    const user = userEvent.setup();
    test.show(<ImpactSheet id="3" />);
    const [first] = impact().proposed;
    const list = within(await screen.findByRole('list', { name: 'Proposed risks' }));
    expect(list.getAllByRole('listitem')).toHaveLength(impact().proposed.length);
    await user.click(list.getAllByRole('button', { name: 'Take it in' })[0] as HTMLElement);
    await waitFor(() => expect(kept<ImpactContent>()?.risks).toEqual([first?.risk]));
    const table = within(await screen.findByRole('table', { name: 'Risks to people' }));
    expect(table.getByRole('button', { name: first?.risk.what ?? '?' })).toBeTruthy();
  });

  it('is decided with the answer that was reached first, and why where it is the other', async () => {
    serveImpact();
    const user = userEvent.setup();
    test.show(<ImpactSheet id="3" />);
    await user.click(await button('It is not'));
    test.answers['POST /api/cases/impact/3'] = test.refused('Say why.', [
      { field: 'does.why', message: 'Say why it is not, though the rules ask for it.' },
    ]);
    const dialog = within(await screen.findByRole('dialog'));
    await user.click(dialog.getByRole('button', { name: /not needed|It is not|Decide/ }));
    await screen.findByText(/though the rules ask for it/);
    expect(sent('POST')).toEqual({ does: { act: 'decide', needed: false, why: '' } });
  });

  it('is approved by somebody else than who gave the advice', async () => {
    const record: ImpactRecord = {
      ...NO_IMPACT_RECORD,
      threshold: { ...SAID, needed: true, why: '' },
      advice: { ...SAID, proceed: true, words: 'Go on' },
    };
    serveImpact(WHOLE, record);
    test.show(<ImpactSheet id="3" />);
    await screen.findByText('Somebody else has to approve it: you gave the advice.');
    expect(screen.queryByRole('button', { name: 'Approve it' })).toBeNull();
    test.reset();
    serveImpact(WHOLE, { ...record, advice: { ...SAID, by: 2, proceed: true, words: 'Go on' } });
    const user = userEvent.setup();
    test.show(<ImpactSheet id="3" />);
    await user.click(await button('Approve it'));
    await user.type(screen.getByRole('textbox'), 'For a year');
    await user.click(within(screen.getByRole('dialog')).getByRole('button', { name: 'Approve it' }));
    await waitFor(() => expect(sent('POST')).toEqual({ does: { act: 'approve', words: 'For a year' } }));
  });

  it('says what came since it was approved', async () => {
    const approval = { ...SAID, by: 2, words: '', marks: [], revision: 4 };
    serveImpact(WHOLE, { ...NO_IMPACT_RECORD, threshold: { ...SAID, needed: true, why: '' }, approval });
    test.show(<ImpactSheet id="3" />);
    await screen.findByText(/Since it was approved there came .*[Hh]ealth/);
    expect((await button('Look again')).dataset['kind']).toBe('primary');
  });

  it('is read, and not changed, by who only reads', async () => {
    serveImpact(WHOLE);
    test.show(<ImpactSheet id="3" />, AUDITOR);
    await screen.findByRole('table', { name: 'What decides' });
    expect(screen.queryAllByRole('button').map((b) => b.textContent)).toEqual([]);
    test.show(<ImpactSoundings id="3" />, AUDITOR);
    await screen.findByText('What comes next');
  });
});

const VENDOR: VendorContent = {
  ...NEW_VENDOR,
  name: 'Wavemeter',
  contact: 'p@wavemeter.example',
  country: 'DK',
};
function vendor(
  content: VendorContent = VENDOR,
  record: VendorRecord = NO_VENDOR_RECORD,
  more: Partial<ViewedVendor> = {},
): ViewedVendor {
  return {
    ...{ id: 2, record, facts: NO_FACTS, steps: STEPS, names: NAMES, options: OPTIONS, today: TODAY },
    progress: vendorProgress({ content, record, facts: NO_FACTS, today: TODAY }),
    clauses: clausesFor(content).map((c) => ({
      clause: { id: c.id, article: c.article, words: c.words },
      proposed: null,
      said: record.clauses[c.id] ?? null,
    })),
    contract: null,
    files: [],
    questionnaires: [{ id: 0, name: SHIPPED_QUESTIONNAIRE.name, questions: 40 }],
    ...more,
  };
}
const serveVendor = (content?: VendorContent, record?: VendorRecord, more?: Partial<ViewedVendor>) =>
  serve('vendors', 2, content ?? VENDOR, vendor(content, record, more));

describe('a vendor', () => {
  it('shows how closely it is looked at as a sum', async () => {
    serveVendor({ ...VENDOR, vital: true });
    test.show(<VendorSheet id="2" />);
    const { tier } = vendor({ ...VENDOR, vital: true }).progress;
    const sum = within(await screen.findByRole('table', { name: 'The sum of its tier' }));
    for (const s of tier.steps) expect(sum.getByText(s.words)).toBeTruthy();
    const values = sum.getAllByRole('row').map((r) => Number(r.lastElementChild?.textContent));
    expect(values.slice(0, -1).reduce((a, b) => a + b, 0)).toBe(values.at(-1));
  });

  it('refuses a subprocessor or a certificate that cannot be read, and keeps those that can', async () => {
    serveVendor();
    const user = userEvent.setup();
    test.show(<VendorSheet id="2" />);
    await user.click(await button('Subprocessors: nobody'));
    await user.type(await screen.findByRole('textbox'), 'Ferrous Mail | Germany | mail');
    await user.keyboard('{Control>}{Enter}{/Control}');
    await screen.findByText(/A line reads name/);
    await user.clear(screen.getByRole('textbox'));
    await user.type(screen.getByRole('textbox'), 'Ferrous Mail | de | mail{Enter}Ombra');
    await user.keyboard('{Control>}{Enter}{/Control}');
    await waitFor(() =>
      expect(kept<VendorContent>()?.subprocessors).toEqual([
        { name: 'Ferrous Mail', country: 'DE', does: 'mail' },
        { name: 'Ombra', country: '', does: '' },
      ]),
    );
    await user.click(await button('Certificates: none'));
    await user.type(await screen.findByRole('textbox'), 'ISO 27001 | soon');
    await user.keyboard('{Control>}{Enter}{/Control}');
    await screen.findByText(/day on which it ends, such as/);
  });

  it('is sent the questions, and a refusal stays at what it is about', async () => {
    serveVendor();
    const user = userEvent.setup();
    test.show(<VendorSheet id="2" />);
    await user.click(await button('Send the questions'));
    test.answers['POST /api/cases/vendors/2'] = test.refused('Not sent.', [
      { field: 'contact', message: 'Say whom to ask first.' },
    ]);
    await user.click(await button('Send them'));
    await screen.findByText(/Say whom to ask first/);
    expect(sent('POST')).toEqual({ does: { act: 'ask', questionnaire: 0 } });
  });

  it('has each gap lived with, with why', async () => {
    const questions = SHIPPED_QUESTIONNAIRE.questions.slice(0, 2);
    const [grave] = questions;
    const record: VendorRecord = {
      ...NO_VENDOR_RECORD,
      asked: {
        ...{ to: VENDOR.contact, at: AT, until: TODAY, name: 'Ours', tier: 3, questions, sentAt: AT },
      },
      answers: Object.fromEntries(questions.map((q) => [q.id, { is: 'no' as const, words: '<b>never</b>' }])),
    };
    serveVendor(VENDOR, record);
    const user = userEvent.setup();
    test.show(<VendorSheet id="2" />);
    const gaps = within(await screen.findByRole('list', { name: 'Gaps' }));
    expect(gaps.getAllByRole('listitem')).toHaveLength(2);
    expect(gaps.getAllByText(/<b>never<\/b>/)).toHaveLength(2);
    const item = gaps.getAllByRole('listitem').find((i) => i.textContent?.includes(grave?.words ?? '?'));
    await user.click(within(item as HTMLElement).getByRole('button', { name: 'Live with it' }));
    await user.type(screen.getByRole('textbox'), 'Our own keys');
    await user.click(within(screen.getByRole('dialog')).getByRole('button', { name: 'Live with it' }));
    await waitFor(() =>
      expect(sent('POST')).toEqual({
        does: { act: 'accept', question: grave?.id, words: 'Our own keys' },
      }),
    );
  });

  it('says of a clause that it is there by its passage, or that it lacks by words', async () => {
    const proposed = proposeClauses(
      'The processor processes personal data only on documented instructions from the controller.',
    );
    const clauses = clausesFor(VENDOR).map((c) => ({
      clause: { id: c.id, article: c.article, words: c.words },
      proposed: proposed.find((p) => p.id === c.id) ?? null,
      said: null,
    }));
    serveVendor(VENDOR, NO_VENDOR_RECORD, { clauses, contract: { name: 'dpa.pdf', at: AT } });
    const user = userEvent.setup();
    test.show(<VendorSheet id="2" />);
    const rows = within(await screen.findByRole('table', { name: 'Clauses' })).getAllByRole('row');
    const there = proposed.find((p) => p.verdict === 'there');
    const at = clauses.findIndex((c) => c.clause.id === there?.id);
    await user.click(within(rows[at] as HTMLElement).getByRole('button', { name: 'There' }));
    await waitFor(() =>
      expect(sent('POST')).toEqual({
        does: { act: 'clause', clause: there?.id, there: true, words: there?.passage },
      }),
    );
    const other = clauses.findIndex((c) => c.proposed?.verdict === 'missing');
    await user.click(within(rows[other] as HTMLElement).getByRole('button', { name: 'Missing' }));
    await user.click(within(screen.getByRole('dialog')).getByRole('button', { name: 'It lacks' }));
    await waitFor(() =>
      expect(sent('POST')).toMatchObject({
        does: { act: 'clause', clause: clauses[other]?.clause.id, there: false },
      }),
    );
  });

  it('is left step by step, and told apart from one that stays', async () => {
    serveVendor(VENDOR, { ...NO_VENDOR_RECORD, exit: { begun: { ...SAID, words: 'too dear' }, checks: {} } });
    const user = userEvent.setup();
    test.show(<VendorSheet id="2" />);
    const came = within(await screen.findByRole('list', { name: 'What came' }));
    await user.click(came.getAllByRole('button', { name: 'it is so' })[0] as HTMLElement);
    await user.type(screen.getByRole('textbox'), 'Their letter');
    await user.click(within(screen.getByRole('dialog')).getByRole('button', { name: 'It is so' }));
    await waitFor(() => expect(sent('POST')).toMatchObject({ does: { act: 'left', words: 'Their letter' } }));
    expect(screen.getByRole('button', { name: 'Stay' })).toBeTruthy();
    test.show(<VendorSoundings id="2" />);
    await screen.findByText('What comes next');
  });
});

const AI: AiContent = { ...NEW_AI, name: 'Mail sorter', purpose: 'sort mail to terminals' };
function ai(content: AiContent = AI, record: AiRecord = NO_AI_RECORD): ViewedAi {
  const spoken = proposeAiAnswers(aiText(content));
  return {
    ...{ id: 6, record, facts: NO_FACTS, steps: STEPS, names: NAMES, options: OPTIONS, today: TODAY },
    progress: aiProgress({ content, record, facts: NO_FACTS, today: TODAY }),
    questions: AI_QUESTIONS.map((q) => ({ ...q, proposed: spoken[q.id] ?? null })),
    ...{ weighed: [], proposed: [], vendors: [{ value: '2', words: 'Wavemeter' }] },
    assessments: [{ value: '3', words: 'Gates', state: 'approved' }],
  };
}
const serveAi = (content?: AiContent, record?: AiRecord) =>
  serve('ai', 6, content ?? AI, ai(content, record));
const ALL_NO = Object.fromEntries(AI_QUESTIONS.map((q) => [q.id, { is: q.id === 'is-ai', why: '' }]));

describe('an AI system', () => {
  it('is asked one question after the other, until its class stands', async () => {
    serveAi();
    const user = userEvent.setup();
    test.show(<AiSheet id="6" />);
    const [next] = ai().progress.classed.open;
    const asked = within(await screen.findByRole('group', { name: 'The next question' }));
    expect(asked.getByText(next?.words ?? '?')).toBeTruthy();
    await user.click(asked.getByRole('button', { name: 'No' }));
    await waitFor(() =>
      expect(kept<AiContent>()?.answers).toEqual({ [next?.id ?? '?']: { is: false, why: '' } }),
    );
    test.reset();
    serveAi({ ...AI, answers: ALL_NO });
    test.show(<AiSheet id="6" />);
    await screen.findByRole('heading', { name: 'Its class by the AI Act' });
    expect(screen.queryByRole('group', { name: 'The next question' })).toBeNull();
  });

  it('takes an answer back', async () => {
    serveAi({ ...AI, answers: ALL_NO });
    const user = userEvent.setup();
    test.show(<AiSheet id="6" />);
    const [question] = AI_QUESTIONS;
    await user.selectOptions(await screen.findByLabelText(question?.words ?? '?'), '');
    await waitFor(() => expect(kept<AiContent>()?.answers).not.toHaveProperty(question?.id ?? '?'));
    expect(Object.keys(kept<AiContent>()?.answers ?? {})).toHaveLength(AI_QUESTIONS.length - 1);
  });

  it('says that it may not be, where the law forbids it', async () => {
    const forbidden = AI_QUESTIONS.find((q) => q.article.includes('Art. 5'));
    const content = { ...AI, answers: { ...ALL_NO, [forbidden?.id ?? '?']: { is: true, why: '' } } };
    serveAi(content);
    test.show(<AiSheet id="6" />);
    await screen.findByText('◆ prohibited');
    expect(screen.queryByRole('button', { name: 'Approve it' })).toBeNull();
    test.show(<AiSoundings id="6" />);
    await screen.findByText('May it be used?');
  });

  it('keeps what was tested, with its day, and takes it out', async () => {
    const tests = [{ what: 'Names of ports', on: TODAY, result: '98 of 100', passed: true }];
    serveAi({ ...AI, tests });
    const user = userEvent.setup();
    test.show(<AiSheet id="6" />);
    const list = within(await screen.findByRole('list', { name: 'Tests' }));
    expect(list.getByRole('listitem').textContent).toContain('98 of 100');
    await user.click(list.getByRole('button', { name: 'Take out' }));
    await waitFor(() => expect(kept<AiContent>()?.tests).toEqual([]));
  });

  it('is moved on only where its life lets it', async () => {
    serveAi(AI, { ...NO_AI_RECORD, life: [{ ...SAID, words: '', stage: 'used', on: TODAY }] });
    const user = userEvent.setup();
    test.show(<AiSheet id="6" />);
    await user.click(await button('Move it on'));
    const dialog = within(screen.getByRole('dialog'));
    const to = dialog.getAllByRole('option').map((o) => o.textContent);
    expect(to).toEqual(['paused', 'retired']);
  });
});

describe('all of a kind', () => {
  const listed = (over: Partial<ListedDossier>): ListedDossier => ({
    ...{ id: 1, name: 'Gates', state: 'being written', needs: 1, next: 'name the risks' },
    ...{ nextOn: null, isWrong: false },
    ...over,
  });

  it('says first how many have to be looked at again', async () => {
    test.answers['GET /api/cases/impact'] = [
      listed({ id: 2, name: '<u>Faces</u>', isWrong: true, next: 'look at it again' }),
      listed({}),
      listed({ id: 3, needs: 0, next: '', state: 'approved' }),
    ];
    test.show(<DossierTable what="impact" />);
    await screen.findByText(/◆ one has to be looked at again|◆ 1 has to be looked at again/);
    const rows = within(screen.getByRole('table', { name: 'Impact assessments' })).getAllByRole('row');
    expect(rows.slice(1).map((r) => r.lastElementChild?.previousElementSibling?.textContent)).toEqual([
      '◆ look at it again',
      '○ name the risks',
      '✓',
    ]);
    expect(screen.getByRole('link', { name: 'IA-2, <u>Faces</u>' }).getAttribute('href')).toBe(
      '/cases/impact/2',
    );
  });

  it.each(['impact', 'vendors', 'ai'] as const)('of %s says so where there is none', async (what) => {
    test.answers[`GET /api/cases/${what}`] = [];
    test.answers['GET /api/cases/questionnaires'] = [];
    test.show(<DossiersSheet what={what} />);
    await screen.findByRole('heading', { name: DOSSIERS[what].many });
    expect(screen.getByRole('link', { name: 'Export the register' }).getAttribute('href')).toBe(
      `/api/cases/register.csv?what=${what}`,
    );
  });
});
