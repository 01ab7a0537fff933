import { sha256 } from '@noble/hashes/sha2.js';
import { keccak_256 } from '@noble/hashes/sha3.js';
import { isPossiblePhoneNumber, isValidPhoneNumber, type CountryCode } from 'libphonenumber-js';
import { stdnum } from 'stdnum';
import { digitsOf } from '../../../text/mask.ts';

/** Whether a value as written stands its named check. Checks named `XX.name` are those of country XX in the `stdnum` library. */
export function checkDigit(by: string): ((value: string) => boolean) | undefined {
  const own = OWN[by];
  if (own) return own;
  const phone = /^phone(?: ([A-Z]{2}))?$/.exec(by);
  if (phone) return (value) => isValidPhoneNumber(value, phone[1] as CountryCode | undefined);
  const [country = '', name = ''] = by.split('.');
  const found = (stdnum as Validators)[country]?.[name];
  // The library's parts differ in the signs they let stand between digits.
  if (!found) return undefined;
  return (value) => {
    // A refusal carries an error, whose stack nobody reads and which costs more than the check.
    const limit = Error.stackTraceLimit;
    Error.stackTraceLimit = 0;
    try {
      if (found.validate(value).isValid) return true;
      const bare = value.replace(/[\s./()–-]/g, '');
      return bare !== value && found.validate(bare).isValid;
    } finally {
      Error.stackTraceLimit = limit;
    }
  };
}

/** Whether a check is done by a library, with far more work than adding up digits. */
export function isDear(by: string): boolean {
  return by === 'EU VAT' || by === 'phone near' || !OWN[by];
}

type Validators = Record<string, Record<string, { validate(v: string): { isValid: boolean } }> | undefined>;

/** How the library names each member state's VAT number. */
const VAT_MODULE: Readonly<Record<string, string>> = {
  AT: 'uid',
  BE: 'vat',
  BG: 'vat',
  CY: 'vat',
  CZ: 'dic',
  DE: 'vat',
  DK: 'cvr',
  EE: 'kmkr',
  ES: 'nif',
  FI: 'alv',
  FR: 'tva',
  GR: 'vat',
  HR: 'oib',
  HU: 'anum',
  IE: 'vat',
  IT: 'iva',
  LT: 'pvm',
  LU: 'tva',
  LV: 'pvn',
  MT: 'vat',
  NL: 'btw',
  PL: 'nip',
  PT: 'nif',
  RO: 'cif',
  SE: 'vat',
  SI: 'ddv',
  SK: 'dph',
};

const OWN: Readonly<Record<string, ((value: string) => boolean) | undefined>> = {
  luhn: (value) => luhn(digitsOf(value)),
  'mod 97': (value) => mod97(value.replace(/[^\p{L}\p{N}]/gu, '').toUpperCase()) === 1,
  'mod 11 CPR': (value) => weighted(digitsOf(value), [4, 3, 2, 7, 6, 5, 4, 3, 2, 1]) % 11 === 0,
  IBAN: iban,
  MRZ: mrz,
  NHS: (value) => {
    const d = digitsOf(value);
    const check = 11 - (weighted(d.slice(0, 9), [10, 9, 8, 7, 6, 5, 4, 3, 2]) % 11);
    return d.length === 10 && check !== 10 && check % 11 === Number(d[9]) && !sameSigns(d);
  },
  ABA: (value) => {
    const d = digitsOf(value);
    return d.length === 9 && !sameSigns(d) && weighted(d, [3, 7, 1, 3, 7, 1, 3, 7, 1]) % 10 === 0;
  },
  'all different': (value) => !sameSigns(digitsOf(value)),
  IPv4: (value) => value.split('.').every((part) => Number(part) <= 255 && String(Number(part)) === part),
  IPv6: ipv6,
  VIN: vin,
  // Skatteverket, SKV 704: Luhn over the last ten digits; coordination numbers add 60 to the day.
  'SE personnummer': (value) => {
    const d = digitsOf(value).slice(-10);
    const [month, day] = [Number(d.slice(2, 4)), Number(d.slice(4, 6)) % 60];
    return luhn(d) && month >= 1 && month <= 12 && day >= 1 && day <= 31 && d.length === 10;
  },
  KVNR: (value) => {
    const bare = value.replace(/[^A-Za-z0-9]/g, '').toUpperCase();
    if (!/^[A-Z]\d{9}$/.test(bare)) return false;
    const digits = String(bare.charCodeAt(0) - 64).padStart(2, '0') + bare.slice(1, 9);
    let sum = 0;
    for (let i = 0; i < 10; i++) {
      const v = Number(digits[i]) * (i % 2 === 0 ? 1 : 2);
      sum += v > 9 ? v - 9 : v;
    }
    return sum % 10 === Number(bare[9]);
  },
  adóazonosító: (value) => {
    const d = digitsOf(value);
    return d.length === 10 && weighted(d.slice(0, 9), [1, 2, 3, 4, 5, 6, 7, 8, 9]) % 11 === Number(d[9]);
  },
  'LU matricule': (value) => {
    const d = digitsOf(value);
    return d.length === 13 && luhn(d.slice(0, 12)) && verhoeff(d.slice(0, 11) + d[12]);
  },
  'JP my number': (value) => {
    const d = digitsOf(value);
    if (d.length !== 12 || sameSigns(d)) return false;
    const rest = weighted(d.slice(0, 11), [6, 5, 4, 3, 2, 7, 6, 5, 4, 3, 2]) % 11;
    return (rest <= 1 ? 0 : 11 - rest) === Number(d[11]);
  },
  'SG nric': (value) => {
    const bare = value.toUpperCase();
    const [type = '', check = ''] = [bare[0], bare[8]];
    let sum = weighted(bare.slice(1, 8), [2, 7, 6, 5, 4, 3, 2]);
    if (type === 'T' || type === 'G') sum += 4;
    if (type === 'M') sum += 3;
    const letters = type === 'M' ? 'KLJNPQRTUWX' : 'ST'.includes(type) ? 'JZIHGFEDCBA' : 'XWUTRQPNMLK';
    const at = type === 'M' ? 10 - (sum % 11) : sum % 11;
    return letters[at] === check;
  },
  Medicare: (value) => {
    const d = digitsOf(value);
    return d.length >= 10 && weighted(d.slice(0, 8), [1, 3, 7, 9, 1, 3, 7, 9]) % 10 === Number(d[8]);
  },
  IMEI: (value) => luhn(digitsOf(value)) && digitsOf(value).length === 15 && !sameSigns(digitsOf(value)),
  card: (value) => {
    const d = digitsOf(value);
    return luhn(d) && !sameSigns(d) && !/^(\d{4})\1+$/.test(d) && CARD.test(d);
  },
  BIC: (value) => COUNTRIES.has(value.slice(4, 6)),
  'phone near': (value) => {
    // The code of a country may stand in brackets.
    const bare = value.trim().replace(/^\(((?:\+|00)\d+)\)/, '$1');
    if (/^(?:\+|00)/.test(bare)) return isPossiblePhoneNumber(bare.replace(/^00/, '+').replace('(0)', ''));
    if (/^4[4-9](?: \d\d \d\d \d\d \d\d|\d{8,11})$/.test(bare)) return isValidPhoneNumber(`+${bare}`);
    return HOME.some((country) => isValidPhoneNumber(bare, country));
  },
  wallet: (value) => (/^0x/.test(value) ? eip55(value) : base58check(value)),
  'EU VAT': (value) => {
    const bare = value.toUpperCase();
    const country = bare.slice(0, 2) === 'EL' ? 'GR' : bare.slice(0, 2);
    const module = VAT_MODULE[country];
    const found = module && (stdnum as Validators)[country]?.[module];
    return found ? found.validate(bare).isValid : country !== '';
  },
};

/** Where a number without its country's code is tried. */
const HOME: readonly CountryCode[] = [
  'DK',
  'SE',
  'DE',
  'GB',
  'NO',
  'US',
  'FI',
  'NL',
  'FR',
  'AT',
  'CH',
  'PL',
  'ES',
  'IT',
  'BE',
  'IE',
];

/** Ranges of issuers by ISO/IEC 7812 as the schemes publish them, with their lengths. */
const CARD =
  /^(?:4\d{12}(?:\d{3}){0,2}|5[1-5]\d{14}|2(?:22[1-9]|2[3-9]\d|[3-6]\d\d|7[01]\d|720)\d{12}|3[47]\d{13}|3(?:0[0-59]|[689]\d)\d{11,16}|6(?:011|5\d\d|4[4-9]\d)\d{12,15}|35(?:2[89]|[3-8]\d)\d{12,15}|(?:50|5[6-9]|6[0-9])\d{10,17}|62\d{14,17}|220[0-4]\d{12})$/;

/** ISO 3166-1, and XK as it is used for accounts. */
const COUNTRIES = new Set(
  'AD AE AF AG AI AL AM AO AR AS AT AU AW AX AZ BA BB BD BE BF BG BH BI BJ BL BM BN BO BQ BR BS BT BW BY BZ CA CC CD CF CG CH CI CK CL CM CN CO CR CU CV CW CX CY CZ DE DJ DK DM DO DZ EC EE EG ER ES ET FI FJ FK FM FO FR GA GB GD GE GF GG GH GI GL GM GN GP GQ GR GT GU GW GY HK HN HR HT HU ID IE IL IM IN IQ IR IS IT JE JM JO JP KE KG KH KI KM KN KP KR KW KY KZ LA LB LC LI LK LR LS LT LU LV LY MA MC MD ME MF MG MH MK ML MM MN MO MP MQ MR MS MT MU MV MW MX MY MZ NA NC NE NF NG NI NL NO NP NR NU NZ OM PA PE PF PG PH PK PL PM PN PR PS PT PW PY QA RE RO RS RU RW SA SB SC SD SE SG SH SI SK SL SM SN SO SR SS ST SV SX SY SZ TC TD TG TH TJ TK TL TM TN TO TR TT TV TW TZ UA UG US UY UZ VA VC VE VG VI VN VU WF WS XK YE YT ZA ZM ZW'.split(
    ' ',
  ),
);

/** ISO 3779 and 49 CFR § 565.15: the ninth sign is the sum over 11. */
function vin(value: string): boolean {
  const bare = value.toUpperCase();
  const worth = '0123456789.ABCDEFGH..JKLMN.P.R..STUVWXYZ';
  const weights = [8, 7, 6, 5, 4, 3, 2, 10, 0, 9, 8, 7, 6, 5, 4, 3, 2];
  let sum = 0;
  for (const [i, w] of weights.entries()) {
    const at = worth.indexOf(bare[i] as string);
    if (at < 0) return false;
    sum += (at % 10) * w;
  }
  return bare[8] === (sum % 11 === 10 ? 'X' : String(sum % 11));
}

const D5 = [
  '0123456789',
  '1234067895',
  '2340178956',
  '3401289567',
  '4012395678',
  '5987604321',
  '6598710432',
  '7659821043',
  '8765932104',
  '9876543210',
];
const P8 = [
  '0123456789',
  '1576283094',
  '5803796142',
  '8916043527',
  '9453126870',
  '4286573901',
  '2793806415',
  '7046913258',
];

/** J. Verhoeff, Error Detecting Decimal Codes, 1969. */
function verhoeff(digits: string): boolean {
  let c = 0;
  for (let i = 0; i < digits.length; i++) {
    const d = Number(digits[digits.length - 1 - i]);
    c = Number((D5[c] as string)[Number((P8[i % 8] as string)[d])]);
  }
  return c === 0;
}

const BASE58 = '123456789ABCDEFGHJKLMNPQRSTUVWXYZabcdefghijkmnopqrstuvwxyz';

/** Base58Check, or the checksum of bech32 (BIP 173) and bech32m (BIP 350). */
function base58check(value: string): boolean {
  if (/^bc1/i.test(value)) return bech32(value.toLowerCase());
  let n = 0n;
  for (const c of value) {
    const at = BASE58.indexOf(c);
    if (at < 0) return false;
    n = n * 58n + BigInt(at);
  }
  const bytes = new Uint8Array(25);
  for (let i = 24; i >= 0; i--, n >>= 8n) bytes[i] = Number(n & 255n);
  if (n !== 0n) return false;
  const sum = sha256(sha256(bytes.subarray(0, 21)));
  return [0, 1, 2, 3].every((i) => sum[i] === bytes[21 + i]);
}

function bech32(value: string): boolean {
  const data = [...value.slice(3)].map((c) => 'qpzry9x8gf2tvdw0s3jn54khce6mua7l'.indexOf(c));
  if (data.includes(-1)) return false;
  let chk = 1;
  for (const v of [3, 3, 0, 2, 3, ...data]) {
    const top = chk >>> 25;
    chk = ((chk & 0x1ffffff) << 5) ^ v;
    for (const [i, g] of [0x3b6a57b2, 0x26508e6d, 0x1ea119fa, 0x3d4233dd, 0x2a1462b3].entries())
      if ((top >>> i) & 1) chk ^= g;
  }
  return chk === 1 || chk === 0x2bc830a3;
}

/** EIP-55: the case of letters is the checksum; where all have the same, there is none. */
function eip55(value: string): boolean {
  const bare = value.slice(2);
  const lower = bare.toLowerCase();
  if (bare === lower || bare === bare.toUpperCase()) return !/^(.)\1+$/.test(bare);
  const hash = keccak_256(Uint8Array.from(lower, (c) => c.charCodeAt(0)));
  return [...bare].every((c, i) => {
    if (/\d/.test(c)) return true;
    const nibble = i % 2 === 0 ? (hash[i >> 1] as number) >> 4 : (hash[i >> 1] as number) & 15;
    return nibble >= 8 === (c === c.toUpperCase());
  });
}

/** ISO/IEC 7812-1, annex B. */
export function luhn(digits: string): boolean {
  let sum = 0;
  for (let i = digits.length - 1, twice = false; i >= 0; i--, twice = !twice) {
    const d = digits.charCodeAt(i) - 48;
    sum += twice ? (d > 4 ? 2 * d - 9 : 2 * d) : d;
  }
  return digits.length > 1 && sum % 10 === 0;
}

/** ISO/IEC 7064, MOD 97-10: the remainder of the value with letters read as 10 to 35. */
export function mod97(value: string): number {
  let rest = 0;
  for (const c of value) {
    const v = parseInt(c, 36);
    if (Number.isNaN(v)) return -1;
    rest = (v > 9 ? rest * 100 + v : rest * 10 + v) % 97;
  }
  return rest;
}

/** Lengths by country, from the IBAN registry (ISO 13616-2). */
export const IBAN_LENGTHS: Readonly<Record<string, number>> = {
  AD: 24,
  AE: 23,
  AL: 28,
  AT: 20,
  AZ: 28,
  BA: 20,
  BE: 16,
  BG: 22,
  BH: 22,
  BI: 27,
  BR: 29,
  BY: 28,
  CH: 21,
  CR: 22,
  CY: 28,
  CZ: 24,
  DE: 22,
  DJ: 27,
  DK: 18,
  DO: 28,
  EE: 20,
  EG: 29,
  ES: 24,
  FI: 18,
  FK: 18,
  FO: 18,
  FR: 27,
  GB: 22,
  GE: 22,
  GI: 23,
  GL: 18,
  GR: 27,
  GT: 28,
  HN: 28,
  HR: 21,
  HU: 28,
  IE: 22,
  IL: 23,
  IQ: 23,
  IS: 26,
  IT: 27,
  JO: 30,
  KW: 30,
  KZ: 20,
  LB: 28,
  LC: 32,
  LI: 21,
  LT: 20,
  LU: 20,
  LV: 21,
  LY: 25,
  MC: 27,
  MD: 24,
  ME: 22,
  MK: 19,
  MN: 20,
  MR: 27,
  MT: 31,
  MU: 30,
  NI: 28,
  NL: 18,
  NO: 15,
  OM: 23,
  PK: 24,
  PL: 28,
  PS: 29,
  PT: 25,
  QA: 29,
  RO: 24,
  RS: 22,
  RU: 33,
  SA: 24,
  SC: 31,
  SD: 18,
  SE: 24,
  SI: 19,
  SK: 24,
  SM: 27,
  SO: 23,
  ST: 25,
  SV: 28,
  TL: 23,
  TN: 24,
  TR: 26,
  UA: 29,
  VA: 22,
  VG: 24,
  XK: 20,
  YE: 30,
};

function iban(value: string): boolean {
  const bare = value.replace(/[^A-Za-z0-9]/g, '').toUpperCase();
  return IBAN_LENGTHS[bare.slice(0, 2)] === bare.length && mod97(bare.slice(4) + bare.slice(0, 4)) === 1;
}

/** ICAO Doc 9303, part 3: the check digit over a field, weights 7 3 1. */
export function mrzDigit(field: string): number {
  let sum = 0;
  for (let i = 0; i < field.length; i++) {
    const c = field[i] as string;
    sum += (c === '<' ? 0 : parseInt(c, 36)) * ([7, 3, 1][i % 3] as number);
  }
  return sum % 10;
}

function mrz(value: string): boolean {
  const lines = value.trim().split(/\s+/);
  const last = lines.at(-1) ?? '';
  const holds = (from: number, to: number, line = last) =>
    mrzDigit(line.slice(from, to)) === Number(line[to]);
  if (lines.length === 3 && lines.every((l) => l.length === 30)) {
    const [one = '', two = ''] = lines;
    return mrzDigit(one.slice(5, 14)) === Number(one[14]) && holds(0, 6, two) && holds(8, 14, two);
  }
  if (last.length !== 44 && last.length !== 36) return false;
  return holds(0, 9) && holds(13, 19) && holds(21, 27);
}

function ipv6(value: string): boolean {
  const [address = ''] = value.split(/[%/]/);
  const halves = address.split('::');
  if (halves.length > 2) return false;
  const groups = halves.flatMap((h) => (h === '' ? [] : h.split(':')));
  if (!groups.every((g) => /^[0-9a-f]{1,4}$/i.test(g))) return false;
  return halves.length === 2 ? groups.length <= 7 && groups.length >= 1 : groups.length === 8;
}

function weighted(digits: string, weights: readonly number[]): number {
  return weights.reduce((sum, w, i) => sum + w * Number(digits[i] ?? 0), 0);
}

function sameSigns(text: string): boolean {
  return text.length > 0 && [...text].every((c) => c === text[0]);
}
