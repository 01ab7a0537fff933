import type { PurposeCode } from '../notice/purpose-code.ts';

/** What a switch of a notice says of its purpose, in the languages of the program's regions; each clue counts once. */
const CLUES: Readonly<Record<'measurement' | 'advertising' | 'preferences', readonly RegExp[]>> = {
  measurement: [
    /statisti|analytic|analys|analiz|tilasto/i,
    /measur|performance|måling|måle|mätning|messung|leistung|mesure|medición|medida|misurazione|meting|prestazion|rendimiento|pomiar|mittau/i,
    /audience (?:count|measure)|mesure d.audience|reichweite/i,
    /\bcount(?:s|ing)?\b|\btæl|\bräkn|zähl|compt(?:er|age)|contar|contare|tellen|liczyć|laske/i,
    /how (?:the |our |this )?(?:site|pages?|website|visitors?|readers)|\b(?:see|learn|know|understand|shows? us)\b.{0,12}\b(?:how|which|what)\b|(?:is|are|gets?) read|besøg|besök|besuch|læst|gelesen|\blus?\b/i,
    /improve|forbedr|förbättr|verbesser|améliorer|mejorar|miglior|verbeter|ulepsz|parant/i,
  ],
  advertising: [
    /market|mainonta|markkinoin|marknad|markeds/i,
    /advert|\bads?\b|reklam|annons|annonc|werbung|anzeigen|publicit|pubblicit|anúncio|advertent/i,
    /target|retarget|profil|målrett|zielgericht/i,
    /\boffers?\b|tilbud|erbjudand|angebot|\boffres?\b|ofertas?|offerte|aanbieding/i,
    /partner|relevant|interest|interess/i,
    /\bcampaign|kampagn|kampanj|kampanie/i,
  ],
  preferences: [
    /preferen|præferen|präferen|preferenc|voorkeur|préféren|mieltymy/i,
    /function|funktion|fonction|funzion|funcion|functionele|toiminn/i,
    /personali[sz]|personlig|anpass|tilpas|convenience|komfort|comfort/i,
    /remember|husk|\bkom ihåg|merken|mémoris|recordar|ricorda|onthoud|zapamięt|muist/i,
    /language|sprog|språk|sprache|langue|idioma|lingua|\btaal\b|język|\bkieli/i,
    /\bmaps?\b|\bvideos?\b|\bfilms?\b|\bchat\b|\bembed|karte|kort\b|karta/i,
  ],
};

const LABEL = 3;
/** So much more has to speak for a purpose than for the next. */
const CLEARLY = 1;

/** The purpose a switch is for, by its label and by what is written about it; `null` where that says none, or two alike. */
export function switchPurpose(label: string, about = ''): PurposeCode | null {
  const ranked = (Object.keys(CLUES) as (keyof typeof CLUES)[])
    .map((purpose) => ({ purpose, score: scoreOf(purpose, label, about) }))
    .toSorted((a, b) => b.score - a.score);
  const [best, next] = ranked;
  return best && best.score - (next?.score ?? 0) >= CLEARLY ? best.purpose : null;
}

function scoreOf(purpose: keyof typeof CLUES, label: string, about: string): number {
  return CLUES[purpose].reduce(
    (sum, clue) => sum + (clue.test(label) ? LABEL : 0) + (clue.test(about) ? 1 : 0),
    0,
  );
}
