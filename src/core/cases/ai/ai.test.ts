import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { NO_FACTS } from '../linked/linked.ts';
import {
  AI_QUESTIONS,
  classify,
  proposeAiAnswers,
  type AiAnswers,
  type AiClass,
  type AiRole,
} from './ai-act.ts';
import { aiMarks, aiProgress, refusalOfStage } from './ai-progress.ts';
import { NO_AI_RECORD, type AiRecord } from './ai-record.ts';
import { aiText, fromCard, NEW_AI, type AiContent } from './ai-system.ts';
import { readCard } from './model-card.ts';

const no: AiAnswers = Object.fromEntries(AI_QUESTIONS.map((q) => [q.id, { is: q.id === 'is-ai', why: '' }]));
const yes = (...ids: readonly string[]): AiAnswers => ({
  ...no,
  ...Object.fromEntries(ids.map((id) => [id, { is: true, why: '' }])),
});

describe('the class of an AI system', () => {
  it.each<[string, AiAnswers, AiClass, readonly string[]]>([
    ['nothing answered', {}, 'open', []],
    ['no AI at all', { 'is-ai': { is: false, why: '' } }, 'no ai', []],
    ['nothing that is named', no, 'minimal', ['Art. 4']],
    ['emotions at work', yes('emotion-work'), 'prohibited', ['Art. 5']],
    ['emotions at work, of a product', yes('emotion-work', 'product', 'work'), 'prohibited', ['Art. 5']],
    [
      'prohibited, with all else open',
      { 'is-ai': { is: true, why: '' }, 'social-score': { is: true, why: '' } },
      'prohibited',
      ['Art. 5'],
    ],
    ['choosing among applicants', yes('work'), 'high', ['Art. 4', 'Art. 26(1)', 'Art. 26(7)', 'Art. 86']],
    ['a narrow task about applicants', yes('work', 'narrow'), 'minimal', ['Art. 4']],
    ['a narrow task that makes profiles', yes('work', 'narrow', 'profiling'), 'high', ['Art. 26(2)']],
    ['a part of a machine', yes('product'), 'high', ['Art. 26(1)']],
    ['a narrow task within a product', yes('product', 'narrow'), 'high', []],
    ['profiles, of nothing in Annex III', yes('profiling'), 'minimal', []],
    ['a chat', yes('talks'), 'transparency', ['Art. 50(1)']],
    ['research', yes('research'), 'out', []],
    ['research that is prohibited', yes('research', 'manipulates'), 'prohibited', []],
  ])('%s', (_, answers, cls, articles) => {
    const c = classify(answers, 'deployer');
    expect(c.class).toBe(cls);
    const told = c.duties.map((d) => d.article);
    for (const a of articles) expect(told).toContain(a);
    expect(c.open.length > 0).toBe(cls === 'open');
  });

  it('has other duties for who makes it, and dates by what it is', () => {
    const made = classify(yes('work'), 'provider').duties.map((d) => d.article);
    expect(made).toContain('Art. 9');
    expect(made).not.toContain('Art. 26(1)');
    expect(classify(yes('work'), 'both').duties.map((d) => d.article)).toEqual(
      expect.arrayContaining(['Art. 9', 'Art. 26(1)']),
    );
    expect(classify(yes('product'), 'deployer').duties.find((d) => d.article === 'Art. 26(1)')?.from).toBe(
      '2027-08-02',
    );
    expect(
      classify(yes('product', 'work'), 'deployer').duties.find((d) => d.article === 'Art. 26(1)')?.from,
    ).toBe('2026-08-02');
    expect(classify(yes('general-purpose', 'systemic'), 'provider').duties.map((d) => d.article)).toEqual([
      'Art. 4',
      'Art. 53',
      'Art. 55',
    ]);
  });

  const Some = fc.dictionary(
    fc.constantFrom(...AI_QUESTIONS.map((q) => q.id)),
    fc.record({ is: fc.boolean(), why: fc.constant('') }),
  ) as fc.Arbitrary<AiAnswers>;
  const Role = fc.constantFrom<AiRole[]>('deployer', 'provider', 'both');

  it('stands whatever the questions that are left out say: one that is classed has none that could change it', () => {
    fc.assert(
      fc.property(Some, Some, Role, (answers, rest, role) => {
        const first = classify(answers, role);
        if (first.class === 'open') return;
        // What was answered stays; the rest is answered at random. Duties may come, the class stays.
        const later = classify({ ...rest, ...answers }, role).class;
        if (first.open.length === 0 && first.class !== 'out' && later !== 'open')
          expect(later).toBe(first.class);
      }),
      { numRuns: 500 },
    );
  });

  it('is known in the end by answering what is open, one after the other', () => {
    fc.assert(
      fc.property(Role, fc.array(fc.boolean(), { minLength: 40, maxLength: 40 }), (role, coin) => {
        let answers: AiAnswers = {};
        for (const [n, is] of coin.entries()) {
          const c = classify(answers, role);
          const [next] = c.open;
          if (!next) return;
          expect(answers[next.id]).toBeUndefined();
          answers = { ...answers, [next.id]: { is: n === 0 ? true : is, why: '' } };
        }
        expect(classify(answers, role).open).toEqual([]);
      }),
    );
  });

  it('is spoken of by what is said of a system', () => {
    expect(Object.keys(proposeAiAnswers('Ranks applicants by their CVs'))).toEqual(['work', 'profiling']);
    expect(proposeAiAnswers('text-generation')['makes-content']).toContain('text-generation');
    expect(proposeAiAnswers('Counts cars')).toEqual({});
  });
});

const CARD = `---
license: apache-2.0
language: [en, da]
pipeline_tag: text-classification
datasets:
  - harbour-mails
base_model: openferry/encoder-small
model-index:
  - name: deckhand-mail
    results:
      - task: { type: text-classification }
        dataset: { name: harbour-mails test, type: mails }
        metrics:
          - { type: f1, value: 0.91, name: F1 }
---
# Model card for deckhand-mail
<!-- a remark -->
## Intended uses
Sorts mail of a terminal.
\`\`\`
# no heading
\`\`\`
## Limitations and bias
Weak on Swedish.
## Training data
Made-up mail.
`;
const BOM = {
  bomFormat: 'CycloneDX',
  specVersion: '1.6',
  components: [
    { type: 'library', name: 'x' },
    { type: 'data', 'bom-ref': 'd1', name: 'deck pictures' },
    {
      ...{
        type: 'machine-learning-model',
        name: 'plate-reader',
        version: '2.1',
        supplier: { name: 'Lookwell Vision AB' },
      },
      licenses: [{ license: { id: 'MIT' } }],
      modelCard: {
        modelParameters: {
          task: 'image-to-text',
          architectureFamily: 'convolutional',
          datasets: [{ ref: 'd1' }],
        },
        quantitativeAnalysis: { performanceMetrics: [{ type: 'accuracy', value: '0.97', slice: 'night' }] },
        considerations: {
          useCases: ['Reads plates on a car deck'],
          technicalLimitations: ['Snow'],
          ethicalConsiderations: [{ name: 'People may be in view' }],
        },
      },
    },
  ],
};

describe('a card', () => {
  it('is read from Markdown with a head', () => {
    expect(readCard(CARD)).toMatchObject({
      ...{
        name: 'deckhand-mail',
        task: 'text-classification',
        licence: 'apache-2.0',
        languages: ['en', 'da'],
      },
      ...{
        datasets: ['harbour-mails'],
        base: 'openferry/encoder-small',
        limits: 'Weak on Swedish.',
        training: 'Made-up mail.',
      },
      measures: [{ name: 'F1', value: '0.91', on: 'harbour-mails test' }],
      intended: 'Sorts mail of a terminal.\n```\n# no heading\n```',
    });
  });

  it('is read from CycloneDX', () => {
    expect(readCard(JSON.stringify(BOM))).toMatchObject({
      ...{
        name: 'plate-reader',
        version: '2.1',
        provider: 'Lookwell Vision AB',
        licence: 'MIT',
        task: 'image-to-text',
      },
      ...{ datasets: ['deck pictures'], limits: 'Snow', ethics: 'People may be in view' },
      measures: [{ name: 'accuracy', value: '0.97', on: 'night' }],
    });
  });

  it.each<[string, string, RegExp]>([
    ['no head', '# A model', /three hyphens/],
    ['a broken head', '---\na: [1\n---\n# M', /no YAML/],
    ['no name', '---\nlicense: mit\n---\nhello', /names no model/],
    [
      'a head that grows without end',
      `---\na: &a [x,x,x,x,x,x,x,x,x]\nb: &b [*a,*a,*a,*a,*a,*a,*a,*a,*a]\nc: &c [*b,*b,*b,*b,*b,*b,*b,*b,*b]\nd: [*c,*c,*c,*c,*c,*c,*c,*c,*c]\n---\n# M`,
      /itself too often/,
    ],
    ['other JSON', '{"a":1}', /CycloneDX/],
    ['broken JSON', '{"a"', /is none/],
    [
      'a list of parts without a model',
      JSON.stringify({ bomFormat: 'CycloneDX', components: [] }),
      /machine-learning-model/,
    ],
    ['an endless one', 'x'.repeat(1_000_001), /longer/],
  ])('is refused: %s', (_, text, words) => {
    let said = '';
    try {
      readCard(text);
    } catch (e) {
      said = (e as { fields: { message: string }[] }).fields[0]?.message ?? '';
    }
    expect(said).toMatch(words);
  });

  it('never breaks the reader, whatever its head holds', () => {
    fc.assert(
      fc.property(fc.json({ maxDepth: 3 }), (json) => {
        const card = readCard(
          `---\nx: ${json.replaceAll('\n', ' ')}\nlicense: ${json.replaceAll('\n', ' ')}\n---\n# M`,
        );
        expect(card.name).toBe('M');
      }),
      { numRuns: 60 },
    );
  });
});

const READY: AiContent = {
  ...fromCard(readCard(CARD)),
  ...{ purpose: 'Sorts mail', owner: 'Magnus Reyer', people: ['passengers'], answers: no },
};
const said = { by: 1, at: '2026-11-01T09:00:00Z', words: 'so it is' };
const duties = { 'Art. 4': said };
const approval = { ...said, class: 'minimal' as const, marks: [...aiMarks(READY, NO_FACTS)] };
const look = (content: Partial<AiContent> = {}, record: Partial<AiRecord> = {}) =>
  aiProgress({
    content: { ...READY, ...content },
    record: { ...NO_AI_RECORD, duties, ...record },
    facts: NO_FACTS,
    today: '2026-11-28',
  });
const used = { life: [{ ...said, stage: 'used' as const, on: '2026-11-01' }] };

describe('what an AI system needs next', () => {
  it.each<[string, Partial<AiContent>, Partial<AiRecord>, RegExp, boolean]>([
    ['a purpose', { purpose: '' }, {}, /what it is for/, false],
    ['answers', { answers: {} }, {}, /answer for its class \(27 open\): Art\. 3\(1\)/, false],
    ['answers, while it runs', { answers: {} }, { ...used, approval }, /it is not classed yet now/, true],
    ['to be stopped', { answers: yes('emotion-work') }, used, /stop it now/, true],
    ['oversight', { answers: yes('work') }, {}, /who watches over it/, false],
    ['a duty', {}, { duties: {} }, /Art\. 4/, false],
    ['approval', {}, {}, /have it approved/, false],
    ['approval, while it runs', {}, used, /nobody approved it/, true],
    [
      'a look at another model',
      { card: { ...readCard(CARD), version: '2' } },
      { approval },
      /another model: deckhand-mail 2/,
      true,
    ],
    [
      'a look at another class',
      { answers: yes('talks') },
      { approval },
      /it is with duties of transparency now/,
      true,
    ],
    ['a look on its day', { review: '2026-11-28' }, { approval }, /look at it again/, false],
    [
      'a test that was not passed',
      { tests: [{ what: 'on Swedish', on: '2026-11-01', result: '0.4', passed: false }] },
      { approval },
      /failed: on Swedish/,
      false,
    ],
  ])('%s', (_, content, record, words, wrong) => {
    const [first] = look(content, record).needs;
    expect(first?.words).toMatch(words);
    expect(first?.wrong).toBe(wrong);
  });

  it('needs nothing once all is done, or it is retired', () => {
    expect(look({}, { ...used, approval }).needs).toEqual([]);
    expect(look({ purpose: '' }, { life: [{ ...said, stage: 'retired', on: '2026-11-02' }] }).needs).toEqual(
      [],
    );
    const passed = { what: 'on Swedish', result: '', passed: true };
    const tests = [
      { ...passed, on: '2026-11-01', passed: false },
      { ...passed, on: '2026-11-09' },
    ];
    expect(look({ tests }, { approval }).needs).toEqual([]);
  });

  it('goes into use only classed, approved and allowed', () => {
    const refusal = (content: Partial<AiContent>, record: Partial<AiRecord>) =>
      refusalOfStage(
        {
          content: { ...READY, ...content },
          record: { ...NO_AI_RECORD, ...record },
          facts: NO_FACTS,
          today: '2026-11-28',
        },
        'used',
      );
    expect(refusal({}, {})).toMatch(/approved first/);
    expect(refusal({ answers: {} }, { approval })).toMatch(/class/);
    expect(refusal({ answers: yes('scrapes-faces') }, { approval })).toMatch(/prohibited/);
    expect(refusal({}, { approval })).toBeUndefined();
    expect(aiText({ ...NEW_AI, name: 'X' })).toContain('X');
  });
});
