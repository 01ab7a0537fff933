import { describe, expect, it } from 'vitest';
import { NO_FACTS, type LinkedFacts } from '../linked/linked.ts';
import { CLAUSES } from './contract-clauses.ts';
import { questionsFor, type VendorAnswer } from './questionnaire.ts';
import { SHIPPED_QUESTIONNAIRE } from './shipped-questionnaire.ts';
import { NEW_VENDOR, type VendorContent } from './vendor.ts';
import { NO_VENDOR_RECORD, type VendorRecord } from './vendor-act.ts';
import { clausesFor, vendorMarks, vendorProgress } from './vendor-progress.ts';

const TODAY = '2026-11-28';
const said = { by: 1, at: '2026-11-01T09:00:00Z', words: 'so it is' };
const FACTS: LinkedFacts = {
  ...NO_FACTS,
  data: [{ detector: 'email', name: 'E-mail', category: 'contact', recorded: true, items: 3 }],
  trackers: [
    {
      id: 5,
      name: 'wave_uid',
      host: 'wavemeter.example',
      purpose: 'Measurement',
      site: 'booking',
      firstSeen: '',
    },
  ],
};
const READY: VendorContent = {
  ...NEW_VENDOR,
  ...{ name: 'Wavemeter', country: 'DK', contact: 'privacy@wavemeter.example' },
  links: { activities: ['1'], systems: [], sites: [] },
  contract: { signed: '2026-01-05', ends: '', notice: 0 },
};
const questions = questionsFor(SHIPPED_QUESTIONNAIRE, 3);
const yes = Object.fromEntries(questions.map((q) => [q.id, { is: 'yes', words: '' } as VendorAnswer]));
const asked = {
  to: 'privacy@wavemeter.example',
  at: said.at,
  until: '2026-12-10',
  name: 'q',
  tier: 3 as const,
  questions: [...questions],
  sentAt: said.at,
};
const DONE: VendorRecord = {
  ...NO_VENDOR_RECORD,
  ...{
    asked,
    answers: yes,
    clauses: Object.fromEntries(CLAUSES.map((c) => [c.id, { ...said, there: true }])),
  },
};
const approval = { ...said, tier: 3, on: '2026-11-01', marks: [...vendorMarks(READY, FACTS)] };
const look = (content: Partial<VendorContent> = {}, record: Partial<VendorRecord> = {}, facts = FACTS) =>
  vendorProgress({ content: { ...READY, ...content }, record: { ...DONE, ...record }, facts, today: TODAY });

describe('what a vendor needs next', () => {
  it.each<[string, Partial<VendorContent>, Partial<VendorRecord>, RegExp, boolean]>([
    ['no links', { links: NEW_VENDOR.links }, {}, /works on: activities/, false],
    ['no country', { country: '' }, {}, /which country/, false],
    ['abroad without a safeguard', { country: 'US' }, {}, /safeguard for data in US/, true],
    ['nobody to ask', { contact: '' }, { asked: null }, /whom to ask/, false],
    ['not asked', {}, { asked: null }, /send it the questions/, false],
    [
      'not answered',
      {},
      { asked: { ...asked, sentAt: null } },
      /wait for its answers, asked for by 10 Dec 2026/,
      false,
    ],
    [
      'not answered in time',
      {},
      { asked: { ...asked, sentAt: null, until: '2026-11-20' } },
      /wait for its answers/,
      true,
    ],
    [
      'a grave gap',
      {},
      { answers: { ...yes, secrecy: { is: 'no', words: '' } } },
      /bound to secrecy\?” – no/,
      true,
    ],
    [
      'no contract',
      { contract: { signed: '', ends: '', notice: 0 } },
      {},
      /a contract, Art\. 28\(3\)/,
      false,
    ],
    ['a clause not looked for', {}, { clauses: {} }, /look in the contract for Art\. 28\(3\)/, false],
    [
      'a clause that lacks',
      {},
      { clauses: { ...DONE.clauses, audit: { ...said, there: false, words: '' } } },
      /lacks Art\. 28\(3\)\(h\)/,
      true,
    ],
    ['all of it', {}, {}, /have it approved/, false],
  ])('%s', (_, content, record, words, wrong) => {
    const [first] = look(content, record).needs;
    expect(first?.words).toMatch(words);
    expect(first?.wrong).toBe(wrong);
  });

  it('is satisfied by a gap that is lived with, and a clause that lacks for a reason', () => {
    const record = {
      answers: { ...yes, secrecy: { is: 'no', words: '' } as VendorAnswer },
      accepted: { secrecy: said },
      clauses: { ...DONE.clauses, audit: { ...said, there: false, words: 'a certificate stands in for it' } },
    };
    expect(look({}, record).needs.map((n) => n.step)).toEqual(['approve']);
  });

  it('asks for the clause on transfers abroad alone, and for none of who is no processor', () => {
    const ids = (content: Partial<VendorContent>) => clausesFor({ ...READY, ...content }).map((c) => c.id);
    expect(ids({})).not.toContain('transfer');
    expect(ids({ country: 'US' })).toContain('transfer');
    expect(ids({ subprocessors: [{ name: 'Cloud Inc', country: 'US', does: '' }] })).toContain('transfer');
    expect(ids({ role: 'controller' })).toEqual([]);
  });
});

describe('one that is approved', () => {
  it('needs nothing until something comes', () => {
    expect(look({}, { approval })).toMatchObject({ state: 'approved', needs: [], reviewOn: '2029-11-01' });
  });

  it.each<[string, Partial<VendorContent>, Partial<VendorRecord>, LinkedFacts, RegExp, boolean]>([
    [
      'a new tracker',
      {},
      {},
      {
        ...FACTS,
        trackers: [...FACTS.trackers, { ...FACTS.trackers[0]!, id: 9, name: 'wave_x', site: 'crew' }],
      },
      /a new tracker of theirs: wave_x on crew/,
      true,
    ],
    [
      'a new subprocessor',
      { subprocessors: [{ name: 'Cloud Inc', country: 'US', does: '' }] },
      {},
      FACTS,
      /a new subprocessor: Cloud Inc in US/,
      true,
    ],
    [
      'a new kind of data',
      {},
      {},
      {
        ...FACTS,
        data: [
          ...FACTS.data,
          { detector: 'iban', name: 'IBAN', category: 'finance', recorded: false, items: 1 },
        ],
      },
      /a new kind of data: IBAN/,
      true,
    ],
    [
      'a breach',
      {},
      { events: [{ id: 1, at: said.at, kind: 'breach', words: 'their mail was read', seen: null }] },
      FACTS,
      /their mail was read/,
      true,
    ],
    [
      'a certificate that ended',
      { certificates: [{ name: 'ISO 27001', ends: '2026-11-27' }] },
      {},
      FACTS,
      /ISO 27001 ended on 27 Nov 2026/,
      true,
    ],
    [
      'a certificate that ends',
      { certificates: [{ name: 'ISO 27001', ends: '2026-12-27' }] },
      {},
      FACTS,
      /ends on 27 Dec 2026/,
      false,
    ],
    [
      'a contract to be ended',
      { contract: { signed: '2025-01-01', ends: '2027-02-28', notice: 60 } },
      {},
      FACTS,
      /end its contract by then/,
      false,
    ],
    [
      'a contract that ended',
      { contract: { signed: '2025-01-01', ends: '2026-11-01', notice: 60 } },
      {},
      FACTS,
      /contract ended/,
      true,
    ],
    ['a day that came', {}, { approval: { ...approval, on: '2023-11-01' } }, FACTS, /look at it again/, true],
  ])('is looked at again: %s', (_, content, record, facts, words, wrong) => {
    const [first, ...more] = look(content, { approval, ...record }, facts).needs;
    expect(first?.words).toMatch(words);
    expect(first?.wrong).toBe(wrong);
    expect(more.every((n) => n.step === 'look again')).toBe(true);
  });

  it('is left alone by a certificate far off, an event that was seen, and a contract long before its notice', () => {
    const events = [{ id: 1, at: said.at, kind: 'news' as const, words: 'sold', seen: said }];
    const content = {
      certificates: [{ name: 'ISO', ends: '2028-01-01' }],
      contract: { signed: '2025-01-01', ends: '2028-02-28', notice: 30 },
    };
    expect(look(content, { approval, events }).needs).toEqual([]);
  });
});

describe('accounts of theirs', () => {
  const reach = (names: readonly string[], kinds: readonly string[] = []): LinkedFacts => ({
    ...FACTS,
    reach: {
      accounts: names.map((name) => ({ key: name.toLowerCase(), name })),
      ...{ accountCount: names.length, places: 3, items: 1, people: 0, data: kinds },
    },
  });
  it('that are new, or get to more, have it looked at again', () => {
    const marks = [...vendorMarks(READY, reach(['Nikhil']))];
    const of = (facts: LinkedFacts) => look({}, { approval: { ...approval, marks } }, facts).changes;
    expect(of(reach(['Nikhil']))).toEqual([]);
    expect(of(reach(['Devika', 'Nikhil']))).toEqual(['a new account of theirs: Devika']);
    expect(of(reach(['Nikhil'], ['Payroll']))).toEqual(['its accounts get to more: Payroll']);
    expect(of(FACTS)).toEqual([]);
  });

  it('keep it from being left', () => {
    const exit = { begun: said, checks: { data: said, access: said, people: said } };
    const left = look({}, { exit }, { ...reach(['Devika']), trackers: [] });
    expect(left).toMatchObject({
      state: 'leaving',
      needs: [{ words: 'close its accounts: Devika', wrong: true }],
    });
  });
});

describe('one that is left', () => {
  const exit = { begun: said, checks: {} };
  it('is left when data, access and trackers are gone', () => {
    expect(look({}, { exit }).needs.map((n) => n.words)).toHaveLength(4);
    const checks = { data: said, access: said, people: said };
    expect(look({}, { exit: { ...exit, checks } }).needs).toMatchObject([
      { words: 'take its trackers off booking', wrong: true },
    ]);
    expect(look({}, { exit: { ...exit, checks } }, NO_FACTS)).toMatchObject({ state: 'left', needs: [] });
  });
});
