import { z } from 'zod';
import type { Refusal } from '../../refusal.ts';
import type { RegimeRow } from '../notice/regime.ts';
import { EEA } from '../../eea.ts';
import { regimeOf } from '../notice/regime.ts';
import { PurposeCode } from '../notice/purpose-code.ts';
import { askedPurposes, CONSENT_ONLY, RESTRICTIONS, type Restriction } from './tcf-purposes.ts';
import type { VendorList } from './vendor-list.ts';

/** How legitimate interests begin. */
export const INTERESTS = ['off', 'on'] as const;
export type Interests = (typeof INTERESTS)[number];
export const INTEREST_WORDS: Readonly<Record<Interests, string>> = {
  off: 'do not stand before somebody allows them',
  on: 'stand until somebody objects',
};

const PurposeNumber = z.int().min(1).max(11);

/** How a site takes part in the Transparency and Consent Framework, version 2.2. */
export const TcfSettings = z.strictObject({
  /** As whoever runs the notice is registered with the framework. */
  cmpId: z.int().min(2, 'Give the number of your registration, from 2').max(4095, 'At most 4095'),
  publisherCountry: z.string().regex(/^[A-Z]{2}$/, 'Two capital letters, such as DK'),
  vendors: z.array(z.int().positive().max(65_535)).min(1, 'Choose at least one vendor').max(1500),
  /** Which purposes of the framework are asked for with each of one’s own. */
  covers: z.record(PurposeCode, z.array(PurposeNumber)),
  /** By the number of a purpose; those not said are as declared. */
  restrictions: z.record(z.string().regex(/^([1-9]|1[01])$/), z.enum(RESTRICTIONS)),
  interests: z.enum(INTERESTS),
});
export type TcfSettings = z.infer<typeof TcfSettings>;

/** What is begun with: nothing stands by itself. */
export function firstTcf(vendors: readonly number[], purposes: readonly string[]): TcfSettings {
  const covers: Record<string, number[]> = {};
  const usual: Readonly<Record<string, readonly number[]>> = {
    preferences: [5, 6, 11],
    measurement: [8, 9, 10],
    advertising: [1, 2, 3, 4, 7],
  };
  for (const code of purposes) covers[code] = [...(usual[code] ?? [])];
  return {
    ...{ cmpId: 2, publisherCountry: 'DK', covers, restrictions: {}, interests: 'off' },
    vendors: vendors.slice(0, 1500),
  };
}

/** Where the framework applies: where the GDPR or its likes do, and the law asks. */
export function tcfApplies(region: string, regimes?: readonly RegimeRow[]): boolean {
  const country = region.slice(0, 2);
  return (
    (EEA.includes(country) || country === 'GB' || country === 'CH' || country === 'ZZ') &&
    regimeOf(region, regimes).regime !== 'nothing'
  );
}

/** Regions of the framework whose law asks first, in words; empty where none does. */
export function askFirstRegions(regimes: readonly RegimeRow[]): readonly string[] {
  return ['EEA', 'GB', 'CH'].filter((code) => {
    const region = code === 'EEA' ? 'DK' : code;
    return regimeOf(region, regimes).regime === 'ask first';
  });
}

/** Why interests may not stand by themselves; `undefined` where they may. */
export function whyNotOn(regimes: readonly RegimeRow[]): string | undefined {
  const regions = askFirstRegions(regimes);
  return regions.length === 0
    ? undefined
    : `In ${regions.join(' and ')} the law asks first: nothing but the essential may begin before an answer (Directive 2002/58/EC, art. 5(3)), so an interest cannot stand until somebody objects.`;
}

/** Why a purpose may not be restricted so; `undefined` where it may. */
export function whyNotRestricted(purpose: number, restriction: Restriction): string | undefined {
  return restriction === 'interest only' && CONSENT_ONLY.includes(purpose)
    ? `Purpose ${purpose} rests on consent alone, by the framework’s policies and GDPR, art. 6(1)(a).`
    : undefined;
}

/** What keeps settings from being put in force. */
export function tcfFaults(
  settings: TcfSettings,
  asked: readonly string[],
  list: VendorList,
  regimes: readonly RegimeRow[],
): Refusal['fields'] {
  const faults = Object.entries(settings.restrictions).flatMap(
    ([p, r]) => whyNotRestricted(Number(p), r) ?? [],
  );
  if (settings.interests === 'on') faults.push(...[whyNotOn(regimes)].filter((w) => w !== undefined));
  const gone = settings.vendors.filter(
    (id) => list.vendors[id]?.deletedDate !== undefined || !list.vendors[id],
  );
  if (gone.length > 0)
    faults.push(
      `The vendor list has no vendor ${gone.slice(0, 5).join(', ')}${gone.length > 5 ? ' …' : ''}: take ${gone.length === 1 ? 'it' : 'them'} out.`,
    );
  if (askedPurposes(settings, asked).length === 0)
    faults.push('No purpose of the framework is asked for: say which go with your own.');
  return faults.map((message) => ({ field: 'tcf', message }));
}
