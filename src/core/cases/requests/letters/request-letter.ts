import { letterLanguage } from './letter-values.ts';

/** What is written to people about their requests. */
export const LETTERS = [
  'received',
  'prove',
  'extended',
  'package',
  'passphrase',
  'nothing held',
  'done',
  'deleted',
  'refused',
] as const;
export type LetterId = (typeof LETTERS)[number];

export const LETTER_WORDS: Readonly<Record<LetterId, string>> = {
  received: 'it came in',
  prove: 'who are you?',
  extended: 'it takes longer',
  package: 'here is what is held',
  passphrase: 'the passphrase',
  'nothing held': 'nothing is held',
  done: 'it is done',
  deleted: 'it is deleted',
  refused: 'it is refused',
};

/** Those that answer a request. */
export const ANSWERS: readonly LetterId[] = ['package', 'nothing held', 'done', 'deleted', 'refused'];

type Texts = Readonly<Record<'en' | 'da' | 'sv' | 'de', readonly [subject: string, ...body: string[]]>>;

/**
 * Values: name, organisation, number, asks, law, article, day, link, reason, kept, told, complaint, phrase. Each paragraph
 * that is empty once they are put in is left out.
 */
const TEXTS: Readonly<Record<LetterId, Texts>> = {
  received: {
    en: [
      '{organisation}: your request {number}',
      'Dear {name},',
      'we have your request {asks}. Its number is {number}. Under {law}, {article}, you hear from us by {day} at the latest.',
      '{told}',
      'You need do nothing now. If you did not ask this, write to us.',
      '{organisation}',
    ],
    da: [
      '{organisation}: din anmodning {number}',
      'Kære {name}',
      'Vi har modtaget din anmodning {asks}. Den har nummer {number}. Efter {law}, {article}, hører du fra os senest {day}.',
      '{told}',
      'Du behøver ikke gøre mere nu. Hvis du ikke har bedt om dette, så skriv til os.',
      '{organisation}',
    ],
    sv: [
      '{organisation}: din begäran {number}',
      'Hej {name}!',
      'Vi har fått din begäran {asks}. Den har nummer {number}. Enligt {law}, {article}, hör du av oss senast {day}.',
      '{told}',
      'Du behöver inte göra mer nu. Om du inte har begärt detta, skriv till oss.',
      '{organisation}',
    ],
    de: [
      '{organisation}: Ihr Antrag {number}',
      'Guten Tag {name},',
      'wir haben Ihren Antrag {asks} erhalten. Er trägt die Nummer {number}. Nach {law}, {article}, hören Sie bis spätestens {day} von uns.',
      '{told}',
      'Sie müssen jetzt nichts weiter tun. Wenn Sie das nicht beantragt haben, schreiben Sie uns.',
      '{organisation}',
    ],
  },
  prove: {
    en: [
      '{organisation}: is it you? {number}',
      'Dear {name},',
      'before we answer your request {asks}, we have to be sure that it is yours. Please open this page. It asks for a few things that only you are likely to know, and can be used once, until {day}.',
      '{link}',
      'What you tell us there is used for this alone, and deleted when your request is answered.',
      '{organisation}',
    ],
    da: [
      '{organisation}: er det dig? {number}',
      'Kære {name}',
      'Før vi besvarer din anmodning {asks}, skal vi være sikre på, at den er din. Åbn denne side. Den spørger om et par ting, som nok kun du ved, og kan bruges én gang, indtil {day}.',
      '{link}',
      'Det, du svarer, bruges kun til dette og slettes, når din anmodning er besvaret.',
      '{organisation}',
    ],
    sv: [
      '{organisation}: är det du? {number}',
      'Hej {name}!',
      'Innan vi svarar på din begäran {asks} måste vi vara säkra på att den är din. Öppna den här sidan. Den frågar om några saker som nog bara du vet, och kan användas en gång, till och med {day}.',
      '{link}',
      'Det du svarar används bara till detta och raderas när din begäran är besvarad.',
      '{organisation}',
    ],
    de: [
      '{organisation}: Sind Sie es? {number}',
      'Guten Tag {name},',
      'bevor wir Ihren Antrag {asks} beantworten, müssen wir sicher sein, dass er von Ihnen kommt. Bitte öffnen Sie diese Seite. Sie fragt nach einigem, was wohl nur Sie wissen, und gilt einmal, bis {day}.',
      '{link}',
      'Was Sie dort angeben, wird nur dafür verwendet und gelöscht, sobald Ihr Antrag beantwortet ist.',
      '{organisation}',
    ],
  },
  extended: {
    en: [
      '{organisation}: your request {number} takes longer',
      'Dear {name},',
      'your request {asks} takes longer than we hoped: {reason}. {law}, {article}, lets us take until {day}, and we shall not take longer than we need.',
      '{complaint}',
      '{organisation}',
    ],
    da: [
      '{organisation}: din anmodning {number} tager længere tid',
      'Kære {name}',
      'Din anmodning {asks} tager længere tid, end vi håbede: {reason}. {law}, {article}, giver os tid til {day}, og vi bruger ikke mere, end vi skal.',
      '{complaint}',
      '{organisation}',
    ],
    sv: [
      '{organisation}: din begäran {number} tar längre tid',
      'Hej {name}!',
      'Din begäran {asks} tar längre tid än vi hoppades: {reason}. {law}, {article}, ger oss tid till {day}, och vi tar inte mer än vi behöver.',
      '{complaint}',
      '{organisation}',
    ],
    de: [
      '{organisation}: Ihr Antrag {number} dauert länger',
      'Guten Tag {name},',
      'Ihr Antrag {asks} dauert länger als gehofft: {reason}. {law}, {article}, lässt uns Zeit bis {day}; länger als nötig brauchen wir nicht.',
      '{complaint}',
      '{organisation}',
    ],
  },
  package: {
    en: [
      '{organisation}: what we hold about you, {number}',
      'Dear {name},',
      'here is what we hold about you. You can fetch it from this page until {day}. It opens with a passphrase, which comes another way.',
      '{link}',
      '{told}',
      '{kept}',
      '{complaint}',
      '{organisation}',
    ],
    da: [
      '{organisation}: det, vi har om dig, {number}',
      'Kære {name}',
      'Her er det, vi har om dig. Du kan hente det på denne side indtil {day}. Det åbnes med en adgangssætning, som kommer ad en anden vej.',
      '{link}',
      '{told}',
      '{kept}',
      '{complaint}',
      '{organisation}',
    ],
    sv: [
      '{organisation}: det vi har om dig, {number}',
      'Hej {name}!',
      'Här är det vi har om dig. Du kan hämta det på den här sidan till och med {day}. Det öppnas med en lösenfras som kommer på annat sätt.',
      '{link}',
      '{told}',
      '{kept}',
      '{complaint}',
      '{organisation}',
    ],
    de: [
      '{organisation}: was wir über Sie gespeichert haben, {number}',
      'Guten Tag {name},',
      'hier ist, was wir über Sie gespeichert haben. Sie können es bis {day} auf dieser Seite abholen. Es öffnet sich mit einer Passphrase, die auf anderem Weg kommt.',
      '{link}',
      '{told}',
      '{kept}',
      '{complaint}',
      '{organisation}',
    ],
  },
  passphrase: {
    en: ['{number}', '{organisation}: the passphrase of {number} is', '{phrase}'],
    da: ['{number}', '{organisation}: adgangssætningen til {number} er', '{phrase}'],
    sv: ['{number}', '{organisation}: lösenfrasen till {number} är', '{phrase}'],
    de: ['{number}', '{organisation}: Die Passphrase zu {number} lautet', '{phrase}'],
  },
  'nothing held': {
    en: [
      '{organisation}: we hold nothing about you, {number}',
      'Dear {name},',
      'you asked {asks}. We looked for you in every system that holds data of people, and found nothing but this request.',
      '{complaint}',
      '{organisation}',
    ],
    da: [
      '{organisation}: vi har intet om dig, {number}',
      'Kære {name}',
      'Du bad {asks}. Vi har ledt efter dig i alle systemer med oplysninger om mennesker og fandt kun denne anmodning.',
      '{complaint}',
      '{organisation}',
    ],
    sv: [
      '{organisation}: vi har inget om dig, {number}',
      'Hej {name}!',
      'Du bad {asks}. Vi har letat efter dig i alla system med uppgifter om människor och fann bara den här begäran.',
      '{complaint}',
      '{organisation}',
    ],
    de: [
      '{organisation}: wir haben nichts über Sie gespeichert, {number}',
      'Guten Tag {name},',
      'Sie haben beantragt {asks}. Wir haben in allen Systemen mit Daten von Menschen nach Ihnen gesucht und nichts gefunden als diesen Antrag.',
      '{complaint}',
      '{organisation}',
    ],
  },
  done: {
    en: [
      '{organisation}: your request {number} is done',
      'Dear {name},',
      'you asked {asks}. That is done since today.',
      '{told}',
      '{kept}',
      '{complaint}',
      '{organisation}',
    ],
    da: [
      '{organisation}: din anmodning {number} er udført',
      'Kære {name}',
      'Du bad {asks}. Det er gjort fra i dag.',
      '{told}',
      '{kept}',
      '{complaint}',
      '{organisation}',
    ],
    sv: [
      '{organisation}: din begäran {number} är utförd',
      'Hej {name}!',
      'Du bad {asks}. Det är gjort från och med i dag.',
      '{told}',
      '{kept}',
      '{complaint}',
      '{organisation}',
    ],
    de: [
      '{organisation}: Ihr Antrag {number} ist erledigt',
      'Guten Tag {name},',
      'Sie haben beantragt {asks}. Das ist seit heute so.',
      '{told}',
      '{kept}',
      '{complaint}',
      '{organisation}',
    ],
  },
  deleted: {
    en: [
      '{organisation}: your data is deleted, {number}',
      'Dear {name},',
      'you asked {asks}. {told}',
      '{kept}',
      '{complaint}',
      '{organisation}',
    ],
    da: [
      '{organisation}: dine oplysninger er slettet, {number}',
      'Kære {name}',
      'Du bad {asks}. {told}',
      '{kept}',
      '{complaint}',
      '{organisation}',
    ],
    sv: [
      '{organisation}: dina uppgifter är raderade, {number}',
      'Hej {name}!',
      'Du bad {asks}. {told}',
      '{kept}',
      '{complaint}',
      '{organisation}',
    ],
    de: [
      '{organisation}: Ihre Daten sind gelöscht, {number}',
      'Guten Tag {name},',
      'Sie haben beantragt {asks}. {told}',
      '{kept}',
      '{complaint}',
      '{organisation}',
    ],
  },
  refused: {
    en: [
      '{organisation}: about your request {number}',
      'Dear {name},',
      'you asked {asks}. We do not do so: {reason}.',
      '{complaint}',
      '{organisation}',
    ],
    da: [
      '{organisation}: om din anmodning {number}',
      'Kære {name}',
      'Du bad {asks}. Det gør vi ikke: {reason}.',
      '{complaint}',
      '{organisation}',
    ],
    sv: [
      '{organisation}: om din begäran {number}',
      'Hej {name}!',
      'Du bad {asks}. Det gör vi inte: {reason}.',
      '{complaint}',
      '{organisation}',
    ],
    de: [
      '{organisation}: zu Ihrem Antrag {number}',
      'Guten Tag {name},',
      'Sie haben beantragt {asks}. Dem entsprechen wir nicht: {reason}.',
      '{complaint}',
      '{organisation}',
    ],
  },
};

/** A letter as it is read over before it goes out. */
export interface WrittenLetter {
  readonly subject: string;
  readonly paragraphs: readonly string[];
}

/** A letter with its values put in; paragraphs that are empty then are left out. Throws an Error for a value that lacks. */
export function composeLetter(
  id: LetterId,
  language: string,
  values: Readonly<Record<string, string>>,
): WrittenLetter {
  const fill = (text: string) =>
    text.replace(/\{([a-z]+)\}/g, (_, name: string) => {
      const value = values[name];
      if (value === undefined) throw new Error(`The letter ${id} lacks a value for ${name}.`);
      return value;
    });
  const [subject, ...body] = TEXTS[id][letterLanguage(language)];
  return {
    subject: fill(subject).slice(0, 200),
    paragraphs: body.map((p) => fill(p).trim()).filter((p) => p !== ''),
  };
}
