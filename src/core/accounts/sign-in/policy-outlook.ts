import { demandOn, isHopeless, meets, type Because, type SignInPolicy } from './policy.ts';
import type { Way } from './way.ts';

/** Somebody who can sign in, as far as a policy asks. */
export interface SigningIn {
  readonly id: number;
  readonly roles: readonly string[];
  readonly hasPassword: boolean;
  /** A second factor that is set up. */
  readonly hasCode: boolean;
  readonly hasPasskey: boolean;
  /** Known at a provider that is in use. */
  readonly signsOn: boolean;
  /** How their open sessions began. */
  readonly sessions: readonly Way[];
}

/**
 * What a policy comes to for somebody:
 * `ready`, they have what it takes; `sets up`, they are asked to set up what is missing as they sign in; `cannot`, nothing
 * that they have or can set up will do.
 */
export interface PolicyVerdict {
  readonly id: number;
  readonly verdict: 'ready' | 'sets up' | 'cannot';
  /** What they set up, or what would have to be. */
  readonly missing?: 'second factor' | 'passkey' | 'sign-on' | 'password' | 'anything';
  readonly because: Because;
  /** How many of their sessions would end now. */
  readonly ends: number;
}

/** What a policy would come to, for one person. */
export function policyVerdict(policy: SignInPolicy, who: SigningIn): PolicyVerdict {
  const demand = demandOn(policy, who.roles);
  const { own, signOn, because } = demand;
  const ends = who.sessions.filter((way) => !meets(demand, way)).length;
  const of = (verdict: PolicyVerdict['verdict'], missing?: PolicyVerdict['missing'], by = because.own) => ({
    ...{ id: who.id, verdict, because: by, ends },
    ...(missing === undefined ? {} : { missing }),
  });
  if (isHopeless(demand)) return of('cannot', 'anything', because.signOn);
  if (signOn && who.signsOn) return of('ready');
  if (own === 'none') return of('cannot', 'sign-on');
  if (who.hasPasskey) return of('ready');
  // A passkey does for every way of one's own; the others begin with a password.
  if (!who.hasPassword) return of('cannot', signOn ? 'sign-on' : 'password', because.signOn);
  if (own === 'password') return of('ready');
  if (own === 'passkey') return of('sets up', 'passkey');
  return who.hasCode ? of('ready') : of('sets up', 'second factor');
}
