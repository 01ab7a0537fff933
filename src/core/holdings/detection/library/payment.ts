import { IBAN_LENGTHS } from '../detector/check-digit.ts';
import type { BuiltIn } from '../detector/detector.ts';
import { list } from './list.ts';
import { bounded, identityNumber, labelled, LOOKALIKE_WORDS } from './identity-number.ts';

const CARD_WORDS = list(`
card, card no, card number, credit card, debit card, payment card, visa, mastercard, amex
american express, maestro, dankort, pan, cc, ccn, kort, kortnummer, kortnr, kreditkort, betalingskort
betalkort, bankkort, betalkortsnummer, kreditkarte, kreditkartennummer, karte, kartennummer
kreditkartennr, carte, tarjeta, carta, expires, exp, expiry, cvv, cvc, udløb, utgår, gültig
`);

/** By the length that a country's numbers have, in groups or not: what follows is no part of it. */
const IBAN = `(?<![\\p{L}\\p{N}])(?:${[...new Set(Object.values(IBAN_LENGTHS))]
  .sort((a, b) => b - a)
  .map((length) => {
    const countries = Object.keys(IBAN_LENGTHS).filter((c) => IBAN_LENGTHS[c] === length);
    return `(?:${countries.join('|')})\\d{2}(?:[ \\u00a0-]?[A-Z0-9]){${length - 4}}`;
  })
  .join(
    '|',
  )})(?![\\p{L}\\p{N}])|(?<=(?:iban|IBAN|Iban)[^\\n]{0,16}[ :=])[a-z]{2}\\d{2}[a-z0-9]{11,30}(?![\\p{L}\\p{N}])`;

export const PAYMENT: readonly BuiltIn[] = [
  {
    kind: 'pattern',
    id: 'payment-card',
    name: 'Payment card number',
    category: 'finance',
    source: 'ISO/IEC 7812-1 (length, issuer ranges, Luhn check digit)',
    anchor: {
      by: 'pattern',
      pattern:
        bounded(
          '\\d{4}([ -])\\d{4}\\1\\d{4}\\1\\d{4}(?:\\1\\d{3})?|\\d{4}([ -])\\d{6}\\2\\d{5}|\\d{4}([ -])\\d{6}\\3\\d{4}|[2-6]\\d{12,18}',
        ) + '(?![ -]\\d{4}(?!\\d))',
    },
    start: 2,
    checks: [
      { check: 'check digit', by: 'card', passes: 0, fails: 'drop' },
      { check: 'does not match', pattern: '^(?:\\d{12,14}|\\d{17,})$', passes: 0, fails: -3 },
    ],
    context: [
      ...labelled(CARD_WORDS, [
        ...LOOKALIKE_WORDS,
        'imei',
        'phone',
        'tel',
        'tlf',
        'telefon',
        'telefonnummer',
        'mobil',
        'konto',
        'kontonummer',
        'account',
        'account number',
        'customer number',
        'kundenummer',
        'kundnummer',
        'kundennummer',
        'membership',
        'member',
        'medlem',
      ]),
      { where: 'line', words: CARD_WORDS, steps: 1.5 },
    ],
    competes: true,
    examples: [
      'Card: ⟦4111 1111 1111 1111⟧',
      'paid with ⟦5500-0000-0000-0004⟧ today',
      'Amex ⟦3400 000000 00009⟧',
      'Kreditkarte ⟦4012888888881881⟧',
      'It is ⟦6011000000000004⟧, she said.',
    ],
    counterExamples: [
      'Card: 4111 1111 1111 1112',
      'Order 4111111111111111',
      'Tracking 4012888888881881',
      'hash 4111111111111111a',
      'IMEI 490154203237518',
      '0000 0000 0000 0000',
    ],
  },
  {
    kind: 'pattern',
    id: 'iban',
    name: 'IBAN',
    category: 'finance',
    source: 'ISO 13616-1; SWIFT IBAN registry (length by country, check MOD 97-10)',
    anchor: {
      by: 'pattern',
      pattern: IBAN,
    },
    start: 6,
    checks: [{ check: 'check digit', by: 'IBAN', passes: 0, fails: 'drop' }],
    context: [
      {
        where: 'before',
        within: 40,
        words: ['iban', 'konto', 'kontonummer', 'account', 'bankkonto', 'bankverbindung', 'bank'],
        steps: 2,
      },
      { where: 'heading', within: 1, words: ['iban', 'konto', 'account', 'bank'], steps: 2 },
    ],
    competes: true,
    examples: [
      'IBAN: ⟦GB82 WEST 1234 5698 7654 32⟧',
      'Pay to ⟦DE89370400440532013000⟧ by Friday',
      'Konto ⟦DK50 0040 0440 1162 43⟧',
      '⟦NO93 8601 1117 947⟧',
      '⟦SE45 5000 0000 0583 9825 7466⟧',
      '⟦FR14 2004 1010 0505 0001 3M02 606⟧',
      '⟦MT84MALT011000012345MTLCAST001S⟧',
      'IBAN ⟦DK50 0040 0440 1162 43⟧ BIC NDEADKKK',
      'IBAN ⟦NO93 8601 1117 947⟧ 2000 kr',
      'iban: ⟦gb82west12345698765432⟧',
    ],
    counterExamples: [
      'IBAN: GB82 WEST 1234 5698 7654 33',
      'DE89370400440532013001',
      'Part AB12 3456 7890 1234',
    ],
  },
  {
    kind: 'pattern',
    id: 'bic',
    name: 'BIC',
    category: 'finance',
    source: 'ISO 9362',
    anchor: {
      by: 'pattern',
      pattern: '(?<![\\p{L}\\p{N}_])[A-Z]{6}[A-Z2-9][A-NP-Z0-9](?:[A-Z0-9]{3})?(?![\\p{L}\\p{N}_])',
    },
    start: -3,
    checks: [{ check: 'check digit', by: 'BIC', passes: 0, fails: 'drop' }],
    context: [
      {
        where: 'before',
        within: 30,
        words: ['bic', 'swift', 'swift code', 'bic code', 'bic/swift', 'swift-bic', 'bic-code'],
        steps: 6,
      },
      { where: 'heading', within: 1, words: ['bic', 'swift'], steps: 6 },
      { where: 'brackets', within: 20, words: ['bic', 'swift'], steps: 6 },
      { where: 'line', words: ['bic', 'swift'], steps: 3 },
      { where: 'line', detector: 'iban', steps: 5 },
    ],
    competes: true,
    examples: ['BIC: ⟦DEUTDEFF⟧', 'SWIFT code ⟦NDEADKKK⟧', 'BIC ⟦DABASESX500⟧'],
    counterExamples: ['The word DOWNLOAD is long', 'BIC: ABCDZZ22', 'PASSENGER LIST'],
  },
  {
    kind: 'pattern',
    id: 'us-bank-routing',
    name: 'US bank routing number',
    category: 'finance',
    country: 'US',
    source: 'ABA Routing Number Policy (weights 3 7 1)',
    anchor: { by: 'pattern', pattern: bounded('(?:0\\d|1[0-2]|2[1-9]|3[0-2]|6[1-9]|7[0-2]|80)\\d{7}') },
    start: -3,
    checks: [{ check: 'check digit', by: 'ABA', passes: 0, fails: 'drop' }],
    context: labelled(['routing', 'routing number', 'routing no', 'aba', 'aba number', 'rtn']),
    competes: true,
    examples: ['Routing number: ⟦021000021⟧'],
    counterExamples: ['Routing number: 021000022', 'There were 021000021 of them'],
  },
  {
    kind: 'pattern',
    id: 'gb-bank-account',
    name: 'UK sort code and account',
    category: 'finance',
    country: 'GB',
    source: 'Pay.UK, Sorting code and account number formats',
    anchor: { by: 'pattern', pattern: bounded('\\d{2}([- ])\\d{2}\\1\\d{2}(?:[ ,/]{1,3}\\d{8})?|\\d{8}') },
    start: -3,
    checks: [
      // Eight digits are an account only beside a sort code.
      { check: 'does not match', pattern: '^\\d{8}$', passes: 0, fails: -3 },
      { check: 'does not match', pattern: '^\\d{2} ', passes: 0, fails: -1.5 },
    ],
    context: [
      ...labelled(
        list(`
sort code, sort-code, sortcode, sort, s/c, account, account no, account number, acc no, acc, a/c, a/c no, bank account
bank details
`),
        [...LOOKALIKE_WORDS, 'date', 'born', 'dob', 'dato', 'datum', 'vat', 'cvr', 'phone', 'tel'],
      ),
      { where: 'around', within: 60, words: ['sort code', 'sort-code', 'sortcode'], steps: 3.5 },
    ],
    competes: true,
    examples: [
      'Sort code: ⟦20-00-00 55779911⟧',
      'sort code ⟦60-83-71⟧',
      'Sort code 20-41-53, account ⟦41285093⟧',
      'Account number: ⟦41285093⟧, sort code 20-41-53',
    ],
    counterExamples: ['Date: 12-03-24', '20-00-00', 'Account number: 41285093', 'account 12 03 24'],
  },
  {
    kind: 'pattern',
    id: 'dk-bank-account',
    name: 'Danish bank account',
    category: 'finance',
    country: 'DK',
    source: 'Finans Danmark, Registreringsnumre',
    anchor: {
      by: 'pattern',
      pattern: bounded(
        '\\d{4}[ -]\\d{6}|\\d{4},?\\s{1,3}[Kk](?:on)?to(?:[. -]{0,2}nr|nummer)?[.:]{0,2} ?\\d{6,10}|\\d{4}[ -]\\d{8,10}|\\d{4}[ -]\\d{3} ?\\d{3} ?\\d{4}',
      ),
    },
    start: -3,
    context: labelled(
      list(`
reg, reg nr, reg-nr, reg.nr, regnr, reg konto, reg kontonr, reg og kontonr, reg nr og kontonr, registreringsnummer, registreringsnr, konto, kontonr, konto nr
kontonummer, lønkonto, nemkonto, bankkonto, bankkontonummer, bankoplysninger, danish bank account, danish account
bank account, account, account number
`),
      LOOKALIKE_WORDS,
    ),
    competes: true,
    examples: ['Reg.nr. og kontonr.: ⟦0040 0440116243⟧', 'Lønkonto ⟦4321-0012345678⟧'],
    counterExamples: ['Ordre 0040 0440116243', 'nummer 4321 001234'],
  },
  {
    kind: 'pattern',
    id: 'se-bankgiro',
    name: 'Swedish giro number',
    category: 'finance',
    country: 'SE',
    source: 'Bankgirot, Bankgironummer (Luhn)',
    anchor: { by: 'pattern', pattern: bounded('\\d{3,4}-\\d{4}|\\d{1,7}-\\d|\\d{1,2}(?: \\d{2}){1,3}-\\d') },
    start: -3,
    checks: [{ check: 'check digit', by: 'luhn', passes: 0, fails: 'drop' }],
    context: labelled(
      list(`
bankgiro, bg, bg-nr, bankgironr, bankgironummer, bankgirot, plusgiro, plusgironummer, pg, postgiro, swedish giro number, giro number
`),
      LOOKALIKE_WORDS,
    ),
    competes: true,
    examples: ['Bankgiro: ⟦991-2346⟧', 'Plusgiro ⟦4789-4⟧'],
    counterExamples: ['Bankgiro: 991-2347', 'sidan 991-2346'],
  },
  {
    kind: 'pattern',
    id: 'se-bank-account',
    name: 'Swedish bank account',
    category: 'finance',
    country: 'SE',
    source: 'Bankgirot, Bankernas kontonummer',
    anchor: {
      by: 'pattern',
      pattern: bounded(
        '\\d{4}(?:-\\d)?[-, ]{1,2}(?:[Kk]onto(?:nr|nummer)?[.:]{0,2} ?)?(?:\\d{2,3}[ .]?\\d{3}[ .]?\\d{2,3}(?:[ -]?\\d){0,2}|\\d{7,10})',
      ),
    },
    start: -3,
    context: labelled(
      list(`
clearing, clearingnr, clearingnummer, clearing nr, clearing- och kontonummer, clearing och kontonummer, kontonummer
konto, konto nr, bankkonto, bankkontonummer, lönekonto, kontonr, bankuppgifter, swedish bank account, swedish account
bank account, account, account number
`),
      LOOKALIKE_WORDS,
    ),
    competes: true,
    examples: [
      'Clearing- och kontonummer: ⟦5001-1234567⟧',
      'clearingnr ⟦8327-9, konto 123 456 789-0⟧',
      'Bankkonto: ⟦8327-9,923 123 456-7⟧',
    ],
    counterExamples: ['Artikel 5001-1234567'],
  },
  {
    kind: 'pattern',
    id: 'de-bank-account',
    name: 'German bank account',
    category: 'finance',
    country: 'DE',
    source: 'Deutsche Bundesbank, Bankleitzahlen',
    anchor: { by: 'pattern', pattern: bounded('\\d{3} ?\\d{3} ?\\d{2}|\\d{7,10}') },
    start: -5,
    context: [
      ...labelled(
        list(`
blz, bankleitzahl, kto, kto-nr, ktonr, kontonr, konto-nr, kontonummer, bankverbindung, german bank account, german account
`),
        LOOKALIKE_WORDS,
      ).map((c) => {
        if (c.steps < 0) return c;
        return c.where === 'before'
          ? { ...c, within: 12, steps: 7 }
          : c.where === 'heading'
            ? { ...c, steps: 7 }
            : c;
      }),
      { where: 'before', within: 8, words: ['konto'], steps: 4 },
      { where: 'around', within: 40, words: ['blz', 'bankleitzahl'], steps: 3.5 },
    ],
    competes: true,
    examples: [
      'BLZ ⟦370 400 44⟧',
      'Kto-Nr. ⟦532013000⟧',
      'Konto-Nr. ⟦532013000⟧',
      'Bankverbindung: Konto ⟦532013000⟧, BLZ 37040044',
    ],
    counterExamples: ['Lager 370 400 44', 'Bestellnr. 532013000'],
  },
  {
    kind: 'pattern',
    id: 'crypto-address',
    name: 'Bitcoin or Ethereum address',
    category: 'finance',
    source: 'Bitcoin Base58Check and BIP 173; EIP-55',
    anchor: {
      by: 'pattern',
      pattern:
        '(?<![\\p{L}\\p{N}_])(?:[13][1-9A-HJ-NP-Za-km-z]{25,34}|bc1[ac-hj-np-z02-9]{11,71}|0x[0-9A-Fa-f]{40})(?![\\p{L}\\p{N}_])',
    },
    start: 4,
    checks: [{ check: 'check digit', by: 'wallet', passes: 0, fails: 'drop' }],
    competes: true,
    examples: [
      'Wallet ⟦1A1zP1eP5QGefi2DMPTfTL5SLmv7DivfNa⟧',
      'send to ⟦bc1qar0srrr7xfkvy5l643lydnw9re59gtzzwf5mdq⟧',
      'ETH ⟦0x5aAeb6053F3E94C9b9A09f33669435E7Ef1BeAed⟧',
    ],
    counterExamples: [
      'ETH 0x5aAeb6053F3E94C9b9A09f33669435E7Ef1BeAeD',
      'Wallet 1A1zP1eP5QGefi2DMPTfTL5SLmv7DivfNb',
      'id 3fbd2b7f1d9c4d7fbd0f1d9c4d7f',
    ],
  },
  identityNumber({
    id: 'mx-clabe',
    name: 'Mexican CLABE',
    country: 'MX',
    body: '\\d{18}',
    check: 'MX.clabe',
    strength: 'weak',
    category: 'finance',
    labels: ['clabe', 'cuenta clabe', 'clabe interbancaria'],
    source: 'Banco de México, Circular 3/2012',
    good: ['032180000118359719'],
    bad: ['032180000118359718'],
  }),
  identityNumber({
    id: 'no-bank-account',
    name: 'Norwegian bank account',
    country: 'NO',
    body: '\\d{4}[. ]?\\d{2}[. ]?\\d{5}',
    check: 'NO.kontonr',
    strength: 'weak',
    category: 'finance',
    labels: ['kontonummer', 'kontonr', 'konto', 'bankkonto', 'konto nr'],
    source: 'Bits AS, Kontonummer (mod 11)',
    good: ['8601 11 17947', '8601.11.17947'],
    bad: ['8601 11 17949'],
  }),
  identityNumber({
    id: 'eu-vat',
    name: 'EU VAT number',
    country: '',
    body: '(?:ATU\\d{8}|BE[01]\\d{9}|BG\\d{9,10}|CY\\d{8}[A-Z]|CZ\\d{8,10}|DE\\d{9}|EE\\d{9}|EL\\d{9}|ES[A-Z0-9]\\d{7}[A-Z0-9]|FI\\d{8}|FR[A-Z0-9]{2}\\d{9}|HR\\d{11}|HU\\d{8}|IE\\d{7}[A-W][A-I]?|IE\\d[A-Z+*]\\d{5}[A-W]|IT\\d{11}|LT(?:\\d{9}|\\d{12})|LU\\d{8}|LV\\d{11}|MT\\d{8}|NL\\d{9}B\\d{2}|PL\\d{10}|PT\\d{9}|RO\\d{6,10}|SE\\d{10}01|SI\\d{8}|SK\\d{10})',
    check: 'EU VAT',
    strength: 'medium',
    category: 'finance',
    labels: list(`
vat, vat no, vat number, vat id, vat reg, moms, momsnr, momsnummer, momsregistreringsnummer, ust-id
ustid, ust-idnr, ust-id-nr, ustidnr, umsatzsteuer, umsatzsteuer-id, tva, iva, btw, uid, eori, company id
`),
    source: 'Directive 2006/112/EC, art. 215; VIES',
    good: ['DE136695976', 'SE556703748501', 'ATU13585627'],
    bad: ['DE136695978', 'ATU13585626'],
  }),
];
