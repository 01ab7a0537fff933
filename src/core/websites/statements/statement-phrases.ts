/** What a statement says around what is found and recorded. */
export interface StatementPhrases {
  readonly title: string;
  readonly dated: string;
  readonly who: string;
  readonly controller: string;
  readonly address: string;
  readonly contact: string;
  readonly officer: string;
  readonly stored: string;
  readonly found: string;
  readonly name: string;
  readonly from: string;
  readonly lasts: string;
  readonly does: string;
  readonly change: string;
  readonly why: string;
  readonly basis: string;
  readonly data: string;
  readonly to: string;
  readonly kept: string;
  readonly rights: string;
  readonly rightsList: readonly string[];
  readonly complain: string;
}

/** By BCP 47 tag. */
export const PHRASES: Readonly<Record<string, StatementPhrases>> = {
  en: {
    title: 'Privacy on {site}',
    dated: 'As of {day}.',
    who: 'Who answers for it',
    controller: 'Controller',
    address: 'Address',
    contact: 'Contact',
    officer: 'Data protection officer',
    stored: 'What this site stores and sends',
    found: 'As it was found on {day}.',
    name: 'Name',
    from: 'From',
    lasts: 'Lasts',
    does: 'What it does',
    change:
      'You can change your choice at any time with the privacy control on every page. Withdrawing it does not make unlawful what happened before.',
    why: 'What we do with data, and why',
    basis: 'Basis',
    data: 'Data',
    to: 'Goes to',
    kept: 'Kept',
    rights: 'Your rights',
    rightsList: [
      'to know what we hold of you, and to get a copy',
      'to have it corrected, erased or restricted',
      'to take it with you',
      'to object to it',
      'to withdraw a consent at any time',
    ],
    complain: 'You can complain to {authority}.',
  },
  da: {
    title: 'Privatliv på {site}',
    dated: 'Pr. {day}.',
    who: 'Hvem der svarer for det',
    controller: 'Dataansvarlig',
    address: 'Adresse',
    contact: 'Kontakt',
    officer: 'Databeskyttelsesrådgiver',
    stored: 'Hvad webstedet gemmer og sender',
    found: 'Som det blev fundet den {day}.',
    name: 'Navn',
    from: 'Fra',
    lasts: 'Varer',
    does: 'Hvad det gør',
    change:
      'Du kan altid ændre dit valg med privatlivsknappen på hver side. At trække det tilbage gør ikke det, der skete før, ulovligt.',
    why: 'Hvad vi gør med data, og hvorfor',
    basis: 'Grundlag',
    data: 'Data',
    to: 'Går til',
    kept: 'Opbevares',
    rights: 'Dine rettigheder',
    rightsList: [
      'at vide, hvad vi har om dig, og få en kopi',
      'at få det rettet, slettet eller begrænset',
      'at tage det med dig',
      'at gøre indsigelse',
      'at trække et samtykke tilbage når som helst',
    ],
    complain: 'Du kan klage til {authority}.',
  },
  sv: {
    title: 'Integritet på {site}',
    dated: 'Per {day}.',
    who: 'Vem som svarar för det',
    controller: 'Personuppgiftsansvarig',
    address: 'Adress',
    contact: 'Kontakt',
    officer: 'Dataskyddsombud',
    stored: 'Vad webbplatsen sparar och skickar',
    found: 'Som det hittades den {day}.',
    name: 'Namn',
    from: 'Från',
    lasts: 'Varar',
    does: 'Vad det gör',
    change:
      'Du kan alltid ändra ditt val med integritetsknappen på varje sida. Att ta tillbaka det gör inte det som hänt innan olagligt.',
    why: 'Vad vi gör med uppgifter, och varför',
    basis: 'Grund',
    data: 'Uppgifter',
    to: 'Går till',
    kept: 'Sparas',
    rights: 'Dina rättigheter',
    rightsList: [
      'att få veta vad vi har om dig, och få en kopia',
      'att få det rättat, raderat eller begränsat',
      'att ta det med dig',
      'att invända',
      'att när som helst ta tillbaka ett samtycke',
    ],
    complain: 'Du kan klaga hos {authority}.',
  },
  nb: {
    title: 'Personvern på {site}',
    dated: 'Per {day}.',
    who: 'Hvem som svarer for det',
    controller: 'Behandlingsansvarlig',
    address: 'Adresse',
    contact: 'Kontakt',
    officer: 'Personvernombud',
    stored: 'Hva nettstedet lagrer og sender',
    found: 'Slik det ble funnet {day}.',
    name: 'Navn',
    from: 'Fra',
    lasts: 'Varer',
    does: 'Hva det gjør',
    change:
      'Du kan alltid endre valget ditt med personvernknappen på hver side. Å trekke det tilbake gjør ikke det som skjedde før, ulovlig.',
    why: 'Hva vi gjør med opplysninger, og hvorfor',
    basis: 'Grunnlag',
    data: 'Opplysninger',
    to: 'Går til',
    kept: 'Lagres',
    rights: 'Rettighetene dine',
    rightsList: [
      'å vite hva vi har om deg, og få en kopi',
      'å få det rettet, slettet eller begrenset',
      'å ta det med deg',
      'å protestere',
      'å trekke et samtykke tilbake når som helst',
    ],
    complain: 'Du kan klage til {authority}.',
  },
  de: {
    title: 'Datenschutz auf {site}',
    dated: 'Stand {day}.',
    who: 'Wer dafür einsteht',
    controller: 'Verantwortlicher',
    address: 'Anschrift',
    contact: 'Kontakt',
    officer: 'Datenschutzbeauftragter',
    stored: 'Was diese Website speichert und sendet',
    found: 'So gefunden am {day}.',
    name: 'Name',
    from: 'Von',
    lasts: 'Dauer',
    does: 'Was es tut',
    change:
      'Sie können Ihre Wahl jederzeit mit der Datenschutz-Schaltfläche auf jeder Seite ändern. Ein Widerruf macht nicht unrechtmäßig, was davor geschah.',
    why: 'Was wir mit Daten tun und warum',
    basis: 'Grundlage',
    data: 'Daten',
    to: 'Geht an',
    kept: 'Aufbewahrt',
    rights: 'Ihre Rechte',
    rightsList: [
      'zu wissen, was wir von Ihnen haben, und eine Kopie zu bekommen',
      'es berichtigen, löschen oder einschränken zu lassen',
      'es mitzunehmen',
      'zu widersprechen',
      'eine Einwilligung jederzeit zu widerrufen',
    ],
    complain: 'Sie können sich bei {authority} beschweren.',
  },
};
