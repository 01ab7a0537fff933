/** What a contract with a processor has to say (GDPR Art. 28(3)), and what goes with it. */
export interface Clause {
  readonly id: string;
  readonly article: string;
  readonly words: string;
  /** How it is commonly written: English, Danish, Swedish, German. */
  readonly said: readonly string[];
  /** Needed where data go to a country without an adequate level alone. */
  readonly abroad?: true;
}

export const CLAUSES: readonly Clause[] = [
  {
    ...{ id: 'subject', article: 'Art. 28(3)', words: 'what is processed, how long, why, and whose data' },
    said: [
      'This agreement sets out the subject matter and duration of the processing, the nature and purpose of the processing, the type of personal data and the categories of data subjects',
      'Aftalen fastsætter genstanden for og varigheden af behandlingen, behandlingens karakter og formål, typen af personoplysninger og kategorierne af registrerede',
      'Avtalet anger föremålet för behandlingen, dess varaktighet, art och ändamål, typen av personuppgifter och kategorier av registrerade',
      'Gegenstand und Dauer der Verarbeitung, Art und Zweck der Verarbeitung, die Art der personenbezogenen Daten und die Kategorien betroffener Personen sind festgelegt',
    ],
  },
  {
    ...{ id: 'instructions', article: 'Art. 28(3)(a)', words: 'only on our documented instructions' },
    said: [
      'The processor shall process personal data only on documented instructions from the controller, unless required to do so by law',
      'Databehandleren må kun behandle personoplysninger efter dokumenteret instruks fra den dataansvarlige',
      'Personuppgiftsbiträdet får endast behandla personuppgifter på dokumenterade instruktioner från den personuppgiftsansvarige',
      'Der Auftragsverarbeiter verarbeitet personenbezogene Daten nur auf dokumentierte Weisung des Verantwortlichen',
    ],
  },
  {
    ...{
      id: 'secrecy',
      article: 'Art. 28(3)(b)',
      words: 'everybody who works with them is bound to secrecy',
    },
    said: [
      'persons authorised to process the personal data have committed themselves to confidentiality or are under an appropriate statutory obligation of confidentiality',
      'personer, der er autoriseret til at behandle personoplysninger, har forpligtet sig til fortrolighed eller er underlagt en passende lovbestemt tavshedspligt',
      'personer med behörighet att behandla personuppgifterna har åtagit sig att iaktta konfidentialitet eller omfattas av lämplig lagstadgad tystnadsplikt',
      'employees with access are bound by a duty of confidentiality or secrecy, by contract or by statute',
      'Mitarbeiter wurden schriftlich auf Vertraulichkeit und Datengeheimnis verpflichtet',
      'die zur Verarbeitung befugten Personen haben sich zur Vertraulichkeit verpflichtet oder unterliegen einer gesetzlichen Verschwiegenheitspflicht',
    ],
  },
  {
    ...{ id: 'security', article: 'Art. 28(3)(c)', words: 'measures of security by Art. 32' },
    said: [
      'The processor implements appropriate technical and organisational measures to ensure a level of security appropriate to the risk as required by Article 32',
      'Databehandleren gennemfører passende tekniske og organisatoriske foranstaltninger for at sikre et sikkerhedsniveau, der passer til risici efter artikel 32',
      'Personuppgiftsbiträdet vidtar lämpliga tekniska och organisatoriska åtgärder för att säkerställa en säkerhetsnivå som är lämplig i förhållande till risken enligt artikel 32',
      'Der Auftragsverarbeiter trifft geeignete technische und organisatorische Maßnahmen, um ein dem Risiko angemessenes Schutzniveau nach Artikel 32 zu gewährleisten',
    ],
  },
  {
    ...{
      id: 'subprocessors',
      article: 'Art. 28(2) and (3)(d)',
      words: 'no subprocessor without our leave; we hear of changes and can object',
    },
    said: [
      'The processor shall not engage another processor without prior specific or general written authorisation of the controller and shall inform the controller of any intended changes concerning the addition or replacement of other processors, giving the controller the opportunity to object',
      'The customer gives general authorisation to engage sub-processors, is informed before any is added or replaced, and may object',
      'Databehandleren må ikke gøre brug af en anden databehandler uden forudgående specifik eller generel skriftlig godkendelse fra den dataansvarlige og skal underrette om planlagte ændringer vedrørende tilføjelse eller udskiftning af underdatabehandlere',
      'Personuppgiftsbiträdet får inte anlita ett annat biträde utan att ett särskilt eller allmänt skriftligt förhandstillstånd har erhållits av den personuppgiftsansvarige och ska informera om planer på att anlita nya underbiträden',
      'Der Auftragsverarbeiter nimmt keinen weiteren Auftragsverarbeiter ohne vorherige gesonderte oder allgemeine schriftliche Genehmigung des Verantwortlichen in Anspruch und informiert über jede beabsichtigte Änderung, sodass Einspruch erhoben werden kann',
    ],
  },
  {
    ...{
      id: 'same-duties',
      article: 'Art. 28(4)',
      words: 'subprocessors have the same duties, and the vendor answers for them',
    },
    said: [
      'the same data protection obligations as set out in this contract shall be imposed on that other processor, and the initial processor remains fully liable to the controller for the performance of the other processor’s obligations',
      'underdatabehandleren pålægges de samme databeskyttelsesforpligtelser som fastsat i denne aftale, og databehandleren forbliver fuldt ansvarlig over for den dataansvarlige',
      'samma skyldigheter i fråga om dataskydd som fastställs i avtalet ska åläggas underbiträdet, och biträdet är fullt ansvarigt gentemot den personuppgiftsansvarige',
      'dem weiteren Auftragsverarbeiter werden dieselben Datenschutzpflichten auferlegt, und der Auftragsverarbeiter haftet dem Verantwortlichen für deren Einhaltung',
    ],
  },
  {
    ...{ id: 'rights', article: 'Art. 28(3)(e)', words: 'helps us to answer people who ask' },
    said: [
      'The processor assists the controller by appropriate measures in fulfilling its obligation to respond to requests for exercising the data subject’s rights',
      'Databehandleren bistår den dataansvarlige med at besvare anmodninger om udøvelse af de registreredes rettigheder',
      'Personuppgiftsbiträdet hjälper den personuppgiftsansvarige att svara på begäran om utövande av den registrerades rättigheter',
      'Der Auftragsverarbeiter unterstützt den Verantwortlichen bei der Beantwortung von Anträgen auf Wahrnehmung der Rechte der betroffenen Person',
    ],
  },
  {
    ...{
      id: 'assistance',
      article: 'Art. 28(3)(f)',
      words: 'helps us with security, breaches and impact assessments',
    },
    said: [
      'The processor assists the controller in ensuring compliance with the obligations pursuant to Articles 32 to 36, including data protection impact assessments and prior consultation',
      'Databehandleren bistår den dataansvarlige med at sikre overholdelse af forpligtelserne i artikel 32-36, herunder konsekvensanalyser og forudgående høring',
      'Personuppgiftsbiträdet bistår den personuppgiftsansvarige med att se till att skyldigheterna enligt artiklarna 32-36 fullgörs, däribland konsekvensbedömning och förhandssamråd',
      'Der Auftragsverarbeiter unterstützt den Verantwortlichen bei der Einhaltung der Pflichten aus den Artikeln 32 bis 36, insbesondere bei der Datenschutz-Folgenabschätzung und vorherigen Konsultation',
    ],
  },
  {
    ...{ id: 'breach', article: 'Art. 33(2)', words: 'tells us of a breach without undue delay' },
    said: [
      'The processor shall notify the controller without undue delay after becoming aware of a personal data breach',
      'Databehandleren underretter uden unødig forsinkelse den dataansvarlige efter at være blevet opmærksom på et brud på persondatasikkerheden',
      'Personuppgiftsbiträdet ska underrätta den personuppgiftsansvarige utan onödigt dröjsmål efter att ha fått vetskap om en personuppgiftsincident',
      'Wird dem Auftragsverarbeiter eine Verletzung des Schutzes personenbezogener Daten bekannt, meldet er diese dem Verantwortlichen unverzüglich',
    ],
  },
  {
    ...{ id: 'end', article: 'Art. 28(3)(g)', words: 'deletes or returns all data at the end' },
    said: [
      'At the choice of the controller the processor deletes or returns all the personal data after the end of the provision of services and deletes existing copies',
      'Databehandleren sletter eller tilbageleverer alle personoplysninger til den dataansvarlige, efter at tjenesterne er ophørt, og sletter eksisterende kopier',
      'Personuppgiftsbiträdet raderar eller återlämnar alla personuppgifter till den personuppgiftsansvarige efter det att tjänsterna har avslutats och raderar befintliga kopior',
      'Nach Abschluss der Erbringung der Verarbeitungsleistungen löscht der Auftragsverarbeiter alle personenbezogenen Daten oder gibt sie zurück und löscht vorhandene Kopien',
    ],
  },
  {
    ...{
      id: 'audit',
      article: 'Art. 28(3)(h)',
      words: 'lets us look at it: information, audits, inspections',
    },
    said: [
      'The processor makes available all information necessary to demonstrate compliance and allows for and contributes to audits, including inspections, conducted by the controller or another auditor',
      'Databehandleren stiller alle oplysninger til rådighed, der er nødvendige for at påvise overholdelse, og giver mulighed for og bidrager til revisioner, herunder inspektioner',
      'Personuppgiftsbiträdet ger tillgång till all information som krävs för att visa att skyldigheterna har fullgjorts och möjliggör och bidrar till granskningar, inbegripet inspektioner',
      'Der Auftragsverarbeiter stellt alle erforderlichen Informationen zum Nachweis der Einhaltung zur Verfügung und ermöglicht Überprüfungen einschließlich Inspektionen',
    ],
  },
  {
    ...{
      id: 'unlawful',
      article: 'Art. 28(3), last sentence',
      words: 'tells us if an instruction is against the law',
    },
    said: [
      'The processor shall immediately inform the controller if, in its opinion, an instruction infringes data protection law',
      'Databehandleren underretter omgående den dataansvarlige, hvis en instruks efter vedkommendes mening er i strid med databeskyttelsesreglerne',
      'Personuppgiftsbiträdet ska omedelbart informera den personuppgiftsansvarige om biträdet anser att en instruktion strider mot dataskyddsreglerna',
      'Der Auftragsverarbeiter informiert den Verantwortlichen unverzüglich, falls er der Auffassung ist, dass eine Weisung gegen Datenschutzvorschriften verstößt',
    ],
  },
  {
    ...{
      id: 'transfer',
      article: 'Art. 44 to 46',
      words: 'a safeguard for transfers to third countries',
      abroad: true,
    },
    said: [
      'Any transfer of personal data to a third country takes place only under Chapter V, on the basis of the standard contractual clauses adopted by the Commission or an adequacy decision',
      'Overførsel af personoplysninger til tredjelande må kun ske i henhold til kapitel V, på grundlag af Kommissionens standardkontraktbestemmelser eller en afgørelse om tilstrækkeligt beskyttelsesniveau',
      'Överföring av personuppgifter till ett tredjeland får endast ske enligt kapitel V, på grundval av kommissionens standardavtalsklausuler eller ett beslut om adekvat skyddsnivå',
      'Eine Übermittlung personenbezogener Daten in ein Drittland erfolgt nur nach Kapitel V auf Grundlage der Standardvertragsklauseln der Kommission oder eines Angemessenheitsbeschlusses',
    ],
  },
];

export interface ProposedClause {
  readonly id: string;
  readonly verdict: 'there' | 'perhaps' | 'missing';
  /** In [0, 1]. */
  readonly likeness: number;
  /** The passage that comes nearest; '' where none comes near. */
  readonly passage: string;
  /** UTF-16 offset of it. */
  readonly at: number;
}

/** From this likeness on it is proposed to be there. */
export const THERE = 0.42;
export const PERHAPS = 0.28;
/** A passage counts for the clause that it is most like, and for those that it is nearly as like. */
const NEARLY = 0.8;
/** Two sentences have more words, and some of them by chance. */
const TWO = 0.85;

const NOTHING = new Set(
  'the a an of to and or in on by for with is are be shall will that this which any all as it its from at not no such under der die das und oder des den dem ein eine einer zu zur zum von im in mit für auf ist sind wird werden nach bei er sie es at og eller af til den det de en et på med som er for i skal må ikke kan att och av för om ett på är ska får inte eller enligt processor controller personal data databehandleren dataansvarlige personoplysninger personuppgiftsbiträdet personuppgiftsansvarige personuppgifter auftragsverarbeiter verantwortlichen verantwortliche personenbezogene personenbezogener daten'.split(
    ' ',
  ),
);

/** The first letters of each word that says something: endings differ, and say little. */
function stems(text: string): readonly string[] {
  return (
    text
      .normalize('NFC')
      .toLowerCase()
      .match(/\p{L}+/gu) ?? []
  )
    .filter((w) => w.length > 2 && !NOTHING.has(w))
    .map((w) => w.slice(0, 6));
}

const SAID = CLAUSES.flatMap((c) => c.said.map((words) => ({ id: c.id, stems: new Set(stems(words)) })));
/** A word that few clauses have tells more. */
const WEIGHT = (() => {
  const of = new Map<string, Set<string>>();
  for (const s of SAID) for (const w of s.stems) of.set(w, (of.get(w) ?? new Set()).add(s.id));
  return (w: string) => {
    const n = of.get(w)?.size;
    return n === undefined ? 0 : Math.log(1 + CLAUSES.length / n);
  };
})();

const LONGEST = 2_000_000;
const NONE: ReadonlySet<string> = new Set();

interface Passage {
  readonly text: string;
  readonly at: number;
}

/** Sentences, and each with the one after it: a clause is often written in two. */
function passagesOf(text: string): readonly Passage[] {
  const found: Passage[] = [];
  for (const m of text
    .slice(0, LONGEST)
    .matchAll(/[^.;\n]+(?:[.;](?=\S)[^.;\n]+)*[.;]?(?:\n(?=\p{Ll})[^.;\n]+[.;]?)*/gu)) {
    const words = m[0].trim();
    if (words.length >= 20)
      found.push({ text: words.slice(0, 1500), at: m.index + (m[0].length - m[0].trimStart().length) });
  }
  return found;
}

/**
 * Which clauses a contract has, by likeness: of the words that tell one clause from the others, the share that a passage has,
 * by weight.
 */
export function proposeClauses(text: string): readonly ProposedClause[] {
  const passages = passagesOf(text);
  const best = new Map<string, ProposedClause>();
  const look = (p: Passage, words: ReadonlySet<string>, factor = 1, known: ReadonlySet<string> = NONE) => {
    const likes = SAID.map((s) => ({ id: s.id, like: factor * likenessOf(s.stems, words) }));
    // A word or two that another clause has as well make it none of that one.
    const most = Math.max(...likes.map((l) => l.like));
    for (const { id, like } of likes)
      if (!known.has(id) && like >= most * NEARLY && like > (best.get(id)?.likeness ?? 0))
        best.set(id, {
          ...{ id, likeness: like, passage: p.text, at: p.at },
          verdict: like >= THERE ? 'there' : like >= PERHAPS ? 'perhaps' : 'missing',
        });
  };
  const words = passages.map((p) => stems(p.text));
  for (const [n, p] of passages.entries()) look(p, new Set(words[n]));
  const alone = new Set([...best.values()].filter((c) => c.verdict === 'there').map((c) => c.id));
  for (const [n, p] of passages.entries()) {
    const next = passages[n + 1];
    if (next)
      look(
        { text: `${p.text} ${next.text}`.slice(0, 1500), at: p.at },
        new Set([...(words[n] ?? []), ...(words[n + 1] ?? [])]),
        TWO,
        alone,
      );
  }
  return CLAUSES.map((c) => {
    const found = best.get(c.id);
    return found && found.likeness >= PERHAPS
      ? found
      : { id: c.id, verdict: 'missing', likeness: found?.likeness ?? 0, passage: '', at: 0 };
  });
}

function likenessOf(said: ReadonlySet<string>, words: ReadonlySet<string>): number {
  let [there, all] = [0, 0];
  for (const w of said) {
    const weight = WEIGHT(w);
    all += weight;
    if (words.has(w)) there += weight;
  }
  return all === 0 ? 0 : there / all;
}
