import type { Finding, Verdict } from '../detection/detector/finding.ts';
import type { Step } from '../detection/detector/confidence.ts';
import type { Place } from '../../text/segment.ts';

/** What one detector found in one item. */
export interface GatheredFinding {
  readonly detector: string;
  readonly version: number;
  readonly matches: number;
  readonly distinct: number;
  /** Of the surest match. */
  readonly confidence: number;
  /** The surest matches, at the most `MATCHES_KEPT`; in the order of the text. */
  readonly kept: readonly KeptMatch[];
}

/** A match as it is kept: masked, with where it stands and the sum that made its confidence. */
export interface KeptMatch {
  /** 32 hexadecimal digits; zeros where a detector says it of the whole item. */
  readonly hash: string;
  readonly masked: string;
  readonly confidence: number;
  readonly content: MatchContent;
}

export interface MatchContent {
  readonly place: Place;
  readonly heading?: string;
  readonly steps: readonly Step[];
  /** UTF-16 offsets in the extracted text. */
  readonly start: number;
  readonly end: number;
}

/** Of one detector in one item, more are counted and not kept. */
export const MATCHES_KEPT = 20;

export const WHOLE_ITEM = '0'.repeat(32);

/** Findings by detector, in the order of their ids. Of equal values the surest is kept before any is kept twice. */
export function gatherFindings(findings: readonly Finding[]): readonly GatheredFinding[] {
  const byDetector = new Map<string, Finding[]>();
  for (const f of findings) {
    const known = byDetector.get(f.detector);
    if (known) known.push(f);
    else byDetector.set(f.detector, [f]);
  }
  return [...byDetector]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([detector, found]) => ({
      detector,
      version: found[0]?.version ?? 0,
      matches: found.length,
      distinct: new Set(found.map((f) => f.hash || f.masked)).size,
      confidence: found.reduce((most, f) => Math.max(most, f.confidence), 0),
      kept: surest(found).map(keptOf),
    }));
}

function surest(found: readonly Finding[]): readonly Finding[] {
  if (found.length <= MATCHES_KEPT) return found;
  const seen = new Set<string>();
  const ranked = found
    .toSorted((a, b) => b.confidence - a.confidence || a.start - b.start)
    .map((f) => {
      const again = seen.has(f.hash);
      seen.add(f.hash);
      return { f, again };
    });
  return [...ranked.filter((r) => !r.again), ...ranked.filter((r) => r.again)]
    .slice(0, MATCHES_KEPT)
    .map((r) => r.f)
    .sort((a, b) => a.start - b.start);
}

function keptOf({ hash, masked, confidence, place, heading, steps, start, end }: Finding): KeptMatch {
  return {
    hash: hash || WHOLE_ITEM,
    masked: [...masked].slice(0, 200).join(''),
    confidence,
    content: {
      place,
      ...(heading === undefined ? {} : { heading: heading.slice(0, 200) }),
      steps: steps.slice(0, 40),
      start,
      end,
    },
  };
}

/** The detector that says most surely what kind of document it is, of those that judge whole documents. */
export function documentOf(
  verdicts: readonly Verdict[],
  kinds: ReadonlySet<string>,
): { readonly detector: string; readonly confidence: number } | undefined {
  const [best] = verdicts
    .filter((v) => v.found && kinds.has(v.detector))
    .toSorted((a, b) => b.confidence - a.confidence || (a.detector < b.detector ? -1 : 1));
  return best && { detector: best.detector, confidence: best.confidence };
}
