import type { BuiltIn, Category } from '../detector.ts';
import { list } from './list.ts';

/** Words by which a sentence is about somebody. */
export const SOMEBODY = list(`
he, she, his, her, him, hers, they have, i am, i have, i was, i suffer, i had, i take, i've, i’ve, i'm, i’m, my, me
patient, employee, passenger, guest, crew member, crewman, seafarer, customer, client, colleague, applicant, candidate
trainee, pupil, student, child, mother, father, son, daughter, wife, husband, partner, brother, sister, the driver
the witness, the cook, the captain, the steward, the bosun, the man, the woman, mr, mrs, ms, diagnosed
diagnosed with, suffers, suffers from, suffering, suffered, treated for, identifies as, member of, tested positive
admitted, hospitalised, hospitalized, prescribed, signed off, off sick, converted, practising, attends, keeps kosher
observes, is of, comes from, arrested, convicted, charged with, sentenced, relies on
han, hun, hans, hendes, ham, hende, jeg, min, mit, mine, patienten, medarbejderen, medarbejder, passageren, passager
gæsten, kunden, klienten, borgeren, kollegaen, ansøgeren, ansøger, eleven, barnet, moderen, faderen, sønnen, datteren
manden, kvinden, kokken, styrmanden, lærlingen, vidnet, hr, fru, diagnosticeret, lider af, led af, behandles for
indlagt, sygemeldt, medlem af, stemmer på, spiser, hans familie, hendes familie, stammer fra, er blevet
fik konstateret, dømt, sigtet, anholdt, angav, oplyste, får, tager
hon, hennes, henne, honom, jag, mitt, mina, patienten, medarbetaren, anställd, passageraren, gästen, klienten
brukaren, kollegan, sökanden, sökande, modern, fadern, sonen, dottern, mannen, kvinnan, kocken, resenären, vittnet
diagnostiserad, diagnosticerad, diagnostiserats, lider av, led av, behandlas för, inlagd, sjukskriven, medlem i
den anställde, den anställda, arbetstagaren, boende, äter, är av, härstammar, hans familj, hennes familj, röstar på
har fått, dömd, åtalad, anhållen, gripen, uppgav, medicinerar
er ist, er hat, er hatte, er war, er nimmt, sie ist, sie hat, sie hatte, sie gehört, er gehört, mein mann, familie ist
stammt aus, isst, er wurde, er leidet, er braucht, sie, seine, seiner, seines, seinen, ihre, ihrer, ihm, ihn, ich, mein
meine, meiner, meinen, patientin, der patient, mitarbeiter, mitarbeiterin, der gast, fahrgast, kunde, kundin, klient
klientin, kollege, kollegin, bewerber, bewerberin, auszubildende, auszubildender, angestellte, angestellter
arbeitnehmer, arbeitnehmerin, schüler, schülerin, das kind, mutter, vater, sohn, tochter, frau, herr, der koch
der mann, die frau, reisende, diagnostiziert, leidet an, leidet unter, litt an, behandelt wegen, krankgeschrieben
eingeliefert, erkrankt, erkrankte, verurteilt, angeklagt, verhaftet, angewiesen
`);

/** Words by which a sentence is about a matter in general. */
export const IN_GENERAL = list(`
policy, policies, campaign, awareness, week, month, research, study, studies, statistics, survey, programme, program
guide, guidance, leaflet, brochure, article, articles, book, film, museum, exhibition, conference, seminar, course
training, department, ministry, agency, foundation, charity, association, law, laws, act, regulation, directive
insurance cover, insurance terms, product, products, prevention, general, history of, festival, tour, architecture
market, league, embassy, countries, special categories, categories of, in the county, rates rose, category of
kampagne, uge, forskning, undersøgelse, statistik, vejledning, bog, konference, kursus, afdeling, ministerium
styrelse, fond, lov, direktiv, forening, udstilling, politik, særlige kategorier, kategorier af
kampanj, vecka, undersökning, vägledning, broschyr, bok, konferens, kurs, avdelning, departement, myndighet, stiftelse
lag, förening, utställning, särskilda kategorier
woche, forschung, studie, leitfaden, broschüre, buch, konferenz, abteilung, behörde, stiftung, gesetz, richtlinie
verein, ausstellung, prävention, allgemein, besondere kategorien
`);

/** Over a column in which anything may be written about whoever the row is of. */
const REMARKS = list(`
notes, note, remarks, remark, comment, comments, description, details, reason, bemærkning, bemærkninger, kommentar
kommentarer, noter, beskrivelse, årsag, anmärkning, anmärkningar, notering, noteringar, beskrivning, orsak
bemerkung, bemerkungen, anmerkung, anmerkungen, notiz, notizen, beschreibung, grund
`);

interface Matter {
  readonly id: string;
  readonly name: string;
  readonly category: Category;
  readonly source: string;
  readonly words: string;
  /** Ways of saying it that are no fixed words. */
  readonly pattern?: string;
  /** Labels of a field that holds it. */
  readonly labels: string;
  /** What a word alone is worth: the more common it is otherwise, the less. */
  readonly start: number;
  /** More words that speak for it in a sentence. */
  readonly more?: string;
  /** A detector that says more of the same sentence: where it speaks, this one is silent. */
  readonly unless?: string;
  readonly examples: readonly string[];
  readonly counterExamples: readonly string[];
}

/** A matter of Articles 9 and 10 of the Regulation, told by its words. */
export function matter({ words, pattern, labels, start, more = '', unless, ...row }: Matter): BuiltIn {
  const over = list(labels);
  return {
    kind: 'pattern',
    about:
      'A word of the matter in a sentence about somebody; a text about the matter in general does not count.',
    anchor: { by: 'words', words: [...new Set(list(words))], ...(pattern !== undefined && { pattern }) },
    start,
    context: [
      { where: 'sentence', words: [...SOMEBODY, ...list(more)], steps: 3 },
      { where: 'sentence', detector: 'person-name', steps: start > -1.4 ? 3 : 2 },
      { where: 'heading', within: 1, words: over, steps: 5 },
      { where: 'heading', within: 1, words: REMARKS, steps: 1.5 },
      { where: 'before', within: 30, words: over, steps: 4 },
      { where: 'sentence', words: IN_GENERAL, steps: -2.5 },
      ...(unless === undefined
        ? []
        : [{ where: 'around' as const, within: 120, detector: unless, steps: -8 }]),
    ],
    mask: 'none',
    ...row,
  };
}
