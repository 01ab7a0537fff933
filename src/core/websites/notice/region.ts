/** ISO 3166-1 alpha-2, or ISO 3166-2 where a part of the country has a law of its own (US-CA). */
export type Region = string;

export const REGION_PATTERN = /^[A-Z]{2}(-[A-Z0-9]{1,3})?$/;

/** Unknown: no geolocation answered. Held to the strictest regime. */
export const UNKNOWN_REGION: Region = 'ZZ';

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
  'CA-QC': ['fr-CA', 'America/Toronto'],
  BR: ['pt-BR', 'America/Sao_Paulo'],
  AU: ['en-AU', 'Australia/Sydney'],
  NZ: ['en-NZ', 'Pacific/Auckland'],
};

const PARTS: Readonly<Record<string, string>> = {
  'CA-QC': 'Quebec',
  'US-CA': 'California',
  'US-CO': 'Colorado',
  'US-CT': 'Connecticut',
  'US-DE': 'Delaware',
  'US-IA': 'Iowa',
  'US-IN': 'Indiana',
  'US-KY': 'Kentucky',
  'US-MD': 'Maryland',
  'US-MN': 'Minnesota',
  'US-MT': 'Montana',
  'US-NE': 'Nebraska',
  'US-NH': 'New Hampshire',
  'US-NJ': 'New Jersey',
  'US-OR': 'Oregon',
  'US-RI': 'Rhode Island',
  'US-TN': 'Tennessee',
  'US-TX': 'Texas',
  'US-UT': 'Utah',
  'US-VA': 'Virginia',
  EEA: 'European Economic Area',
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
