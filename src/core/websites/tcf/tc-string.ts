import {
  GVL,
  PurposeRestriction,
  RestrictionType,
  TCModel,
  TCString,
  type VendorList as Gvl,
} from '@iabtcf/core';
import { restrictionOf, TCF_PURPOSES } from './tcf-purposes.ts';
import type { TcfSettings } from './tcf-settings.ts';
import { NOTHING_CHOSEN, tcOffer, withinOffer, type TcChoice, type TcOffer } from './tc-offer.ts';
import { narrowList } from './narrow-list.ts';
import type { VendorList } from './vendor-list.ts';

const CMP_VERSION = 1;
/** The notice itself. */
const SCREEN = { first: 1, second: 2 } as const;

export interface TcMade {
  readonly list: VendorList;
  readonly settings: TcfSettings;
  /** Own purposes that the notice asks for. */
  readonly asked: readonly string[];
  readonly choice: TcChoice;
  readonly layer: keyof typeof SCREEN;
  readonly at: Date;
}

const TYPES = {
  never: RestrictionType.NOT_ALLOWED,
  'consent only': RestrictionType.REQUIRE_CONSENT,
  'interest only': RestrictionType.REQUIRE_LI,
} as const;

/** A TC string of the framework’s version 2.2, for this service alone; written by the standard’s reference library. */
export function tcString({ list, settings, asked, choice, layer, at }: TcMade): string {
  const offer = tcOffer(list, settings, asked);
  const chosen = withinOffer(offer, choice);
  const model = new TCModel(gvlOf(list, settings.vendors));
  model.cmpId = settings.cmpId;
  model.cmpVersion = CMP_VERSION;
  model.consentScreen = SCREEN[layer];
  model.isServiceSpecific = true;
  model.publisherCountryCode = settings.publisherCountry;
  model.purposeOneTreatment = false;
  model.purposeConsents.set([...chosen.purposes]);
  model.purposeLegitimateInterests.set([...chosen.interests]);
  model.specialFeatureOptins.set([...chosen.specialFeatures]);
  model.vendorConsents.set([...chosen.vendors]);
  model.vendorLegitimateInterests.set([...chosen.vendorInterests]);
  for (const purpose of TCF_PURPOSES) {
    const restriction = restrictionOf(settings, purpose);
    if (restriction === 'as declared') continue;
    const said = new PurposeRestriction(purpose, TYPES[restriction]);
    for (const { id } of offer.vendors) model.publisherRestrictions.add(id, said);
  }
  // The framework has days, no times: what is finer would tell visitors apart.
  const day = new Date(Date.UTC(at.getUTCFullYear(), at.getUTCMonth(), at.getUTCDate()));
  model.created = day;
  model.lastUpdated = day;
  return TCString.encode(model);
}

/** The library sets its own clock where the list changes, and takes the standard’s form of it. */
function gvlOf(list: VendorList, vendors: readonly number[]): GVL {
  return new GVL(narrowList(list, vendors) as unknown as Gvl);
}

/** What a TC string says, read by the standard’s reference library. */
export interface ReadTc extends TcChoice {
  readonly cmpId: number;
  readonly listVersion: number;
  readonly policyVersion: number;
  readonly serviceSpecific: boolean;
  readonly publisherCountry: string;
  /** Of the vendor list that was shown. */
  readonly language: string;
  readonly restrictions: readonly { readonly purpose: number; readonly type: number }[];
  /** ISO 8601 day of the last choice. */
  readonly day: string;
}

/** `undefined` for what is no TC string. */
export function readTc(text: string): ReadTc | undefined {
  if (!/^[\w.-]{20,8000}$/.test(text)) return undefined;
  try {
    const model = TCString.decode(text);
    const ids = (vector: { forEach(f: (has: boolean, id: number) => void): void }) => {
      const set: number[] = [];
      vector.forEach((has, id) => has && set.push(id));
      return set;
    };
    return {
      cmpId: Number(model.cmpId),
      listVersion: Number(model.vendorListVersion),
      policyVersion: Number(model.policyVersion),
      serviceSpecific: model.isServiceSpecific,
      publisherCountry: model.publisherCountryCode,
      language: model.consentLanguage.toLowerCase(),
      purposes: ids(model.purposeConsents),
      interests: ids(model.purposeLegitimateInterests),
      specialFeatures: ids(model.specialFeatureOptins),
      vendors: ids(model.vendorConsents),
      vendorInterests: ids(model.vendorLegitimateInterests),
      restrictions: model.publisherRestrictions
        .getRestrictions()
        .map((r) => ({ purpose: r.purposeId ?? 0, type: r.restrictionType }))
        .toSorted((a, b) => a.purpose - b.purpose),
      day: model.lastUpdated.toISOString().slice(0, 10),
    };
  } catch {
    return undefined;
  }
}

/** Judges what came as somebody’s choice: no faults where it could have been made here. */
export type TcJudge = (text: string, allowed: readonly string[]) => readonly string[];

/** The judge of one notice; what all its strings have in common is worked out once. */
export function tcJudge({ list, settings, asked }: Pick<TcMade, 'list' | 'settings' | 'asked'>): TcJudge {
  const offer: TcOffer = tcOffer(list, settings, asked);
  const any = tcString({ list, settings, asked, choice: NOTHING_CHOSEN, layer: 'first', at: new Date(0) });
  const restrictions = JSON.stringify(readTc(any)?.restrictions);
  return (text, allowed) => {
    const read = readTc(text);
    return read ? faultsOf(read, { offer, settings, restrictions }, allowed) : ['This is no TC string.'];
  };
}

function faultsOf(
  read: ReadTc,
  {
    offer,
    settings,
    restrictions,
  }: { offer: TcOffer; settings: TcfSettings; restrictions: string | undefined },
  allowed: readonly string[],
): readonly string[] {
  const faults: string[] = [];
  if (read.cmpId !== settings.cmpId) faults.push(`It is of CMP ${read.cmpId}, and not ${settings.cmpId}.`);
  if (!read.serviceSpecific) faults.push('It is not for this service alone.');
  if (read.publisherCountry !== settings.publisherCountry)
    faults.push(`It names ${read.publisherCountry} as the publisher’s country.`);
  const kept = withinOffer(offer, read);
  for (const [name, words] of Object.entries(PARTS))
    if (kept[name as keyof TcChoice].length !== read[name as keyof TcChoice].length)
      faults.push(`It has ${words} that nobody was asked for.`);
  if (JSON.stringify(read.restrictions) !== restrictions)
    faults.push('Its publisher restrictions are not those of this site.');
  const open = (p: number) => allowed.some((code) => settings.covers[code]?.includes(p));
  if (read.purposes.some((p) => !open(p))) faults.push('It allows a purpose that the choice does not.');
  return faults;
}

const PARTS: Readonly<Record<keyof TcChoice, string>> = {
  purposes: 'purposes',
  interests: 'legitimate interests',
  specialFeatures: 'special features',
  vendors: 'vendors',
  vendorInterests: 'vendors with an interest',
};
