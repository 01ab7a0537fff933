import type { BuiltIn, Category } from '../detector/detector.ts';
import { list } from './list.ts';

/** Words by which a sentence is about somebody. */
export const SOMEBODY = list(`
he, she, his, her, him, hers, i am, i have, i was, i suffer, i had, i take, i've, i’ve, i'm, i’m, my, me
patient, employee, passenger, guest, crew member, crewman, seafarer, customer, client, colleague, applicant, candidate
trainee, pupil, student, child, mother, father, son, daughter, wife, husband, partner, brother, sister
witness, cook, bosun, steward, deckhand, gentleman, lady, woman, mr, mrs, ms, diagnosed
diagnosed with, suffers, suffers from, suffering, suffered, treated for, identifies as, member of, tested positive
admitted, hospitalised, hospitalized, prescribed, signed off, off sick, converted, practising, attends, keeps kosher
observes, comes from, arrested, convicted, charged with, sentenced, relies on
han, hun, hans, hendes, ham, hende, jeg, min, mit, mine, patienten, medarbejderen, medarbejder, passageren, passager
medlemmet, gæsten, kunden, klienten, borgeren, kollegaen, ansøgeren, ansøger, eleven, barnet, moderen, faderen, sønnen, datteren
manden, kvinden, kokken, styrmanden, lærlingen, vidnet, hr, fru, diagnosticeret, lider af, led af, behandles for
indlagt, sygemeldt, medlem af, stemmer på, spiser, hans familie, hendes familie, stammer fra, er blevet
fik konstateret, dømt, sigtet, anholdt, angav, oplyste, får, tager
hon, hennes, henne, honom, jag, mitt, mina, patienten, medarbetaren, medlemmen, anställd, passageraren, gästen, klienten
brukaren, kollegan, sökanden, sökande, modern, fadern, sonen, dottern, mannen, kvinnan, kocken, resenären, vittnet
diagnostiserad, diagnosticerad, diagnostiserats, lider av, led av, behandlas för, inlagd, sjukskriven, medlem i
den anställde, den anställda, arbetstagaren, boende, äter, är av, härstammar, hans familj, hennes familj, röstar på
har fått, dömd, åtalad, anhållen, gripen, uppgav, medicinerar
er ist, er hat, er hatte, er war, er nimmt, sie ist, sie hat, sie hatte, sie gehört, er gehört, mein mann, familie ist
stammt aus, isst, er wurde, er leidet, er braucht, sie, seine, seiner, seines, seinen, ihre, ihrer, ihm, ihn, ich, mein
meine, meiner, meinen, patientin, mitarbeiter, mitarbeiterin, fahrgast, kunde, kundin, klient
klientin, kollege, kollegin, bewerber, bewerberin, auszubildende, auszubildender, azubi, angestellte, angestellter
mitglied, arbeitnehmer, arbeitnehmerin, schüler, schülerin, kind, mutter, vater, sohn, tochter, frau, herr, koch, köchin
reisende, diagnostiziert, leidet an, leidet unter, litt an, behandelt wegen, krankgeschrieben
eingeliefert, erkrankt, erkrankte, verurteilt, angeklagt, verhaftet, angewiesen
`);

/** Words by which a sentence is about a matter in general. */
export const IN_GENERAL = list(`
policy, policies, campaign, awareness, awareness week, research, statistics, programme, guide, guidance, leaflet, brochure
article, articles, museum, exhibition, conference, seminar, foundation, charity, regulation, directive, legislation
insurance cover, insurance terms, prevention, general, in general, history of, festival, architecture, embassy
special categories, categories of, category of, museum, newspaper, magazine, documentary, ministry, department of
kampagne, forskning, undersøgelse, statistik, vejledning, konference, ministerium, styrelse, fond, direktiv, udstilling
særlige kategorier, kategorier af, forebyggelse, i almindelighed, lovgivning, lovforslag
kampanj, undersökning, vägledning, broschyr, konferens, departement, myndighet, stiftelse, utställning
särskilda kategorier, förebyggande, i allmänhet, lagstiftning, lagförslag
forschung, studien, statistik, leitfaden, broschüre, konferenz, stiftung, richtlinie, ausstellung, prävention, allgemein
im allgemeinen, besondere kategorien, gesetzgebung, gesetzentwurf, vorbeugung
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
  /** Those of them behind which, or under which, whatever is written is of the matter. */
  readonly fields?: string;
  /** More that say so over a column only. */
  readonly columns?: string;
  /** What a word alone is worth: the more common it is otherwise, the less. */
  readonly start: number;
  /** More words that speak for it in a sentence. */
  readonly more?: string;
  /** What right behind a word, or before it, makes another matter of it. */
  readonly but?: { readonly after?: string; readonly before?: string };
  /** A detector that says more of the same sentence: where it speaks, this one is silent. */
  readonly unless?: string;
  readonly examples: readonly string[];
  readonly counterExamples: readonly string[];
}

/** What says that a field is empty, or will be filled. */
const NOTHING =
  '(?:no|none|nil|nej|ingen|intet|inga|inget|nein|keine?|kein|n/?a|unknown|ukendt|okänd|okänt|unbekannt|not|ikke|ej|nicht|prefer|see|se|siehe|pending|yes|ja|optional|required|tbd|tba|true|false|as above|please|select|choose|vælg|välj|bitte)(?![\\p{L}])';

/** A word or some, behind a label and a colon, up to the end of what is said. */
const fieldPattern = (fields: readonly string[]) =>
  `(?<=(?<![\\p{L}\\p{N}])(?:${fields.join('|')})(?: \\([^)\\n]{1,24}\\))? ?[:=][ \\t]{0,4})(?!${NOTHING})\\p{L}[\\p{L}’'-]{1,30}(?:[ /-]{1,2}[\\p{L}\\p{N}][\\p{L}\\p{N}’'-]{0,30}){0,5}`;

/** Some words that fill a cell: no code that is known by itself, and no note in which more may stand. */
const FILLED = `(?!${NOTHING})(?!D?[A-Z]\\d{2}(?:\\.\\d{1,2})?$)(?![^\\n]*(?:@|\\d{3}))(?=[^\\n]*\\p{L})[^\\n]{2,80}`;

/** A matter of Articles 9 and 10 of the Regulation, told by its words. */
export function matter({
  words,
  pattern,
  labels,
  fields = '',
  columns = '',
  start,
  more = '',
  unless,
  but = {},
  ...row
}: Matter): BuiltIn {
  const named = list(labels);
  const fieldNames = list(fields);
  const patterns = [
    ...(pattern === undefined ? [] : [pattern]),
    ...(fieldNames.length > 0 ? [fieldPattern(fieldNames)] : []),
  ];
  const headings = [...fieldNames, ...list(columns)];
  return {
    kind: 'pattern',
    about:
      'A word of the matter in a sentence about somebody; a text about the matter in general does not count.',
    anchor: {
      by: 'words',
      words: [...new Set(list(words))],
      ...(patterns.length > 0 && { pattern: patterns.join('|') }),
      ...(headings.length > 0 && { field: { headings, pattern: FILLED } }),
    },
    start,
    context: [
      { where: 'sentence', words: SOMEBODY, steps: 3 },
      ...(more === '' ? [] : [{ where: 'sentence' as const, words: list(more), steps: 3 }]),
      { where: 'sentence', detector: 'person-name', steps: start > -1.4 ? 3 : 2 },
      { where: 'heading', within: 1, words: named, steps: 5 },
      { where: 'heading', within: 1, words: REMARKS, steps: 1.5 },
      { where: 'before', within: 30, words: named, steps: 4 },
      { where: 'sentence', words: IN_GENERAL, steps: -2.5 },
      ...(but.after === undefined
        ? []
        : [{ where: 'after' as const, within: 16, pattern: but.after, steps: -8 }]),
      ...(but.before === undefined
        ? []
        : [{ where: 'before' as const, within: 12, pattern: but.before, steps: -8 }]),
      ...(unless === undefined
        ? []
        : [{ where: 'around' as const, within: 120, detector: unless, steps: -8 }]),
    ],
    mask: 'none',
    ...row,
  };
}
