import { z } from 'zod';
import type { Vocabulary } from '../../rules/change.ts';
import { OWN_WAYS, OWN_WAY_WORDS, strictness, type OwnWay, type Way } from './way.ts';

/** What is asked of whoever signs in. */
export const Demand = z
  .strictObject({
    /** The least that will do of what is one's own: a stricter one always does. */
    own: z.enum(OWN_WAYS),
    /** Whether signing on through a provider will do. */
    signOn: z.boolean(),
    /** A session ends after so long unused. */
    idleMinutes: z.int().min(5, '5 minutes at least').max(10_080, '7 days at most'),
    /** And after so long whatever happens. */
    mostHours: z.int().min(1, 'An hour at least').max(720, '30 days at most'),
  })
  .refine(({ own, signOn }) => own !== 'none' || signOn, {
    path: ['own'],
    error: 'Nobody could sign in: let sign-on do, or something of their own.',
  })
  .refine(({ idleMinutes, mostHours }) => idleMinutes <= mostHours * 60, {
    path: ['idleMinutes'],
    error: 'Unused it cannot last longer than at all.',
  });
export type Demand = z.infer<typeof Demand>;

/** What is asked of everybody, and what more of those who hold a role; of several, the strictest of each. */
export const SignInPolicy = z.strictObject({
  all: Demand,
  roles: z
    .record(z.string().min(1).max(40), Demand)
    .refine((r) => Object.keys(r).length <= 100, '100 at most'),
});
export type SignInPolicy = z.infer<typeof SignInPolicy>;

export const USUAL_DEMAND: Demand = { own: 'password', signOn: true, idleMinutes: 480, mostHours: 168 };
export const USUAL_POLICY: SignInPolicy = { all: USUAL_DEMAND, roles: {} };

/** Which part of the policy asks for it: a role, or what holds for all. */
export type Because = { readonly role: string } | 'all';

export interface DemandOn extends Demand {
  readonly because: Readonly<Record<keyof Demand, Because>>;
}

/** What is asked of somebody with these roles (ids): of each part, the strictest, and which says so. */
export function demandOn({ all, roles }: SignInPolicy, held: readonly string[]): DemandOn {
  const parts = held.flatMap((role): readonly (readonly [Because, Demand])[] => {
    const demand = Object.hasOwn(roles, role) ? roles[role] : undefined;
    return demand ? [[{ role }, demand]] : [];
  });
  const strictest = <K extends keyof Demand>(part: K, isStricter: (a: Demand[K], b: Demand[K]) => boolean) =>
    parts.reduce<readonly [Because, Demand[K]]>(
      ([because, value], [by, demand]) =>
        isStricter(demand[part], value) ? [by, demand[part]] : [because, value],
      ['all', all[part]],
    );
  const own = strictest('own', (a, b) => strictness(a) > strictness(b));
  const signOn = strictest('signOn', (a, b) => !a && b);
  const idleMinutes = strictest('idleMinutes', (a, b) => a < b);
  const mostHours = strictest('mostHours', (a, b) => a < b);
  return {
    ...{ own: own[1], signOn: signOn[1], idleMinutes: idleMinutes[1], mostHours: mostHours[1] },
    because: { own: own[0], signOn: signOn[0], idleMinutes: idleMinutes[0], mostHours: mostHours[0] },
  };
}

/** Whether somebody who came this way did what is asked. */
export function meets({ own, signOn }: Pick<Demand, 'own' | 'signOn'>, way: Way): boolean {
  return way === 'sign-on' ? signOn : own !== 'none' && strictness(way) >= strictness(own);
}

/** Nobody of whom this is asked can sign in: one role wants sign-on alone, another will not have it. */
export function isHopeless({ own, signOn }: Pick<Demand, 'own' | 'signOn'>): boolean {
  return own === 'none' && !signOn;
}

export function policyVocabulary(roleName: (id: string) => string): Vocabulary {
  return {
    path: ([first, second, third]) => {
      const part = first === 'roles' ? third : second;
      const whose = first === 'roles' ? roleName(String(second)) : 'Everybody';
      return part === undefined ? whose : `${whose}: ${PART_WORDS[part as keyof Demand] ?? String(part)}`;
    },
    value: (value, path) => {
      const part = path.at(-1);
      if (part === 'own') return OWN_WAY_WORDS[value as OwnWay];
      if (part === 'signOn') return value ? 'does' : 'does not';
      if (typeof value === 'object' && value !== null) return demandWords(value as Demand);
      return undefined;
    },
  };
}

const PART_WORDS: Readonly<Record<keyof Demand, string>> = {
  own: 'sign in with',
  signOn: 'sign-on',
  idleMinutes: 'minutes unused',
  mostHours: 'hours at most',
};

export function demandWords({ own, signOn, idleMinutes, mostHours }: Demand): string {
  const ways = own === 'none' ? 'sign-on alone' : `${OWN_WAY_WORDS[own]}${signOn ? ' or sign-on' : ''}`;
  return `${ways}, ${idleMinutes} minutes unused, ${mostHours} hours at most`;
}
