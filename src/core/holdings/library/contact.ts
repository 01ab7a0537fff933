import type { BuiltIn } from '../detector.ts';
import { list } from './list.ts';
import { bounded, LOOKALIKE_WORDS, QUANTITY_AFTER } from './identity-number.ts';

const PHONE = list(`
phone, phone no, phone number, telephone, tel, tlf, tlf nr, tlfnr, telefon, telefonnr, telefonnummer, telnr,
mobile, mobile no, mobil, mobilnr, mobilnummer, mobiltelefon, handy, handynummer, handynr, rufnummer, cell,
cellphone, call, ring, ring til, ring på, ringe, ringe på, ringe til, ringes, ringa, ring mig på, fang mig på,
fanges på, træffes, træffes på, kontaktes, nå mig på, mit nummer, mitt nummer, meine nummer, mobilnummeret,
mobilnumret, telefonnummeret, telefonnumret, telefonisch, telefonisk, telefoniskt, erreichen, tel no, dial,
landline, fastnet, festnetz, direktnummer, switchboard, reception, zentrale, växel, omstilling, anrufen, fax,
sms, text me on, whatsapp, contact, kontakt, hotline, direct, direkte, direkt, durchwahl, reach, ph, t, m,
nås på, fås på, erreichbar, träffas på, emergency contact, nødkontakt, notfallkontakt, callback, rückruf
`);

const BIRTH = list(`
born, birth, date of birth, birth date, birthdate, birthday, dob, d o b, født, fødselsdato, fødselsdag,
fødselsdag den, fdt, född, födelsedatum, födelsedag, föddes, geboren, geboren am, geburtsdatum, geburtstag,
geb, geb am, geb datum, gebdat, geboortedatum, né le, née le, nacido, data di nascita, fecha de nacimiento,
syntymäaika, data urodzenia, date de naissance
`);
const OTHER_DATES = list(`
date, dato, datum, due, expires, expiry, valid, valid until, issued, udstedt, gyldig, gyldig til, utfärdad,
giltig, ausgestellt, gültig, gültig bis, departure, arrival, afgang, ankomst, avgång, abfahrt, ankunft,
sailing, sent, sendt, skickat, gesendet, created, oprettet, skapad, erstellt, updated, modified, opdateret,
uppdaterad, aktualisiert, deadline, frist, from, fra, från, von, to, til, till, bis, since, siden, sedan,
seit, hired, started, ansat, anställd, eingestellt, invoice, faktura, rechnung, order, ordre, bestellung,
signed, underskrevet, meeting, møde, möte, termin, on, den, am, published, version, paid, betalt, delivery,
booked
`);

const MONTH =
  '(?:[Jj]an(?:uary|uar|uari)?|JAN|[Ff]eb(?:ruary|ruar|ruari)?|FEB|[Mm]ar(?:ch|ts|s)?|MAR|[Mm]ärz|[Aa]pr(?:il)?|APR|[Mm]a[yji]|MAY|[Jj]un[ei]?|JUN|[Jj]ul[yi]?|JUL|[Aa]ug(?:ust|usti)?|AUG|[Ss]ep(?:t|tember)?|SEP|[Oo][kc]t(?:ober)?|OCT|[Nn]ov(?:ember)?|NOV|[Dd]e[czs](?:ember)?|DEC)\\.?';
// Of a number that goes on they are only the beginning.
const SIX_DIGITS =
  '(?:\\d{2}(?:0[1-9]|1[0-2])(?:0[1-9]|[12]\\d|3[01])|(?:0[1-9]|[12]\\d|3[01])(?:0[1-9]|1[0-2])\\d{2})';
const DATE = bounded(
  `(?:0?[1-9]|[12]\\d|3[01])([./-])(?:0?[1-9]|1[0-2])\\1(?:(?:18|19|20)\\d{2}|\\d{2})|(?:0?[1-9]|1[0-2])/(?:0?[1-9]|[12]\\d|3[01])/(?:19|20)\\d{2}|(?:18|19|20)\\d{2}([-/.])(?:0[1-9]|1[0-2])\\2(?:0[1-9]|[12]\\d|3[01])|(?:19|20)\\d{2}(?:0[1-9]|1[0-2])(?:0[1-9]|[12]\\d|3[01])|${SIX_DIGITS}(?![-+]\\d)|(?:0?[1-9]|[12]\\d|3[01])(?:st|nd|rd|th|\\.)?(?: of)?[ -]${MONTH},?[ -](?:18|19|20)\\d{2}|${MONTH} (?:0?[1-9]|[12]\\d|3[01])(?:st|nd|rd|th)?,? (?:18|19|20)\\d{2}`,
);

const EN_STREET =
  '(?:Street|St|Road|Rd|Avenue|Ave|Lane|Ln|Drive|Dr|Court|Ct|Square|Sq|Place|Pl|Terrace|Close|Crescent|Cres|Way|Gardens|Grove|Hill|Row|Mews|Boulevard|Blvd|Parade|Quay|Walk|Rise|View|Wharf|Highway|Hwy|Parkway|Pkwy|Circle|Trail)';
const CAP = "\\p{Lu}[\\p{L}'’.-]{1,24}";
const UK_CODE = '[A-Z]{1,2}\\d[A-Z\\d]? ?\\d[A-Z]{2}';
const TAIL = `(?:,? ?\\n? {0,4}(?:(?:(?:DK|SE|S|D|DE|NO|N|FI|AT|A|CH|NL|B|BE|F|FR|PL|I|IT|E|ES)[- ])?\\d{3} ?\\d{1,2}(?: [A-Z]{2})? \\p{Lu}[\\p{L}-]{1,24}(?: (?:[A-ZØÅÄÖ]{1,2}|\\p{Lu}[\\p{L}-]{1,20}))?))`;
const FLOOR =
  '(?:,? (?:\\d{1,2}\\. ?(?:sal|OG|Stock|vån|tv|th|mf)\\.?(?: ?(?:tv|th|mf|li|re)\\.?)?|st\\.? ?(?:tv|th|mf)\\.?|kl\\.? ?(?:tv|th|mf)\\.?|lgh \\d{4}|[Ww]ohnung \\d{1,3}|\\d{1,2}\\.? (?:tv|th|mf)\\.?))?';
// A street's name ends in its kind, or has it as a word of its own.
const COMPOUND =
  "\\p{Lu}[\\p{Ll}'’-]{0,26}(?:vej|vejen|gade|gaden|allé|alle|alléen|stræde|plads|pladsen|torv|torvet|parken|vænget|bakken|haven|kaj|kajen|gatan|gata|vägen|väg|gränd|torget|stigen|backen|straße|strasse|str\\.|weg|platz|allee|gasse|ring|damm|ufer|steig|chaussee|veien|gaten|veg|straat|laan|plein|kade|katu|tie)";
const TWO_WORDS =
  '\\p{Lu}[\\p{L}.-]{1,24}(?: \\p{Lu}?[\\p{L}.-]{1,24}){0,2} (?:Vej|Gade|Allé|Alle|Plads|Torv|Kaj|Boulevard|Gata|Väg|Gränd|Straße|Strasse|Str\\.|Weg|Platz|Allee|Ring|Damm|Ufer|Chaussee)';
const PREFIXED =
  '(?:(?:Am|An der|An den|Im|In der|Auf dem|Auf der|Zum|Zur|Unter den|Bei der|Beim|Hinter der|Vor dem|Vid|Ved) \\p{Lu}[\\p{L}-]{2,24}|(?:Am |An der |Zum )?(?:Alter|Alten?|Neuer|Neuen?|Großer|Großen?|Kleiner|Kleinen?|Hoher|Hohen?) \\p{Lu}[\\p{L}-]{2,24})';
const NUMBER = '\\d{1,4}(?:[-–/]\\d{1,4})? ?(?:[A-Za-z](?![\\p{L}\\p{N}]))?';

/** Over what names somebody. */
const NAME_HEADINGS = list(`
name, full name, fullname, first name, last name, firstname, lastname, surname, forename, given name,
family name, navn, fornavn, efternavn, fulde navn, namn, förnamn, efternamn, vorname, nachname, familienname,
passenger, passager, passagerare, fahrgast, employee, medarbejder, medarbetare, anställd, mitarbeiter,
customer, kunde, kund, patient, contact, contact person, kontaktperson, ansprechpartner, guardian, guest,
gæst, driver, fører, förare, fahrer, applicant, ansøger, sökande, bewerber, member, medlem, mitglied, owner,
holder, parent, child, barn, kind, elev, pupil, student, signatory, author, sender, recipient, modtager,
mottagare, empfänger
`);

export const CONTACT: readonly BuiltIn[] = [
  {
    kind: 'pattern',
    id: 'email',
    name: 'E-mail address',
    category: 'contact',
    source: 'RFC 5321, 4.1.2; RFC 6531',
    anchor: {
      by: 'pattern',
      pattern:
        "(?<![\\p{L}\\p{N}._%+'-])(?<!://[^\\s/]{0,80})(?:[\\p{L}\\p{N}_](?:[\\p{L}\\p{N}._%+'’-]{0,62}[\\p{L}\\p{N}_+-])?)@(?:[\\p{L}\\p{N}](?:[\\p{L}\\p{N}-]{0,61}[\\p{L}\\p{N}])?\\.){1,6}\\p{L}{2,24}(?![\\p{L}\\p{N}]|\\.[\\p{L}\\p{N}]|@|:[~./\\w-]{0,80}/)",
    },
    start: 4.5,
    checks: [
      {
        check: 'does not match',
        pattern: '\\.\\.|@\\d+x\\.|\\.(?:png|jpe?g|gif|svg|webp|js|css|ts|json|md|html?)$',
        passes: 0,
        fails: 'drop',
      },
      {
        check: 'does not match',
        pattern:
          '^(?:no-?reply|do-?not-?reply|noreply|postmaster|mailer-daemon|hostmaster|abuse|webmaster)[@+]',
        passes: 0,
        fails: -2.5,
      },
    ],
    competes: true,
    mask: 'ends',
    examples: [
      'Write to ⟦tove.lindqvist@brindlestrait.example⟧ today',
      '<⟦osei+crew@mail.brindlestrait.example⟧>',
      'mailto:⟦jürgen@müller.example⟧',
      'E-Mail:⟦a.b-c@x-y.example⟧.',
    ],
    counterExamples: [
      '@brindle on the wall',
      'logo@2x.png',
      'user@localhost',
      'anna@',
      'a@b..example',
      'ssh git@host.example:group/path',
    ],
  },
  {
    kind: 'pattern',
    id: 'phone',
    name: 'Phone number',
    category: 'contact',
    source: 'ITU-T E.164 and E.123; national numbering plans (libphonenumber)',
    anchor: {
      by: 'pattern',
      pattern:
        '(?<![\\p{L}\\p{N}_+])(?<!\\p{N}[.,:/–-])(?<!\\p{L}-)(?<![-#]\\p{N}{0,1}-)(?<!/)(?<!(?<![Pp]hone|[Tt]el|[Tt]lf|[Mm]obile?|[Tt]elefon|[Ff]ax)=)(?:(?:\\+|00)[1-9]\\d{0,2}[ .\\-/]{0,2}(?:\\(0?\\d{0,4}\\)[ .\\-]?)?\\d{1,9}(?:[ .\\-/]{1,2}?\\d{1,9}){1,5}|(?:\\+|00)[1-9]\\d{7,14}|\\((?:\\+|00)[1-9]\\d{0,2}\\)[ .\\-]?\\d{2,4}(?:[ .\\-]?\\d{2,4}){1,4}|\\(0?\\d{2,5}\\)[ .\\-]{0,2}\\d{2,5}(?:[ .\\-]\\d{2,5}){0,3}|0\\d{1,5}[ .\\-/–]{1,3}\\d{2,8}(?:[ .\\-]\\d{2,5}){0,4}(?:[ -]0)?|0\\d{8,11}|\\d{2}(?: \\d{2}){3}|\\d{4} \\d{4}|[2-9]\\d{7}|\\d{3}[-. ]\\d{3}[-. ]\\d{4}|\\d{3} \\d{2} \\d{3})(?![\\p{L}\\p{N}_])(?![.,:/–-]\\p{N})(?! \\d{4}(?!\\d))',
    },
    start: 0,
    checks: [
      { check: 'check digit', by: 'phone near', passes: 0, fails: 'drop' },
      { check: 'length', of: 'digits', from: 8, to: 15, passes: 0, fails: 'drop' },
      { check: 'does not match', pattern: '^\\d', passes: 2.5, fails: 0 },
      { check: 'does not match', pattern: '^\\d+$', passes: 0, fails: -2 },
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
      {
        where: 'after',
        within: 14,
        words: ['mobile', 'mobil', 'tel', 'phone', 'tlf', 'handy', 'fax', 'privat', 'office', 'work', 'home'],
        steps: 3,
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
  },
  {
    kind: 'pattern',
    id: 'person-name',
    name: 'Person’s name',
    category: 'identity',
    source: 'Given and family names of some forty languages; titles and labels',
    about:
      'A name alone says little: it needs a title, a label, a known surname or another finding beside it.',
    anchor: {
      by: 'function',
      name: 'person name',
      headings: NAME_HEADINGS,
    },
    start: -0.5,
    context: [
      {
        where: 'before',
        within: 20,
        words: list(`
name, navn, namn, full name, customer, kunde, kund, passenger, passager, passagerare, passagier, fahrgast,
patient, patienten, patientin, employee, medarbejder, medarbejderen, medarbetare, medarbetaren, mitarbeiter,
mitarbeiterin, dear, kære, kära, hej, hi, hello, hallo, liebe, lieber, sehr geehrte, sehr geehrter, herr,
frau, mr, mrs, contact, kontakt, kontaktperson, ansprechpartner, ansprechpartnerin, regards, best, sincerely,
hilsen, venlig hilsen, mvh, hälsningar, vänliga hälsningar, med vänliga hälsningar, grüße, grüßen,
mit freundlichen grüßen, gruß, signed, underskrevet, unterzeichnet, undertecknat, born, guest, gæst, gäst,
gast, captain, kaptajn, kapten, kapitän, guardian, mother, father, mor, far, moder, fader, mutter, vater, son,
daughter, søn, datter, dotter, sohn, tochter, brother, sister, bror, søster, syster, bruder, schwester, sambo,
kone, pupil, eleven, barnet, wife, husband, hustru, ehefrau, ehemann, colleague, kollega, kollege, kollegin,
manager, applicant, ansøger, sökande, bewerber, bewerberin, from, fra, från, von, to, til, till, an, by, af,
av, with, med, mit, holder, indehaver, inhaber, karteninhaber, account holder, kontoinhaber, driver, fahrer,
førger, teacher, lærer, läraren, lehrer, lehrerin, doctor, læge, läkaren, arzt, ärztin, nurse, psykolog,
psychologist, lawyer, advokat, rechtsanwalt, rechtsanwältin, tillidsrepræsentant, shop steward, betriebsrat,
officer, steward, styrmand, styrman, engineer, director, direktør, direktör, chairman, formand, ordförande,
vorsitzender, vorsitzende, ceo, cfo, leder, chef, chefen, supervisor, case worker, sagsbehandler, handläggare,
sachbearbeiter, sachbearbeiterin, next of kin, pårørende, anhörig, angehörige, emergency contact, pupils,
passengers, patients, employees, witnesses, crew, witness, vidne, vittne, zeuge, zeugin, crew member, tenant,
lejer, mieter, student, elev, schüler, schülerin, client, klient, beneficiary, traveller, reisende, resenär,
told, met, says, asked, called, contacted
`),
        steps: 2.5,
      },
      {
        where: 'before',
        within: 14,
        words: list(`
ship, ferry, vessel, boat, yacht, skibet, færgen, båden, fartyget, färjan, båten, schiff, fähre, hotel, café,
museum
`),
        steps: -5,
      },
      {
        where: 'after',
        within: 14,
        words: list(`
born, født, född, geboren, geb, age, aged, said, says, asked, wrote, called, told, reported, complained,
confirmed, sagde, skrev, ringede, ringde, sade, sagte, schrieb, rief, fragte, has, har, hat, is, er, är, ist,
was, var, war, lives, bor, wohnt, works, arbejder, arbetar, arbeitet, who, som, der, die, will, vil, wird,
travels, rejser, reser, reist, signed, joined, left, booked, bestilte, bokade, buchte, cpr, passport, tel,
tlf, phone
`),
        steps: 1,
      },
      {
        where: 'heading',
        within: 1,
        words: [...NAME_HEADINGS, 'from', 'to', 'cc'],
        steps: 4,
      },
      {
        where: 'heading',
        within: 1,
        words: list(`
product, product name, ship, ship name, vessel, file name, filename, company, company name, city, town, port,
route, host name, hostname, user agent, street, address, brand, item, title, supplier, produkt, skib,
virksomhed, firma, fartyg, schiff, by, stad, ort, stadt, varenavn, artikelname, domain, server
`),
        steps: -7,
      },
      { where: 'after', within: 5, pattern: '^ ?\\((?:1[0-9]|[2-9]?\\d)[,)]', steps: 2 },
      {
        where: 'after',
        within: 14,
        pattern:
          '^ ?(?:Ltd|Inc|GmbH|A/S|ApS|AB|AG|PLC|LLC|Street|Road|straße|vej|gatan|University|Foundation|Airport|Award|Cup|Day|Prize|Institut|Museum|School|Schule|Hospital|Park|Square|Bridge|House|Hall|Station|Platz|&)(?!\\p{L})',
        steps: -5,
      },
      { where: 'line', detector: 'email', steps: 2 },
      { where: 'line', detector: 'phone', steps: 1.5 },
      { where: 'line', detector: 'date-of-birth', steps: 2 },
      { where: 'around', within: 120, detector: 'postal-address', steps: 2 },
      { where: 'line', detector: 'dk-cpr', steps: 2 },
      { where: 'line', detector: 'se-personnummer', steps: 2 },
      { where: 'line', detector: 'passport', steps: 1.5 },
    ],
    competes: true,
    mask: 'ends',
    examples: [
      'Name: ⟦Tove Lindqvist⟧',
      'Navn: ⟦Kåre Østergård Lund⟧, født 1970',
      'Kære ⟦Jens Hansen⟧,',
      'Herr ⟦Jürgen Müller⟧ hat angerufen.',
      'I met ⟦Charlotte Davies⟧ on board.',
      'Pupils: ⟦Noah Whitaker⟧ (8)',
      'Teacher: ⟦Helen Osborne⟧',
      'Signed: ⟦J. R. Hartwell⟧',
      'Mit freundlichen Grüßen\n⟦Käthe Schneider⟧',
      'Mvh ⟦Göran Bergström⟧',
      'Dr. ⟦Osei Darko⟧ signed it.',
      'Passenger: ⟦Anna-Lise van der Berg⟧',
      'Mein Sohn ⟦Jonas⟧ fährt allein.',
      'Hi ⟦Peter⟧, can you send the report?',
      'See you on Monday.\nMvh\n⟦Birgitte⟧',
      'Best regards, ⟦Thomas Hartwell⟧ Head of Operations',
    ],
    counterExamples: [
      'Charlotte Street is closed.',
      'Kunde: Brindle Strait Ferries A/S',
      'Customer: Marrow Quay Shipping Ltd',
      'Will Terms apply?',
      'Victoria Station',
      'Mark the box',
      'May June July',
      'Paris Agreement',
      'Jordan River cruise',
      'Alternatively, Emmet can be used',
      'Anna Holmqvist Day is a holiday',
      'Hope Ltd',
      'The ship Lady Hamilton left at noon',
      'Mein Sohn Nummer eins',
      'Hej Danmark, her er vi',
      'Peter is a port.',
      'Grace Period ends',
      'the general terms',
    ],
  },
  {
    kind: 'pattern',
    id: 'date-of-birth',
    name: 'Date of birth',
    category: 'identity',
    source: 'ISO 8601-1 and the written dates of English, Danish, Swedish and German',
    about: 'A date alone is none: it needs a word for birth beside it, or over its column.',
    anchor: { by: 'pattern', pattern: DATE },
    start: -4.5,
    // Six digits are a date only right behind the word.
    checks: [{ check: 'does not match', pattern: '^\\d{6}$', passes: 0, fails: -3.5 }],
    context: [
      { where: 'before', within: 4, words: BIRTH, steps: 11 },
      { where: 'before', within: 30, words: BIRTH, steps: 7.5 },
      { where: 'heading', within: 1, words: BIRTH.filter((w) => w.length > 2), steps: 7.5 },
      {
        where: 'after',
        within: 14,
        words: [
          'born',
          'dob',
          'født',
          'född',
          'geboren',
          'birth',
          'fødselsdato',
          'geburtsdatum',
          'födelsedatum',
        ],
        steps: 5,
      },
      {
        where: 'before',
        within: 16,
        words: OTHER_DATES.filter((w) => !['den', 'am', 'on', 'dato', 'datum', 'date'].includes(w)),
        steps: -4,
      },
      { where: 'before', within: 3, pattern: '[*∗]\\s?$', steps: 6.5 },
      { where: 'before', within: 5, pattern: '(?<![\\p{L}\\p{N}])[bf](?:\\. ?|: ?)$', steps: 11 },
      { where: 'heading', within: 1, words: OTHER_DATES, steps: -4 },
    ],
    competes: true,
    mask: 'all',
    examples: [
      'Born ⟦12/03/1984⟧',
      'DOB: ⟦1984-03-12⟧',
      'født den ⟦12.03.1984⟧',
      'Geburtsdatum: ⟦12. März 1984⟧',
      'född ⟦1984-03-12⟧ i Halmsund',
      'Date of birth ⟦12 March 1984⟧',
      'geb. ⟦1.4.1990⟧',
      'fødselsdag ⟦3. maj 1977⟧',
      'född ⟦850412⟧ i Lund',
      'Anders Holm, f. ⟦12.03.1984⟧',
    ],
    counterExamples: [
      'Invoice date 12/03/2024',
      'Departure 2024-03-12',
      'on 12 March 2024 we sailed',
      'version 12.03.1984',
      'Born in Halmsund. Sailing 12/03/2024',
      'gültig bis 12.03.2030',
      'Born in Halmsund, ticket 850412',
      'född 850412-1234',
      '[req-8f3a2b] GET /sailings/20241224',
    ],
  },
  {
    kind: 'pattern',
    id: 'postal-address',
    name: 'Postal address',
    category: 'contact',
    source: 'UPU S42; EN 14142-1; street names of English, Danish, Swedish and German',
    about: 'A street and number; a postcode and town, or a label, make it sure.',
    anchor: {
      by: 'pattern',
      pattern: `(?<![\\p{L}\\p{N}_])(?:(?:${COMPOUND}|${TWO_WORDS}|${PREFIXED}) ${NUMBER}${FLOOR}${TAIL}?|(?:(?:Flat|Apt\\.?|Apartment|Unit|Suite) \\d{1,4}[A-Z]?, )?\\d{1,4}[A-Za-z]?(?:[-–]\\d{1,4})?,? (?:${CAP} ){1,3}${EN_STREET}(?![\\p{L}])(?:\\.(?=,))?(?:,? (?:Flat|Apt\\.?|Apartment|Unit|Suite|#) ?\\d{1,4}[A-Z]?)?(?:,? ?\\n?${CAP}(?: ${CAP}){0,2}){0,2}(?:,? ?\\n?(?:${UK_CODE}|(?:[A-Z]{2},? )?\\d{5}(?:-\\d{4})?))?)(?![\\p{N}_])`,
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
  },
];
