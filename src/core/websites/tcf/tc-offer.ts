import { askedPurposes, CONSENT_ONLY, restrictionOf, type Restriction } from './tcf-purposes.ts';
import type { TcfSettings } from './tcf-settings.ts';
import type { Vendor, VendorList } from './vendor-list.ts';

/** A vendor with what it would do here, after what the publisher says of each purpose. */
export interface OfferedVendor {
  readonly id: number;
  readonly name: string;
  /** By consent, and by legitimate interest. */
  readonly consent: readonly number[];
  readonly interest: readonly number[];
  readonly specialPurposes: readonly number[];
  readonly features: readonly number[];
  readonly specialFeatures: readonly number[];
  readonly policy: string;
  readonly interestClaim: string;
  /** Days that cookies last, and that data is kept; `null` where it is not said. */
  readonly cookieDays: number | null;
  readonly keptDays: number | null;
}

/** What visitors are asked in the framework’s terms. Everything in ascending numbers. */
export interface TcOffer {
  readonly purposes: readonly number[];
  /** Purposes that some vendor claims an interest in. */
  readonly interests: readonly number[];
  readonly specialFeatures: readonly number[];
  readonly vendors: readonly OfferedVendor[];
}

/** What somebody chose among it. */
export interface TcChoice {
  readonly purposes: readonly number[];
  readonly interests: readonly number[];
  readonly specialFeatures: readonly number[];
  readonly vendors: readonly number[];
  readonly vendorInterests: readonly number[];
}

export const NOTHING_CHOSEN: TcChoice = {
  ...{ purposes: [], interests: [], specialFeatures: [], vendors: [], vendorInterests: [] },
};

/** On what a vendor would rest a purpose here. The framework’s rules for publisher restrictions. */
export function basisHere(
  vendor: Pick<Vendor, 'purposes' | 'legIntPurposes' | 'flexiblePurposes'>,
  purpose: number,
  restriction: Restriction,
): 'consent' | 'interest' | undefined {
  const declared = vendor.purposes.includes(purpose)
    ? 'consent'
    : vendor.legIntPurposes.includes(purpose)
      ? 'interest'
      : undefined;
  if (declared === undefined || restriction === 'never') return undefined;
  // What a list says wrongly gives nobody a right.
  if (declared === 'interest' && CONSENT_ONLY.includes(purpose)) return undefined;
  if (restriction === 'as declared') return declared;
  const wanted = restriction === 'consent only' ? 'consent' : 'interest';
  if (declared === wanted) return declared;
  return vendor.flexiblePurposes.includes(purpose) ? wanted : undefined;
}

const ascending = (ids: Iterable<number>) => [...new Set(ids)].toSorted((a, b) => a - b);

/** What visitors are asked, of the vendors that the site chose. */
export function tcOffer(list: VendorList, settings: TcfSettings, asked: readonly string[]): TcOffer {
  const purposes = askedPurposes(settings, asked);
  const vendors = ascending(settings.vendors).flatMap((id): readonly OfferedVendor[] => {
    const v = list.vendors[id];
    if (!v || v.deletedDate !== undefined) return [];
    const by = (basis: 'consent' | 'interest') =>
      purposes.filter((p) => basisHere(v, p, restrictionOf(settings, p)) === basis);
    const { privacy = '', legIntClaim = '' } = v.urls.find((u) => u.langId === 'en') ?? v.urls[0] ?? {};
    return [
      {
        ...{ id, name: v.name, consent: by('consent'), interest: by('interest') },
        ...{ specialPurposes: v.specialPurposes, features: v.features, specialFeatures: v.specialFeatures },
        ...{ policy: privacy, interestClaim: legIntClaim },
        cookieDays: v.usesCookies && v.cookieMaxAgeSeconds ? Math.ceil(v.cookieMaxAgeSeconds / 86_400) : null,
        keptDays: v.dataRetention?.stdRetention ?? null,
      },
    ];
  });
  return {
    purposes,
    interests: ascending(vendors.flatMap((v) => v.interest)),
    specialFeatures: ascending(vendors.flatMap((v) => v.specialFeatures)),
    vendors,
  };
}

/** Everything that is asked for; interests stand with it, since nobody objected. */
export function everythingOf(offer: TcOffer): TcChoice {
  return {
    purposes: offer.purposes,
    interests: offer.interests,
    specialFeatures: offer.specialFeatures,
    vendors: offer.vendors.filter((v) => v.consent.length > 0).map((v) => v.id),
    vendorInterests: offer.vendors.filter((v) => v.interest.length > 0).map((v) => v.id),
  };
}

/** The purposes of one’s own alone, as on a first layer that offers no more. */
export function choiceFor(
  offer: TcOffer,
  { covers }: Pick<TcfSettings, 'covers'>,
  allowed: readonly string[],
): TcChoice {
  const open = (p: number) => allowed.some((code) => covers[code]?.includes(p));
  const purposes = offer.purposes.filter(open);
  const interests = offer.interests.filter(open);
  if (purposes.length === 0) return NOTHING_CHOSEN;
  return {
    ...everythingOf(offer),
    purposes,
    interests,
    specialFeatures: purposes.length === offer.purposes.length ? offer.specialFeatures : [],
  };
}

/** What of a choice was offered at all. */
export function withinOffer(offer: TcOffer, choice: TcChoice): TcChoice {
  const all = everythingOf(offer);
  const keep = (name: keyof TcChoice) => all[name].filter((id) => choice[name].includes(id));
  return {
    purposes: keep('purposes'),
    interests: keep('interests'),
    specialFeatures: keep('specialFeatures'),
    vendors: keep('vendors'),
    vendorInterests: keep('vendorInterests'),
  };
}
