import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { NO_FACTS, type LinkedFacts, type LinkedReach } from '../linked/linked.ts';
import { CLAUSES, proposeClauses } from './contract-clauses.ts';
import { CONTRACTS, SUPPLY } from './contract.fixture.ts';
import {
  ANSWERS,
  questionLines,
  questionsFor,
  readQuestionLines,
  scoreAnswers,
  type VendorAnswer,
} from './questionnaire.ts';
import { SHIPPED_QUESTIONNAIRE } from './shipped-questionnaire.ts';
import { domainsOf, NEW_VENDOR, type VendorContent } from './vendor.ts';
import { vendorTier } from './vendor-tier.ts';

const { questions } = SHIPPED_QUESTIONNAIRE;
const data = (category: string, name: string): LinkedFacts['data'][number] => ({
  detector: name,
  name,
  category,
  recorded: true,
  items: 1,
});

describe('clauses of a contract', () => {
  describe.each(Object.entries(CONTRACTS))('in %s', (_, contract) => {
    const whole = Object.values(contract)
      .map((p, n) => `${n + 1}. ${p}`)
      .join('\n\n');

    it('are all found, each in its own passage', () => {
      const found = proposeClauses(whole);
      expect(found.filter((c) => c.verdict !== 'there').map((c) => [c.id, c.likeness])).toEqual([]);
      for (const c of found) {
        expect(whole.slice(c.at).startsWith(c.passage.slice(0, 40))).toBe(true);
        expect(contract[c.id]).toContain(c.passage.replace(/^\d+\.\s*/, '').slice(0, 25));
      }
    });

    it.each(CLAUSES.map((c) => c.id))('%s is missed where it was taken out', (id) => {
      const without = Object.entries(contract)
        .filter(([c]) => c !== id)
        .map(([, p]) => p)
        .join('\n\n');
      expect(proposeClauses(without).find((c) => c.id === id)?.verdict).not.toBe('there');
    });
  });

  it('are none of a contract about fuel', () => {
    expect(proposeClauses(SUPPLY).filter((c) => c.verdict === 'there')).toEqual([]);
  });

  it('are found by nobody in nothing, in noise, or in a text without an end', () => {
    expect(proposeClauses('').every((c) => c.verdict === 'missing')).toBe(true);
    expect(proposeClauses('x '.repeat(200_000)).every((c) => c.verdict === 'missing')).toBe(true);
    fc.assert(
      fc.property(
        fc.string({ unit: 'binary', maxLength: 400 }),
        (text) => proposeClauses(text).length === CLAUSES.length,
      ),
    );
  });
});

describe('the tier of a vendor', () => {
  it.each<[string, Partial<VendorContent>, Partial<LinkedFacts>, 1 | 2 | 3, number]>([
    ['given nothing', { role: 'none', access: 'none' }, {}, 3, 0],
    ['unknown yet', {}, {}, 3, 1],
    ['newsletters', { access: 'hosts' }, { data: [data('contact', 'Mail')], count: 1500 }, 2, 4],
    [
      'payroll',
      { access: 'hosts', vital: true },
      { data: [data('special category', 'Union')], count: 620 },
      1,
      7,
    ],
    [
      'advertising abroad',
      { country: 'US' },
      {
        data: [data('network', 'Device')],
        trackers: [{ id: 1, name: 'x', host: 'a.example', purpose: null, site: 's', firstSeen: '' }],
      },
      2,
      4,
    ],
    [
      'the same on clauses',
      { country: 'US', safeguard: 'standard clauses' },
      { data: [data('network', 'Device')] },
      3,
      2,
    ],
    ['runs our servers', { role: 'none', access: 'administers', vital: true }, {}, 2, 4],
  ])('%s', (_, content, facts, tier, score) => {
    const t = vendorTier({ ...NEW_VENDOR, name: 'V', ...content }, { ...NO_FACTS, ...facts });
    expect(t).toMatchObject({ tier, score });
    expect(t.steps.reduce((n, s) => n + s.value, 0)).toBe(score);
  });

  const reach = (people: number, kinds: readonly string[] = []): LinkedReach => ({
    ...{
      accounts: [{ key: 'k', name: 'Nikhil' }],
      accountCount: 2,
      places: 1,
      items: 4,
      people,
      data: kinds,
    },
  });
  it.each<[VendorContent['access'], LinkedReach | null, number, RegExp]>([
    [
      'none',
      reach(310, ['Passport number']),
      3,
      /^2 accounts of theirs get to 1 place, with 310 people and Passport number$/,
    ],
    ['none', reach(310), 2, /with 310 people$/],
    ['none', reach(0), 1, /to 1 place$/],
    ['hosts', reach(310, ['Passport number']), 3, /accounts of theirs/],
    ['hosts', reach(310), 2, /keeps data for us/],
    ['administers', reach(310, ['Passport number']), 3, /gets into our systems/],
    ['administers', null, 3, /gets into our systems/],
  ])(
    'counts what somebody says of “%s” or what its accounts get to, whichever is more',
    (access, of, score, words) => {
      const t = vendorTier({ ...NEW_VENDOR, name: 'V', role: 'none', access }, { ...NO_FACTS, reach: of });
      expect(t.score).toBe(score);
      expect(t.steps.map((s) => s.words)).toEqual([expect.stringMatching(words)]);
    },
  );

  it('knows its people by its hosts and its contact', () => {
    expect(domainsOf({ hosts: ['wave.example'], contact: 'Dpo@Wave.example' })).toEqual(['wave.example']);
    expect(domainsOf({ hosts: [], contact: '' })).toEqual([]);
  });

  it('never gets looser as more is given', () => {
    const facts = (n: number): LinkedFacts => ({ ...NO_FACTS, count: n, data: [data('finance', 'IBAN')] });
    const tiers = [10, 1000, 10_000].map(
      (n) => vendorTier({ ...NEW_VENDOR, name: 'V', access: 'hosts' }, facts(n)).score,
    );
    expect(tiers).toEqual(tiers.toSorted((a, b) => a - b));
  });
});

describe('a questionnaire', () => {
  it('asks fewer of those that matter less, and of everybody what must be', () => {
    const asked = ([1, 2, 3] as const).map((t) => questionsFor(SHIPPED_QUESTIONNAIRE, t).length);
    expect(asked).toEqual([questions.length, 20, 8]);
    expect(questions.filter((q) => q.must && q.from !== 3)).toEqual([]);
  });

  const Answers = fc.dictionary(
    fc.constantFrom(...questions.map((q) => q.id)),
    fc.record({ is: fc.constantFrom(...ANSWERS), words: fc.constant('') }),
  ) as fc.Arbitrary<Record<string, VendorAnswer>>;

  it('is scored as a slow sum has it, and a better answer never scores less', () => {
    const value = { yes: 2, partly: 1, no: 0, 'not applicable': 0 };
    fc.assert(
      fc.property(Answers, fc.constantFrom(...questions), (answers, q) => {
        const { score, gaps } = scoreAnswers(questions, answers);
        let [got, most] = [0, 0];
        for (const x of questions) {
          const a = answers[x.id];
          if (a?.is === 'not applicable') continue;
          most += 2 * x.weight;
          got += a ? value[a.is] * x.weight : 0;
        }
        const some = questions.some((x) => answers[x.id] && answers[x.id]?.is !== 'not applicable');
        if (!some || most === 0) expect(score).toBeNull();
        else expect(score).toBeCloseTo(got / most, 10);
        expect(gaps.filter((g) => g.grave).every((g) => g.question.must)).toBe(true);
        if (score !== null && answers[q.id]?.is !== 'not applicable')
          expect(
            scoreAnswers(questions, { ...answers, [q.id]: { is: 'yes', words: '' } }).score ?? 0,
          ).toBeGreaterThanOrEqual(score);
      }),
    );
  });

  it('names what stands in the way first', () => {
    const answers = Object.fromEntries(
      questions.map((q) => [q.id, { is: 'yes', words: '' } as VendorAnswer]),
    );
    const { gaps, score } = scoreAnswers(questions, {
      ...answers,
      updates: { is: 'no', words: '' },
      secrecy: { is: 'not applicable', words: '' },
      plan: { is: 'not applicable', words: '' },
    });
    expect(gaps.map((g) => [g.question.id, g.is, g.grave])).toEqual([
      ['secrecy', 'not applicable', true],
      ['updates', 'no', false],
    ]);
    expect(score).toBeGreaterThan(0.9);
  });

  it('is written as lines, and read from them as it was', () => {
    expect(readQuestionLines(questionLines(questions), questions)).toEqual({ questions });
    const more = readQuestionLines(
      `${questionLines(questions.slice(0, 2))}\n\nPort | Do you lock the container at night? | 3 | must | 3`,
      questions,
    );
    expect('questions' in more && more.questions.map((q) => q.id)).toEqual([
      'responsible',
      'records',
      'do-you-lock-the-container-at-night',
    ]);
  });

  it.each([
    ['', /ask something/],
    ['A | Do you lock it? | 4', /weight/],
    ['A | Do you lock it? | 2 | should', /must or may/],
    ['A | Do you lock it? | 2 | may | 9', /tier/],
    ['A | Do you | lock | it | at | night?', /five parts/],
    [' | Do you lock it?', /./],
  ])('says what is wrong with %j', (text, wrong) => {
    const read = readQuestionLines(text, []);
    expect('wrong' in read && read.wrong).toMatch(wrong);
  });
});
