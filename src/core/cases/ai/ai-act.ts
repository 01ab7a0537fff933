import { z } from 'zod';

/** What an organisation is for an AI system (Regulation (EU) 2024/1689, Art. 3(3) and (4)). */
export const AI_ROLES = {
  deployer: 'uses it, as a deployer, Art. 3(4)',
  provider: 'makes it, as a provider, Art. 3(3)',
  both: 'makes it and uses it',
} as const;
export type AiRole = keyof typeof AI_ROLES;

type Leads =
  | 'no ai'
  | 'prohibited'
  | 'product'
  | 'area'
  | 'exception'
  | 'profiling'
  | 'transparency'
  | 'general'
  | 'systemic'
  | 'out';

export interface AiQuestion {
  readonly id: string;
  readonly article: string;
  readonly words: string;
  /** What a yes leads to; for `is-ai`, what a no does. */
  readonly leads: Leads;
}

const q = (id: string, article: string, words: string, leads: Leads): AiQuestion => ({
  id,
  article,
  words,
  leads,
});

/** The questions of the class, in the order of the law. */
export const AI_QUESTIONS: readonly AiQuestion[] = [
  q(
    'is-ai',
    'Art. 3(1)',
    'Does it infer, from what it is given, predictions, content, recommendations or decisions?',
    'no ai',
  ),
  q('research', 'Art. 2(6) and (8)', 'Is it for scientific research alone, or not yet put to use?', 'out'),
  q(
    'manipulates',
    'Art. 5(1)(a)',
    'Does it steer people below their awareness or by deceit, so that they come to harm?',
    'prohibited',
  ),
  q(
    'exploits',
    'Art. 5(1)(b)',
    'Does it exploit age, disability or need, so that people come to harm?',
    'prohibited',
  ),
  q(
    'social-score',
    'Art. 5(1)(c)',
    'Does it score people by how they behave, to treat them worse elsewhere or out of proportion?',
    'prohibited',
  ),
  q(
    'crime-profile',
    'Art. 5(1)(d)',
    'Does it predict from a profile alone that somebody will commit a crime?',
    'prohibited',
  ),
  q(
    'scrapes-faces',
    'Art. 5(1)(e)',
    'Does it gather faces from the internet or cameras for a database?',
    'prohibited',
  ),
  q(
    'emotion-work',
    'Art. 5(1)(f)',
    'Does it infer emotions at work or in education, other than for health or safety?',
    'prohibited',
  ),
  q(
    'biometric-traits',
    'Art. 5(1)(g)',
    'Does it sort people by biometric data into race, opinion, union, belief or sexual life?',
    'prohibited',
  ),
  q(
    'live-identification',
    'Art. 5(1)(h)',
    'Does it identify people from afar, live, in public, for law enforcement?',
    'prohibited',
  ),
  q(
    'product',
    'Art. 6(1), Annex I',
    'Is it a product, or a safety part of one, that has to be assessed by somebody else under Union law (machines, lifts, toys, ships’ equipment, medical devices)?',
    'product',
  ),
  q(
    'biometrics',
    'Annex III, 1',
    'Does it identify people from afar, sort them by sensitive traits, or recognise emotions?',
    'area',
  ),
  q(
    'infrastructure',
    'Annex III, 2',
    'Is it a safety part of critical infrastructure, traffic, water, gas, heat or power?',
    'area',
  ),
  q(
    'education',
    'Annex III, 3',
    'Does it decide on admission, learning results or cheating in education?',
    'area',
  ),
  q(
    'work',
    'Annex III, 4',
    'Does it choose among applicants, or decide on terms, promotion, tasks or the watching of staff?',
    'area',
  ),
  q(
    'services',
    'Annex III, 5',
    'Does it decide on public benefits, creditworthiness, prices of life or health insurance, or emergency calls?',
    'area',
  ),
  q('police', 'Annex III, 6', 'Does it serve law enforcement?', 'area'),
  q('borders', 'Annex III, 7', 'Does it serve migration, asylum or border control?', 'area'),
  q('justice', 'Annex III, 8', 'Does it help courts to decide, or influence elections?', 'area'),
  q(
    'narrow',
    'Art. 6(3)',
    'Does it do a narrow, preparatory or checking task alone, without influence on what is decided?',
    'exception',
  ),
  q('profiling', 'Art. 6(3), last sentence', 'Does it make profiles of people?', 'profiling'),
  q('talks', 'Art. 50(1)', 'Do people talk to it, and may not know that it is a machine?', 'transparency'),
  q('makes-content', 'Art. 50(2)', 'Does it make sound, pictures, video or text?', 'transparency'),
  q(
    'emotions',
    'Art. 50(3)',
    'Does it recognise emotions, or sort people by biometric data?',
    'transparency',
  ),
  q(
    'deepfake',
    'Art. 50(4)',
    'Are pictures, sound or video that look real, or texts on public matters, published from it?',
    'transparency',
  ),
  q('general-purpose', 'Art. 3(63), 51', 'Do we offer a model for general purposes to others?', 'general'),
  q(
    'systemic',
    'Art. 51(1)',
    'Was that model trained with more than 10²⁵ operations, or named one of systemic risk?',
    'systemic',
  ),
];
export const AI_QUESTION_IDS = AI_QUESTIONS.map((x) => x.id) as [string, ...string[]];

export const AiAnswer = z.strictObject({ is: z.boolean(), why: z.string().trim().max(500) });
export type AiAnswers = Readonly<Partial<Record<string, z.infer<typeof AiAnswer>>>>;

export const AI_CLASSES = {
  open: 'not classed yet',
  'no ai': 'no AI system',
  out: 'outside the regulation, for now',
  prohibited: 'prohibited',
  high: 'high risk',
  transparency: 'with duties of transparency',
  minimal: 'minimal risk',
} as const;
export type AiClass = keyof typeof AI_CLASSES;

export interface Duty {
  readonly article: string;
  readonly words: string;
  /** ISO 8601; from when it applies (Art. 113). */
  readonly from: string;
}

export interface Classed {
  readonly class: AiClass;
  /** Which answers made it so. */
  readonly because: readonly string[];
  readonly duties: readonly Duty[];
  /** Questions that have to be answered still, those first that decide. */
  readonly open: readonly AiQuestion[];
}

/** Days from which parts of the regulation apply, as it was published (Art. 113). */
const FROM = {
  literacy: '2025-02-02',
  general: '2025-08-02',
  most: '2026-08-02',
  products: '2027-08-02',
} as const;

/**
 * The class of an AI system by Regulation (EU) 2024/1689, and what follows from it for who makes or uses it. What is prohibited
 * goes before all else; what Annex III names is high, but for a narrow task (Art. 6(3)) that makes no profiles. It is not
 * classed before every question that could change the class was answered.
 */
export function classify(answers: AiAnswers, role: AiRole): Classed {
  const yes = (x: AiQuestion) => answers[x.id]?.is === true;
  const of = (leads: Leads) => AI_QUESTIONS.filter((x) => x.leads === leads);
  const unanswered = (...leads: readonly Leads[]) =>
    AI_QUESTIONS.filter((x) => leads.includes(x.leads) && !answers[x.id]);
  const told = (all: readonly AiQuestion[]) => all.map((x) => `${x.article}: ${x.words}`);
  const at = (
    cls: AiClass,
    because: readonly string[],
    open: readonly AiQuestion[],
    high = false,
  ): Classed => ({
    ...{ class: cls, because, open },
    duties: dutiesOf(cls, high, answers, role),
  });
  if (answers['is-ai']?.is === false)
    return at(
      'no ai',
      told(of('no ai')).map((w) => `${w} No.`),
      [],
    );
  if (!answers['is-ai']) return at('open', [], AI_QUESTIONS);
  const banned = of('prohibited').filter(yes);
  if (banned.length > 0) return at('prohibited', told(banned), []);
  const out = of('out').filter(yes);
  if (out.length > 0 && unanswered('prohibited').length === 0) return at('out', told(out), []);
  const product = of('product').filter(yes);
  const areas = of('area').filter(yes);
  const profiling = of('profiling').filter(yes);
  const narrow = of('exception').filter(yes);
  const open: AiQuestion[] = [...unanswered('out', 'prohibited', 'product')];
  if (product.length === 0) open.push(...unanswered('area'));
  if (areas.length > 0)
    open.push(...unanswered('profiling'), ...(profiling.length > 0 ? [] : unanswered('exception')));
  const also = unanswered('transparency', ...(role === 'deployer' ? [] : (['general'] as const)));
  const spared = areas.length > 0 && narrow.length > 0 && profiling.length === 0;
  const isHigh = product.length > 0 || (areas.length > 0 && !spared);
  if (open.length > 0) return at('open', [], [...open, ...also]);
  if (isHigh)
    return at('high', told([...product, ...areas, ...(narrow.length > 0 ? profiling : [])]), also, true);
  const tells = of('transparency').filter(yes);
  const because = spared ? told([...areas, ...narrow]) : [];
  if (also.length > 0) return at('open', [], also);
  if (tells.length > 0) return at('transparency', [...because, ...told(tells)], []);
  return at('minimal', because.length > 0 ? because : ['nothing that the regulation names'], []);
}

function dutiesOf(cls: AiClass, high: boolean, answers: AiAnswers, role: AiRole): readonly Duty[] {
  if (cls === 'open' || cls === 'no ai' || cls === 'out') return [];
  const duty = (article: string, words: string, from: string): Duty => ({ article, words, from });
  if (cls === 'prohibited') return [duty('Art. 5', 'It must not be used or sold', FROM.literacy)];
  const found = [duty('Art. 4', 'Whoever works with it knows enough of it', FROM.literacy)];
  const is = (id: string) => answers[id]?.is === true;
  if (high) {
    const from =
      is('product') && !AI_QUESTIONS.some((x) => x.leads === 'area' && is(x.id)) ? FROM.products : FROM.most;
    if (role !== 'provider')
      found.push(
        duty('Art. 26(1)', 'Use it as its instructions say', from),
        duty('Art. 26(2)', 'Name people who oversee it, and can', from),
        duty('Art. 26(4)', 'See to it that what goes in fits its purpose', from),
        duty(
          'Art. 26(5)',
          'Watch it; tell the provider, and stop it where it is a risk; tell of serious incidents',
          from,
        ),
        duty('Art. 26(6)', 'Keep its logs for six months at least', from),
        ...(is('work')
          ? [duty('Art. 26(7)', 'Tell the staff and those who speak for them before it is used', from)]
          : []),
        ...(is('services') ? [duty('Art. 27', 'Assess what it does to fundamental rights', from)] : []),
        duty('Art. 26(9)', 'Use what the provider tells for the impact assessment of Art. 35 GDPR', from),
        duty('Art. 26(11)', 'Tell people that it is used where it decides on them', from),
        duty('Art. 86', 'Explain a decision to whom it affects', from),
      );
    if (role !== 'deployer')
      found.push(
        duty('Art. 9', 'Manage its risks through all of its life', from),
        duty('Art. 10', 'Govern the data it is trained and tested with', from),
        duty('Art. 11, Annex IV', 'Write its technical documentation', from),
        duty('Art. 12', 'Have it log what it does', from),
        duty('Art. 13', 'Give instructions to those who use it', from),
        duty('Art. 14', 'Make it so that people can oversee it', from),
        duty('Art. 15', 'Make it accurate, robust and secure', from),
        duty('Art. 17', 'Have a system of quality management', from),
        duty('Art. 43, 47 and 48', 'Have it assessed; declare that it conforms; mark it', from),
        duty('Art. 49', 'Register it', from),
        duty('Art. 72 and 73', 'Watch it in use; tell of serious incidents within 15 days', from),
      );
  }
  if (is('talks')) found.push(duty('Art. 50(1)', 'Tell people that they talk to a machine', FROM.most));
  if (is('makes-content') && role !== 'deployer')
    found.push(duty('Art. 50(2)', 'Mark what it makes so that machines can tell', FROM.most));
  if (is('emotions'))
    found.push(duty('Art. 50(3)', 'Tell people that it reads their emotions or traits', FROM.most));
  if (is('deepfake')) found.push(duty('Art. 50(4)', 'Say that it was made by a machine', FROM.most));
  if (is('general-purpose') && role !== 'deployer') {
    found.push(
      duty(
        'Art. 53',
        'Document the model, tell those who build on it, keep to copyright, publish a summary of what it was trained with',
        FROM.general,
      ),
    );
    if (is('systemic'))
      found.push(
        duty('Art. 55', 'Test it, lower its risks, tell of serious incidents, keep it secure', FROM.general),
      );
  }
  return found;
}

const SPEAKS: Readonly<Record<string, RegExp>> = {
  work: /\b(?:applicants?|hiring|recruit\w*|cvs?|résumés?|promotion|roster\w*|shifts?|staff performance|bewerb\w*|ansøg\w*)\b/iu,
  biometrics: /\b(?:face|facial|biometric\w*|iris|gait|fingerprint\w*)\b/iu,
  services: /\b(?:credit\w*|loans?|insurance premium\w*|benefits?|emergency calls?)\b/iu,
  education: /\b(?:pupils?|exams?|grading|admission)\b/iu,
  infrastructure: /\b(?:power grid|water supply|traffic control|engine control|steering)\b/iu,
  talks: /\b(?:chat\w*|conversational|assistant|dialogue|voice bot|customers ask)\b/iu,
  'makes-content':
    /\b(?:text-generation|text2text\w*|generat\w+|text-to-image|text-to-speech|summari[sz]\w+|translation|llm)\b/iu,
  emotions: /\b(?:emotion\w*|sentiment from faces|mood)\b/iu,
  profiling: /\b(?:profil\w*|scor\w+|rank\w*|segment\w*|predict\w*|churn)\b/iu,
  narrow: /\b(?:sorts? (?:mail|files|invoices)|ocr|duplicate\w*|spell\w*|convert\w*)\b/iu,
};

/** Questions that what is said of a system speaks to, with the word that does. A proposal: somebody answers. */
export function proposeAiAnswers(text: string): Readonly<Record<string, string>> {
  return Object.fromEntries(
    Object.entries(SPEAKS).flatMap(([id, words]) => {
      const hit = words.exec(text)?.[0];
      return hit === undefined ? [] : [[id, `“${hit}” stands in what is said of it`]];
    }),
  );
}
