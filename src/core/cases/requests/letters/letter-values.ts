import { dayText } from '../../../text/day.ts';
import type { Day } from '../../../retention/offers.ts';
import type { RequestLaw } from '../law/request-law.ts';
import type { RequestKind } from '../request.ts';

/** Languages that letters are written in; others are written to in English. */
const LETTER_LANGUAGES = ['en', 'da', 'sv', 'de'] as const;
type Language = (typeof LETTER_LANGUAGES)[number];

export function letterLanguage(tag: string): Language {
  const base = tag.split('-')[0] as Language;
  return LETTER_LANGUAGES.includes(base) ? base : 'en';
}

const ASKS: Readonly<Record<RequestKind, Readonly<Record<Language, string>>>> = {
  access: {
    ...{ en: 'to see what we hold about you', da: 'om at se, hvad vi har om dig' },
    ...{ sv: 'om att få se vad vi har om dig', de: 'auf Auskunft über Ihre Daten' },
  },
  correct: {
    ...{ en: 'to have your data put right', da: 'om at få dine oplysninger rettet' },
    ...{ sv: 'om att få dina uppgifter rättade', de: 'auf Berichtigung Ihrer Daten' },
  },
  delete: {
    ...{ en: 'to have your data deleted', da: 'om at få dine oplysninger slettet' },
    ...{ sv: 'om att få dina uppgifter raderade', de: 'auf Löschung Ihrer Daten' },
  },
  move: {
    ...{ en: 'to take your data elsewhere', da: 'om at få dine oplysninger med dig' },
    ...{ sv: 'om att få dina uppgifter med dig', de: 'auf Übertragung Ihrer Daten' },
  },
  restrict: {
    ...{ en: 'to have your data left alone for now', da: 'om at få behandlingen begrænset' },
    ...{ sv: 'om att få behandlingen begränsad', de: 'auf Einschränkung der Verarbeitung' },
  },
  object: {
    ...{ en: 'to have the use of your data ended', da: 'om, at vi ikke længere bruger dine oplysninger' },
    ...{ sv: 'om att vi slutar använda dina uppgifter', de: 'auf Ende der Verarbeitung Ihrer Daten' },
  },
  'no sale': {
    ...{ en: 'not to have your data sold or shared', da: 'om, at dine oplysninger ikke sælges eller deles' },
    ...{
      sv: 'om att dina uppgifter inte säljs eller delas',
      de: 'dass Ihre Daten nicht verkauft oder geteilt werden',
    },
  },
  'no automated decision': {
    ...{ en: 'to have a person decide about you', da: 'om, at et menneske afgør din sag' },
    ...{ sv: 'om att en människa avgör ditt ärende', de: 'dass ein Mensch über Sie entscheidet' },
  },
  withdraw: {
    ...{ en: 'to take back what you agreed to', da: 'om at trække dit samtykke tilbage' },
    ...{ sv: 'om att ta tillbaka ditt samtycke', de: 'auf Widerruf Ihrer Einwilligung' },
  },
};

export function asksWords(kind: RequestKind, language: string): string {
  return ASKS[kind][letterLanguage(language)];
}

const COMPLAIN: Readonly<Record<Language, string>> = {
  en: 'If you are not content with this answer, tell us. You can also complain to the data protection authority where you live, and go to court.',
  da: 'Er du ikke tilfreds med svaret, så sig det til os. Du kan også klage til datatilsynet, hvor du bor, og gå til domstolene.',
  sv: 'Är du inte nöjd med svaret, säg det till oss. Du kan också klaga hos dataskyddsmyndigheten där du bor och gå till domstol.',
  de: 'Sind Sie mit dieser Antwort nicht zufrieden, sagen Sie es uns. Sie können sich auch bei der Datenschutzaufsicht beschweren und vor Gericht gehen.',
};
const APPEAL =
  'If you are not content with this answer, tell us: somebody else looks at it again. You can also turn to the attorney general of your state.';

/** What the law has a person told besides: where they can turn (GDPR Art. 12(4); appeals of US states). */
export function complaintWords(law: RequestLaw, language: string): string {
  return law.id.startsWith('us-') || law.id === 'ccpa' ? APPEAL : COMPLAIN[letterLanguage(language)];
}

/** A day as people of a language write it. */
export function letterDay(day: Day, language: string): string {
  const l = letterLanguage(language);
  if (l === 'en') return dayText(day);
  return new Intl.DateTimeFormat(l, { dateStyle: 'long', timeZone: 'UTC' }).format(
    new Date(`${day}T00:00:00Z`),
  );
}

const KEPT: Readonly<Record<Language, string>> = {
  en: 'We keep some of it, and this is why: ',
  da: 'Noget af det beholder vi, og det er derfor: ',
  sv: 'En del av det behåller vi, av dessa skäl: ',
  de: 'Einiges behalten wir, und zwar deshalb: ',
};
const LEFT_OUT: Readonly<Record<Language, string>> = {
  en: 'Some of it is covered or left out, since it is not about you or the law protects it: ',
  da: 'Noget er dækket eller udeladt, fordi det ikke handler om dig, eller loven beskytter det: ',
  sv: 'En del är täckt eller utelämnat, eftersom det inte handlar om dig eller skyddas av lag: ',
  de: 'Einiges ist geschwärzt oder ausgelassen, weil es nicht Sie betrifft oder gesetzlich geschützt ist: ',
};
const DELETED: Readonly<Record<Language, (n: number) => string>> = {
  en: (n) =>
    `We deleted you from ${n} ${n === 1 ? 'place' : 'places'}, looked again, and found nothing left there.`,
  da: (n) =>
    `Vi har slettet dig ${n} ${n === 1 ? 'sted' : 'steder'}, set efter igen og fandt intet tilbage dér.`,
  sv: (n) =>
    `Vi har raderat dig på ${n} ${n === 1 ? 'ställe' : 'ställen'}, tittat efter igen och fann inget kvar där.`,
  de: (n) =>
    `Wir haben Sie an ${n} ${n === 1 ? 'Stelle' : 'Stellen'} gelöscht, noch einmal nachgesehen und dort nichts mehr gefunden.`,
};
const ACTIVITIES: Readonly<Record<Language, string>> = {
  en: 'This is what we use your data for, on which ground, who receives it and how long we keep it:',
  da: 'Det bruger vi dine oplysninger til, på dette grundlag, disse modtager dem, og så længe beholder vi dem:',
  sv: 'Det här använder vi dina uppgifter till, på denna grund, dessa tar emot dem och så länge sparar vi dem:',
  de: 'Dazu verwenden wir Ihre Daten, auf dieser Grundlage, diese Empfänger erhalten sie und so lange bewahren wir sie auf:',
};

export const keptWords = (language: string, reasons: readonly string[]) =>
  reasons.length === 0 ? '' : `${KEPT[letterLanguage(language)]}${reasons.join('; ')}.`;
export const leftOutWords = (language: string, reasons: readonly string[]) =>
  reasons.length === 0 ? '' : `${LEFT_OUT[letterLanguage(language)]}${reasons.join('; ')}.`;
export const deletedWords = (language: string, places: number) => DELETED[letterLanguage(language)](places);
export const activitiesWords = (language: string) => ACTIVITIES[letterLanguage(language)];
