import { letterLanguage } from '../requests/letters/letter-values.ts';
import type { WrittenLetter } from '../requests/letters/request-letter.ts';

/** What both letters are made from. */
export interface IncidentTold {
  readonly organisation: string;
  readonly number: string;
  readonly happened: string;
  /** When, in words. */
  readonly when: string;
  readonly known: string;
  readonly people: string;
  readonly records: string;
  readonly data: readonly string[];
  readonly consequences: string;
  readonly measures: readonly string[];
  readonly contact: string;
  /** Why it comes later than 72 hours; '' where it does not. */
  readonly late: string;
}

/** A notification to the authority: all that GDPR Art. 33(3) asks for, in its order. What is not known yet says so: it follows (Art. 33(4)). */
export function authorityLetter(t: IncidentTold): WrittenLetter {
  const known = (text: string) => text || 'not known yet; it follows without undue delay (Art. 33(4))';
  return {
    subject: `Notification of a personal data breach, ${t.organisation}, ${t.number}`,
    paragraphs: [
      `Controller: ${t.organisation}.`,
      `(a) What happened: ${known(t.happened)}${t.when ? ` It happened ${t.when};` : ''} we knew of it on ${t.known}.`,
      `Categories of data: ${known(t.data.join(', '))}.`,
      `People concerned, about: ${known(t.people)}. Records concerned, about: ${known(t.records)}.`,
      `(b) Contact: ${t.contact}.`,
      `(c) Likely consequences: ${known(t.consequences)}${t.consequences ? '' : '.'}`,
      `(d) Measures taken and proposed: ${known(t.measures.join('; '))}.`,
      ...(t.late ? [`Reasons for the delay (Art. 33(1)): ${t.late}`] : []),
    ],
  };
}

const PEOPLE: Readonly<
  Record<'en' | 'da' | 'sv' | 'de', (t: IncidentTold) => readonly [string, ...string[]]>
> = {
  en: (t) => [
    `${t.organisation}: something happened with your data`,
    `We have to tell you that something happened with data about you. ${t.happened}`,
    `It is about: ${t.data.join(', ')}.`,
    `What that may mean for you: ${t.consequences}`,
    `What we did, and do: ${t.measures.join('; ')}.`,
    `Ask us whatever you want to know: ${t.contact}. You can also turn to the data protection authority where you live.`,
    t.organisation,
  ],
  da: (t) => [
    `${t.organisation}: der er sket noget med dine oplysninger`,
    `Vi skal fortælle dig, at der er sket noget med oplysninger om dig. ${t.happened}`,
    `Det drejer sig om: ${t.data.join(', ')}.`,
    `Hvad det kan betyde for dig: ${t.consequences}`,
    `Hvad vi har gjort og gør: ${t.measures.join('; ')}.`,
    `Spørg os om, hvad du vil: ${t.contact}. Du kan også henvende dig til datatilsynet, hvor du bor.`,
    t.organisation,
  ],
  sv: (t) => [
    `${t.organisation}: något har hänt med dina uppgifter`,
    `Vi måste berätta att något har hänt med uppgifter om dig. ${t.happened}`,
    `Det gäller: ${t.data.join(', ')}.`,
    `Vad det kan betyda för dig: ${t.consequences}`,
    `Vad vi har gjort och gör: ${t.measures.join('; ')}.`,
    `Fråga oss vad du vill: ${t.contact}. Du kan också vända dig till dataskyddsmyndigheten där du bor.`,
    t.organisation,
  ],
  de: (t) => [
    `${t.organisation}: mit Ihren Daten ist etwas geschehen`,
    `Wir müssen Ihnen sagen, dass mit Daten über Sie etwas geschehen ist. ${t.happened}`,
    `Es geht um: ${t.data.join(', ')}.`,
    `Was das für Sie bedeuten kann: ${t.consequences}`,
    `Was wir getan haben und tun: ${t.measures.join('; ')}.`,
    `Fragen Sie uns, was Sie wissen möchten: ${t.contact}. Sie können sich auch an die Datenschutzaufsicht an Ihrem Wohnort wenden.`,
    t.organisation,
  ],
};

/** A letter to the people, in plain words of their language (GDPR Art. 34(2)). What is not written yet is three dots. */
export function peopleLetter(t: IncidentTold, language: string): WrittenLetter {
  const [subject, ...paragraphs] = PEOPLE[letterLanguage(language)]({
    ...t,
    consequences: t.consequences || '…',
    data: t.data.length > 0 ? t.data : ['…'],
    measures: t.measures.length > 0 ? t.measures : ['…'],
  });
  return { subject, paragraphs };
}
