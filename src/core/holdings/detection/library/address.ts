import type { BuiltIn } from '../detector/detector.ts';
import { list } from './list.ts';

const EN_STREET =
  '(?:Street|St|Road|Rd|Avenue|Ave|Lane|Ln|Drive|Dr|Court|Ct|Square|Sq|Place|Pl|Terrace|Close|Crescent|Cres|Way|Gardens|Grove|Hill|Row|Mews|Boulevard|Blvd|Parade|Quay|Walk|Rise|View|Wharf|Highway|Hwy|Parkway|Pkwy|Circle|Trail|STREET|ROAD|AVENUE|LANE|DRIVE|COURT|SQUARE|TERRACE|CLOSE|CRESCENT|GARDENS|HILL|QUAY)';
const CAP = "\\p{Lu}[\\p{L}'’.-]{1,24}";
const UK_CODE = '[A-Z]{1,2}\\d[A-Z\\d]? ?\\d[A-Z]{2}';
const TAIL = `(?:,? ?\\n? {0,4}(?:(?:(?:DK|SE|S|D|DE|NO|N|FI|AT|A|CH|NL|B|BE|F|FR|PL|I|IT|E|ES)[- ])?\\d{3} ?\\d{1,2}(?: [A-Z]{2})? \\p{Lu}[\\p{L}-]{1,24}(?: (?:[A-ZØÅÄÖ]{1,2}|\\p{Lu}[\\p{L}-]{1,20}))?))`;
const FLOOR =
  '(?:,? (?:\\d{1,2}\\. ?(?:sal|OG|Stock|vån|tv|th|mf)\\.?(?: ?(?:tv|th|mf|li|re)\\.?)?|st\\.? ?(?:tv|th|mf)\\.?|kl\\.? ?(?:tv|th|mf)\\.?|lgh \\d{4}|[Ww]ohnung \\d{1,3}|\\d{1,2}\\.? (?:tv|th|mf)\\.?))?';
// A street's name ends in its kind, or has it as a word of its own.
const COMPOUND =
  "\\p{Lu}[\\p{Ll}'’-]{0,26}(?:vej|vejen|gade|gaden|allé|alle|alléen|stræde|plads|pladsen|torv|torvet|parken|vænget|bakken|haven|kaj|kajen|gatan|gata|vägen|väg|gränd|torget|stigen|backen|straße|strasse|str\\.|weg|platz|allee|gasse|ring|damm|ufer|steig|chaussee|veien|gaten|veg|straat|laan|plein|kade|katu|tie)|\\p{Lu}{3,26}(?:VEJ|GADE|ALLÉ|STRÆDE|PLADS|TORV|GATAN|VÄGEN|GRÄND|TORGET|STRASSE|STRAßE|STR\\.|WEG|PLATZ|ALLEE|VEIEN|GATEN|STRAAT)";
const TWO_WORDS =
  '\\p{Lu}[\\p{L}.-]{1,24}(?: \\p{Lu}?[\\p{L}.-]{1,24}){0,2} (?:Vej|Gade|Allé|Alle|Plads|Torv|Kaj|Boulevard|Gata|Väg|Gränd|Straße|Strasse|Str\\.|Weg|Platz|Allee|Ring|Damm|Ufer|Chaussee)';
const PREFIXED =
  '(?:(?:Am|An der|An den|Im|In der|Auf dem|Auf der|Zum|Zur|Unter den|Bei der|Beim|Hinter der|Vor dem|Vid|Ved) \\p{Lu}[\\p{L}-]{2,24}|(?:Am |An der |Zum )?(?:Alter|Alten?|Neuer|Neuen?|Großer|Großen?|Kleiner|Kleinen?|Hoher|Hohen?) \\p{Lu}[\\p{L}-]{2,24})';
// Any name, where a postcode of five digits and a town follow.
const ANY_STREET = '\\p{Lu}[\\p{L}.-]{1,24}(?: \\p{L}[\\p{L}.-]{1,24}){0,2}';
const NUMBER = '\\d{1,4}(?:[-–/]\\d{1,4})? ?(?:[A-Za-z](?![\\p{L}\\p{N}]))?';

export const POSTAL_ADDRESS: BuiltIn = {
  kind: 'pattern',
  id: 'postal-address',
  name: 'Postal address',
  category: 'contact',
  source: 'UPU S42; EN 14142-1; street names of English, Danish, Swedish and German',
  about: 'A street and number; a postcode and town, or a label, make it sure.',
  anchor: {
    by: 'pattern',
    pattern: `(?<![\\p{L}\\p{N}_])(?:(?:${COMPOUND}|${TWO_WORDS}|${PREFIXED}) ${NUMBER}${FLOOR}${TAIL}?|${ANY_STREET} ${NUMBER}${FLOOR},? ?\\n?(?:(?:D|DE|SE|S)[- ])?(?:\\d{5}|\\d{3} \\d{2}) \\p{Lu}[\\p{L}-]{1,24}(?: (?:\\p{Lu}[\\p{L}-]{1,20}|am \\p{Lu}\\p{L}{1,20}|an der \\p{Lu}\\p{L}{1,20}))?|(?:(?:Flat|Apt\\.?|Apartment|Unit|Suite) \\d{1,4}[A-Z]?, )?\\d{1,4}[A-Za-z]?(?:[-–]\\d{1,4})?,? (?:${CAP} ){1,3}${EN_STREET}(?![\\p{L}])(?:\\.(?=,))?(?:,? (?:Flat|Apt\\.?|Apartment|Unit|Suite|#) ?\\d{1,4}[A-Z]?)?(?:,? ?\\n?${CAP}(?: ${CAP}){0,2}){0,2}(?:,? ?\\n?(?:${UK_CODE}|(?:[A-Z]{2},? )?\\d{5}(?:-\\d{4})?))?)(?![\\p{N}_])`,
  },
  start: 1,
  checks: [
    {
      check: 'does not match',
      pattern: '^(?:Ring|Weg|Platz|Tie|Alle|Kaj|Bakken|Haven|Parken|Backen) ',
      passes: 0,
      fails: -3,
    },
    {
      check: 'does not match',
      pattern:
        '\\d{3} ?\\d{1,2}(?: [A-Z]{2})? \\p{Lu}[\\p{L} -]+$|[A-Z]{1,2}\\d[A-Z\\d]? ?\\d[A-Z]{2}$|[A-Z]{2},? \\d{5}',
      passes: 0,
      fails: 3,
    },
  ],
  context: [
    {
      where: 'before',
      within: 34,
      words: list(`
address, adresse, adress, anschrift, lieferanschrift, rechnungsanschrift, wohnhaft, wohnt, bor, boende, bopæl,
lives, living, residence, resides, home, street, gade, gata, straße, vej, bostad, wohnsitz, delivery,
levering, lieferadresse, leveringsadresse, postadresse, postadress, hjemadresse, hemadress, flyttet, flyttat,
moved, umgezogen, send, sendes, ship to, from, at, på, in der, home address
`),
      steps: 2.5,
    },
    {
      where: 'heading',
      within: 1,
      words: [
        'address',
        'adresse',
        'adress',
        'anschrift',
        'street',
        'straße',
        'strasse',
        'vej',
        'gata',
        'bopæl',
        'home',
      ],
      steps: 4,
    },
    {
      where: 'before',
      within: 3,
      words: list(`
berth, pier, gate, dock, lot, deck, platform, hall, room, cabin, terminal, kaj, kajplads, kajplats,
liegeplatz, halle, figure, section, annex, table, lane, unit no, number, no
`),
      steps: -6,
    },
    { where: 'around', within: 120, detector: 'person-name', steps: 1.5 },
  ],
  competes: true,
  mask: 'ends',
  examples: [
    'Address: ⟦12 Harbour Street, Marrow Quay, MQ1 4AB⟧',
    'bor ⟦Strandvejen 14, 2. tv, 2900 Hellerup⟧',
    'Anschrift: ⟦Hafenstraße 7a, 24103 Kaltenhagen⟧',
    'Adress: ⟦Storgatan 3, 302 43 Halmsund⟧',
    'She lives at ⟦4 Quay Road⟧.',
    '⟦Am Kai 12, 24103 Kaltenhagen⟧',
    'wohnt in der ⟦Lange Reihe 7, 18439 Stralsund⟧',
    'Lieferanschrift: ⟦Am Alten Markt 3a, 24103 Kaltenhagen⟧',
    'Send it to ⟦Flat 4, 27 Marine Parade, Brighton BN2 1TA⟧.',
  ],
  counterExamples: [
    'Deck 4 Street view',
    'Berth 4, Marrow Quay. Opening hours 08.00-16.30',
    'Ring 112',
    'Platz 14',
    '12 Angry Men',
    'Figure 3 Harbour',
    'Weg 3',
  ],
};
