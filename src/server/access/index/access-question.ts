import { firmReach, heldReach, type FirmReach, type HeldReach } from './held-answers.ts';
import type { AccessChange } from '../../../core/access/change/access-change.ts';
import type { Exposure } from '../../../core/access/breadth/breadth.ts';
import type { HandsRule, HandsSide } from '../../../core/access/hands/hands-rule.ts';
import type { PeopleWish } from '../../../core/access/views/people-at.ts';
import type { Strength } from '../../../core/access/reach/strength.ts';
import {
  composed,
  handsSide,
  handsView,
  rehearsalView,
  type ChangeWish,
  type Composed,
  type HandsView,
  type RehearsalView,
} from './change-answers.ts';
import { findingsOf, regionsOf, type NamedFinding, type Region } from './breadth-answers.ts';
import type { GrantLine, LinkLine } from '../../../core/access/estate/estate-line.ts';
import {
  linesToReview,
  type ReviewWish,
  reviewFacts,
  type ReviewedLine,
  type ReviewFacts,
} from './review-answers.ts';
import type { EstateView } from './estate-index.ts';
import { countsOf, type EstateCounts } from './estate-counts.ts';
import {
  listPrincipals,
  principalView,
  reachedPlaces,
  type ListedPrincipal,
  type PeopleKind,
  type PrincipalView,
  type ReachedRow,
} from './person-answers.ts';
import {
  differingBelow,
  grantsAt,
  pairView,
  placesBelow,
  placeView,
  principal,
  whoIsAt,
  type GrantView,
  type PairView,
  type PersonAt,
  type PlaceNode,
  type PlaceView,
  type Principal,
} from './place-answers.ts';
import {
  placesDiffer,
  lineSources,
  searchPlaces,
  trailsOf,
  whoDiffers,
  type FoundPlace,
  type PlacesDiffer,
  type Trail,
  type WhoDiffers,
} from './search-answers.ts';

/** What can be asked of the estate: by its name what is said, and what comes back. */
export interface AccessQuestions {
  counts: { readonly say: object; readonly answer: EstateCounts };
  below: {
    readonly say: { readonly key: string | null; readonly person?: string | undefined };
    readonly answer: readonly PlaceNode[];
  };
  place: { readonly say: { readonly key: string }; readonly answer: PlaceView };
  who: {
    readonly say: {
      readonly key: string;
      readonly wish: PeopleWish;
      readonly from: number;
      readonly size: number;
    };
    readonly answer: { readonly rows: readonly PersonAt[]; readonly total: number };
  };
  pair: { readonly say: { readonly person: string; readonly place: string }; readonly answer: PairView };
  grants: { readonly say: { readonly key: string }; readonly answer: readonly GrantView[] };
  differing: {
    readonly say: { readonly key: string; readonly from: number; readonly size: number };
    readonly answer: ReturnType<typeof differingBelow>;
  };
  principals: {
    readonly say: {
      readonly text: string;
      readonly kind?: PeopleKind | undefined;
      readonly from: number;
      readonly size: number;
    };
    readonly answer: { readonly rows: readonly ListedPrincipal[]; readonly total: number };
  };
  principal: { readonly say: { readonly key: string }; readonly answer: PrincipalView };
  reached: {
    readonly say: {
      readonly key: string;
      readonly text: string;
      readonly strength?: Strength | undefined;
      readonly from: number;
      readonly size: number;
    };
    readonly answer: { readonly rows: readonly ReachedRow[]; readonly next: number | null };
  };
  search: {
    readonly say: { readonly text: string; readonly size: number };
    readonly answer: readonly FoundPlace[];
  };
  held: { readonly say: { readonly lies: readonly string[] }; readonly answer: readonly HeldReach[] };
  firm: { readonly say: { readonly domains: readonly string[] }; readonly answer: FirmReach };
  'line sources': {
    readonly say: { readonly source: number };
    readonly answer: readonly string[];
  };
  trails: { readonly say: { readonly ids: readonly string[] }; readonly answer: readonly (Trail | null)[] };
  named: { readonly say: { readonly ids: readonly string[] }; readonly answer: readonly Principal[] };
  differs: {
    readonly say: { readonly key: string; readonly with: string };
    readonly answer: WhoDiffers;
  };
  'places differ': {
    readonly say: { readonly key: string; readonly with: string };
    readonly answer: PlacesDiffer;
  };
  compose: { readonly say: { readonly wish: ChangeWish }; readonly answer: Composed };
  rehearse: {
    readonly say: { readonly steps: AccessChange; readonly hands?: readonly HandsRule[] };
    readonly answer: RehearsalView;
  };
  hands: {
    readonly say: { readonly rules: readonly (HandsRule & { readonly id: number })[] };
    readonly answer: readonly HandsView[];
  };
  'hands side': { readonly say: { readonly side: HandsSide }; readonly answer: HandsSide };
  review: {
    readonly say: ReviewWish;
    readonly answer: readonly ReviewedLine[];
  };
  reviewed: {
    readonly say: { readonly lines: readonly (GrantLine | LinkLine)[] };
    readonly answer: readonly ReviewFacts[];
  };
  regions: {
    readonly say: object;
    readonly answer: { readonly revision: number; readonly regions: readonly Region[] };
  };
  findings: {
    readonly say: { readonly exposures: readonly (readonly [number, Exposure])[] };
    readonly answer: readonly NamedFinding[];
  };
}
export type AccessAsk = keyof AccessQuestions;

/** What is asked; of a past day where one is named. */
export type AccessQuestion<A extends AccessAsk = AccessAsk> = {
  [K in A]: {
    readonly ask: K;
    readonly say: AccessQuestions[K]['say'];
    readonly today: string;
    readonly on?: string | undefined;
  };
}[A];

export function answerOf(view: EstateView, { ask, say }: AccessQuestion, then?: EstateView): unknown {
  switch (ask) {
    case 'counts':
      return countsOf(view);
    case 'below':
      return placesBelow(
        view,
        say.key,
        say.person === undefined ? undefined : view.principals.get(say.person),
      );
    case 'place':
      return placeView(view, say.key);
    case 'who':
      return whoIsAt(view, say);
    case 'pair':
      return pairView(view, say.person, say.place);
    case 'grants':
      return grantsAt(view, say.key);
    case 'differing':
      return differingBelow(view, say);
    case 'principals':
      return listPrincipals(view, say);
    case 'principal':
      return principalView(view, say.key);
    case 'reached':
      return reachedPlaces(view, say);
    case 'search':
      return searchPlaces(view, say.text, say.size);
    case 'held':
      return heldReach(view, say.lies);
    case 'firm':
      return firmReach(view, say.domains);
    case 'line sources':
      return lineSources(view, say.source);
    case 'trails':
      return trailsOf(view, say.ids);
    case 'named':
      return say.ids.map((id) => principal(view, id));
    case 'differs':
      return whoDiffers(view, then ?? view, say.key);
    case 'places differ':
      return placesDiffer(view, then ?? view, say.key);
    case 'compose':
      return composed(view, say.wish);
    case 'rehearse':
      return rehearsalView(view, say.steps, say.hands);
    case 'hands':
      return handsView(view, say.rules);
    case 'hands side':
      return handsSide(view, say.side);
    case 'review':
      return linesToReview(view, say);
    case 'reviewed':
      return reviewFacts(view, say.lines);
    case 'regions':
      return regionsOf(view);
    case 'findings':
      return findingsOf(view, say.exposures);
  }
}
