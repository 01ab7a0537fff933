import type { BuiltIn } from '../detector/detector.ts';
import { list } from './list.ts';
import { bounded, labelled, LOOKALIKE_WORDS } from './identity-number.ts';

const PASSPORT = list(`
passport, passport no, passport number, passport nr, pas, pasnr, pasnummer, pas nr, pas nummer, pass
passnummer, passnr, pass nr, reisepass, reisepassnummer, reisepass nr, reisepassnr, travel document
passeport, pasaporte, passaporto, paspoort, paszport
`);
const LICENCE = list(`
driving licence, driving licence no, driving licence number, driver licence, driver license
driver’s license, driver's license, drivers license, driver’s licence, license number, licence number
licence no, license no, kørekort, kørekortnummer, kørekortnr, kørekort nr, körkort, körkortsnummer
körkortsnr, führerschein, führerscheinnummer, führerschein nr, führerscheinnr, fahrerlaubnis
permis de conduire, dl, dvla
`);
const PLATE = list(`
plate, plates, number plate, licence plate, license plate, registration, registration number, reg
reg no, reg number, reg nr, vrm, vehicle, car, car reg, van, lorry, truck, motorbike, nummerplade, kjennemerke, kjennemerket, skilt
nummerpladen, registreringsnummer, reg.nr, regnr, regnummer, bil, bilen, køretøj, varevogn, lastbil
registreringsskylt, skylt, fordon, kennzeichen, kfz, kfz-kennzeichen, amtliches kennzeichen, auto
wagen, pkw, lkw, fahrzeug, nummernschild, parked, parkeret, parkerad, geparkt, immatriculation
matrícula, targa
`);

function plate(
  id: string,
  name: string,
  country: string,
  body: string,
  source: string,
  examples: readonly string[],
  counterExamples: readonly string[],
  start = -2,
): BuiltIn {
  return {
    kind: 'pattern',
    id,
    name,
    category: 'travel',
    country,
    source,
    anchor: { by: 'pattern', pattern: bounded(body) },
    start,
    context: [
      ...labelled(
        PLATE,
        LOOKALIKE_WORDS.filter((w) => w !== 'model' && w !== 'modell'),
      ).map((c) => (c.steps > 0 && c.where !== 'heading' ? { ...c, steps: 4.5 } : c)),
      { where: 'sentence', words: PLATE, steps: 1.2 },
    ],
    competes: true,
    examples,
    counterExamples,
  };
}

const DOCUMENT = list(`
document number, document no, document nr, doc no, dokumentnummer, dokumentnr, dokument nr, travel document no, ausweisdokument
`);

export const TRAVEL: readonly BuiltIn[] = [
  {
    kind: 'pattern',
    id: 'passport',
    name: 'Passport number',
    category: 'travel',
    source: 'ICAO Doc 9303, part 4 (nine signs); national series',
    anchor: {
      by: 'pattern',
      pattern: bounded(
        '[A-Z]{1,2} ?\\d{6,8}|\\d{8,9}|(?=[A-Z]{1,8}\\d)[CFGHJKLMNPRTVWXYZ][CFGHJKLMNPRTVWXYZ0-9]{8}\\d?|\\d{2}[A-Z]{2}\\d{5}',
      ),
      ignoreCase: false,
    },
    start: -3,
    context: [
      ...labelled(PASSPORT, [
        ...LOOKALIKE_WORDS,
        'tel',
        'phone',
        'tlf',
        'cpr',
        'konto',
        'account',
        'telefon',
        'kørekort',
        'driving licence',
        'visa',
        'personalausweis',
        'identity card',
      ]).map((c) => (c.steps === 5 ? { ...c, within: 30, steps: 5.5 } : c)),
      { where: 'before', within: 30, words: DOCUMENT, steps: 2.5 },
      { where: 'heading', within: 1, words: DOCUMENT, steps: 2.5 },
      {
        where: 'line',
        words: list(`
passport, reisepass, pass, pas, nationality, nationalitet, nationalität, citizenship, statsborgerskab, medborgarskap
staatsangehörigkeit, given name, givenname, surname
`),
        steps: 2.2,
      },
    ],
    competes: true,
    examples: [
      'Passport no. ⟦533401372⟧',
      'Reisepass: ⟦C01X00T47⟧',
      'Pasnummer ⟦207123456⟧',
      'passport ⟦AA1234567⟧',
    ],
    counterExamples: [
      'Order 533401372',
      'C01X00T47 is the part',
      'passport valid for 10 years, invoice 533401372',
    ],
  },
  {
    kind: 'pattern',
    id: 'passport-mrz',
    name: 'Machine-readable zone of a passport or card',
    category: 'travel',
    source: 'ICAO Doc 9303, parts 3 to 6 (check digits with weights 7 3 1)',
    anchor: {
      by: 'pattern',
      pattern:
        '(?<![A-Z0-9<])(?:[PV][A-Z<][A-Z<]{3}[A-Z<]{39}\\s{1,3}[A-Z0-9<]{9}[0-9][A-Z<]{3}[0-9]{6}[0-9][MFX<][0-9]{6}[0-9][A-Z0-9<]{14}[0-9<][0-9]|[IAC][A-Z0-9<][A-Z<]{3}[A-Z0-9<]{9}[0-9][A-Z0-9<]{15}\\s{1,3}[0-9]{6}[0-9][MFX<][0-9]{6}[0-9][A-Z<]{3}[A-Z0-9<]{11}[0-9]\\s{1,3}[A-Z<]{30}|[IACPV][A-Z<][A-Z<]{3}[A-Z<]{31}\\s{1,3}[A-Z0-9<]{9}[0-9][A-Z<]{3}[0-9]{6}[0-9][MFX<][0-9]{6}[0-9][A-Z0-9<]{8})(?![A-Z0-9<])',
    },
    start: 7,
    checks: [{ check: 'check digit', by: 'MRZ', passes: 0, fails: 'drop' }],
    competes: true,
    mask: 'ends',
    examples: [
      '⟦P<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<<<<<<<<<\nL898902C36UTO7408122F1204159ZE184226B<<<<<10⟧',
      '⟦I<UTOD231458907<<<<<<<<<<<<<<<\n7408122F1204159UTO<<<<<<<<<<<6\nERIKSSON<<ANNA<MARIA<<<<<<<<<<⟧',
    ],
    counterExamples: [
      'P<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<<<<<<<<<\nL898902C46UTO7408122F1204159ZE184226B<<<<<10',
    ],
  },
  {
    kind: 'pattern',
    id: 'gb-driving-licence',
    name: 'UK driving licence number',
    category: 'travel',
    country: 'GB',
    source: 'DVLA, INF45/1 driver number',
    anchor: {
      by: 'pattern',
      pattern: bounded(
        '[A-Z9]{5} ?\\d[0156]\\d(?:[0-2]\\d|3[01])\\d ?[A-Z9]{2}\\d?[A-Z0-9]{2,3}(?: ?\\d{2})?',
      ),
    },
    start: 2,
    checks: [{ check: 'does not match', pattern: '^\\d', passes: 0, fails: -3 }],
    context: labelled(LICENCE),
    competes: true,
    examples: ['Driving licence: ⟦MORGA657054SM9IJ⟧', 'It reads ⟦MORGA 657054 SM9IJ⟧ there.'],
    counterExamples: ['Serial MORGA657054SM9IJ', 'MORGA957954SM9IJ'],
  },
  {
    kind: 'pattern',
    id: 'driving-licence',
    name: 'Driving licence number',
    category: 'travel',
    source: 'Directive 2006/126/EC, annex I, field 5; national series',
    anchor: {
      by: 'pattern',
      pattern: bounded(
        '(?=[A-Z]{0,4}\\d)[A-Z]{0,2}\\d[A-Z0-9]{7,11}|\\d{8}|\\d{6}-\\d{4}|[A-Z]\\d{3}[- ]\\d{4}[- ]\\d{4}|[A-Z]\\d{7,12}',
      ),
    },
    start: -3,
    context: labelled(LICENCE, [
      ...LOOKALIKE_WORDS,
      'passport',
      'pas',
      'tlf',
      'tel',
      'phone',
      'cpr',
      'personnummer',
      'konto',
      'plate',
      'kennzeichen',
    ]).map((c) => (c.steps === 5 ? { ...c, within: 30 } : c)),
    competes: true,
    examples: ['Kørekort nr. ⟦12345678⟧', 'Führerschein ⟦B072RRE2I55⟧', 'Driver license ⟦D1234567⟧'],
    counterExamples: ['Order 12345678', 'B072RRE2I55'],
  },
  plate(
    'dk-plate',
    'Danish number plate',
    'DK',
    '[A-Z]{2} ?\\d{2} \\d{3}|[A-Z]{2}\\d{5}',
    'Bekendtgørelse om nummerplader (BEK 1178/2022)',
    ['Nummerplade: ⟦AB 12 345⟧', 'The car ⟦CD34567⟧ is on deck 3'],
    ['Artikel AB 12 345', 'see AB 12 345 below'],
  ),
  plate(
    'se-plate',
    'Swedish number plate',
    'SE',
    '[A-HJ-PR-UW-Z]{3} ?\\d{2}[A-HJ-NPR-UW-Z0-9]',
    'Förordning (2019:383) om fordons registrering',
    ['Registreringsnummer ⟦ABC 123⟧', 'bilen ⟦DEF 45G⟧ står på däck 2'],
    ['Artikel ABC 123', 'in ABC 123 we read'],
  ),
  plate(
    'de-plate',
    'German number plate',
    'DE',
    '[A-ZÄÖÜ]{1,3}[- ][A-Z]{1,2} ?[1-9]\\d{0,3}[EH]?',
    'Fahrzeug-Zulassungsverordnung, Anlage 1',
    ['Kennzeichen: ⟦HH-AB 1234⟧', 'KFZ ⟦B-MW 99⟧'],
    ['Bestellnr. HH-AB 1234', 'see A-B 12 there'],
    -2.5,
  ),
  plate(
    'gb-plate',
    'UK number plate',
    'GB',
    '[A-HJ-PR-Y]{2}\\d{2} ?[A-HJ-PR-Z]{3}',
    'DVLA, INF104',
    ['Registration ⟦AB12 CDE⟧', 'The van ⟦LK63XYZ⟧ was parked at berth 4'],
    ['Part AB12 CDE', 'item AB12CDE'],
  ),
  plate(
    'no-plate',
    'Norwegian number plate',
    'NO',
    '[A-HJ-PR-Z]{2} \\d{5}',
    'Kjøretøyforskriften § 2-6',
    ['Registreringsnummer ⟦EL 12345⟧'],
    ['Part EL 12345'],
  ),
  {
    kind: 'pattern',
    id: 'vin',
    name: 'Vehicle identification number',
    category: 'travel',
    source: 'ISO 3779; 49 CFR § 565.15',
    anchor: { by: 'pattern', pattern: bounded('(?=[A-Z0-9]{0,16}\\d)[A-HJ-NPR-Z0-9]{13}\\d{4}') },
    start: -1,
    checks: [
      { check: 'check digit', by: 'VIN', passes: 3, fails: -1 },
      { check: 'does not match', pattern: '^\\d+$', passes: 0, fails: 'drop' },
    ],
    context: labelled(
      list(`
vin, chassis, chassis no, stelnummer, stelnr, chassinummer, fahrgestellnummer, fin
fahrzeug-identifizierungsnummer, vehicle identification
`),
    ),
    competes: true,
    examples: ['VIN ⟦1M8GDM9AXKP042788⟧', 'Stelnummer: ⟦WVWZZZ1JZ3W386752⟧'],
    counterExamples: ['hash 1M8GDM9AXKP042789', 'Build 1M8GDM9AXKP042788'],
  },
];
