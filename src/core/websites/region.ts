/** What a region's law asks of a website before trackers may run. */
export type Regime = 'ask first' | 'on unless refused' | 'inform only';

/** ISO 3166-1 alpha-2, or ISO 3166-2 where a part of the country has a law of its own (US-CA). */
export type Region = string;

export const REGION_PATTERN = /^[A-Z]{2}(-[A-Z0-9]{1,3})?$/;

/** Unknown: no geolocation answered. Held to the strictest regime. */
export const UNKNOWN_REGION: Region = 'ZZ';

const EEA = 'AT BE BG HR CY CZ DK EE FI FR DE GR HU IS IE IT LV LI LT LU MT NL NO PL PT RO SK SI ES SE'.split(
  ' ',
);

export interface RegimeVerdict {
  readonly regime: Regime;
  readonly law: string;
}

/** The regime of a region and the law behind it. What is not known is asked first. */
export function regimeOf(region: Region): RegimeVerdict {
  const country = region.slice(0, 2);
  if (EEA.includes(country))
    return { regime: 'ask first', law: 'Directive 2002/58/EC, art. 5(3); GDPR, art. 6(1)(a)' };
  if (country === 'GB') return { regime: 'ask first', law: 'PECR 2003, reg. 6; UK GDPR, art. 6(1)(a)' };
  if (country === 'CH') return { regime: 'on unless refused', law: 'TCA, art. 45c; FADP, art. 19' };
  if (region === 'US-CA')
    return { regime: 'on unless refused', law: 'California Civil Code § 1798.120 and 1798.135' };
  if (country === 'US') return { regime: 'on unless refused', law: 'state privacy acts, where one applies' };
  return { regime: 'ask first', law: 'no regime on file for this region; the strictest is used' };
}

const PARTS: Readonly<Record<string, string>> = { 'US-CA': 'California', ZZ: 'Unknown region' };

/** The region's name in the viewer's language. */
export function regionName(region: Region, locale = 'en'): string {
  const own = PARTS[region];
  if (own) return own;
  const [country, part] = region.split('-');
  const names = new Intl.DisplayNames([locale], { type: 'region', fallback: 'code' });
  const name = names.of(country ?? region) ?? region;
  return part ? `${name} (${part})` : name;
}
