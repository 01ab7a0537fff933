import { ALONE_AFTER, ALONE_BEFORE } from '../pattern/number-bounds.ts';
import type { BuiltIn, Category, Check, Context } from '../detector/detector.ts';
import { list } from './list.ts';

/** One kind of number that stands for a person, as the library's tables give it. */
export interface NumberRow {
  readonly id: string;
  readonly name: string;
  readonly country: string;
  /** The shape without its boundaries. */
  readonly body: string;
  /** Named checks of `check-digit.ts`. */
  readonly check?: string;
  /** How its digits hold a date. */
  readonly date?: string;
  /** Steps of the bare number: `strong` stands alone, `medium` and `weak` need a word beside them. */
  readonly strength: 'strong' | 'medium' | 'weak';
  /** Steps when it is written as digits alone. */
  readonly bare?: number;
  readonly labels: readonly string[];
  readonly source: string;
  /** Valid values. */
  readonly good: readonly string[];
  /** Values of the shape that are none. */
  readonly bad: readonly string[];
  readonly category?: Category;
  readonly more?: readonly Check[];
}

const START = { strong: 2, medium: 0, weak: -2 } as const;

/** No letter or digit on either side, and no longer number of which this would be a part. */
export function bounded(body: string): string {
  return `${ALONE_BEFORE}${body}${ALONE_AFTER}`;
}

/** Words before a number, or over its column, that say it is something else. */
export const LOOKALIKE_WORDS = list(`
order, orders, order no, ordre, ordrenummer, ordrenr, beställning, beställningsnummer, ordernummer
bestellung, bestellnummer, bestellnr, auftrag, auftragsnummer, invoice, faktura, fakturanummer
fakturanr, rechnung, rechnungsnummer, receipt, kvittering, kvitto, beleg, belegnummer, quittung, ref
reference, referencenr, referens, referenz, referensnummer, referencenummer, ticket, billet, biljett
sag, sagsnr, sagsnummer, ärende, ärendenummer, diarienummer, aktenzeichen, vorgang, vorgangsnummer
case, case no, tracking, track, trace, parcel, shipment, sendung, sendungsnummer, pakke, paket
paketnummer, forsendelse, försändelse, serial, serienummer, seriennummer, serial no, sn, s n, part
part no, artikel, artikelnummer, artikelnr, varenummer, varenr, sku, ean, gtin, upc, isbn, issn, doi
product, produkt, produktnummer, item, item no, model, modell, batch, lot, charge, build, version
versions, revision, rev, commit, sha, sha1, sha256, md5, hash, checksum, prüfsumme, crc, uuid, guid
transaction, transaktion, txn, transaction id, session, session id, request id, job, job id, timestamp
epoch, unix, port, pid, row, record, counter, claim, claim no, claim number, skadenummer, skadenr, schadennummer
schadennr, policy no, policy number, policenummer, police, polis, journal, journalnr, journalnummer, counter, amount, beløb, belopp, betrag, sum, total
subtotal, saldo, balance, price, pris, preis, quantity, antal, anzahl, menge, weight, vægt, vikt
gewicht, volume, container, booking, bookingnr, bookingnummer, bokningsnummer, buchungsnummer, buchung
buchungscode, bokning, reservation, voucher, coupon, gutschein, locker, meter, målernummer, zähler
zählernummer, mätare, flight, imo, mmsi, hull, vessel, barcode, stregkode, streckkod, strichcode
purchase order, po, delivery, levering, leverans, lieferung, lieferschein, lieferscheinnummer
følgeseddel, manifest, cargo, seal, plombe, error, fejl, fel, fehler, error code, code, kode, kod, pin
random, seed, nonce, checksum, offset, size, bytes
`);

const OTHER_NUMBERS = list(`
phone, tel, tlf, telefon, telephone, telefonnummer, mobile, mobil, mobilnummer, mobilnr, handy
handynummer, fax, cell, konto, kontonummer, kontonr, account, account no, account number, bankkonto
bankgiro, plusgiro, giro, iban, card, kort, kortnummer, karte, kartennummer, kreditkarte
`);

const GENERIC = list(`
national id, national identity, national identification, identity number, identity no, id number
id no, id nr, personal number, personal id, personal identification number, identification number
identity card, tax number, tax id, tax identification, tin, tax no, social security, citizen, ssn
personal code, personal identity code, personnummer, personnr, personalnummer, identitetsnummer, ausweis, ausweisnummer, steuernummer
`);

/** A number after which a unit or currency stands is a quantity. */
export const QUANTITY_AFTER =
  '^[ \u00a0]?(?:kr\\b|dkk|sek|nok|eur|€|\\$|usd|gbp|£|%|kg\\b|km\\b|m²|m2\\b|m3\\b|pcs|stk|stück|styck|liter|mb\\b|gb\\b|kb\\b|ms\\b|px\\b|rows|bytes|kwh|hours|timer|seconds)';

const OF_OTHERS = [...LOOKALIKE_WORDS, ...OTHER_NUMBERS];

/**
 * What stands beside a value with these labels. Words that are in both lists speak for it: of two that are as near,
 * the first counts. Detectors that have a list in common look it up once.
 */
export function labelled(labels: readonly string[], lookalikes: readonly string[] = OF_OTHERS): Context[] {
  const against = [...lookalikes];
  return [
    { where: 'before', within: 45, words: [...labels], steps: 5 },
    { where: 'heading', within: 1, words: [...labels], steps: 5 },
    { where: 'brackets', within: 30, words: [...labels], steps: 5 },
    { where: 'after', within: 24, words: [...labels], steps: 3.5 },
    { where: 'before', within: 28, words: against, steps: -5 },
    { where: 'before', within: 2, pattern: '#\\s?$|№\\s?$', steps: -4 },
    { where: 'heading', within: 1, words: against, steps: -5 },
    { where: 'after', within: 8, pattern: QUANTITY_AFTER, steps: -5 },
  ];
}

const NATION = /^((?:\p{Lu}[\p{L}]+(?:, | or | )){1,4})(.+)$/u;
const ABROAD = {
  tax: list('tax id, tax number, tax no, tax identification number, tin'),
  bank: list('bank account, account'),
  company: list('company number, company no, business id'),
  person: list(`
id, id no, id number, id card, identity, identity number, identity card, national id, national identity number
personal number, personal id, personal code, citizen number
`),
};

/** What it is called where its own name is not known: “Danish ID”, “Polish tax number”. */
function foreignLabels(name: string): readonly string[] {
  const [, nations, rest = ''] = NATION.exec(name) ?? [];
  if (nations === undefined) return [name.toLowerCase()];
  let kind: keyof typeof ABROAD = 'person';
  if (/tax|VAT/.test(name)) kind = 'tax';
  else if (/bank|giro/.test(name)) kind = 'bank';
  else if (/company|organisation|business|employer/.test(name)) kind = 'company';
  const each = nations
    .trim()
    .toLowerCase()
    .split(/, | or /);
  return [
    name.toLowerCase(),
    ...each.flatMap((n) => [...ABROAD[kind], rest.toLowerCase()].map((k) => `${n} ${k}`)),
  ];
}

export function identityNumber(row: NumberRow): BuiltIn {
  const {
    id,
    name,
    country,
    body,
    check,
    date,
    strength,
    bare,
    source,
    good,
    bad,
    category = 'identity',
    more = [],
  } = row;
  const labels = [...new Set([...row.labels, ...foreignLabels(name)])];
  const checks: Check[] = [];
  if (date) checks.push({ check: 'date', digits: date, passes: 0, fails: 'drop' });
  if (check) checks.push({ check: 'check digit', by: check, passes: 0, fails: 'drop' });
  if (bare !== undefined) checks.push({ check: 'does not match', pattern: '^\\d+$', passes: 0, fails: bare });
  checks.push(...more);
  const [label = name] = labels;
  return {
    kind: 'pattern',
    id,
    name,
    category,
    country,
    source,
    anchor: {
      by: 'pattern',
      pattern: bounded(body),
      ignoreCase: /[A-Z]/.test(body.replace(/\\[A-Za-z]/g, '')),
    },
    start: START[strength],
    checks,
    context: [
      ...labelled(labels),
      { where: 'before', within: 45, words: GENERIC, steps: 2.5 },
      { where: 'heading', within: 1, words: GENERIC, steps: 2.5 },
    ],
    competes: true,
    examples: [
      ...good.map((v) => `${label}: ⟦${v}⟧`),
      ...good.slice(0, 1).map((v) => `Please check ${label} ⟦${v}⟧ before the crossing.`),
      ...(strength === 'strong' ? good.slice(0, 1).map((v) => `It says ⟦${v}⟧ there.`) : []),
    ],
    counterExamples: [
      ...bad.map((v) => `${label}: ${v}`),
      ...good.slice(0, 1).map((v) => `Order no. ${v} left the terminal.`),
      ...good.slice(0, 1).map((v) => `Serial ${v}7-x`),
      ...(strength === 'weak' ? good.slice(0, 1).map((v) => `There were ${v} of them.`) : []),
    ],
  };
}
