import type { BuiltIn } from '../detector/detector.ts';
import { LOOKALIKE_WORDS, QUANTITY_AFTER } from './identity-number.ts';
import { list } from './list.ts';

const PHONE = list(`
phone, phones, phone no, phone number, telephone, telephone number, tel, tel nr, telnr, mob nr, mobnr, tlf, tlf nr, tlfnr, telefon, telefonnr
telefonnummer, telnr, telefonen, mobile, mobile no, mobile number, mobil, mobilen, mobilnr, mobilnummer
mobiltelefon, mobiltlf, mobilfunk, mobilfunknummer, handy, handynummer, handynr, rufnummer, cell, cell phone
cellphone, call, calls, called, called from, calling, calling from, called on, ring, ring til, ring på, ringe
ringe på, ringe til, ringes, ringede, ringede fra, ringer fra, ringa, ringde, ringde från, ringer från
ring mig på, fang mig på, fanges på, træffes, træffes på, kontaktes, nå mig på, mit nummer, mitt nummer
meine nummer, my number, his number, her number, hans nummer, hendes nummer, hennes nummer
seine nummer, ihre nummer, nyt nummer, nytt nummer
telefonisch, telefonisk, telefoniskt, erreichen, erreichen sie mich unter, tel no, dial, landline, fastnet
fastnettelefon, festnetz, hemtelefon
hjemmetelefon, arbejdstelefon, arbetstelefon, direktnummer, switchboard, reception, zentrale, växel
omstilling, hovednummer, anrufen, angerufen, ruf, rufen sie, rief an, fax, faxnummer, faxnr, telefax, sms
sms til, sms till, smses, text, text me on, texted, texting, whatsapp, contact
contact no, contact number, kontakt, kontaktnummer, hotline, helpline, direct, direct line, direkte, direkt
durchwahl, reach, reached, reached on, reached at, ph, t, m, mob, nås, nås på, fås på, erreichbar
erreichbar unter, träffas på, emergency contact, emergency phone, nødkontakt, nødtelefon, notfallkontakt
notfallnummer, callback, call back, rückruf, ring tilbage, ring tillbaka, voicemail, msisdn, caller
caller id, gsm, privatnummer, pager
`);

/** No part of a longer number, of a code or of a path; after “=” only where the field is one for phones. */
const APART =
  '(?<![\\p{L}\\p{N}_+])(?<!\\p{N}[.,:/–-])(?<!\\p{L}-)(?<![-#]\\p{N}{0,1}-)(?<!/)(?<!(?<!(?:[Pp]hone|[Tt]el|[Tt]lf|[Mm]obile?|[Tt]elefon|[Ff]ax|[Hh]andy|msisdn|MSISDN)(?:[ _-]?(?:[Nn]o|[Nn]r|[Nn]umber|[Nn]ummer))?)=)';

export const PHONE_NUMBER: BuiltIn = {
  kind: 'pattern',
  id: 'phone',
  name: 'Phone number',
  category: 'contact',
  source: 'ITU-T E.164 and E.123; national numbering plans (libphonenumber)',
  anchor: {
    by: 'pattern',
    pattern: `${APART}(?:${[
      // With the code of a country.
      '(?:\\+|00)[1-9]\\d{0,2}[ .\\-/]{0,2}(?:\\(0?\\d{0,4}\\)[ .\\-]?)?\\d{1,9}(?:[ .\\-/]{1,2}?\\d{1,9}){1,5}',
      '(?:\\+|00)[1-9]\\d{7,14}',
      '\\((?:\\+|00)[1-9]\\d{0,2}\\)[ .\\-]?\\d{2,4}(?:[ .\\-]?\\d{2,4}){1,4}',
      '4[5-7](?: \\d{2}){4}',
      '4[4-9]\\d{8,11}',
      '1([-. ])\\d{3}\\1\\d{3}\\1\\d{4}',
      // With that of a place.
      '\\(0?\\d{2,5}\\)[ .\\-]{0,2}\\d{2,5}(?:[ .\\-]\\d{2,5}){0,3}',
      '0\\d{1,5}[ .\\-/–]{1,3}\\d{2,8}(?:[ .\\-]\\d{2,5}){0,4}(?:[ -]0)?',
      '0\\d \\d{2}(?: \\d{2})? ?/ ?\\d(?: ?\\d{2}){2,4}',
      '0\\d{8,11}',
      // Bare.
      '\\d{2}(?: \\d{2}){3}',
      // The last groups of a card or an account are none.
      '(?<!\\d{4} )\\d{4} \\d{4}',
      '[2-9]\\d{7}',
      '\\d{3}[-. ]\\d{3}[-. ]\\d{4}',
      '\\d{3}([ -])\\d{3}\\2\\d{3}',
      '\\d{3} \\d{2}(?: \\d{2}){2}',
      '\\d{3} \\d{6,7}',
      '\\d{3} \\d{2} \\d{3}',
    ].join('|')})(?![\\p{L}\\p{N}_])(?![.,:/–-]\\p{N})(?! \\d{4}(?!\\d))`,
  },
  start: 0,
  checks: [
    { check: 'check digit', by: 'phone near', passes: 0, fails: 'drop' },
    { check: 'length', of: 'digits', from: 8, to: 15, passes: 0, fails: 'drop' },
    { check: 'does not match', pattern: '^\\d', passes: 2.5, fails: 0 },
    { check: 'does not match', pattern: '^\\d+$', passes: 0, fails: -3 },
    // Dates, and numbers that hold one.
    {
      check: 'does not match',
      pattern: '^(?:0[1-9]|[12]\\d|3[01])([.-])(?:0[1-9]|1[0-2])\\1(?:19|20)\\d\\d$',
      passes: 0,
      fails: 'drop',
    },
    {
      check: 'does not match',
      pattern: '^(?:[0-2]\\d|3[01])(?:0\\d|1[0-2])\\d\\d-\\d{4}$',
      passes: 0,
      fails: -3.5,
    },
    // The dialling code of a place, set apart.
    { check: 'does not match', pattern: '^\\(?0\\d{1,4}\\)?[ /-]+\\d{3,}', passes: 0, fails: 0.9 },
    {
      check: 'does not match',
      pattern:
        '^(?:19|20)\\d\\d (?:19|20)\\d\\d$|^0[0-9][ .-](?:0[1-9]|1[0-2])[ .-](?:19|20)?\\d\\d|^\\d\\d \\d\\d \\d\\d \\d\\d$',
      passes: 0,
      fails: -1,
    },
  ],
  context: [
    { where: 'before', within: 26, words: PHONE, steps: 5 },
    { where: 'heading', within: 1, words: PHONE, steps: 5 },
    // Also a number for taxes.
    { where: 'before', within: 6, words: ['tfn'], steps: 2.5 },
    { where: 'heading', words: ['tfn'], steps: 2.5 },
    {
      where: 'after',
      within: 14,
      words: list(`
mobile, mobil, tel, phone, tlf, telefon, cell, handy, fax, privat, private, office, work, home, arbejde, hjem, arbete
hem, arbeit, zuhause, dienstlich, direct, direkte, direkt, erreichbar, zu erreichen, erreichen, anrufen
`),
      steps: 3,
    },
    { where: 'brackets', within: 30, words: PHONE, steps: 5 },
    {
      where: 'before',
      within: 12,
      pattern:
        '(?:me|us|him|her|them|you) (?:back )?(?:on|at|under)[: ]+$|(?:mig|ham|hende|os|dem|honom|henne|oss) (?:på|under)[: ]+$|(?:mich|uns|ihn|sie|ihr|ihm) (?:unter|auf)(?: der)?[: ]+$',
      steps: 4,
    },
    {
      where: 'before',
      within: 12,
      pattern: '(?:home|work|office|private?|hjem|hemma|arbejde|arbete|dienstlich|daytime|evening): ?$',
      steps: 4,
    },
    {
      where: 'before',
      within: 8,
      pattern: '(?<!\\p{L})(?:or|eller|oder|el\\.|og|och|and|und) $',
      steps: 1.5,
    },
    { where: 'before', within: 2, pattern: '☎\\s?$|📞\\s?$|✆\\s?$', steps: 5 },
    {
      where: 'before',
      within: 26,
      words: [
        ...LOOKALIKE_WORDS.filter((w) => w !== 'ref'),
        'cost',
        'costs',
        'price',
        'koster',
        'kostar',
        'kostet',
        'pris',
        'preis',
        'cpr',
        'cvr',
        'vat',
        'moms',
        'konto',
        'kontonummer',
        'account',
        'blz',
        'steuernummer',
        'svnr',
        'bankgiro',
        'reg',
        'card',
        'kort',
        'kundenr',
        'kundenummer',
        'kundnummer',
        'kundennummer',
        'customer',
        'member',
        'postnummer',
        'plz',
        'zip',
        'iban',
        'id',
        'org',
        'organisationsnummer',
      ],
      steps: -5,
    },
    {
      where: 'heading',
      within: 1,
      words: [
        ...LOOKALIKE_WORDS,
        'id',
        'cvr',
        'account',
        'konto',
        'date',
        'dato',
        'datum',
        'zip',
        'postnummer',
        'plz',
        'time',
        'tid',
        'km',
        'year',
      ],
      steps: -6,
    },
    { where: 'after', within: 8, pattern: QUANTITY_AFTER, steps: -5 },
    { where: 'around', within: 25, detector: 'email', steps: 2.7 },
    { where: 'line', detector: 'email', steps: 1.5 },
    { where: 'around', within: 40, detector: 'person-name', steps: 2 },
  ],
  competes: true,
  examples: [
    'Tel. ⟦+45 32 14 55 66⟧',
    'Call ⟦020 7946 0018⟧ after six',
    'Mobil: ⟦070-174 06 05⟧',
    'Telefon ⟦040 / 428 63 10 00⟧'.replace('428 63 10 00', '42863100'),
    'tlf. ⟦20 12 34 56⟧',
    'phone: ⟦(212) 555-2368⟧',
    '⟦+49 151 23456789⟧ or write',
    'Ring ⟦31415926⟧',
    'Tlf. ⟦(+45) 32 14 55 66⟧',
    'Du kan ringe på ⟦21 37 48 59⟧.',
    'Write to hr@brindlestrait.example or ⟦32 14 55 00⟧',
    'Telefon ⟦0431-988 0⟧',
    'phone=⟦32145566⟧',
  ],
  counterExamples: [
    'Order 20 12 34 56',
    'Consultancy, 21 hours at 1200 1300',
    'Phone boxes cost 1200 1300',
    'Saltmiles SM-7368 0178 8. Written to hr@brindlestrait.example',
    'id=32145566',
    'sum 32 14 55 66 kr',
    'version 31415926',
    'ISBN 978-3-16-148410-0',
    'ref 0207 946 0018 1',
    '2024 2025',
    'GTIN 4006381333931',
    '12 34 56',
  ],
};
