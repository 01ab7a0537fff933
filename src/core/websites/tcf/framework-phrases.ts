/** What the second layer says besides the names that the vendor list gives. */
export interface FrameworkPhrases {
  /** Above the framework’s purposes that go with one of the site’s. */
  readonly detail: string;
  readonly vendors: string;
  /** After a name: what a tick lets stand. */
  readonly interest: string;
  /** `{days}` stands for how many. */
  readonly cookies: string;
  readonly kept: string;
}

/** In the order of the interface. */
const SHIPPED: Readonly<Record<string, readonly [string, string, string, string, string]>> = {
  en: ['In detail', 'Partners', 'legitimate interest', 'Cookies for {days} days', 'Kept for {days} days'],
  da: ['I detaljer', 'Partnere', 'legitim interesse', 'Cookies i {days} dage', 'Opbevares i {days} dage'],
  sv: ['I detalj', 'Partner', 'berättigat intresse', 'Kakor i {days} dagar', 'Sparas i {days} dagar'],
  nb: [
    'I detalj',
    'Partnere',
    'berettiget interesse',
    'Informasjonskapsler i {days} dager',
    'Lagres i {days} dager',
  ],
  fi: ['Tarkemmin', 'Kumppanit', 'oikeutettu etu', 'Evästeet {days} päivää', 'Säilytetään {days} päivää'],
  nl: ['In detail', 'Partners', 'gerechtvaardigd belang', 'Cookies {days} dagen', '{days} dagen bewaard'],
  de: [
    'Im Einzelnen',
    'Partner',
    'berechtigtes Interesse',
    'Cookies für {days} Tage',
    '{days} Tage aufbewahrt',
  ],
  fr: [
    'En détail',
    'Partenaires',
    'intérêt légitime',
    'Cookies pendant {days} jours',
    'Conservé {days} jours',
  ],
  es: ['En detalle', 'Socios', 'interés legítimo', 'Cookies durante {days} días', 'Se conserva {days} días'],
  it: [
    'Nel dettaglio',
    'Partner',
    'legittimo interesse',
    'Cookie per {days} giorni',
    'Conservato per {days} giorni',
  ],
  pl: [
    'Szczegółowo',
    'Partnerzy',
    'prawnie uzasadniony interes',
    'Pliki cookie przez {days} dni',
    'Przechowywane {days} dni',
  ],
  pt: [
    'Em detalhe',
    'Parceiros',
    'interesse legítimo',
    'Cookies durante {days} dias',
    'Guardado durante {days} dias',
  ],
};

/** In English where a language does not ship. */
export function frameworkPhrases(language: string): FrameworkPhrases {
  const [detail, vendors, interest, cookies, kept] = SHIPPED[language] ??
    SHIPPED['en'] ?? ['', '', '', '', ''];
  return { detail, vendors, interest, cookies, kept };
}
