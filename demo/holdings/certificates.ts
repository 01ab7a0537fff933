import type { Random } from '../random.ts';

export interface DemoSample {
  readonly name: string;
  readonly text: string;
  readonly positive: boolean;
}

const PEOPLE = [
  'Anders Holm',
  'Birgit Falk',
  'Katrin Vogel',
  'Lars Nordin',
  'Sofie Ravn',
  'Emma Whitlock',
  'Jonas Gram',
  'Ingrid Steen',
];
const DAYS = ['3 May', '12 July', '27 September', '8 November'];

/** Sixty medical certificates and sixty other papers of the crew office, in four languages; a few are hard to tell. */
export function demoCertificates(random: Random): readonly DemoSample[] {
  const make = (
    parts: readonly (readonly string[])[],
    i: number,
    kind: string,
    positive: boolean,
  ): DemoSample => ({
    name: `${kind}-${String(i + 1).padStart(2, '0')}.txt`,
    positive,
    text: parts
      .map((p) => random.pick(p))
      .join(' ')
      .replace(/\{p\}/g, () => random.pick(PEOPLE))
      .replace(/\{d\}/g, () => random.pick(DAYS))
      .replace(/\{n\}/g, () => String(2 + random.below(20))),
  });
  const one = (text: string, i: number, kind: string, positive: boolean): DemoSample =>
    make([[text]], 60 - ODD_CERTIFICATES.length + i, kind, positive);
  return [
    ...ODD_CERTIFICATES.map((t, i) => one(t, i, 'certificate', true)),
    ...ODD_PAPERS.map((t, i) => one(t, i, 'paper', false)),
    ...Array.from({ length: 60 - ODD_CERTIFICATES.length }, (_, i) =>
      make(CERTIFICATES[i % CERTIFICATES.length] as never, i, 'certificate', true),
    ),
    ...Array.from({ length: 60 - ODD_PAPERS.length }, (_, i) =>
      make(OTHERS[i % OTHERS.length] as never, i, 'paper', false),
    ),
  ];
}

/** Papers that are like no other of their kind. */
const ODD_CERTIFICATES = [
  '{p} on board MS Hale, {d}. Fit. No objection to the night watch, overtime allowed.',
  'Bridge, {d}. I have looked at the hand of {p}: nothing broken, watch list unchanged.',
  'To crewing: {p} stays ashore {n} days, travel home is paid by the insurer.',
  '{p}, {d}: ingen indvendinger mod vagtplanen.',
  'Uniform size is no matter, {p} must not carry more than {n} kg from {d}.',
];
const ODD_PAPERS = [
  'This is to certify that {p} was examined in navigation on {d} and passed.',
  'The patient waiting area in the terminal is closed for {n} days. Signed, the attending officer.',
  'Diagnosis of the engine fault by {p} on {d}: unfit for duty at sea for {n} days.',
  'Undertegnede har undersøgt redningsbåden den {d}; den er uarbejdsdygtig i {n} dage.',
  'Härmed intygas att {p} har gått kursen den {d}. Ansvarig lärare.',
];

const CERTIFICATES: readonly (readonly (readonly string[])[])[] = [
  [
    [
      'I examined {p} on {d}.',
      'This is to certify that {p} was seen in my surgery on {d}.',
      'Following my examination of {p} on {d}:',
    ],
    [
      'The patient is unfit for duty at sea for {n} days.',
      'In my opinion he cannot work on board for {n} days.',
      'She is fit for light duties ashore only, for {n} days.',
    ],
    [
      'Diagnosis: lumbar strain.',
      'Diagnosis: acute bronchitis.',
      'The reason is a fractured wrist.',
      'Medication has been prescribed.',
    ],
    [
      'Signed, the attending physician.',
      'Dr K. Marsh, general practitioner.',
      'Review at the clinic in a fortnight.',
    ],
  ],
  [
    [
      'Det attesteres, at {p} er undersøgt den {d}.',
      'Undertegnede læge har undersøgt {p} den {d}.',
      'Lægeerklæring vedrørende {p}.',
    ],
    [
      'Patienten er uarbejdsdygtig i {n} dage.',
      'Pågældende kan ikke gøre tjeneste til søs i {n} dage.',
      'Sygemeldt i {n} dage.',
    ],
    [
      'Diagnose: lungebetændelse.',
      'Årsagen er en forstuvet ankel.',
      'Der er ordineret medicin.',
      'Diagnose: hjernerystelse.',
    ],
    ['Med venlig hilsen, den behandlende læge.', 'Lægehuset, overlæge Juhl.', 'Kontrol om to uger.'],
  ],
  [
    ['Läkarintyg för {p}.', 'Härmed intygas att {p} undersöktes den {d}.', 'Jag har undersökt {p} den {d}.'],
    [
      'Patienten är arbetsoförmögen i {n} dagar.',
      'Sjukskriven i {n} dagar.',
      'Kan inte tjänstgöra ombord under {n} dagar.',
    ],
    [
      'Diagnos: ryggskott.',
      'Diagnos: influensa.',
      'Orsaken är ett brutet finger.',
      'Läkemedel har skrivits ut.',
    ],
    ['Ansvarig läkare, vårdcentralen.', 'Leg. läkare Strand.', 'Återbesök om två veckor.'],
  ],
  [
    [
      'Ärztliche Bescheinigung für {p}.',
      'Hiermit wird bescheinigt, dass {p} am {d} untersucht wurde.',
      'Frau oder Herr {p} wurde am {d} in meiner Praxis behandelt.',
    ],
    [
      'Arbeitsunfähig für {n} Tage.',
      'Der Patient ist für {n} Tage nicht seediensttauglich.',
      'Die Patientin ist {n} Tage krankgeschrieben.',
    ],
    [
      'Diagnose: Bandscheibenvorfall.',
      'Diagnose: Grippe.',
      'Grund ist eine Verstauchung.',
      'Medikamente wurden verordnet.',
    ],
    ['Der behandelnde Arzt.', 'Dr. med. Reuter, Facharzt.', 'Nachuntersuchung in zwei Wochen.'],
  ],
  [
    [
      '{p} may take the bridge again from {d}.',
      'No objection to {p} on the watch list from {d}.',
      '{p} was seen on {d}.',
    ],
    ['Light work for {n} days.', 'Relief for {n} days is advised.', 'To be seen again in {n} days.'],
    ['Travel to the port is possible.', 'No heavy lifting on board.', 'Rest in the cabin.'],
    ['Signed, the doctor on board.', 'Regards, the surgery.', 'The nurse.'],
  ],
];

/** What the two kinds have in common is what makes telling them apart worth learning. */
const OTHERS: readonly (readonly (readonly string[])[])[] = [
  [
    [
      'Dear {p}, your booking is paid.',
      'Dear {p}, thank you for your letter of {d}.',
      'Dear {p}, we found your coat on board.',
    ],
    [
      'It was paid with your card ending in {n}.',
      'Please write to us within {n} days, or call.',
      'Order no. {n} is on its way.',
    ],
    [
      'You were born on {d}, as your passport says.',
      'The ship leaves on {d}.',
      'Your number with us is on the card.',
    ],
    ['Passenger care.', 'Kind regards, the booking office.', 'Yours, the terminal.'],
  ],
  [
    [
      '{p} is rostered on MS Hale from {d}.',
      'Watch list from {d}: {p} takes the bridge.',
      'Please change the shift of {p} on {d}.',
    ],
    ['The change holds for {n} days.', 'Relief arrives in {n} days.', 'The overtime of {n} hours is noted.'],
    [
      'Cabins are allotted by the purser.',
      'Travel to the port is paid.',
      'Safety boots are handed out on board.',
    ],
    ['Crew office.', 'Regards, crewing.', 'Signed, the chief mate.'],
  ],
  [
    ['{p} har ansøgt om ferie fra {d}.', 'Vagtplan fra {d} for {p}.', 'Lønseddel til {p} for perioden.'],
    ['Ferien varer {n} dage.', 'Der er {n} timer til gode.', 'Afløser møder om {n} dage.'],
    ['Rejsen betales af rederiet.', 'Uniform udleveres om bord.', 'Kahytten fordeles af hovmesteren.'],
    ['Med venlig hilsen, bemandingen.', 'Lønkontoret.', 'Godkendt af styrmanden.'],
  ],
  [
    ['{p} har sökt semester från {d}.', 'Schema från {d} för {p}.', 'Kursintyg för {p}, brandskydd ombord.'],
    ['Ledigheten gäller {n} dagar.', 'Kursen tog {n} timmar.', 'Övertid {n} timmar är godkänd.'],
    ['Resan bokas av kontoret.', 'Arbetskläder delas ut ombord.', 'Hytten delas med en kollega.'],
    ['Med vänlig hälsning, bemanningen.', 'Lönekontoret.', 'Godkänt av styrman.'],
  ],
  [
    [
      '{p} hat Urlaub ab dem {d} beantragt.',
      'Dienstplan ab dem {d} für {p}.',
      'Bewerbung von {p} als Matrose.',
    ],
    ['Der Urlaub dauert {n} Tage.', 'Es bleiben {n} Überstunden.', 'Die Ablösung kommt in {n} Tagen.'],
    [
      'Die Reise zahlt die Reederei.',
      'Arbeitskleidung wird an Bord ausgegeben.',
      'Die Kabine teilt der Zahlmeister zu.',
    ],
    ['Mit freundlichen Grüßen, das Personalbüro.', 'Die Lohnabrechnung.', 'Genehmigt vom Ersten Offizier.'],
  ],
  [
    [
      'The first-aid course of {p} ended on {d}.',
      'The doctor on board is {p} from {d}.',
      'Order for the ship’s medicine chest, {d}.',
    ],
    ['It took {n} hours.', 'There are {n} blankets to be replaced.', 'The stretcher was tested {n} times.'],
    ['The nurse checks the cabin.', 'The exercise went well.', 'The list is complete.'],
    ['Training office.', 'Regards, the purser.', 'Signed, the safety officer.'],
  ],
  [
    [
      'The certificate of {p} from the physician is missing since {d}.',
      '{p} was on sick leave until {d}.',
      'Certificate of fitness of {p} received on {d}.',
    ],
    [
      'Work is possible for {n} days without it.',
      'Unfit days so far: {n}.',
      'Please send it within {n} days.',
    ],
    ['The diagnosis is none of our business.', 'The surgery was asked.', 'The cabin is kept.'],
    ['Crew office.', 'Regards, crewing.', 'The nurse has a copy.'],
  ],
];
