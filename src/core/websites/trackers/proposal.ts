import type { PurposeCode } from '../notice/purpose-code.ts';
import type { RanWith } from '../reading/switch-run.ts';
import { CLUES } from './name-clues.ts';
import { isKept, type ObservedTracker, type Sighting } from './tracker.ts';

/** One thing that speaks for a purpose, in words a person can check, with its weight in log-odds. */
export interface Reason {
  readonly purpose: PurposeCode;
  readonly words: string;
  readonly weight: number;
  /** The site on which somebody decided so, where that is what speaks for it. */
  readonly decidedOn?: string;
}

export interface Proposal {
  /** `null` when nothing is likely enough to propose. */
  readonly purpose: PurposeCode | null;
  /** Share of the likelihood, in [0, 1], that falls to the most likely purpose. */
  readonly confidence: number;
  /** The share that falls to Essential, in [0, 1]. */
  readonly essential: number;
  readonly reasons: readonly Reason[];
}

/** Below this share the tracker stays unsorted and a person decides. */
export const PROPOSE_FROM = 0.6;

const CODES = ['essential', 'preferences', 'measurement', 'advertising'] as const;
const PRIOR: Readonly<Record<(typeof CODES)[number], number>> = {
  essential: 0,
  preferences: -0.6,
  measurement: 0,
  advertising: -0.2,
};
const DAY = 86400;

/** What speaks for a purpose besides the tracker itself. */
export interface Background {
  /** Host from which the organisation's own notice comes. */
  readonly own?: string;
  /** What the library says of it. */
  readonly known?: { readonly purpose: PurposeCode; readonly provider: string } | undefined;
  /** What it was decided to be on other sites, each with who decided. */
  readonly decided?: readonly { readonly purpose: PurposeCode; readonly site: string }[];
  /** The purposes that the visitor with a choice of its own allowed. */
  readonly chosen?: readonly string[];
  /** The switches of the site's notice with which it ran. */
  readonly ranWith?: RanWith | undefined;
}

/** What the notice keeps in a visitor's browser: the choice, and choices that are not on record yet. */
const KEPT_BY_NOTICE: Readonly<Record<string, readonly string[]>> = {
  cookie: ['yare_choice', 'yare_tc'],
  'local storage': ['yare_unsent'],
  'session storage': ['yare_left'],
};

/**
 * Proposes a purpose from what was seen: an additive model over names, party, lifetime, value and behaviour, turned
 * into shares by a softmax. Deterministic; the reasons are its terms, strongest first.
 */
export function propose(tracker: ObservedTracker, background: Background = {}): Proposal {
  const reasons = [
    ...backgroundReasons(tracker, background),
    ...nameReasons(tracker),
    ...behaviourReasons(tracker),
    // A switch on alone tells more than a choice of several.
    ...(background.ranWith
      ? switchReasons(background.ranWith)
      : gateReasons(tracker, background.chosen ?? [])),
  ];
  return weigh(reasons);
}

/**
 * Proposes for all trackers of a sweep: as `propose`, and what is left without a purpose follows the company it comes
 * from, where what else that company does here is clear.
 */
export function proposeAll(
  trackers: readonly ObservedTracker[],
  background: (tracker: ObservedTracker) => Background,
): readonly Proposal[] {
  const alone = trackers.map((t) => propose(t, background(t)));
  const votes = new Map<string, Map<PurposeCode, { sum: number; surely: boolean }>>();
  trackers.forEach((t, i) => {
    const { purpose, confidence } = alone[i] as Proposal;
    if (purpose === null || purpose === 'essential') return;
    for (const company of companiesOf(t)) {
      const counts = votes.get(company) ?? new Map<PurposeCode, { sum: number; surely: boolean }>();
      const { sum, surely } = counts.get(purpose) ?? { sum: 0, surely: false };
      counts.set(purpose, { sum: sum + confidence, surely: surely || confidence >= SURELY });
      votes.set(company, counts);
    }
  });
  return trackers.map((t, i) => {
    const first = alone[i] as Proposal;
    // What is likely enough by itself stands, unless something plain is known of the company.
    if (first.purpose === 'essential' || first.confidence >= LIKELY) return first;
    for (const company of companiesOf(t)) {
      const ranked = [...(votes.get(company) ?? [])].toSorted((a, b) => b[1].sum - a[1].sum);
      const [best, second] = ranked;
      if (!best || (second && second[1].sum > best[1].sum * 0.6)) continue;
      if (first.purpose !== null && !best[1].surely) continue;
      const reason: Reason = {
        purpose: best[0],
        weight: best[1].surely ? 2.6 : 1.8,
        words: `What else ${company} does here is for the same`,
      };
      return weigh([...first.reasons, reason]);
    }
    return first;
  });
}

/** From here on a proposal says something of the company behind it, and from here on it needs nothing more to stand. */
const SURELY = 0.95;
const LIKELY = 0.85;

function weigh(reasons: readonly Reason[]): Proposal {
  const codes = [...new Set<PurposeCode>([...CODES, ...reasons.map((r) => r.purpose)])];
  const scores = codes.map((code) =>
    reasons
      .filter((r) => r.purpose === code)
      .reduce((sum, r) => sum + r.weight, PRIOR[code as keyof typeof PRIOR] ?? -0.6),
  );
  const top = Math.max(...scores);
  const odds = scores.map((s) => Math.exp(s - top));
  const total = odds.reduce((sum, o) => sum + o, 0);
  const confidence = 1 / total;
  const best = codes[scores.indexOf(top)] ?? 'essential';
  return {
    purpose: confidence >= PROPOSE_FROM ? best : null,
    confidence,
    essential: (odds[codes.indexOf('essential')] ?? 0) / total,
    reasons: reasons.toSorted((a, b) => Math.abs(b.weight) - Math.abs(a.weight)),
  };
}

/** The other companies behind a tracker: the host it reaches, then those of the scripts that did it. */
function companiesOf(tracker: ObservedTracker): readonly string[] {
  const [sighting] = tracker.sightings;
  const page = hostOf(sighting?.cause[0]?.url ?? '');
  const hosts = [
    ...(sighting?.party === 'third' ? [sighting.alias || tracker.host] : []),
    ...(sighting?.cause ?? []).map((c) => hostOf(c.url)).toReversed(),
  ];
  return [...new Set(hosts.filter((h) => h !== '' && h !== page).map(company))];
}

function company(host: string): string {
  return host.split('.').slice(-2).join('.');
}

/** That somebody decided so about the same tracker on another site. */
export function decidedReason(purpose: PurposeCode, site: string): Reason {
  return { purpose, weight: 7, words: `Decided so on ${site}`, decidedOn: site };
}

function hostOf(url: string): string {
  return URL.canParse(url) ? new URL(url).hostname : '';
}

function backgroundReasons(tracker: ObservedTracker, { own, known, decided = [] }: Background): Reason[] {
  const reasons: Reason[] = [];
  const isChoice =
    KEPT_BY_NOTICE[tracker.kind]?.includes(tracker.name) === true &&
    tracker.sightings.every((s) => s.party === 'first');
  if (isChoice) reasons.push({ purpose: 'essential', weight: 6, words: 'It keeps the visitor’s choice' });
  if (tracker.kind === 'request' && tracker.host === own)
    reasons.push({ purpose: 'essential', weight: 6, words: 'It is the notice’s own service' });
  if (known)
    reasons.push({
      purpose: known.purpose,
      weight: 5,
      words: `The library knows it${known.provider ? `: ${known.provider}` : ''}`,
    });
  const purposes = new Set(decided.map((d) => d.purpose));
  const [elsewhere] = decided;
  if (elsewhere && purposes.size === 1) reasons.push(decidedReason(elsewhere.purpose, elsewhere.site));
  return reasons;
}

/** What a gate that works tells: which choices let it run. */
function gateReasons(tracker: ObservedTracker, chosen: readonly string[]): Reason[] {
  const visitors = new Set(tracker.sightings.map((s) => s.visitor));
  const [only] = chosen;
  if (
    visitors.has('before') ||
    visitors.has('refused') ||
    !visitors.has('accepted') ||
    chosen.length !== 1 ||
    !only
  )
    return [];
  return visitors.has('chosen')
    ? [{ purpose: only, weight: 1.6, words: 'It runs once only this purpose is allowed' }]
    : [{ purpose: only, weight: -1.6, words: 'It does not run though this purpose is allowed' }];
}

/**
 * What the site's own switches tell: a tracker that runs with one on alone, and not with the others, is for what that one
 * is for, whatever it is called. What runs with all of them follows none.
 */
function switchReasons({ with: ran, tried }: RanWith): Reason[] {
  if (ran.length === 0 || (tried > 1 && ran.length === tried)) return [];
  const purposes = new Set(ran.map((s) => s.purpose));
  const [purpose] = purposes;
  if (purposes.size !== 1 || !purpose) return [];
  const names = ran.map((s) => `“${s.words}”`).join(' or ');
  const alone = tried > 1 ? `alone on, and with no other switch of the notice` : 'on';
  return [{ purpose, weight: tried > 1 ? 6 : 3, words: `It ran with ${names} ${alone}` }];
}

function nameReasons(tracker: ObservedTracker): Reason[] {
  const parts = nameParts(tracker.name);
  const hosts = nameParts(tracker.host.split('.').slice(0, -1).join('.'));
  const setters = setterParts(tracker);
  const third = tracker.sightings.some((s) => s.party === 'third');
  return CLUES.flatMap(({ words, purpose, weight, says }): Reason[] => {
    const inName = words.find((w) => parts.includes(w));
    if (inName) return [{ purpose, weight, words: `“${inName}” in its name: ${says}` }];
    const inHost = third ? hostWord(words, hosts) : undefined;
    if (inHost)
      return [{ purpose, weight: weight * 0.7, words: `“${inHost}” in the host it reaches: ${says}` }];
    const inSetter = hostWord(words, setters);
    return inSetter
      ? [
          {
            purpose,
            weight: weight * 0.8,
            words: `“${inSetter}” in the host of the script that sets it: ${says}`,
          },
        ]
      : [];
  });
}

function hostWord(words: readonly string[], parts: readonly string[]): string | undefined {
  return words.find((w) => parts.some((h) => h === w || h.startsWith(w) || (w.length >= 4 && h.endsWith(w))));
}

/** Parts of the host of the script that did it, where that is another host than the page's. */
function setterParts(tracker: ObservedTracker): readonly string[] {
  const cause = tracker.sightings.find((s) => s.cause.length > 0)?.cause ?? [];
  const script = cause.findLast((c) => c.what === 'script' || c.what === 'frame');
  const host = script && URL.canParse(script.url) ? new URL(script.url).hostname : '';
  const page = cause[0] && URL.canParse(cause[0].url) ? new URL(cause[0].url).hostname : '';
  return host === '' || host === page ? [] : nameParts(host.split('.').slice(0, -1).join('.'));
}

function behaviourReasons(tracker: ObservedTracker): Reason[] {
  const reasons: Reason[] = [];
  const add = (purpose: PurposeCode, weight: number, words: string) =>
    reasons.push({ purpose, weight, words });
  const { sightings, kind } = tracker;
  const longest = Math.max(...sightings.map((s) => s.lifetime ?? 0));
  const bits = Math.max(...sightings.map((s) => s.valueBits), 0);
  // What another company's script writes under the site's own name is that company's.
  const third =
    sightings.some((s) => s.party === 'third') ||
    (isKept(kind) && isWrittenByOther(tracker) && !isAnswer(tracker));
  const onlyAllowed =
    sightings.length > 0 && sightings.every((s) => s.visitor === 'accepted' || s.visitor === 'chosen');
  if (isAnswer(tracker))
    add('essential', 3.6, 'It comes with the choice itself, and differs with the answer');
  if (onlyAllowed) add('essential', -1.6, 'It is seen only once everything is allowed');
  if (sightings.some((s) => s.sends.length > 0)) {
    const words = `It carries what is stored as ${[...new Set(sightings.flatMap((s) => s.sends.map((x) => x.name)))].slice(0, 3).join(', ')}`;
    add('measurement', 0.7, words);
    add('advertising', 0.8, words);
    add('essential', -1.2, words);
  }
  if (kind === 'request') return [...reasons, ...requestReasons(tracker)];
  if (kind === 'link decoration' || kind === 'bounce') {
    add('advertising', 2, 'It follows a visitor from one site to another');
    return reasons;
  }
  if (kind === 'fingerprint') {
    add('advertising', 0.8, 'It recognises a device without storing anything');
    add('measurement', 0.5, 'It recognises a device without storing anything');
    add('essential', third ? -0.8 : 0.2, 'Fraud is kept out in this way too, but seldom by another company');
    return reasons;
  }
  if (kind === 'service worker' || kind === 'cache storage')
    add('essential', third ? 0 : 0.5, 'It keeps pages at hand');
  if (third) {
    add('advertising', 0.9, 'Another company sets it');
    add('essential', -0.8, 'Another company sets it');
  }
  if (isIdentifier(bits)) {
    if (longest > 30 * DAY) {
      add(
        'measurement',
        0.8,
        `Its value is different for each visitor and lives ${Math.round(longest / DAY)} days`,
      );
      add(
        'advertising',
        0.6,
        `Its value is different for each visitor and lives ${Math.round(longest / DAY)} days`,
      );
      add('essential', -1.2, 'It recognises a visitor who comes back');
    } else if (longest === 0 && kind === 'cookie' && !third) {
      add('essential', 0.9, 'It ends with the session and only this site reads it');
    }
  } else if (!third && bits > 0 && bits < 24) {
    add('preferences', 0.7, 'Its value is too short to tell visitors apart');
  }
  if (!third && sightings.every((s) => s.setBy === 'http'))
    add('essential', 0.6, 'The site’s own server sets it');
  if ((kind === 'local storage' || kind === 'IndexedDB') && !third)
    add('preferences', 0.3, 'It is kept in this browser only');
  return reasons;
}

/**
 * Whether it keeps the answer itself: stored under the site's own name with the choice and not before, and not the same
 * whatever was answered. What merely begins with an answer is no part of it. The notice may be another company's: what its
 * script keeps has to differ with the answer. Lengths are compared, since an identifier differs between visitors anyway.
 */
function isAnswer(tracker: ObservedTracker): boolean {
  const of = (visitor: string) => tracker.sightings.find((s) => s.visitor === visitor);
  const [refused, accepted] = [of('refused'), of('accepted')];
  if (!isKept(tracker.kind) || !refused || !accepted || of('before') || of('gpc')) return false;
  if (tracker.sightings.some((s) => s.party === 'third')) return false;
  const tells = refused.valueLength !== accepted.valueLength;
  const isShort = !isIdentifier(Math.max(refused.valueBits, accepted.valueBits));
  return tells || (isShort && !isWrittenByOther(tracker));
}

/** Whether the script that wrote it comes from another site than the page. */
function isWrittenByOther({ sightings }: ObservedTracker): boolean {
  const cause = sightings.find((s) => s.cause.length > 0)?.cause ?? [];
  const script = hostOf(cause.findLast((c) => c.what === 'script' || c.what === 'frame')?.url ?? '');
  const page = hostOf(cause[0]?.url ?? '');
  return script !== '' && page !== '' && company(script) !== company(page);
}

function requestReasons(tracker: ObservedTracker): Reason[] {
  const { sightings } = tracker;
  const own =
    sightings.every((s) => s.party === 'first' && s.sends.length === 0) &&
    // What begins with an answer is no part of the site's working.
    sightings.some((s) => s.visitor === 'before' || s.visitor === 'gpc');
  const stays: Reason[] = own
    ? [
        {
          purpose: 'essential',
          weight: 1.5,
          words: 'It stays with the site, and carries nothing that recognises a visitor',
        },
      ]
    : [];
  return [...stays, ...resourceReasons(tracker)];
}

function resourceReasons({ sightings }: ObservedTracker): Reason[] {
  const resource = sightings[0]?.resource ?? '';
  const viaScript = sightings.some((s) => s.setBy === 'script');
  if (resource === 'image' && viaScript)
    return [
      {
        purpose: 'measurement',
        weight: 0.9,
        words: 'A picture that a script asks for, as pixels that count are',
      },
      {
        purpose: 'advertising',
        weight: 0.5,
        words: 'A picture that a script asks for, as pixels that count are',
      },
    ];
  if (resource === 'ping' || resource === 'beacon')
    return [{ purpose: 'measurement', weight: 1.6, words: 'A beacon: it sends and expects no answer' }];
  return [];
}

/** Enough to single out one of some sixteen million visitors. */
export function isIdentifier(bits: number): boolean {
  return bits >= 24;
}

/** Words in a name, none of them read out of what is random: `ad` in `4b91cead` is no word. */
function nameParts(name: string): readonly string[] {
  return name
    .split(/[^A-Za-z0-9]+/)
    .filter((token) => !isRandom(token))
    .join(' ')
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .toLowerCase()
    .split(/[^a-z]+/)
    .filter(Boolean);
}

/** Six or more hexadecimal digits that hold a digit, or letters and digits that change places often. */
function isRandom(token: string): boolean {
  if (/^(?=[a-f]*\d)[0-9a-f]{6,}$/i.test(token)) return true;
  const changes = token.match(/[a-z](?=\d)|\d(?=[a-z])/gi)?.length ?? 0;
  return token.length >= 8 && changes >= 3;
}

export function setByWords(sighting: Pick<Sighting, 'setBy'>): string {
  switch (sighting.setBy) {
    case 'http':
      return 'a response header';
    case 'script':
      return 'a script';
    case 'page':
      return 'the page itself';
  }
}

/**
 * What a switch is for by what runs with it and not with all the others: the purpose that most of it is likely to be for, by
 * all else that is known; `null` where that is not clear. `share` of the likelihoods it has to have, in [0, 1].
 */
export function votedPurpose(
  ranWithIt: readonly ObservedTracker[],
  background: (tracker: ObservedTracker) => Background,
  share = 0.6,
): PurposeCode | null {
  const votes = new Map<PurposeCode, number>();
  for (const tracker of ranWithIt) {
    const { purpose, confidence } = propose(tracker, background(tracker));
    if (purpose !== null && purpose !== 'essential')
      votes.set(purpose, (votes.get(purpose) ?? 0) + confidence);
  }
  const total = [...votes.values()].reduce((sum, n) => sum + n, 0);
  const [best] = [...votes].toSorted((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1));
  return best && best[1] / total >= share ? best[0] : null;
}
