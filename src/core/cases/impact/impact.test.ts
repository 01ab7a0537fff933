import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cameSince, marksOf, NO_FACTS, type LinkedFacts } from '../linked/linked.ts';
import { CRITERIA, proposeAnswers, QUESTION_IDS, type Criterion, type Question } from './criteria.ts';
import { NEW_IMPACT, type ImpactContent } from './impact.ts';
import { NO_IMPACT_RECORD, type ImpactRecord } from './impact-act.ts';
import { consultationEnd, impactProgress, refusalToApprove } from './impact-progress.ts';
import { NATIONAL_LISTS } from './national-lists.ts';
import { gravest, isHigh, proposeRisks, RISK_LEVELS, riskLevel, weighRisk, type Risk } from './risk.ts';
import { threshold, type OwnAnswers } from './threshold.ts';

const CREW: LinkedFacts = {
  ...NO_FACTS,
  activities: [
    { id: '1', name: 'Crew certificates', purpose: 'know who is fit for duty', retention: '3 years' },
  ],
  systems: [{ id: '4', name: 'Crew office', country: 'DK' }],
  people: ['crew'],
  data: [
    { detector: 'health-condition', name: 'Health', category: 'special category', recorded: true, items: 12 },
    { detector: 'person-name', name: 'Name', category: 'identity', recorded: true, items: 40 },
  ],
  count: 620,
};
const none = proposeAnswers(NO_FACTS, '');
const say = (...ids: readonly Question[]): OwnAnswers =>
  Object.fromEntries(ids.map((q) => [q, { is: true, why: 'it is so' }]));

describe('what is proposed', () => {
  it('comes from what the plan is linked to, each with its reason', () => {
    const p = proposeAnswers(CREW, 'A camera on the bridge');
    expect(p.sensitive).toEqual({ is: true, because: 'Health' });
    expect(p.vulnerable).toMatchObject({ is: true, because: 'crew' });
    expect(p.monitoring).toMatchObject({ is: true, because: '“camera” stands in what is said of it' });
    expect(p['large scale']).toMatchObject({
      is: false,
      because: expect.stringContaining('620 people') as string,
    });
    expect(p.bodily.is).toBe(true);
    expect(p.children.is).toBe(false);
  });

  it.each<[string, Partial<LinkedFacts>, Question]>([
    [
      'advertising on pages',
      {
        trackers: [
          { id: 1, name: 'ab', host: 'adbuoy.example', purpose: 'Advertising', site: 's', firstSeen: '' },
        ],
      },
      'evaluation',
    ],
    [
      'any third party on pages',
      { trackers: [{ id: 1, name: 'ab', host: 'mapquay.example', purpose: null, site: 's', firstSeen: '' }] },
      'monitoring',
    ],
    ['an AI system', { machines: [{ id: '1', name: 'Ranks', decides: false }] }, 'innovative'],
    ['an AI system that decides', { machines: [{ id: '1', name: 'Ranks', decides: true }] }, 'automated'],
    ['ten thousand people', { count: 10_000 }, 'large scale'],
    ['school trips', { people: ['children', 'guardians'] }, 'vulnerable'],
    [
      'a bank account',
      { data: [{ detector: 'iban', name: 'IBAN', category: 'finance', recorded: true, items: 1 }] },
      'sensitive',
    ],
  ])('sees %s', (_, facts, question) => {
    expect(none[question].is).toBe(false);
    expect(proposeAnswers({ ...NO_FACTS, ...facts }, '')[question].is).toBe(true);
  });

  it('does not take the number of an insured person for health', () => {
    const data = [{ detector: 'gb-nhs', name: 'NHS number', category: 'health', recorded: true, items: 1 }];
    expect(proposeAnswers({ ...NO_FACTS, data }, '').special.is).toBe(false);
  });
});

describe('whether an assessment is needed', () => {
  it.each<[string, readonly Question[], readonly string[], 'needed' | 'weigh' | 'not needed', RegExp]>([
    ['nothing', [], [], 'not needed', /no criterion/],
    ['one criterion', ['monitoring'], [], 'weigh', /say why/],
    ['two criteria', ['monitoring', 'vulnerable'], [], 'needed', /^needed: WP 248/],
    ['profiling that decides', ['evaluation', 'automated'], [], 'needed', /^needed: GDPR Art\. 35\(3\)\(a\)/],
    ['health on a large scale', ['special', 'large scale'], [], 'needed', /Art\. 35\(3\)\(b\)/],
    ['cameras on a square', ['public area', 'monitoring', 'large scale'], [], 'needed', /Art\. 35\(3\)\(c\)/],
    ['biometrics alone', ['biometric'], ['DK'], 'not needed', /no criterion/],
    [
      'biometrics and one more, in Denmark',
      ['biometric', 'vulnerable'],
      ['DK'],
      'needed',
      /Datatilsynet \(DK\).*biometric/,
    ],
    [
      'biometrics and one more, where no list has it',
      ['biometric', 'vulnerable'],
      ['NO'],
      'weigh',
      /say why/,
    ],
    [
      'staff that is watched, in Sweden',
      ['staff', 'monitoring'],
      ['SE'],
      'needed',
      /\(SE\).*staff are watched/,
    ],
    ['harm to the body, in the United Kingdom', ['bodily'], ['GB'], 'needed', /\(GB\).*body could be harmed/],
  ])('%s', (_, ids, countries, verdict, words) => {
    const t = threshold(none, say(...ids), countries);
    expect(t.verdict).toBe(verdict);
    expect(t.words).toMatch(words);
  });

  it('takes what somebody said over what is proposed, and keeps both', () => {
    const proposed = proposeAnswers(CREW, '');
    const t = threshold(proposed, { vulnerable: { is: false, why: 'officers alone' } }, []);
    expect(t.questions.find((q) => q.id === 'vulnerable')).toMatchObject({
      is: false,
      own: true,
      proposed: true,
      because: 'officers alone',
    });
  });

  /** Written once more, slowly: each rule by itself, over the set of what holds. */
  function slowly(holding: ReadonlySet<Question>, countries: readonly string[]) {
    const count = (besides: readonly Question[]) =>
      (Object.keys(CRITERIA) as Criterion[]).filter((c) => holding.has(c) && !besides.includes(c)).length;
    const art35 =
      (holding.has('evaluation') && holding.has('automated')) ||
      (holding.has('special') && holding.has('large scale')) ||
      (holding.has('public area') && holding.has('monitoring') && holding.has('large scale'));
    const lists = NATIONAL_LISTS.some(
      (e) =>
        countries.includes(e.country) && e.all.every((q) => holding.has(q)) && count(e.all) >= (e.more ?? 0),
    );
    if (art35 || count([]) >= 2 || lists) return 'needed';
    return count([]) === 1 ? 'weigh' : 'not needed';
  }

  it('agrees with a slow reading of the rules, and saying yes to more never makes it less needed', () => {
    const order = ['not needed', 'weigh', 'needed'];
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.constantFrom(...QUESTION_IDS)),
        fc.constantFrom(...QUESTION_IDS),
        fc.uniqueArray(fc.constantFrom('DK', 'SE', 'DE', 'GB', 'FR', 'NO')),
        (ids, more, countries) => {
          const t = threshold(none, say(...ids), countries);
          expect(t.verdict).toBe(slowly(new Set(ids), countries));
          expect(t.clauses.some((c) => c.holds)).toBe(t.verdict === 'needed');
          const wider = threshold(none, say(...ids, more), countries).verdict;
          expect(order.indexOf(wider)).toBeGreaterThanOrEqual(order.indexOf(t.verdict));
        },
      ),
    );
  });
});

const risk = (likelihood: number, severity: number, measures: Risk['measures'] = []): Risk => ({
  ...{ what: 'Somebody reads it', harm: '', likelihood, severity, measures },
});
const measure = (likelihood: number, severity: number, done: boolean) => ({
  what: 'Locked',
  likelihood,
  severity,
  done,
  due: '' as const,
});

describe('risks', () => {
  it.each([
    [1, 1, 'low'],
    [1, 4, 'medium'],
    [2, 3, 'medium'],
    [2, 4, 'high'],
    [3, 3, 'high'],
    [3, 4, 'very high'],
    [4, 4, 'very high'],
  ] as const)('%i × %i is %s', (l, s, level) => {
    expect(riskLevel(l, s)).toBe(level);
    expect(riskLevel(s, l)).toBe(level);
  });

  it('are lowered by what is done, and further by what is planned', () => {
    const w = weighRisk(risk(4, 4, [measure(1, 1, true), measure(2, 2, false)]));
    expect(w).toMatchObject({
      before: 'very high',
      now: 'high',
      planned: 'low',
      left: { likelihood: 1, severity: 1 },
    });
  });

  it('never rise by a measure, nor fall below the first step', () => {
    const Measure = fc.record({
      what: fc.constant('m'),
      likelihood: fc.integer({ min: 0, max: 3 }),
      severity: fc.integer({ min: 0, max: 3 }),
      done: fc.boolean(),
      due: fc.constant('' as const),
    });
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 4 }),
        fc.integer({ min: 1, max: 4 }),
        fc.array(Measure, { maxLength: 6 }),
        (l, s, measures) => {
          const w = weighRisk(risk(l, s, measures));
          const at = [w.planned, w.now, w.before].map((x) => RISK_LEVELS.indexOf(x));
          expect(at).toEqual(at.toSorted((a, b) => a - b));
          expect(Math.min(w.left.likelihood, w.left.severity)).toBeGreaterThanOrEqual(1);
        },
      ),
    );
  });

  it('are proposed from data, recipients and clocks', () => {
    const found = proposeRisks(
      {
        ...CREW,
        activities: [{ id: '1', name: 'Rosters', purpose: '', retention: ' ' }],
        recipients: [
          { name: 'Clubhouse Ltd', country: 'US', safeguard: 'none' },
          { name: 'Lønhuset', country: 'DK', safeguard: 'none' },
        ],
      },
      true,
    );
    expect(found.map((f) => f.risk.what)).toEqual([
      'Somebody reads what is not meant for them',
      'Data are lost, or cannot be had',
      'Data are changed, or wrong',
      'Data are kept longer than needed',
      'Clubhouse Ltd cannot keep data from the authorities of US',
      'A machine decides wrongly, and nobody sees why',
      'A group is treated worse than others',
    ]);
    expect(found[0]?.risk.severity).toBe(4);
    expect(gravest(found.map((f) => weighRisk(f.risk).before))).toBe('high');
    expect(proposeRisks(NO_FACTS, false)).toEqual([]);
  });
});

describe('what it is about', () => {
  it('is told when it grows, and not when it shrinks', () => {
    const before = marksOf(CREW);
    expect(cameSince(before, before)).toEqual([]);
    const wider = marksOf({
      ...CREW,
      count: 12_000,
      data: [
        ...CREW.data,
        {
          detector: 'biometric-data',
          name: 'Biometric data',
          category: 'special category',
          recorded: false,
          items: 1,
        },
      ],
      recipients: [{ name: 'Lookwell', country: 'SE', safeguard: 'none' }],
      vendors: [{ id: '7', name: 'Lookwell Vision' }],
    });
    expect(cameSince(before, wider)).toEqual([
      'a new kind of data: Biometric data',
      'a new recipient: Lookwell in SE',
      'more people: at least 10,000 people',
      'a new vendor: Lookwell Vision',
    ]);
    expect(cameSince(wider, before)).toEqual([]);
  });

  it('is no change where a few people more are found', () => {
    expect(cameSince(marksOf(CREW), marksOf({ ...CREW, count: 900 }))).toEqual([]);
  });
});

const WRITTEN: ImpactContent = {
  ...NEW_IMPACT,
  ...{
    name: 'Cameras',
    about: 'We film.',
    necessity: 'Nothing less will do.',
    views: 'The union was asked.',
  },
  risks: [risk(2, 3, [measure(1, 0, true)])],
};
const needed = { needed: true, why: '', by: 1, at: '2026-11-01T09:00:00Z' };
const advice = { words: 'Go on.', proceed: true, by: 1, at: '2026-11-02T09:00:00Z' };
const facts = (content: Partial<ImpactContent>, record: Partial<ImpactRecord>, today = '2026-11-28') => {
  const whole = { ...WRITTEN, ...content };
  return {
    ...{ content: whole, record: { ...NO_IMPACT_RECORD, ...record }, marks: marksOf(CREW), today },
    threshold: threshold(proposeAnswers(CREW, whole.about), whole.answers, whole.countries),
  };
};

describe('how far it is', () => {
  it.each<[string, Partial<ImpactContent>, Partial<ImpactRecord>, string, RegExp | undefined]>([
    ['undecided', {}, {}, 'threshold', /whether an assessment is needed/],
    ['not described', { about: ' ' }, { threshold: needed }, 'being written', /35\(7\)\(a\)/],
    ['no risks', { risks: [] }, { threshold: needed }, 'being written', /35\(7\)\(c\)/],
    [
      'a high risk without a measure',
      { risks: [risk(4, 4)] },
      { threshold: needed },
      'being written',
      /35\(7\)\(d\)/,
    ],
    ['nobody asked', { views: '' }, { threshold: needed }, 'being written', /35\(9\)/],
    ['no advice', {}, { threshold: needed }, 'being written', /35\(2\)/],
    [
      'high still',
      { risks: [risk(4, 4, [measure(1, 0, false)])] },
      { threshold: needed, advice },
      'being written',
      /consult the authority/,
    ],
    ['ready', {}, { threshold: needed, advice }, 'being written', /approved/],
    [
      'ended',
      { about: '' },
      { threshold: needed, ended: { why: 'no', by: 1, at: '2026-11-02T09:00:00Z' } },
      'ended',
      undefined,
    ],
  ])('%s', (_, content, record, state, words) => {
    const p = impactProgress(facts(content, record));
    expect(p.state).toBe(state);
    if (words) expect(p.needs[0]?.words).toMatch(words);
    else expect(p.needs).toEqual([]);
  });

  it('waits eight weeks for the authority, or fourteen', () => {
    expect(consultationEnd('2026-10-05', false)).toBe('2026-11-30');
    expect(consultationEnd('2026-10-05', true)).toBe('2027-01-11');
    const high = { risks: [risk(4, 4, [measure(1, 0, false)])] };
    const asked = { sentOn: '2026-10-05', extended: false, answeredOn: null, answer: '' };
    const p = impactProgress(facts(high, { threshold: needed, advice, consultation: asked }));
    expect(p).toMatchObject({ state: 'with the authority', answerBy: '2026-11-30' });
    const answered = { ...asked, answeredOn: '2026-11-20', answer: 'With conditions.' };
    expect(
      impactProgress(facts(high, { threshold: needed, advice, consultation: answered })).needs[0]?.step,
    ).toBe('approve');
  });

  it('is looked at again when what it is about grew, a measure is late, or its day came', () => {
    const approval = {
      by: 2,
      at: '2026-11-05T09:00:00Z',
      words: '',
      marks: [...marksOf(NO_FACTS)],
      revision: 3,
    };
    const late = { ...measure(1, 0, false), due: '2026-11-20' };
    const p = impactProgress(
      facts({ risks: [risk(2, 2, [late])], review: '2026-11-28' }, { threshold: needed, advice, approval }),
    );
    expect(p.state).toBe('approved');
    expect(p.needs.map((n) => [n.step, n.wrong])).toEqual([
      ['look again', true],
      ['risks', true],
      ['look again', false],
    ]);
    expect(p.changes).toContain('a new kind of data: Health');
  });

  it('asks again where what was not needed is now', () => {
    const p = impactProgress(facts({}, { threshold: { ...needed, needed: false, why: 'small' } }));
    expect(p).toMatchObject({ state: 'not needed', needs: [{ step: 'decide', wrong: true }] });
  });

  it('cannot be approved before it is done, nor by who advised', () => {
    expect(refusalToApprove(facts({}, { threshold: { ...needed, needed: false } }), 2)).toMatch(
      /decide again/,
    );
    expect(refusalToApprove(facts({}, {}), 2)).toMatch(/not done/);
    expect(refusalToApprove(facts({ views: '' }, { threshold: needed, advice }), 2)).toMatch(/not done/);
    expect(refusalToApprove(facts({}, { threshold: needed, advice }), 1)).toMatch(/Somebody else/);
    expect(refusalToApprove(facts({}, { threshold: needed, advice }), 2)).toBeUndefined();
    expect(isHigh('very high') && isHigh('high') && !isHigh('medium')).toBe(true);
  });
});
