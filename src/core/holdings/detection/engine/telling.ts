import { confidence, sumOf } from '../detector/confidence.ts';
import type { DetectionResult, Finding, NearMiss, Verdict } from '../detector/finding.ts';
import { comparable, mask } from '../../../text/mask.ts';
import { isKept } from './competition.ts';
import type { Hit } from './hit.ts';
import type { Prepared } from './prepared-detector.ts';

const MOST_NEAR_MISSES = 2000;
const MOST_DISTINCT = 1_000_000;

class Tally {
  findings = 0;
  best = 0;
  readonly distinct = new Set<string>();
  held: Finding[] = [];
}

export interface TellingOptions {
  /** A keyed hash of a value as it is compared. */
  readonly hash?: (value: string) => string;
  /** Findings carry the clear value. */
  readonly reveal?: boolean;
  /** Tell what nearly matched. */
  readonly nearMisses?: boolean;
}

/** Hands on what counts, and adds up what each detector found. */
export class Telling {
  readonly #tallies: Tally[];
  readonly #near: NearMiss[] = [];

  constructor(
    readonly detectors: readonly Prepared[],
    readonly options: TellingOptions,
    readonly found: (finding: Finding) => void,
  ) {
    this.#tallies = detectors.map(() => new Tally());
  }

  tell(h: Hit): void {
    const { of } = h.ready;
    const { hash, reveal, nearMisses } = this.options;
    const kept = h.dropped === '' && isKept(h);
    if (!kept && !nearMisses) return;
    const share = confidence(sumOf(h.steps));
    const key = comparable(h.value);
    // Added to, not spread: this is done for every finding.
    const finding: { -readonly [K in keyof Finding]: Finding[K] } = {
      detector: of.id,
      version: of.version,
      start: h.start,
      end: h.end,
      confidence: share,
      steps: h.steps,
      masked: mask(h.value, of.mask),
      hash: hash ? hash(key) : '',
      place: h.segment?.place ?? {},
    };
    if (h.segment?.heading !== undefined) finding.heading = h.segment.heading;
    if (reveal) finding.value = h.value;
    if (!kept) {
      if (this.#near.length < MOST_NEAR_MISSES)
        this.#near.push({
          ...finding,
          lacked:
            h.dropped ||
            `${Math.round(share * 100)}% is below the ${Math.round(of.keepFrom * 100)}% it asks for`,
        });
      return;
    }
    const tally = this.#tallies[h.ready.index] as Tally;
    tally.findings++;
    tally.best = Math.max(tally.best, share);
    if (tally.distinct.size < MOST_DISTINCT) tally.distinct.add(finding.hash || key);
    if (tally.distinct.size < of.atLeast) {
      tally.held.push(finding);
      return;
    }
    for (const held of tally.held) this.found(held);
    tally.held = [];
    this.found(finding);
  }

  end(): Omit<DetectionResult, 'findings' | 'stopped'> {
    const verdicts: Verdict[] = [];
    for (const [i, tally] of this.#tallies.entries()) {
      const { of } = this.detectors[i] as Prepared;
      if (tally.findings === 0) continue;
      const found = tally.distinct.size >= of.atLeast;
      const why = found ? '' : `${tally.distinct.size} distinct, and it asks for ${of.atLeast}`;
      verdicts.push({
        detector: of.id,
        version: of.version,
        found,
        findings: tally.findings,
        distinct: tally.distinct.size,
        confidence: tally.best,
        why,
      });
    }
    return { nearMisses: this.#near, verdicts };
  }
}
