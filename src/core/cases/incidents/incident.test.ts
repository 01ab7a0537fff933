import { mostPeople, peopleWords, reachedByWords } from './reckoned.ts';
import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { deadlinesOf, leftUntil, type DeadlineInput } from './deadlines.ts';
import { authorityLetter, peopleLetter, type IncidentTold } from './incident-letter.ts';
import {
  incidentNeeds,
  nextDeadline,
  proposedTelling,
  type IncidentFacts,
  type TellDecision,
} from './incident-progress.ts';
import { dataKindOf, easeOf, proposedSeverity, severityOf, type SeverityInput } from './severity.ts';

const INPUT: SeverityInput = {
  ...{ data: 'simple', adjust: 0, why: '', ease: 'negligible', malicious: false, unreadable: false },
  ...{ confidentiality: 'none', integrity: 'none', availability: 'none' },
};

describe('severity', () => {
  test.each<[Partial<SeverityInput>, number, string]>([
    [{}, 0.25, 'low'],
    [{ data: 'sensitive', ease: 'maximum' }, 4, 'very high'],
    [
      { data: 'sensitive', ease: 'maximum', confidentiality: 'unknown recipients', malicious: true },
      5,
      'very high',
    ],
    [{ data: 'financial', ease: 'significant', confidentiality: 'known recipients' }, 2.5, 'medium'],
    [{ data: 'behavioural', ease: 'maximum' }, 2, 'medium'],
    [{ data: 'financial', ease: 'maximum' }, 3, 'high'],
    [{ data: 'simple', adjust: -3, ease: 'maximum' }, 1, 'low'],
    [{ data: 'sensitive', adjust: 3, ease: 'limited' }, 2, 'medium'],
    [
      { availability: 'for good', integrity: 'cannot be put right', data: 'simple', ease: 'maximum' },
      2,
      'medium',
    ],
  ])('of %j is %d, %s', (more, score, level) => {
    expect(severityOf({ ...INPUT, ...more }, null)).toMatchObject({ score, level });
  });

  it('is the sum that its steps show', () => {
    const one = fc.record({
      data: fc.constantFrom(
        'simple' as const,
        'behavioural' as const,
        'financial' as const,
        'sensitive' as const,
      ),
      adjust: fc.integer({ min: -3, max: 3 }),
      why: fc.constant(''),
      ease: fc.constantFrom(
        'negligible' as const,
        'limited' as const,
        'significant' as const,
        'maximum' as const,
      ),
      confidentiality: fc.constantFrom(
        'none' as const,
        'known recipients' as const,
        'unknown recipients' as const,
      ),
      integrity: fc.constantFrom(
        'none' as const,
        'can be put right' as const,
        'cannot be put right' as const,
      ),
      availability: fc.constantFrom('none' as const, 'for a while' as const, 'for good' as const),
      malicious: fc.boolean(),
      unreadable: fc.boolean(),
    });
    fc.assert(
      fc.property(one, (input) => {
        const { score, steps } = severityOf(input, 3);
        const [context, ease, ...rest] = steps.map((s) => s.value);
        expect(score).toBeCloseTo((context ?? 0) * (ease ?? 0) + rest.reduce((a, b) => a + b, 0));
        expect(score).toBeGreaterThanOrEqual(0.25);
        expect(score).toBeLessThanOrEqual(6);
      }),
    );
  });

  test.each([
    [['health-condition', 'special category'], ['person-name', 'identity'], 'sensitive', 'limited'],
    [['iban', 'finance'], ['email', 'contact'], 'financial', 'significant'],
    [['passport', 'travel'], ['person-name', 'identity'], 'behavioural', 'maximum'],
    [['person-name', 'identity'], ['email', 'contact'], 'simple', 'maximum'],
    [['bic', 'nothing'], ['vin', 'nothing'], 'simple', 'negligible'],
  ])('begins, with %j and %j, as %s and %s', (a, b, data, ease) => {
    const found = [a, b].map(([detector = '', category = '']) => ({ detector, category }));
    expect([dataKindOf(found), easeOf(found)]).toEqual([data, ease]);
  });

  it('counts theft as intent, and what was lost as gone to whoever finds it', () => {
    expect(proposedSeverity('stolen device', [])).toMatchObject({
      malicious: true,
      confidentiality: 'unknown recipients',
    });
    expect(proposedSeverity('not to be had', [])).toMatchObject({
      confidentiality: 'none',
      availability: 'for a while',
    });
  });
});

const TIMES: DeadlineInput = {
  knownAt: '2026-11-27T16:30:00.000Z',
  regions: ['DK', 'SE'],
  people: 402,
  nis2: false,
  hipaa: false,
};

describe('who has to be told, by when', () => {
  test.each<[Partial<DeadlineInput>, readonly (readonly [string, string | null])[]]>([
    [
      {},
      [
        ['gdpr-33', '2026-11-30T16:30:00.000Z'],
        ['gdpr-34', null],
      ],
    ],
    [
      { regions: ['GB'] },
      [
        ['uk-33', '2026-11-30T16:30:00.000Z'],
        ['uk-34', null],
      ],
    ],
    [{ regions: ['US-CA'] }, [['us-ca', '2026-12-27T16:30:00.000Z']]],
    [
      { regions: ['US-CA'], people: 501 },
      [
        ['us-ca', '2026-12-27T16:30:00.000Z'],
        ['us-ca-ag', '2027-01-11T16:30:00.000Z'],
      ],
    ],
    [{ regions: ['US-TX'] }, [['us-tx', '2027-01-26T16:30:00.000Z']]],
    [
      { regions: [], nis2: true },
      [
        ['nis2-24', '2026-11-28T16:30:00.000Z'],
        ['nis2-72', '2026-11-30T16:30:00.000Z'],
        ['nis2-month', '2026-12-30T16:30:00.000Z'],
      ],
    ],
    [
      { regions: [], nis2: true, knownAt: '2026-01-28T10:00:00.000Z' },
      [
        ['nis2-24', '2026-01-29T10:00:00.000Z'],
        ['nis2-72', '2026-01-31T10:00:00.000Z'],
        ['nis2-month', '2026-02-28T10:00:00.000Z'],
      ],
    ],
    [
      { regions: [], hipaa: true },
      [
        ['hipaa-people', '2027-01-26T16:30:00.000Z'],
        ['hipaa-hhs', null],
      ],
    ],
    [
      { regions: [], hipaa: true, people: 500 },
      [
        ['hipaa-people', '2027-01-26T16:30:00.000Z'],
        ['hipaa-hhs', '2027-01-26T16:30:00.000Z'],
      ],
    ],
    [{ regions: ['ZZ'] }, []],
  ])('with %j', (more, wanted) => {
    expect(deadlinesOf({ ...TIMES, ...more }).map((d) => [d.id, d.by])).toEqual(wanted);
  });

  it('runs in hours over a change of the clock: 72 are 72', () => {
    const [first] = deadlinesOf({ ...TIMES, knownAt: '2026-10-24T22:00:00.000Z' });
    expect(Date.parse(first?.by ?? '') - Date.parse('2026-10-24T22:00:00.000Z')).toBe(72 * 3_600_000);
  });

  test.each([
    ['2026-11-30T16:30:00Z', '2026-11-27T16:30:00Z', '3 days left'],
    ['2026-11-30T16:30:00Z', '2026-11-29T20:00:00Z', '20 hours left'],
    ['2026-11-30T16:30:00Z', '2026-11-30T16:00:00Z', '30 minutes left'],
    ['2026-11-30T16:30:00Z', '2026-11-30T18:40:00Z', '2 hours late'],
  ])('until %s at %s: %s', (by, now, words) => expect(leftUntil(by, now)).toBe(words));
});

const DECISION: TellDecision = { authority: 'tell', people: 'do not tell', reason: 'x', by: 1, agreedBy: 2 };
const facts = (more: Partial<IncidentFacts> = {}): IncidentFacts => ({
  ...{
    closed: false,
    reckoned: true,
    severity: severityOf(INPUT, 1),
    decision: DECISION,
    deadlines: deadlinesOf(TIMES),
  },
  ...{ told: new Set(['gdpr-33']), measures: { open: 1, all: 1 }, now: '2026-11-28T10:00:00.000Z' },
  ...more,
});

describe('what comes next', () => {
  test.each<[Partial<IncidentFacts>, readonly string[]]>([
    [{}, []],
    [
      { reckoned: false, severity: null, decision: null, told: new Set() },
      ['reckoned', 'severity', 'decided'],
    ],
    [{ decision: { ...DECISION, agreedBy: null }, told: new Set() }, ['agreed']],
    [{ told: new Set() }, ['told']],
    [{ decision: { ...DECISION, people: 'tell' }, told: new Set() }, ['told', 'told']],
    [{ decision: { ...DECISION, authority: 'do not tell' }, told: new Set() }, []],
    [{ measures: { open: 0, all: 0 } }, ['measures']],
    [{ closed: true, decision: null }, []],
  ])('with %j', (more, steps) => expect(incidentNeeds(facts(more)).map((n) => n.step)).toEqual(steps));

  it('is wrong once a time is over, and the time that runs is the next one not met', () => {
    const late = facts({ told: new Set(), now: '2026-12-01T10:00:00.000Z' });
    expect(incidentNeeds(late)[0]).toMatchObject({ step: 'told', wrong: true });
    expect(nextDeadline(facts({ told: new Set(), decision: null }))?.id).toBe('gdpr-33');
    expect(nextDeadline(facts())).toBeUndefined();
  });

  it('proposes by how grave it is, and never to tell of what nobody can read', () => {
    expect(proposedTelling('low', false)).toMatchObject({ authority: 'do not tell', people: 'do not tell' });
    expect(proposedTelling('medium', false)).toMatchObject({ authority: 'tell', people: 'do not tell' });
    expect(proposedTelling('very high', false)).toMatchObject({ authority: 'tell', people: 'tell' });
    expect(proposedTelling('very high', true)).toMatchObject({ authority: 'do not tell' });
  });
});

test('both letters say what the law asks for, and what is not known yet', () => {
  const told: IncidentTold = {
    ...{
      organisation: 'Harbour Line',
      number: 'I-3',
      happened: 'A laptop was left on a ship.',
      when: '',
      known: '27 Nov 2026',
    },
    ...{
      people: '402',
      records: '',
      data: ['names', 'birth dates'],
      consequences: 'Somebody may pose as you.',
      measures: ['it was locked'],
    },
    ...{ contact: 'privacy@line.example', late: '' },
  };
  const letter = authorityLetter(told).paragraphs.join('\n');
  for (const part of ['(a)', '(b)', '(c)', '(d)', '402', 'Art. 33(4)']) expect(letter).toContain(part);
  expect(letter).not.toContain('delay (Art. 33(1))');
  expect(authorityLetter({ ...told, late: 'the ship was at sea' }).paragraphs.at(-1)).toContain(
    'the ship was at sea',
  );
  for (const l of ['en', 'da', 'sv', 'de']) {
    const { subject, paragraphs } = peopleLetter(told, l);
    expect(subject).toContain('Harbour Line');
    expect(paragraphs.join(' ')).toContain('privacy@line.example');
    expect(paragraphs.join(' ')).not.toContain('402');
  }
});

describe('letters of which little is known yet', () => {
  const told: IncidentTold = {
    ...{ organisation: 'Harbour Line', number: 'I-4', happened: '', when: '', known: '27 Nov 2026' },
    ...{
      people: '',
      records: '',
      data: [],
      consequences: '',
      measures: [],
      contact: 'p@line.example',
      late: '',
    },
  };

  it('say so to the authority, in whole sentences', () => {
    const text = authorityLetter(told).paragraphs.join('\n');
    expect(text).toContain(
      'Likely consequences: not known yet; it follows without undue delay (Art. 33(4)).',
    );
    expect(text).not.toMatch(/\.\.|: \.|: $/m);
  });

  it.each(['en', 'da', 'sv', 'de'])('hold a place for it in %s, and no empty sentence', (language) => {
    const text = peopleLetter(told, language).paragraphs.join('\n');
    expect(text.match(/…/g)).toHaveLength(3);
    expect(text).not.toMatch(/: \.|: $/m);
  });
});

describe('how many people', () => {
  it.each([
    [null, 0, 'nobody knows how many people', 0],
    [null, 318, 'up to 318 people', 318],
    [4, 0, '4 people', 4],
    [1, 0, '1 person', 1],
    [402, 48, '402 to 450 people', 450],
  ])('%s told apart and %s besides are %s', (people, atMost, words, most) => {
    expect(peopleWords({ people, atMost, error: 0 })).toBe(words);
    expect(mostPeople({ people, atMost })).toBe(most);
  });

  it.each([
    [
      { people: 23, guests: 2, leavers: 1, used: 9 },
      '23 people could reach it on 20 Nov (2 guests, 1 who had left, 9 used it in 90 days)',
    ],
    [
      { people: 1, guests: 1, leavers: 0, used: 0, on: null },
      '1 person can reach it now (1 guest, nobody used it in 90 days)',
    ],
    [
      { people: 0, guests: 0, leavers: 0, used: null, anyone: true },
      'nobody could reach it on 20 Nov; whoever has a link, too',
    ],
  ])('could reach it: %o', (of, words) => {
    const r = { ...{ where: 'x', key: 'k', anyone: false, on: '2026-11-20' }, ...of };
    expect(reachedByWords(r, () => '20 Nov')).toBe(words);
  });

  it('counts whoever had a link as recipients that nobody knows', () => {
    expect(proposedSeverity('open to many', []).confidentiality).toBe('known recipients');
    expect(proposedSeverity('open to many', [], true).confidentiality).toBe('unknown recipients');
  });

  it('is nothing while nobody reckoned it', () => expect(mostPeople(null)).toBeNull());
});
