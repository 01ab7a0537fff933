import { chanceOf } from './chance.ts';
import { readMarks, type MarkedText } from './marked-text.ts';
import { numbersOf } from './valid-numbers.ts';

const LANGUAGES = ['en', 'da', 'sv', 'de'] as const;
type Language = (typeof LANGUAGES)[number];

const NAMES: Readonly<Record<Language, readonly string[]>> = {
  en: 'Martha Quill,Desmond Okoro,Bethany Rook,Alistair Dunmore,Paige Hollander,Winston Achebe,Clive Marchbanks,Imogen Thackeray,Rory McTavish,Derek Pym,Annabel Strang,Tyrone Bassey,Mohammed Iqbal,Yvonne Tregear,Nerys Pritchard,Hamish Buchanan,Lorna Fitzroy,Marcus Adeyinka,Agnieszka Wrona,Carlos Mendieta,Priyanka Deshmukh,Kofi Asante'.split(
    ',',
  ),
  da: 'Bodil Ravnkilde,Torben Skytte,Jytte Mølholm,Kaj Brændgaard,Sidsel Thyrring,Mogens Ladefoged,Pernille Duelund,Aksel Hvidberg,Nanna Kronborg,Ejnar Toft,Ditte Øllgaard,Palle Sonnichsen,Rikke Vadstrup,Hassan Jabbar,Gitte Holdensgaard,Troels Munkholm,Malthe Ebdrup,Inge-Lise Bach,Søren Aaby,Mikkel Stubbe,Line Fogtmann,Ayşe Yildirim,Henning Raabjerg'.split(
    ',',
  ),
  sv: 'Göran Hallqvist,Maj-Britt Södergren,Torgny Ekeroth,Linnéa Ådahl,Rasmus Hellgren,Siv Bäckman,Pontus Järnvall,Ebba Lindegård,Kerstin Wrede,Håkan Rosvall,Tove Ljungdahl,Sixten Brolin,Fatemeh Rahimi,Annika Sköld,Gunnel Fagerlund,Melker Strandh,Birgitta Hovmark,Åke Tideman,Nils-Erik Palmblad,Jasmina Hodzic,Lovisa Ramnäs'.split(
    ',',
  ),
  de: 'Gerlinde Haverkamp,Wolfgang Stöcker,Heidrun Pfeil,Detlef Kröning,Anneke Brodersen,Torsten Wiechmann,Ulrike Seelbach,Hans-Joachim Reuß,Mechthild Oberndorf,Sönke Clausen,Ingeborg Ziemann,Kai-Uwe Drechsel,Svenja Harms,Emre Kılıç,Friedhelm Nöthen,Rosemarie Tiedtke,Jannis Löwe,Elfriede Bornemann,Ottmar Spielvogel,Katja Rüther,Dariusz Malinowski,Birte Hinrichsen'.split(
    ',',
  ),
};
const MONTHS: Readonly<Record<Language, readonly string[]>> = {
  en: 'January,February,March,April,May,June,July,August,September,October,November,December'.split(','),
  da: 'januar,februar,marts,april,maj,juni,juli,august,september,oktober,november,december'.split(','),
  sv: 'januari,februari,mars,april,maj,juni,juli,augusti,september,oktober,november,december'.split(','),
  de: 'Januar,Februar,März,April,Mai,Juni,Juli,August,September,Oktober,November,Dezember'.split(','),
};

/** Letters, forms and notes with personal data and with what looks like it, marked; the same for the same seed. */
export function madeUpTexts(seed: number, count: number): readonly MarkedText[] {
  const chance = chanceOf(seed);
  const { below, pick, digits } = chance;
  const numbers = numbersOf(chance);
  const between = (a: number, b: number) => a + below(b - a + 1);
  const two = (n: number) => String(n).padStart(2, '0');
  const any = (...ways: readonly (() => string)[]) => pick(ways)();
  const mark = (detector: string, value: string) => `⟦${detector}|${value}⟧`;

  const name = (l: Language) => mark('person-name', pick(NAMES[l]));
  const mail = (l: Language) =>
    mark(
      'email',
      `${pick(NAMES[l])
        .normalize('NFD')
        .replace(/[^A-Za-z]+/g, '.')
        .toLowerCase()
        .replace(/^\.|\.$/g, '')}@${pick(['mail.example', 'fjordnet.example', 'brindlestrait.example'])}`,
    );
  const date = (l: Language, year: number) => {
    const [d, m] = [between(1, 28), between(1, 12)];
    const month = MONTHS[l][m - 1];
    switch (l) {
      case 'en':
        return any(
          () => `${d} ${month} ${year}`,
          () => `${two(d)}/${two(m)}/${year}`,
          () => `${year}-${two(m)}-${two(d)}`,
          () => `${month} ${d}, ${year}`,
        );
      case 'da':
        return any(
          () => `${d}. ${month} ${year}`,
          () => `${two(d)}-${two(m)}-${year}`,
          () => `${d}.${m}.${year}`,
          () => `${d}/${m} ${year}`,
        );
      case 'sv':
        return any(
          () => `${year}-${two(m)}-${two(d)}`,
          () => `${d} ${month} ${year}`,
        );
      case 'de':
        return any(
          () => `${two(d)}.${two(m)}.${year}`,
          () => `${d}. ${month} ${year}`,
        );
    }
  };
  const birth = (l: Language) => mark('date-of-birth', date(l, between(1938, 2004)));
  const lately = (l: Language) => date(l, 2026);
  const phone = (l: Language) => {
    const pairs = (n: number) => Array.from({ length: n }, () => digits(2)).join(' ');
    const ways: Readonly<Record<Language, readonly (() => string)[]>> = {
      en: [() => `07700 900${digits(3)}`, () => `+44 7700 900${digits(3)}`, () => `020 7946 0${digits(3)}`],
      da: [() => `${between(20, 61)} ${pairs(3)}`, () => `+45 ${between(20, 61)} ${pairs(3)}`],
      sv: [
        () => `070-174 06 ${digits(2)}`,
        () => `08-465 004 ${digits(2)}`,
        () => `+46 70 174 06 ${digits(2)}`,
      ],
      de: [() => `0171 39200${digits(2)}`, () => `030 23125 ${digits(3)}`, () => `+49 30 23125${digits(3)}`],
    };
    return mark('phone', pick(ways[l])());
  };
  const address = (l: Language) => {
    const ways: Readonly<Record<Language, () => string>> = {
      en: () =>
        `${between(1, 190)} ${pick(['Mill', 'Station', 'Orchard', 'Beech', 'Castle'])} ${pick(['Road', 'Street', 'Lane', 'Avenue', 'Close'])}, ${pick(['Bristol BS1 5TR', 'Leeds LS6 2AB', 'Dover CT16 1QF'])}`,
      da: () =>
        `${pick(['Møllevej', 'Skolegade', 'Nørregade', 'Bakkevænget', 'Lindealle'])} ${between(1, 150)}${pick(['', ' A', ', 1. th.', ', st. tv.'])}, ${pick(['5000 Odense C', '6700 Esbjerg', '4800 Nykøbing F'])}`,
      sv: () =>
        `${pick(['Storgatan', 'Kungsvägen', 'Skolvägen', 'Ekstigen'])} ${between(1, 90)}${pick(['', 'B', ' lgh 1102'])}, ${pick(['252 20 Helsingborg', '621 57 Visby', '753 20 Uppsala'])}`,
      de: () =>
        `${pick(['Bahnhofstraße', 'Gartenweg', 'Schillerstr.', 'Am Hafen', 'Lange Reihe'])} ${between(1, 140)}${pick(['', 'a'])}, ${pick(['23552 Lübeck', '18439 Stralsund', '20095 Hamburg'])}`,
    };
    return mark('postal-address', ways[l]());
  };
  const order = () =>
    any(
      () => `${1 + below(9)}${digits(7)}`,
      () => `BS-${digits(6)}`,
      () => `2026${digits(4)}-${digits(2)}`,
      () => `${digits(6)}-${digits(4)}`,
    );
  const sum = () => `${between(1, 9)}.${between(100, 999)},${digits(2)}`;
  const illness = (...all: string[]) => mark('health-condition', pick(all));

  const templates: Readonly<Record<Language, readonly (() => string)[]>> = {
    en: [
      () => `${name('en')} phoned on ${lately('en')} about order ${order()}. Ring back on ${phone('en')}.`,
      () =>
        `Passenger: ${name('en')}\nDate of birth: ${birth('en')}\nAddress: ${address('en')}\nTel: ${phone('en')}\nBooked: ${lately('en')}\nRef: ${order()}`,
      () =>
        `Please refund card ${mark('payment-card', numbers.visa())} (order no. ${order()}, total 1,249.50).`,
      () =>
        `We spoke to ${name('en')} at the terminal; she lives at ${address('en')} and her e-mail is ${mail('en')}.`,
      () => `NI number ${mark('gb-nino', numbers.nino())}, born ${birth('en')}, started ${lately('en')}.`,
      () =>
        `Dear ${name('en')},\n\nyour sailing on ${lately('en')} is confirmed. Booking ${order()}.\n\nKind regards,\n${name('en')}\nCustomer Care`,
      () => `Incident: ${name('en')} (crew) slipped on deck 3. Witnesses: ${name('en')} and ${name('en')}.`,
      () =>
        `GP letter: ${name('en')}, NHS number ${mark('gb-nhs', numbers.nhs())}, suffers from ${illness('asthma', 'epilepsy', 'migraine')}.`,
      () =>
        `From: ${name('en')} <${mail('en')}>\nTo: ${mail('en')}\nSubject: Claim ${order()}\n\nMy IBAN is ${mark('iban', numbers.ibanGb())}. Thanks.`,
      () =>
        `Total ${sum()} GBP, invoice ${order()}, due ${lately('en')}, PO 45${digits(8)}, weight 12.5 kg, container MSKU ${digits(6)} 3.`,
    ],
    da: [
      () =>
        `${name('da')} ringede ${lately('da')} angående ordre ${order()}. Ring tilbage på ${phone('da')}.`,
      () =>
        `Navn: ${name('da')}\nFødselsdato: ${birth('da')}\nAdresse: ${address('da')}\nTelefon: ${phone('da')}\nBestilt: ${lately('da')}\nRef.: ${order()}`,
      () => `CPR-nr. ${mark('dk-cpr', numbers.cpr())}, ansat ${lately('da')}, lønnr. ${digits(4)}.`,
      () =>
        `Borgeren ${name('da')} bor ${address('da')} og kan kontaktes på ${mail('da')} eller ${phone('da')}.`,
      () =>
        `Kære ${name('da')}\n\nTak for din henvendelse af ${lately('da')}. Sagsnr. ${order()}.\n\nVenlig hilsen\n${name('da')}`,
      () =>
        `Patienten ${name('da')} (${mark('dk-cpr', numbers.cpr())}) er indlagt med ${illness('lungebetændelse', 'epilepsi', 'diabetes', 'hjernerystelse')}.`,
      () => `Overfør til ${mark('iban', numbers.ibanDk())}. Beløb: ${sum()} kr. Faktura ${order()}.`,
      () =>
        `Varenr. 4${digits(7)}, antal 12, pris ${sum()} kr., leveres ${lately('da')}, lokale 2.14, kl. 9.30.`,
    ],
    sv: [
      () => `${name('sv')} ringde ${lately('sv')} om order ${order()}. Ring tillbaka på ${phone('sv')}.`,
      () =>
        `Namn: ${name('sv')}\nPersonnummer: ${mark('se-personnummer', numbers.personnummer())}\nAdress: ${address('sv')}\nMobil: ${phone('sv')}\nE-post: ${mail('sv')}\nBokad: ${lately('sv')}`,
      () =>
        `Hej ${name('sv')},\n\ndin bokning ${order()} är bekräftad till den ${lately('sv')}.\n\nMed vänlig hälsning\n${name('sv')}`,
      () =>
        `Patienten ${name('sv')}, född ${birth('sv')}, har ${illness('astma', 'epilepsi', 'migrän', 'lunginflammation')}.`,
      () =>
        `Betala ${sum()} kr till IBAN ${mark('iban', numbers.ibanSe())} senast ${lately('sv')}. Faktura ${order()}.`,
      () => `Kortnummer ${mark('payment-card', numbers.mastercard())} debiterades ${lately('sv')}.`,
      () => `Artikel 4${digits(7)}, antal 12, leverans ${lately('sv')}, rum 2-114, kl 9.15, vikt 12,5 kg.`,
    ],
    de: [
      () =>
        `${name('de')} rief am ${lately('de')} wegen Auftrag ${order()} an. Rückruf unter ${phone('de')}.`,
      () =>
        `Name: ${name('de')}\nGeburtsdatum: ${birth('de')}\nAnschrift: ${address('de')}\nTelefon: ${phone('de')}\nE-Mail: ${mail('de')}\nGebucht am: ${lately('de')}`,
      () =>
        `Sehr geehrter Herr ${name('de')},\n\nIhre Buchung ${order()} vom ${lately('de')} ist bestätigt.\n\nMit freundlichen Grüßen\n${name('de')}`,
      () =>
        `Die Steuer-ID ${mark('de-steuer-id', numbers.steuerId())} gehört zu ${name('de')}, geboren am ${birth('de')}.`,
      () =>
        `Patientin ${name('de')} leidet an ${illness('Asthma', 'Epilepsie', 'Migräne', 'Depressionen')}; Versichertennummer ${mark('de-krankenversichertennummer', numbers.kvnr())}.`,
      () =>
        `Kontoinhaber ${name('de')}, IBAN ${mark('iban', numbers.ibanDe())}, Betrag ${sum()} EUR, Rechnung ${order()}.`,
      () =>
        `Der Fahrgast ${name('de')} wohnt in der ${address('de')} und ist unter ${phone('de')} erreichbar.`,
      () =>
        `Sozialversicherungsnummer ${mark('de-sozialversicherungsnummer', numbers.svnr())}; Eintritt ${lately('de')}; Personalnr. ${digits(4)}.`,
      () =>
        `Artikelnr. 4${digits(7)}, Menge 12, Preis ${sum()} EUR, Lieferung ${lately('de')}, Raum 2.114, 9.30 Uhr.`,
    ],
  };
  return Array.from({ length: count }, () => {
    const language = pick(LANGUAGES);
    const parts = Array.from({ length: between(1, 3) }, () => pick(templates[language])());
    return readMarks(`${parts.join('\n\n')}\n`);
  });
}
