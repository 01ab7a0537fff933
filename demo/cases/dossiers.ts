import { z } from 'zod';
import { AI_QUESTIONS } from '../../src/core/cases/ai/ai-act.ts';
import { aiMarks } from '../../src/core/cases/ai/ai-progress.ts';
import { NO_AI_RECORD, type AiRecord } from '../../src/core/cases/ai/ai-record.ts';
import { fromCard, type AiContent } from '../../src/core/cases/ai/ai-system.ts';
import { readCard } from '../../src/core/cases/ai/model-card.ts';
import { NEW_IMPACT, type ImpactContent } from '../../src/core/cases/impact/impact.ts';
import { NO_IMPACT_RECORD, type ImpactRecord } from '../../src/core/cases/impact/impact-act.ts';
import type { Risk } from '../../src/core/cases/impact/risk.ts';
import { marksOf, NO_FACTS, type LinkedFacts, type Links } from '../../src/core/cases/linked/linked.ts';
import { proposeClauses } from '../../src/core/cases/vendors/contract-clauses.ts';
import { questionsFor, type VendorAnswer } from '../../src/core/cases/vendors/questionnaire.ts';
import { SHIPPED_QUESTIONNAIRE } from '../../src/core/cases/vendors/shipped-questionnaire.ts';
import { NEW_VENDOR, type VendorContent } from '../../src/core/cases/vendors/vendor.ts';
import { NO_VENDOR_RECORD, type VendorRecord } from '../../src/core/cases/vendors/vendor-act.ts';
import { clausesFor, vendorMarks } from '../../src/core/cases/vendors/vendor-progress.ts';
import { vendorTier } from '../../src/core/cases/vendors/vendor-tier.ts';
import { AI_SYSTEM } from '../../src/server/cases/ai/ai-kind.ts';
import { keepFile } from '../../src/server/cases/dossiers/dossier-files.ts';
import type { DossierKind } from '../../src/server/cases/dossiers/dossier-kind.ts';
import { addDossier, addDossierStep } from '../../src/server/cases/dossiers/dossiers.ts';
import { IMPACT } from '../../src/server/cases/impact/impact-kind.ts';
import { VENDOR } from '../../src/server/cases/vendors/vendor-kind.ts';
import { allActivities, recordNames } from '../../src/server/holdings/offers.ts';
import { linkedTrackers, siteNames } from '../../src/server/websites/offers.ts';
import { builtInDetectors } from '../../src/core/holdings/offers.ts';
import { BigId } from '../../src/server/store/columns.ts';
import type { Queries } from '../../src/server/store/pool.ts';
import { MODELS } from '../../standins/models/made-up-models.ts';
import { cardOf } from '../../standins/models/model-catalogue.ts';
import type { Demo } from '../demo.ts';
import { CONTRACT } from './contract-text.ts';
import { VENDORS } from './vendor-list.ts';

const day = (at: Date) => at.toISOString().slice(0, 10);

/** What of the program things are linked to, by name. */
class Book {
  constructor(
    readonly demo: Demo,
    readonly activities: Awaited<ReturnType<typeof allActivities>>,
    readonly names: Awaited<ReturnType<typeof recordNames>>,
    readonly sites: Awaited<ReturnType<typeof siteNames>>,
    readonly countries: ReadonlyMap<string, string>,
  ) {}

  links(
    activities: readonly string[],
    systems: readonly string[] = [],
    sites: readonly string[] = [],
  ): Links {
    const ids = new Map([...this.names.systems].map(([id, name]) => [name, id]));
    return {
      activities: activities.flatMap((n) => this.activities.find((a) => a.content.name === n)?.id ?? []),
      systems: systems.flatMap((n) => ids.get(n) ?? []),
      sites: sites.flatMap((n) => this.sites.find((s) => s.name.toLowerCase().includes(n))?.id ?? []),
    };
  }

  /** As records and sweeps have it; nothing was surveyed yet. */
  async facts(links: Links, hosts: readonly string[] = []): Promise<LinkedFacts> {
    const mine = this.activities.filter((a) => links.activities.includes(a.id));
    const detectors = new Map(builtInDetectors().map((d) => [d.id, d]));
    const systems = new Set([...links.systems, ...mine.flatMap((a) => a.content.systems)]);
    return {
      ...NO_FACTS,
      data: [...new Set(mine.flatMap((a) => a.content.data))].map((d) => ({
        ...{
          detector: d,
          name: this.names.detectors.get(d) ?? d,
          category: detectors.get(d)?.category ?? 'own',
        },
        ...{ recorded: true, items: 0 },
      })),
      systems: [...systems].map((id) => ({
        id,
        name: this.names.systems.get(id) ?? '',
        country: this.countries.get(id) ?? '',
      })),
      people: [...new Set(mine.flatMap((a) => a.content.people))],
      recipients: mine.flatMap((a) => a.content.recipients),
      count: 1_000_000,
      trackers: await linkedTrackers(this.demo.tx, { sites: links.sites, hosts }),
    };
  }
}

async function countriesOf(tx: Queries): Promise<ReadonlyMap<string, string>> {
  const rows = await tx.all(
    z.object({ id: BigId, country: z.string().nullable() }),
    "SELECT id, JSON_VALUE(content, '$.country') AS country FROM data_system",
  );
  return new Map(rows.map((r) => [r.id, r.country ?? '']));
}

/** Six impact assessments, twenty vendors and five AI systems. */
export async function loadDossiers(demo: Demo): Promise<void> {
  const { tx } = demo;
  const book = new Book(
    demo,
    await allActivities(tx),
    await recordNames(tx),
    await siteNames(tx),
    await countriesOf(tx),
  );
  const vendors = await loadVendors(demo, book);
  const assessments = await loadImpact(demo, book);
  await loadAi(demo, book, vendors, assessments);
}

async function put<C extends { readonly name: string }, R, A>(
  demo: Demo,
  kind: DossierKind<C, R, A>,
  by: string,
  daysAgo: number,
  content: C,
  record: R,
  steps: readonly (readonly [daysAgo: number, step: string, by: string | null, words: string])[] = [],
): Promise<number> {
  const { tx, ctx } = demo;
  const id = await addDossier(
    tx,
    { ...ctx, now: () => demo.at(daysAgo) },
    kind,
    demo.person(by),
    kind.content.parse(content),
  );
  await tx.run(`UPDATE ${kind.table} SET decided = ? WHERE id = ?`, [
    JSON.stringify(kind.record.parse(record)),
    id,
  ]);
  for (const [ago, step, who, words] of steps)
    await addDossierStep(
      tx,
      demo.at(ago),
      kind.object,
      id,
      step,
      who === null ? null : demo.person(who),
      words,
    );
  return id;
}

async function loadVendors(demo: Demo, book: Book): Promise<ReadonlyMap<string, number>> {
  const ids = new Map<string, number>();
  const [ines, tove] = [demo.person('Ines Abara'), demo.person('Tove Lindqvist')];
  for (const [n, v] of VENDORS.entries()) {
    const links = book.links(v.activities ?? [], v.systems ?? [], v.sites ?? []);
    const content: VendorContent = {
      ...{
        ...NEW_VENDOR,
        name: v.name,
        service: v.service,
        links,
        owner: v.owner,
        hosts: [...(v.hosts ?? [])],
      },
      ...{
        role: v.role ?? 'processor',
        access: v.access ?? 'given',
        country: v.country,
        safeguard: v.safeguard ?? 'none',
      },
      vital: v.vital ?? false,
      contact: v.contact ?? '',
      subprocessors: (v.subprocessors ?? []).map(([name, country, does]) => ({ name, country, does })),
      certificates: (v.certificates ?? []).map(([name, days]) => ({ name, ends: day(demo.at(-days)) })),
      contract: {
        signed: v.stage === 'new' ? '' : day(demo.at(500 + n * 11)),
        ends: v.ends === undefined ? '' : day(demo.at(-v.ends)),
        notice: v.ends === undefined ? 0 : 60,
      },
    };
    const facts = await book.facts(links, content.hosts);
    const { tier } = vendorTier(content, facts);
    const questions = [...questionsFor(SHIPPED_QUESTIONNAIRE, tier)];
    const said = (ago: number, words: string) => ({ by: ines, at: demo.at(ago).toISOString(), words });
    const answers: Record<string, VendorAnswer> = Object.fromEntries(
      questions.map((q, i) => {
        const no = v.lacks?.includes(q.id);
        const partly = !no && (i * 7 + n * 3) % 11 === 0 && !q.must;
        return [
          q.id,
          {
            is: no ? 'no' : partly ? 'partly' : 'yes',
            words: no || partly ? 'Planned for the next half year.' : '',
          },
        ];
      }),
    );
    const asked = {
      ...{
        to: content.contact,
        at: demo.at(60 + n).toISOString(),
        name: SHIPPED_QUESTIONNAIRE.name,
        tier,
        questions,
      },
      until: day(demo.at(v.stage === 'asked' ? -9 : 39 + n)),
      sentAt: v.stage === 'asked' ? null : demo.at(45 + n).toISOString(),
    };
    const clauses = Object.fromEntries(
      clausesFor(content).map((c) => [c.id, { ...said(40 + n, 'read'), there: true }]),
    );
    const record: VendorRecord = {
      ...NO_VENDOR_RECORD,
      ...(v.stage === 'new' ? {} : { asked }),
      ...(v.stage === 'new'
        ? {}
        : {
            answers: v.stage === 'asked' ? Object.fromEntries(Object.entries(answers).slice(0, 7)) : answers,
          }),
      ...(v.stage === 'approved' || v.stage === 'leaving'
        ? {
            clauses,
            accepted: Object.fromEntries(
              (v.lacks ?? []).map((q) => [q, said(38, 'Our own encryption covers it.')]),
            ),
            approval: {
              ...{ ...said(36 + n, ''), by: tove, tier, on: day(demo.at(36 + n)) },
              // One of its trackers came after it was approved.
              marks: vendorMarks(content, {
                ...facts,
                trackers: v.newTracker ? facts.trackers.slice(1) : facts.trackers,
              }).slice(),
            },
          }
        : {}),
      events: (v.events ?? []).map(([kind, ago, words, seen], i) => ({
        ...{ id: i + 1, kind, words, at: demo.at(ago).toISOString() },
        seen: seen === '' ? null : said(ago - 1, seen),
      })),
      exit:
        v.stage === 'leaving'
          ? {
              begun: said(12, 'Another firm does it from the new year.'),
              checks: { people: said(5, 'told on Monday') },
            }
          : null,
    };
    const id = await put(demo, VENDOR, v.by ?? 'Tove Lindqvist', 300 + n, content, record, [
      ...(v.stage === 'new' ? [] : [[60 + n, 'ask', 'Ines Abara', `${questions.length} questions`] as const]),
      ...(asked.sentAt && v.stage !== 'new'
        ? [[45 + n, 'answered', null, `${questions.length} of ${questions.length} answered`] as const]
        : []),
      ...(record.approval ? [[36 + n, 'approve', 'Tove Lindqvist', ''] as const] : []),
    ]);
    ids.set(v.name, id);
    if (v.contract) {
      const bytes = Buffer.from(CONTRACT.replaceAll('{vendor}', v.name), 'utf8');
      const found = JSON.stringify(proposeClauses(bytes.toString()));
      await keepFile(
        demo.tx,
        { ...demo.ctx, now: () => demo.at(41) },
        { object: VENDOR.object, id },
        { what: 'contract', name: `${v.name}, agreement.txt`, bytes, found },
        ines,
      );
    }
  }
  return ids;
}

const risk = (
  what: string,
  harm: string,
  likelihood: number,
  severity: number,
  ...measures: Risk['measures']
): Risk => ({
  ...{ what, harm, likelihood, severity, measures },
});

async function loadImpact(demo: Demo, book: Book): Promise<ReadonlyMap<string, number>> {
  const ids = new Map<string, number>();
  const [ines, tove] = [demo.person('Ines Abara'), demo.person('Tove Lindqvist')];
  const by = (who: number, ago: number) => ({ by: who, at: demo.at(ago).toISOString() });
  const needed = (ago: number, why: string) => ({ ...by(ines, ago), needed: true, why });
  const advice = (ago: number, words: string) => ({ ...by(ines, ago), words, proceed: true });
  const due = (days: number) => day(demo.at(-days));
  const done = (what: string, likelihood: number, severity = 0) => ({
    what,
    likelihood,
    severity,
    done: true,
    due: '' as const,
  });
  const planned = (what: string, likelihood: number, severity: number, days: number) => ({
    ...{ what, likelihood, severity, done: false, due: due(days) },
  });
  const approved = async (ago: number, links: Links, words: string) => ({
    ...{ ...by(tove, ago), words, revision: 0 },
    marks: [...marksOf(await book.facts(links))],
  });
  const add = async (
    who: string,
    ago: number,
    content: Partial<ImpactContent> & { name: string },
    record: Partial<ImpactRecord>,
    steps: Parameters<typeof put>[6] = [],
  ) =>
    ids.set(
      content.name,
      await put(
        demo,
        IMPACT,
        who,
        ago,
        { ...NEW_IMPACT, ...content },
        { ...NO_IMPACT_RECORD, ...record },
        steps,
      ),
    );
  const cameras = book.links(['Car-deck cameras']);
  await add(
    'Tove Lindqvist',
    210,
    {
      ...{
        name: 'Cameras on the car decks',
        links: cameras,
        countries: ['DK', 'SE', 'DE'],
        owner: 'Security officer',
        review: due(150),
      },
      about:
        'Twenty-two cameras film the car decks of five ships from loading to unloading. Plates are read and compared with bookings; pictures are kept for 14 days and looked at after damage or theft.',
      necessity:
        'Damage between cars could not be settled without pictures. A watch by crew was tried on MS Hale for a season and saw one case in nine.',
      views:
        'The union of seafarers was asked, and wants no pictures of crew at rest: the corner at the stairs is masked.',
      risks: [
        risk(
          'Crew are watched at work',
          'pressure, discipline for trifles',
          3,
          3,
          done('The corner at the stairs is masked', 1),
          done('Pictures are opened by two people together', 1),
        ),
        risk(
          'Pictures of children get out',
          'they are found by strangers',
          2,
          4,
          done('Encrypted disks', 1),
          planned('Faces are blurred before pictures are kept', 0, 2, -6),
        ),
      ],
    },
    {
      threshold: needed(205, 'People in an area that is open to passengers are watched on a large scale'),
      advice: advice(190, 'Go on, with the mask and two people'),
      approval: await approved(185, cameras, 'For two years'),
    },
    [
      [205, 'decide', 'Ines Abara', 'needed'],
      [190, 'advise', 'Ines Abara', 'Go on, with the mask and two people'],
      [185, 'approve', 'Tove Lindqvist', 'For two years'],
    ],
  );
  const school = book.links(['School trips'], ['Passenger care']);
  await add(
    'Tove Lindqvist',
    160,
    {
      ...{
        name: 'A portal for school trips',
        links: school,
        countries: ['DK', 'SE'],
        owner: 'Head of care',
        review: due(240),
      },
      about:
        'Teachers send lists of their class with a guardian’s number for each child. The lists are used on board and in port, and deleted a month after the trip.',
      necessity:
        'In an emergency every child has to be accounted for and a guardian reached. Names on paper were lost twice.',
      views: 'Two schools and the parents’ council of Halmsund were asked; they want the lists gone sooner.',
      risks: [
        risk(
          'Lists of children are open to all staff',
          'they are found by strangers',
          3,
          4,
          done('The share is open to passenger care alone', 2),
          done('Lists go after a month', 0, 2),
        ),
      ],
    },
    {
      threshold: needed(150, 'Children, and an emergency service'),
      advice: advice(140, 'Go on'),
      approval: await approved(132, { ...school, systems: [] }, 'Lists go after a month'),
    },
    [[132, 'approve', 'Tove Lindqvist', 'Lists go after a month']],
  );
  const club = book.links(['Saltmiles club', 'Newsletters', 'Advertising'], [], ['booking']);
  await add(
    'Priya Nand',
    40,
    {
      ...{
        name: 'Offers made for each member',
        links: club,
        countries: ['DK', 'SE', 'DE', 'GB'],
        owner: 'Marketing director',
      },
      about:
        'Crossings, pages that were read and purchases on board make a score of what each member may book next; offers and prices follow from it.',
      necessity:
        'Members ask for offers that suit them. Without pages read, the score is nearly as good: to be tried.',
      views: 'A panel of forty members: half find it useful, most did not know that pages are read.',
      risks: [
        risk(
          'Members are priced by what they can pay',
          'they pay more than others',
          3,
          3,
          planned('No price depends on the score', 2, 0, 45),
        ),
        risk(
          'Profiles are made that people do not know of',
          'they are steered',
          4,
          3,
          planned('Only with consent to measurement', 1, 0, 30),
        ),
      ],
    },
    {
      threshold: needed(31, 'Evaluation, on a large scale'),
      advice: advice(6, 'Leave the pages out, or consult the authority'),
    },
    [[6, 'advise', 'Ines Abara', 'Leave the pages out, or consult the authority']],
  );
  const fit = book.links(['Crew certificates', 'Rosters']);
  await add(
    'Osei Darko',
    55,
    {
      ...{
        name: 'An app that tells who is fit for duty',
        links: fit,
        countries: ['DK'],
        owner: 'Crewing manager',
      },
      about:
        'Crew show their medical certificate in an app; the roster takes those whose certificate runs out off watches.',
      necessity:
        'The law of the sea asks for a valid certificate. The app tells yes or no and a date, and nothing of health.',
      views: 'The safety committee agreed on 12 points; its minutes lie in the crew share.',
      risks: [
        risk(
          'Officers read diagnoses',
          'shame, discrimination',
          3,
          4,
          done('The app shows yes or no alone', 2, 1),
        ),
      ],
    },
    {
      threshold: needed(50, 'Health data of staff'),
      advice: advice(9, 'Go on: it shows less than the paper did'),
    },
    [[9, 'advise', 'Ines Abara', 'Go on: it shows less than the paper did']],
  );
  await add(
    'Tove Lindqvist',
    12,
    {
      ...{
        name: 'Boarding by face at Halmsund',
        countries: ['DK'],
        owner: 'Port captain',
        links: book.links(['Boarding and manifests']),
      },
      about:
        'Passengers who wish to may board without papers: a camera with facial recognition, an AI system, compares them with the picture of their passport.',
      answers: {
        biometric: { is: true, why: 'faces are compared' },
        monitoring: { is: false, why: 'only those who stop at the gate' },
      },
    },
    {},
  );
  await add(
    'Priya Nand',
    75,
    {
      ...{ name: 'A page with the timetable of today', countries: ['DK'], owner: 'Head of IT' },
      about: 'A page that shows when ships leave. It knows nothing of who reads it.',
    },
    { threshold: { ...by(ines, 74), needed: false, why: 'No data of people are used.' } },
    [[74, 'decide', 'Ines Abara', 'not needed']],
  );
  return ids;
}

async function loadAi(
  demo: Demo,
  book: Book,
  vendors: ReadonlyMap<string, number>,
  assessments: ReadonlyMap<string, number>,
): Promise<void> {
  const [ines, tove] = [demo.person('Ines Abara'), demo.person('Tove Lindqvist')];
  const said = (by: number, ago: number, words: string) => ({ by, words, at: demo.at(ago).toISOString() });
  const answered = (...yes: readonly string[]) =>
    Object.fromEntries(
      AI_QUESTIONS.map((q) => [q.id, { is: q.id === 'is-ai' || yes.includes(q.id), why: '' }]),
    );
  const life = (...steps: readonly (readonly [AiRecord['life'][number]['stage'], number])[]) =>
    steps.map(([stage, ago]) => ({ ...said(tove, ago, ''), stage, on: day(demo.at(ago)) }));
  const add = async (
    model: string,
    ago: number,
    more: Partial<AiContent> & { name: string },
    record: (content: AiContent, facts: LinkedFacts) => Partial<AiRecord>,
  ) => {
    const found = MODELS.find((m) => m.id === model);
    if (!found) throw new Error(`No model is called ${model}.`);
    const content: AiContent = { ...fromCard(readCard(cardOf(found))), ...more };
    const facts = await book.facts(content.links);
    const decided = { ...NO_AI_RECORD, ...record(content, facts) };
    await put(demo, AI_SYSTEM, 'Tove Lindqvist', ago, content, decided, [
      ...decided.life.map(
        (l) =>
          [(demo.now.getTime() - Date.parse(l.at)) / 86_400_000, 'stage', 'Tove Lindqvist', l.stage] as const,
      ),
    ]);
  };
  const vendor = (name: string) => String(vendors.get(name) ?? '');
  const impact = (name: string) => [assessments.get(name) ?? 0].filter((x) => x > 0).map(String);
  const course = { 'Art. 4': said(ines, 80, 'A morning for all who use it, in March') };
  await add(
    'deckhand-mail',
    240,
    {
      ...{
        name: 'Sorting mail of the terminals',
        purpose: 'give each mail to the desk that answers it',
        owner: 'Head of IT',
        vendor: vendor('Kestrel Text ApS'),
      },
      ...{
        dataIn: 'mail of passengers',
        dataOut: 'one of nine desks',
        people: ['passengers'],
        links: book.links(['Answering mail']),
      },
      ...{
        oversight: 'Each desk gives back what is not theirs; a weekly count shows how much',
        answers: answered('narrow'),
      },
      risks: [
        risk('Mail about health goes to the wrong desk', 'shame', 3, 3, {
          what: 'A word list sends it to care first',
          likelihood: 1,
          severity: 1,
          done: true,
          due: '',
        }),
      ],
      tests: [
        { what: 'Mail in Swedish', on: day(demo.at(200)), result: 'F1 0.71', passed: false },
        {
          what: 'Mail in Swedish',
          on: day(demo.at(170)),
          result: 'F1 0.88 with the new version',
          passed: true,
        },
      ],
    },
    (c, f) => ({
      life: life(['tested', 220], ['used', 160]),
      duties: course,
      approval: { ...said(tove, 162, ''), class: 'minimal', marks: [...aiMarks(c, f)] },
    }),
  );
  await add(
    'plate-reader',
    200,
    {
      ...{
        name: 'Reading plates on the car decks',
        purpose: 'compare cars with bookings',
        owner: 'Security officer',
        vendor: vendor('Lookwell Vision AB'),
      },
      ...{
        dataIn: 'pictures of the deck',
        dataOut: 'plates',
        people: ['passengers', 'drivers'],
        links: book.links(['Car-deck cameras']),
        decides: 'helps' as const,
      },
      ...{
        oversight: 'The deck officer looks at what does not fit',
        answers: answered(),
        assessments: impact('Cameras on the car decks'),
      },
      risks: [risk('A car is taken for another', 'a passenger is stopped', 2, 2)],
      tests: [
        { what: 'Two hundred plates at night', on: day(demo.at(190)), result: '196 right', passed: true },
      ],
    },
    (c, f) => ({
      life: life(['used', 180]),
      duties: course,
      approval: {
        ...said(tove, 182, ''),
        class: 'minimal',
        marks: [...aiMarks(c, f)].filter((m) => !m.id.includes('drivers')),
      },
    }),
  );
  await add(
    'quay-chat',
    35,
    {
      ...{
        name: 'A chat that answers passengers',
        purpose: 'answer questions about sailings, fares and bookings at any hour',
        owner: 'Head of care',
        vendor: vendor('Talkdeck'),
      },
      ...{
        dataIn: 'what passengers write',
        dataOut: 'answers',
        people: ['passengers'],
        links: book.links(['Selling crossings'], [], ['booking']),
        decides: 'helps' as const,
      },
      ...{
        oversight: 'Passenger care reads fifty dialogues a week',
        answers: answered('talks', 'makes-content'),
      },
      risks: [
        risk('It makes up a fare', 'a passenger pays too much', 3, 2, {
          what: 'Fares come from the booking system alone',
          likelihood: 2,
          severity: 0,
          done: false,
          due: day(demo.at(-20)),
        }),
      ],
      tests: [
        {
          what: 'Three hundred questions about fares',
          on: day(demo.at(8)),
          result: '31 answers were made up',
          passed: false,
        },
      ],
    },
    () => ({ life: life(['tested', 20]), duties: course }),
  );
  await add(
    'crew-match',
    9,
    {
      ...{
        name: 'Ranking applicants for posts at sea',
        purpose: 'show whom to talk to first',
        owner: 'Crewing manager',
        people: ['applicants'],
      },
      ...{
        dataIn: 'applications and CVs',
        dataOut: 'a rank',
        links: book.links(['Hiring']),
        answers: { 'is-ai': { is: true, why: '' } },
      },
    },
    () => ({}),
  );
  await add(
    'mood-desk',
    4,
    {
      ...{
        name: 'Moods of those who answer the telephone',
        purpose: 'tell managers who needs a break',
        owner: 'Head of care',
        people: ['staff'],
      },
      answers: {
        'is-ai': { is: true, why: '' },
        'emotion-work': { is: true, why: 'it infers emotions of staff' },
      },
    },
    () => ({}),
  );
}
