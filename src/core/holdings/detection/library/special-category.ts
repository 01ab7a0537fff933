import type { BuiltIn } from '../detector/detector.ts';
import { list } from './list.ts';
import { IN_GENERAL, matter } from './matter.ts';
import {
  HEALTH,
  DISABILITY,
  MEDICATION,
  BELIEF,
  OPINION,
  UNION,
  ORIGIN,
  SEXUAL,
  BIOMETRIC,
  CHILD,
  GENETIC,
  OFFENCE,
  SICK_LEAVE,
  TEENAGER,
} from './special-words.ts';
import {
  CHILD_AGE,
  CHILD_AGE_NEAR,
  HEALTH_PATTERN,
  OPINION_PATTERN,
  ORIGIN_PATTERN,
  UNION_PATTERN,
} from './special-patterns.ts';

/** Names of fields that hold the age of a child. */
const CHILD_AGE_FIELD = list(`
child age, age of child, age of the child, age child, kid age, pupil age, barnets alder, barn alder, alder barn
alder på barn, barnets ålder, barn ålder, ålder barn, ålder på barn, alter des kindes, alter kind, kindesalter
`);

/** What makes a word or an age one of a child’s. */
const ABOUT_CHILDREN: NonNullable<BuiltIn['context']> = [
  { where: 'sentence', detector: 'person-name', steps: 3 },
  { where: 'sentence', detector: 'date-of-birth', steps: 4 },
  {
    where: 'sentence',
    words: list(`
guardian, parental consent, class 1a, class 2b, class 3b, class 4b, school trip, school, grade, year group, custody
foster, childminder, værge, forældre, forældremyndighed, klasse, skole, skolerejse, vårdnadshavare, föräldrar, vårdnad
skola, klass, skolresa, erziehungsberechtigte, sorgerecht, eltern, schule, klassenfahrt
`),
    steps: 1.7,
  },
  { where: 'sentence', words: IN_GENERAL, steps: -2.5 },
  {
    where: 'sentence',
    words: list(`
discount, fare, fares, ticket, tickets, price, prices, menu, play area, seat, seats, pay, pays, pris, rabat, billetter
legeområde, betaler, rabatt, biljett, meny, lekplats, betalar, ermäßigung, preis, fahrpreis, kinderteller, spielplatz
zahlen, free of charge, gratis, frei, kostenlos, travel free, whisky, ship, ferry, vessel, car, building
`),
    steps: -2.6,
  },
];

export const SPECIAL: readonly BuiltIn[] = [
  matter({
    id: 'health-condition',
    name: 'Health condition',
    category: 'special category',
    source: 'Regulation (EU) 2016/679, art. 4(15) and 9(1)',
    words: HEALTH,
    pattern: HEALTH_PATTERN,
    labels: `
diagnosis, diagnoses, diagnosed, diagnose, diagnosen, diagnoser, diagnos, health, health note, health notes
health status, medical history, treatment, reason for visit, sygehistorie, krankengeschichte, behandling, behandlung
health issues, medical, medical condition, medical conditions, medical notes, condition, conditions, illness
illnesses, injury, injuries, symptoms, sygdom, sygdomme, helbred, helbredsoplysninger, helbredstilstand
skade, skader, sjukdom, sjukdomar, hälsa, hälsotillstånd, skada, skador, krankheit, krankheiten, gesundheit
gesundheitszustand, vorerkrankung, vorerkrankungen, verletzung, krankheitsbild, befund, allergy, allergies
allergi, allergier, allergie, allergien, assistance, anamnese, anamnesis, anamnes
`,
    fields: `
diagnosis, diagnoses, diagnose, diagnosen, diagnoser, diagnos, medical condition, medical conditions
health condition, health conditions, known allergies, allergies, allergier, allergien, sygdom, sygdomme, sjukdom
sjukdomar, vorerkrankung, vorerkrankungen, krankheit, krankheiten
`,
    columns: `
allergy, allergi, allergie, illness, illnesses, medical history, health issues, symptoms, helbredsoplysninger
hälsouppgifter, gesundheitsdaten
`,
    but: {
      after:
        '^ (?:over the|of the (?:spring|market|button|key)|mystery|research|zodiac|pump|tests?|levels?|ball|testing)(?!\\p{L})',
      before: '(?:tropic of|market|tropical|pressure) $',
    },
    start: -0.6,
    more: `has, har, hat, braucht, behöver, due to, because of, på grund af, på grund av, wegen`,
    examples: [
      'She was diagnosed with ⟦diabetes⟧ last year.',
      'Patienten lider af ⟦epilepsi⟧.',
      'Han är sjukskriven för ⟦depression⟧.',
      'Frau Weber leidet unter ⟦Migräne⟧ und braucht Ruhe.',
      'My son has ⟦asthma⟧.',
    ],
    counterExamples: [
      'Diabetes awareness week begins on Monday.',
      'The asthma research programme',
      'Cancer Research annual report',
      'Our policy on pregnancy products',
    ],
  }),
  matter({
    id: 'sick-leave',
    name: 'Sick leave',
    category: 'special category',
    source: 'Regulation (EU) 2016/679, art. 4(15); CJEU C-101/01, Lindqvist, 50',
    words: SICK_LEAVE,
    labels:
      'absence, fravær, frånvaro, abwesenheit, absence reason, fraværsårsag, frånvaroorsak, abwesenheitsgrund, absence type, leave type, leave reason, reason for leave, type of leave, reason for absence, fraværstype, fraværskode, frånvarotyp, fehlgrund, fehlzeit, fehlzeiten, abwesenheitsart',
    start: -1,
    more: 'from, until, since, fra, siden, indtil, från, sedan, tills, bis, seit, vom',
    unless: 'health-condition',
    examples: [
      'She is on ⟦sick leave⟧ until March.',
      'Hun har været ⟦sygemeldt⟧ siden maj.',
      'Han är ⟦sjukskriven⟧ till den 4 april.',
      'Er ist seit Montag ⟦krankgeschrieben⟧.',
    ],
    counterExamples: ['Sick leave policy', 'Sygefravær: statistik for 2025'],
  }),
  matter({
    id: 'disability',
    name: 'Disability',
    category: 'special category',
    source: 'Regulation (EU) 2016/679, art. 4(15) and 9(1); UN CRPD, art. 1',
    words: DISABILITY,
    labels: `
disability, disabilities, assistance, assistance needed, assistance request, assistance requests
special needs, handicap, handicaps, funktionsnedsættelse, funktionsnedsættelser, funktionsnedsättning
behinderung, behinderungen, grad der behinderung, gdb, art der behinderung, mobility, hjælpebehov
assistance code, hilfebedarf, hjälpbehov, assistans, assistance type, ssr
`,
    fields: `
disability, disabilities, handicap, handicaps, funktionsnedsættelse, funktionsnedsættelser, funktionsnedsättning
funktionsnedsättningar, behinderung, behinderungen
`,
    columns: `
disability type, type of disability, art der behinderung
`,
    but: {
      after:
        '^ (?:copied|copy|copying|carbon|spots?|corners?|alley|dates?|trust|tasting|tests?|to the|to criticism|rivets?|flange|luck|panic|faith)(?!\\p{L})',
      before: '(?:double|single)-$',
    },
    start: -1.3,

    examples: [
      'The passenger is ⟦deaf⟧ and travels alone.',
      'Hun er ⟦kørestolsbruger⟧.',
      'Der Fahrgast ist ⟦schwerbehindert⟧.',
      'Hon är ⟦synskadad⟧.',
    ],
    counterExamples: ['Wheelchair ramps are on deck 4.', 'Disability policy', 'The blind spot of the crane'],
  }),
  matter({
    id: 'medication',
    name: 'Medication',
    category: 'special category',
    source: 'Regulation (EU) 2016/679, art. 4(15); WHO ATC names',
    words: MEDICATION,
    labels: `
medication, medicine, drugs, medicin, medikament, medikamente, läkemedel, prescription, recept, rezept
drug, drug name, meds, medications, medicines, current medication, medikation, medicinering, arznei, arzneimittel
preparat, præparat, ordination, wirkstoff, dosage
medicinliste
`,
    fields: `
medication, medications, current medication, current medications, medicin, medicinering, läkemedel, medikation
medikamente
`,
    columns: `
medicine, medicines, medikament, arzneimittel
`,
    start: 0.2,
    more: `takes, taking, mg, dose, dosis, tager, får, tar, nimmt, daily, dagligt, täglich, prescribed`,
    examples: [
      'He takes ⟦sertraline⟧ every morning.',
      'Patienten får ⟦metformin⟧.',
      'Sie nimmt ⟦Ramipril⟧ ein.',
    ],
    counterExamples: ['Warfarin research study', 'The warfarin guide'],
  }),
  matter({
    id: 'religious-belief',
    name: 'Religious or philosophical belief',
    category: 'special category',
    source: 'Regulation (EU) 2016/679, art. 9(1)',
    words: BELIEF,
    labels: `
religion, religious belief, religious beliefs, belief, beliefs, faith, denomination, church, meal, meals
meal preference, måltid, mahlzeit, kost, konfession, konfessionszugehörigkeit, tro, trosretning, trossamfund
trosuppfattning, glaube, religionszugehörigkeit, religiøs overbevisning, livssyn, livsåskådning
weltanschauung, dietary, dietary requirements, diæt, specialkost
religious affiliation, religionsbekenntnis, bekenntnis, religiøst tilhørsforhold, religionstillhörighet, kirchensteuermerkmal
`,
    fields: `
religion, religious belief, religious beliefs, faith, denomination, trossamfund, trosretning, konfession, glaube
religionszugehörigkeit
`,
    columns: `
religious affiliation, konfessionszugehörigkeit, religionsbekenntnis
`,
    start: -1.4,
    more: `practising, devout, religion, konfession, praktiserende, troende, gläubig, member`,
    examples: [
      'She is a practising ⟦Muslim⟧.',
      'Han er ⟦jøde⟧ og spiser ikke svinekød.',
      'Religion: ⟦katholisch⟧',
      'Hon är ⟦katolik⟧.',
    ],
    counterExamples: ['The Christian museum', 'Jewish history tour', 'Buddhist architecture in general'],
  }),
  matter({
    id: 'political-opinion',
    name: 'Political opinion',
    category: 'special category',
    source: 'Regulation (EU) 2016/679, art. 9(1)',
    words: OPINION,
    pattern: OPINION_PATTERN,
    labels: `
political opinion, political opinions, political views, political affiliation, politics, party
party membership, politisk overbevisning, politisk holdning, politisk åsikt, politisk tillhörighet
politische meinung, politische einstellung, politische gesinnung, parteizugehörigkeit, parteimitgliedschaft
parti, partei
political party, politik, politisk parti, politische zugehörigkeit, politiskt parti
`,
    fields: `
political opinion, political opinions, political views, political affiliation, party membership
politisk overbevisning, politisk holdning, politisk åsikt, politisk tillhörighet, politische meinung
politische einstellung, politische gesinnung, parteizugehörigkeit, parteimitgliedschaft
`,
    columns: `
political party, politisk parti
`,
    start: -1.4,

    examples: [
      'He is a ⟦member of the Labour Party⟧.',
      'Hun er ⟦kommunist⟧.',
      'Er ist ⟦SPD-Mitglied⟧.',
      'Hon är ⟦medlem i Vänsterpartiet⟧.',
    ],
    counterExamples: ['The Labour Party conference', 'Green Party policy'],
  }),
  matter({
    id: 'trade-union',
    name: 'Trade-union membership',
    category: 'special category',
    source: 'Regulation (EU) 2016/679, art. 9(1)',
    words: UNION,
    pattern: UNION_PATTERN,
    labels: `
union, trade union, union membership, fagforening, fagforeningsforhold, fagligt medlemskab, fackförbund
fackförening, fack, facklig tillhörighet, gewerkschaft, gewerkschaftszugehörigkeit
trade union membership, union name, a-kasse, akasse
gewerkschaftsmitgliedschaft
`,
    fields: `
union membership, trade union membership, fagforening, fackförbund, fackförening, gewerkschaftszugehörigkeit
gewerkschaftsmitgliedschaft, facklig tillhörighet
`,
    columns: `
union, trade union, union name, gewerkschaft
`,
    more: 'since, sedan, siden, seit, pays, betaler, betalar, zahlt',
    start: -1.2,

    examples: [
      'She has been a ⟦union member⟧ since 2019.',
      'Han er medlem af en ⟦fagforening⟧.',
      'Er ist ⟦Gewerkschaftsmitglied⟧.',
      'Hon är ⟦fackligt ansluten⟧.',
    ],
    counterExamples: [
      'Trade union conference: history of the trade union in general',
      'Gewerkschaft: Gesetz und Richtlinie',
    ],
  }),
  matter({
    id: 'ethnic-origin',
    name: 'Racial or ethnic origin',
    category: 'special category',
    source: 'Regulation (EU) 2016/679, art. 9(1)',
    words: ORIGIN,
    pattern: ORIGIN_PATTERN,
    labels: `
ethnicity, ethnic origin, ethnic background, ethnic group, race, etnicitet
racial origin, race ethnicity, etnisk oprindelse
etnisk baggrund, etniskt ursprung, etnisk tillhörighet, ethnische herkunft, ethnie, herkunft, abstammung
heritage
`,
    fields: `
ethnicity, ethnic origin, ethnic group, ethnic background, etnicitet, etnisk oprindelse, etnisk baggrund
etnisk tillhörighet, etniskt ursprung, ethnische herkunft, ethnische zugehörigkeit, ethnie
`,
    columns: `
racial origin
`,
    start: -1.2,

    examples: [
      'The applicant is of ⟦mixed race⟧.',
      'Hun er ⟦kurder⟧ og født i udlandet.',
      'Er ist ⟦türkischer Abstammung⟧.',
      'Ethnicity: ⟦Black Caribbean⟧',
    ],
    counterExamples: ['Tamil film festival', 'Inuit art exhibition', 'Arab market guide'],
  }),
  matter({
    id: 'sexual-life',
    name: 'Sex life or sexual orientation',
    category: 'special category',
    source: 'Regulation (EU) 2016/679, art. 9(1)',
    words: SEXUAL,
    labels: `
sexual orientation, orientation, sexuality, seksuel orientering, seksualitet, sexuell läggning, sexualitet
sexuelle orientierung, sexuellen orientierung, sexualität, sex life
`,
    fields: `
sexual orientation, sexuality, seksuel orientering, sexuell läggning, sexuelle orientierung
sexuellen orientierung
`,
    columns: `
seksualitet
`,
    but: { after: '^ (?:street|pride|village|bar)(?!\\p{L})' },
    start: -1,

    examples: [
      'He told us that he is ⟦gay⟧.',
      'Hun er ⟦lesbisk⟧ og gift.',
      'Er ist ⟦schwul⟧.',
      'Hon är ⟦bisexuell⟧.',
    ],
    counterExamples: ['Gay Pride festival', 'LGBT queer film festival guide'],
  }),
  matter({
    id: 'biometric-data',
    name: 'Biometric data',
    category: 'special category',
    source: 'Regulation (EU) 2016/679, art. 4(14) and 9(1); ISO/IEC 2382-37',
    words: BIOMETRIC,
    labels: `biometric, biometrics, fingerprint, biometri, biometrie, biometric data, biometriske data, biometriska uppgifter, biometrische daten, fingeraftryk, fingeravtryck, fingerabdruck`,
    start: -1.2,
    more: `
enrolled, stored, scanned, captured, collected, recorded, registered, taken, used for access, access
gespeichert, erfasst, registriert, genommen, abgenommen, zutritt, zugang, gemt, scannet, registreret
optaget, aftaget, adgang, lagrad, lagras, lagrats, skannat, skannats, registrerats, registrerad, inläst
passage
`,
    examples: [
      'His ⟦fingerprint⟧ was enrolled at the crew gate.',
      'Medarbejderens ⟦fingeraftryk⟧ er gemt, og han har givet samtykke.',
      'Der ⟦Fingerabdruck⟧ der Mitarbeiterin wurde gespeichert.',
      'Hennes ⟦fingeravtryck⟧ lagras.',
    ],
    counterExamples: [
      'Certificate fingerprint SHA-256',
      'Browser fingerprint research',
      'Facial recognition conference',
    ],
  }),
  matter({
    id: 'genetic-data',
    name: 'Genetic data',
    category: 'special category',
    source: 'Regulation (EU) 2016/679, art. 4(13) and 9(1)',
    words: GENETIC,
    labels: `genetic, dna, genetisk, genetik, gene, genetics, genetic data, genetic test, genetic test result, gentest, genetiske data, genetiska uppgifter, genetische daten`,
    start: -1,

    examples: [
      'Her ⟦DNA test⟧ showed it.',
      'Patienten har fået en ⟦gentest⟧.',
      'Der Patient ließ einen ⟦Gentest⟧ machen.',
    ],
    counterExamples: ['DNA test statistics and research', 'Genetic testing: guide'],
  }),
  matter({
    id: 'criminal-offence',
    name: 'Criminal conviction or offence',
    category: 'offence',
    source: 'Regulation (EU) 2016/679, art. 10',
    words: OFFENCE,
    labels: `
criminal record, criminal records, criminal history, criminal convictions, conviction, convictions, offence
offences, offense, straffeattest, straffeattesten, strafbare forhold, belastningsregister
belastningsregistret, brott, vorstrafen, vorstrafe, straftat, straftaten, führungszeugnis, dom, domme, domar
background check, baggrundstjek, bakgrundskontroll
criminal offence, criminal offences, criminal conviction, crime, straf, tidligere straffe, lovovertrædelse, lovovertrædelser
brottslighet, tidigare brott, delikt, delikte, verurteilung, verurteilungen
`,
    fields: `
previous conviction, previous convictions, criminal conviction, criminal convictions, conviction, convictions
vorstrafe, vorstrafen, straffeattest, tidligere domme
`,
    columns: `
criminal offence, criminal offences, criminal record, criminal history, strafbare forhold
`,
    but: {
      after:
        '^-(?:proof|prevention|insurance)|^ (?:mystery|insurance|alarm|prevention|rate|rates|protection)(?!\\p{L})',
      before: '(?:anti|cyber)-$',
    },
    start: -1.2,

    examples: [
      'He was ⟦convicted of⟧ theft in 2015.'.replace('⟦convicted of⟧ theft', '⟦convicted of⟧ theft'),
      'Hun er ⟦tidligere straffet⟧.',
      'Han är ⟦dömd för⟧ rattfylleri.'.replace('rattfylleri', 'det'),
      'Der Bewerber ist ⟦vorbestraft⟧.',
    ],
    counterExamples: ['Theft insurance cover', 'Burglary prevention guide', 'Shoplifting statistics'],
  }),
  {
    kind: 'pattern',
    id: 'child',
    name: 'Child',
    category: 'child',
    source: 'Regulation (EU) 2016/679, recital 38 and art. 8',
    about: 'A word for a child together with an age, a name, a birth date or a school.',
    anchor: { by: 'words', words: list(CHILD) },
    start: -3,
    context: [
      { where: 'around', within: 40, pattern: CHILD_AGE_NEAR, steps: 5 },
      // In English it is another word.
      { where: 'after', within: 3, words: list('regards, of, wishes, words, hearted'), steps: -10 },
      ...ABOUT_CHILDREN,
    ],
    mask: 'none',
    examples: [
      'Her ⟦daughter⟧, aged 7, travels with her.',
      '⟦Pupil⟧ Emma Wilson, 9 years old',
      'Min ⟦søn⟧ på 8 år er med.',
      'Mein ⟦Sohn⟧ ist 6 Jahre alt.',
      'Lena, 7 Jahre alt, besucht die ⟦Grundschule⟧.',
    ],
    counterExamples: [
      'Children under 4 travel free of charge: fares',
      'The child seat is on deck 2',
      'Kinderteller 6 Euro',
      'Die Grundschule am Hafen wird renoviert.',
    ],
  },
  {
    kind: 'pattern',
    id: 'child-age',
    name: 'Age of a child',
    category: 'child',
    source: 'Regulation (EU) 2016/679, recital 38 and art. 8',
    about: 'An age below eighteen beside a name, a school or a guardian, where no word for a child stands.',
    anchor: {
      by: 'words',
      words: list(TEENAGER),
      pattern: CHILD_AGE,
      field: { headings: CHILD_AGE_FIELD, pattern: '(?:1[0-7]|\\d)(?: ?(?:years?|yrs?|y|år|Jahre?|J\\.))?' },
    },
    start: -1,
    context: [
      ...ABOUT_CHILDREN,
      { where: 'heading', words: CHILD_AGE_FIELD, steps: 11 },
      { where: 'around', within: 60, detector: 'child', steps: -8 },
      {
        where: 'before',
        within: 12,
        words: list('under, over, below, above, from, unter, über, ab, bis, til, till, fra, från'),
        steps: -5,
      },
    ],
    mask: 'none',
    examples: [
      '- Oliver Hughes, ⟦aged 9⟧, nut allergy',
      'Noah Bennett, ⟦9 years old⟧, class 4b',
      'Freja Lund (⟦8 år⟧) går i 2. klasse.',
      'Lukas Becker (⟦6 Jahre⟧), Klasse 1a',
    ],
    counterExamples: [
      'The whisky is 12 years old.',
      'a 9 year old ferry',
      'Aged 10 or over: full fare',
      'aged 12.5',
    ],
  },
];
