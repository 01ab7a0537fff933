/** What a region's law asks of a website before trackers may run. */
export const REGIMES = ['ask first', 'on unless refused', 'inform only'] as const;
export type Regime = (typeof REGIMES)[number];

/** ISO 3166-1 alpha-2, or ISO 3166-2 where a part of the country has a law of its own (US-CA). */
export type Region = string;

export const REGION_PATTERN = /^[A-Z]{2}(-[A-Z0-9]{1,3})?$/;

/** Unknown: no geolocation answered. Held to the strictest regime. */
export const UNKNOWN_REGION: Region = 'ZZ';

const EEA = 'AT BE BG HR CY CZ DK EE FI FR DE GR HU IS IE IT LV LI LT LU MT NL NO PL PT RO SK SI ES SE'.split(
  ' ',
);

/** States whose privacy acts bind a business to a universal opt-out signal, with the act. */
const US_SIGNAL: Readonly<Record<string, string>> = {
  'US-CA': 'California Civil Code § 1798.120 and 1798.135; 11 CCR § 7025',
  'US-CO': 'Colorado Privacy Act, C.R.S. § 6-1-1306(1)(a)(IV)',
  'US-CT': 'Connecticut Data Privacy Act, § 42-520(e)',
  'US-DE': 'Delaware Personal Data Privacy Act, 6 Del. C. § 12D-106',
  'US-MT': 'Montana Consumer Data Privacy Act, § 30-14-2812',
  'US-NJ': 'New Jersey Data Privacy Act, N.J.S.A. 56:8-166.11',
  'US-OR': 'Oregon Consumer Privacy Act, ORS 646A.578',
  'US-TX': 'Texas Data Privacy and Security Act, § 541.055',
};

export interface RegimeVerdict {
  readonly regime: Regime;
  readonly law: string;
  /** Whether a Global Privacy Control signal counts as a refusal of selling and sharing there. */
  readonly signalCounts: boolean;
}

const COUNTRIES: Readonly<Record<string, RegimeVerdict>> = {
  GB: { regime: 'ask first', law: 'PECR 2003, reg. 6; UK GDPR, art. 6(1)(a)', signalCounts: false },
  CH: { regime: 'on unless refused', law: 'TCA, art. 45c; FADP, art. 19', signalCounts: false },
  BR: { regime: 'ask first', law: 'LGPD, art. 7(I) and 8', signalCounts: false },
  CA: { regime: 'on unless refused', law: 'PIPEDA, Schedule 1, 4.3', signalCounts: false },
  AU: { regime: 'inform only', law: 'Privacy Act 1988, APP 5', signalCounts: false },
  NZ: { regime: 'inform only', law: 'Privacy Act 2020, IPP 3', signalCounts: false },
};

/** The regime of a region and the law behind it. What is not known is asked first. */
export function regimeOf(region: Region): RegimeVerdict {
  const country = region.slice(0, 2);
  if (EEA.includes(country))
    return {
      regime: 'ask first',
      law: 'Directive 2002/58/EC, art. 5(3); GDPR, art. 6(1)(a)',
      signalCounts: false,
    };
  const known = COUNTRIES[country];
  if (known) return known;
  const act = US_SIGNAL[region];
  if (act) return { regime: 'on unless refused', law: act, signalCounts: true };
  if (country === 'US')
    return { regime: 'on unless refused', law: 'state privacy acts, where one applies', signalCounts: false };
  return {
    regime: 'ask first',
    law: 'Directive 2002/58/EC, art. 5(3); GDPR, art. 6(1)(a), as the strictest: no regime is on file for this region',
    signalCounts: false,
  };
}

/** Regions a sweep can come from: one of each law the program knows. */
export const SWEEP_REGIONS: readonly Region[] = [
  ...EEA.toSorted(),
  ...Object.keys(COUNTRIES),
  ...Object.keys(US_SIGNAL),
  'US',
];

/** A browser's language and time zone as they are usual in a region; English and UTC where none is on file. */
export function localeOf(region: Region): { readonly language: string; readonly timeZone: string } {
  const [language, timeZone] = LOCALES[region] ?? LOCALES[region.slice(0, 2)] ?? ['en-GB', 'UTC'];
  return { language, timeZone };
}

const LOCALES: Readonly<Record<string, readonly [string, string]>> = {
  DK: ['da-DK', 'Europe/Copenhagen'],
  SE: ['sv-SE', 'Europe/Stockholm'],
  DE: ['de-DE', 'Europe/Berlin'],
  AT: ['de-AT', 'Europe/Vienna'],
  NO: ['nb-NO', 'Europe/Oslo'],
  FI: ['fi-FI', 'Europe/Helsinki'],
  FR: ['fr-FR', 'Europe/Paris'],
  ES: ['es-ES', 'Europe/Madrid'],
  IT: ['it-IT', 'Europe/Rome'],
  NL: ['nl-NL', 'Europe/Amsterdam'],
  PL: ['pl-PL', 'Europe/Warsaw'],
  PT: ['pt-PT', 'Europe/Lisbon'],
  IE: ['en-IE', 'Europe/Dublin'],
  GB: ['en-GB', 'Europe/London'],
  CH: ['de-CH', 'Europe/Zurich'],
  US: ['en-US', 'America/New_York'],
  'US-CA': ['en-US', 'America/Los_Angeles'],
  CA: ['en-CA', 'America/Toronto'],
  BR: ['pt-BR', 'America/Sao_Paulo'],
  AU: ['en-AU', 'Australia/Sydney'],
  NZ: ['en-NZ', 'Pacific/Auckland'],
};

const PARTS: Readonly<Record<string, string>> = {
  'US-CA': 'California',
  'US-CO': 'Colorado',
  'US-CT': 'Connecticut',
  'US-DE': 'Delaware',
  'US-MT': 'Montana',
  'US-NJ': 'New Jersey',
  'US-OR': 'Oregon',
  'US-TX': 'Texas',
  ZZ: 'Unknown region',
};

/** The region's name in the viewer's language. */
export function regionName(region: Region, locale = 'en'): string {
  const own = PARTS[region];
  if (own) return own;
  const [country, part] = region.split('-');
  const names = new Intl.DisplayNames([locale], { type: 'region', fallback: 'code' });
  const name = names.of(country ?? region) ?? region;
  return part ? `${name} (${part})` : name;
}
