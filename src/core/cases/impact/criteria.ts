import { listedWords } from '../../text/listed-words.ts';
import { isSpecial } from '../linked/gravity.ts';
import type { LinkedFacts } from '../linked/linked.ts';

/**
 * The nine criteria of the guidelines on impact assessments (Article 29 Working Party, WP 248 rev.01, III.B.a), and what
 * lists of the authorities ask for besides.
 */
export const CRITERIA = {
  evaluation: 'people are evaluated or scored',
  automated: 'decisions with legal or similar effect are automated',
  monitoring: 'people are watched systematically',
  sensitive: 'sensitive or very personal data',
  'large scale': 'on a large scale',
  combining: 'sets of data are matched or combined',
  vulnerable: 'vulnerable people, such as children or staff',
  innovative: 'new technology, or technology used in a new way',
  blocking: 'people can be kept from a right, a service or a contract',
} as const;
export type Criterion = keyof typeof CRITERIA;

export const FEATURES = {
  special: 'special categories or offences (Art. 9 and 10)',
  biometric: 'biometric data',
  genetic: 'genetic data',
  location: 'where people are',
  staff: 'people who work here',
  children: 'children',
  'public area': 'an area that everybody may enter',
  unseen: 'data that did not come from the people',
  bodily: 'harm to somebody’s body if it goes wrong',
  intelligence: 'artificial intelligence',
} as const;
export type Feature = keyof typeof FEATURES;

/** All that is asked before it is known whether an assessment is needed. */
export const QUESTIONS = { ...CRITERIA, ...FEATURES };
export type Question = Criterion | Feature;
export const QUESTION_IDS = Object.keys(QUESTIONS) as [Question, ...Question[]];

export interface Proposed {
  readonly is: boolean;
  readonly because: string;
}

/** From so many people on it is proposed to be on a large scale. The law names no number; the guidelines (WP 248) none either. */
export const LARGE_SCALE = 10_000;

const WORDS: Partial<Readonly<Record<Question, RegExp>>> = {
  evaluation:
    /\b(?:profil\w*|scor\w+|segment\w*|rating\w*|rank\w*|evaluat\w*|loyalty|predict\w*|bewert\w*|vurder\w*|bedöm\w*)/iu,
  automated: /\b(?:automat\w*|algorithm\w*|robot\w*)/iu,
  monitoring:
    /\b(?:cctv|camera\w*|monitor\w*|track\w*|surveil\w*|überwach\w*|overvåg\w*|övervak\w*|kamera\w*)/iu,
  combining: /\b(?:match\w*|combin\w*|enrich\w*|merg\w+|samkør\w*|samkör\w*|abgleich\w*)/iu,
  innovative:
    /\b(?:biometr\w*|facial|face recognition|machine learning|artificial intelligence|ai|neural|künstliche intelligenz)\b/iu,
  intelligence: /\b(?:AI|machine learning|artificial intelligence|language model|neural)\b/u,
  blocking:
    /\b(?:refus\w*|den(?:y|ies|ial)|eligib\w*|credit\w*|blacklist\w*|block list|boarding decision\w*)/iu,
  'public area': /\b(?:public|deck\w*|terminal\w*|station\w*|street\w*)\b/iu,
  bodily: /\b(?:emergency|safety|medical aid|fit for duty|rescue)\b/iu,
};
const CHILDREN = /\b(?:child\w*|kids?|pupils?|minors?|students?|barn|børn|kinder|schüler\w*|elev\w*)\b/iu;
const STAFF =
  /\b(?:staff|employees?|crew|workers?|applicants?|ansatte|medarbejdere|anställda|beschäftigte|mitarbeiter\w*)\b/iu;
const WEAK = /\b(?:patients?|elderly|asylum|disabled|refugees?)\b/iu;

/** Beside what is grave: what the guidelines call very personal. */
const PERSONAL = new Set(['finance', 'credential']);

/** What is proposed for each question from what the plan is linked to, with the reason. `text` is what was written of it. */
export function proposeAnswers(facts: LinkedFacts, text: string): Readonly<Record<Question, Proposed>> {
  const words = [
    text,
    ...facts.activities.flatMap((a) => [a.name, a.purpose]),
    ...facts.systems.map((s) => s.name),
  ].join('\n');
  const said = (q: Question): Proposed => {
    const hit = WORDS[q]?.exec(words)?.[0];
    return hit === undefined
      ? no(`nothing that is known speaks of it`)
      : yes(`“${hit}” stands in what is said of it`);
  };
  const kinds = (test: (d: LinkedFacts['data'][number]) => boolean) =>
    listedWords(facts.data.filter(test).map((d) => d.name));
  const people = (test: RegExp) => listedWords(facts.people.filter((p) => test.test(p)));
  const ads = [...new Set(facts.trackers.filter((t) => /advert/i.test(t.purpose ?? '')).map((t) => t.host))];
  const hosts = [...new Set(facts.trackers.map((t) => t.host))];
  const special = kinds(isSpecial);
  const sensitive = kinds(
    (d) => isSpecial(d) || d.category === 'child' || PERSONAL.has(d.category) || d.detector === 'coordinates',
  );
  const children = people(CHILDREN) || kinds((d) => d.category === 'child');
  const staff = people(STAFF);
  const weak = listedWords([children, staff, people(WEAK)].filter(Boolean));
  const machines = listedWords(facts.machines.map((m) => m.name));
  const or = (first: string, then: Proposed) => (first === '' ? then : yes(first));
  return {
    evaluation: or(
      ads.length === 0 ? '' : `${listedWords(ads)} make profiles of visitors`,
      said('evaluation'),
    ),
    automated: or(
      listedWords(facts.machines.filter((m) => m.decides).map((m) => `${m.name} decides by itself`)),
      said('automated'),
    ),
    monitoring: or(
      hosts.length === 0 ? '' : `${listedWords(hosts)} follow visitors over pages`,
      said('monitoring'),
    ),
    sensitive: sensitive === '' ? no('no such kind of data is recorded or was found') : yes(sensitive),
    'large scale':
      facts.count === null
        ? no('nothing of it was surveyed: say how many people it is about')
        : facts.count >= LARGE_SCALE
          ? yes(`${facts.count.toLocaleString('en-GB')} people were found`)
          : no(
              `${facts.count.toLocaleString('en-GB')} people were found, fewer than ${LARGE_SCALE.toLocaleString('en-GB')}`,
            ),
    combining:
      facts.activities.length > 1
        ? yes(`data of ${facts.activities.length} activities come together`)
        : said('combining'),
    vulnerable: weak === '' ? no('no such people are recorded') : yes(weak),
    innovative: or(machines, said('innovative')),
    blocking: said('blocking'),
    special: special === '' ? no('no such kind of data is recorded or was found') : yes(special),
    biometric: or(
      kinds((d) => d.detector === 'biometric-data'),
      no('no such data is recorded or was found'),
    ),
    genetic: or(
      kinds((d) => d.detector === 'genetic-data'),
      no('no such data is recorded or was found'),
    ),
    location: or(
      kinds((d) => d.detector === 'coordinates'),
      no('no such data is recorded or was found'),
    ),
    staff: staff === '' ? no('no such people are recorded') : yes(staff),
    children: children === '' ? no('no such people are recorded') : yes(children),
    'public area': said('public area'),
    unseen: no('nothing that is known speaks of it'),
    bodily: said('bodily'),
    intelligence: or(machines, said('intelligence')),
  };
}

const yes = (because: string): Proposed => ({ is: true, because });
const no = (because: string): Proposed => ({ is: false, because });
