import type { NoticeText } from './notice-text.ts';

/** What a notice says besides its own texts. */
export interface NoticePhrases {
  /** On the button of a placeholder; `{purpose}` is the purpose's name. */
  readonly allow: string;
  /** Above what a withdrawal could not delete. */
  readonly left: string;
  /** Above the trackers of a purpose. */
  readonly uses: string;
}

type Words = readonly [name: string, text: string];

function text(
  [title, body, accept, refuse, choose, save, reopen]: readonly [
    string,
    string,
    string,
    string,
    string,
    string,
    string,
  ],
  [essential, preferences, measurement, advertising]: readonly [Words, Words, Words, Words],
  [allow, left, uses]: readonly [string, string, string],
): NoticeText & { readonly phrases: NoticePhrases } {
  const purpose = ([name, words]: Words) => ({ name, text: words });
  return {
    ...{ title, body, accept, refuse, choose, save, reopen },
    purposes: {
      essential: purpose(essential),
      preferences: purpose(preferences),
      measurement: purpose(measurement),
      advertising: purpose(advertising),
    },
    phrases: { allow, left, uses },
  };
}

/** The languages that ship, complete for the purposes that ship. */
export const SHIPPED_TEXTS = {
  en: text(
    [
      'Your choice about this site',
      'We keep what the site needs to work. With your permission we also remember your settings, count visits and show advertising. You can change your mind at any time.',
      'Allow all',
      'Refuse all',
      'Choose purposes',
      'Save my choice',
      'Privacy choice',
    ],
    [
      ['Essential', 'Keeps you signed in, guards forms and remembers this choice. Always on.'],
      ['Preferences', 'Remembers settings such as language and currency.'],
      ['Measurement', 'Counts visits, so that we see which pages help.'],
      ['Advertising', 'Shows and measures advertising that fits what you looked at.'],
    ],
    ['Allow {purpose}', 'Stopped. Only you can delete these from your browser:', 'What it uses'],
  ),
  da: text(
    [
      'Dit valg på dette websted',
      'Vi gemmer det, som webstedet skal bruge for at virke. Med din tilladelse husker vi også dine indstillinger, tæller besøg og viser annoncer. Du kan altid ændre dit valg.',
      'Tillad alle',
      'Afvis alle',
      'Vælg formål',
      'Gem mit valg',
      'Privatlivsvalg',
    ],
    [
      ['Nødvendige', 'Holder dig logget ind, beskytter formularer og husker dette valg. Altid til.'],
      ['Indstillinger', 'Husker indstillinger som sprog og valuta.'],
      ['Måling', 'Tæller besøg, så vi kan se, hvilke sider der hjælper.'],
      ['Annoncer', 'Viser og måler annoncer, der passer til det, du har set på.'],
    ],
    ['Tillad {purpose}', 'Stoppet. Kun du kan slette disse fra din browser:', 'Hvad det bruger'],
  ),
  sv: text(
    [
      'Ditt val på den här webbplatsen',
      'Vi sparar det som webbplatsen behöver för att fungera. Med ditt tillstånd minns vi också dina inställningar, räknar besök och visar annonser. Du kan alltid ändra dig.',
      'Tillåt alla',
      'Neka alla',
      'Välj ändamål',
      'Spara mitt val',
      'Integritetsval',
    ],
    [
      ['Nödvändiga', 'Håller dig inloggad, skyddar formulär och minns det här valet. Alltid på.'],
      ['Inställningar', 'Minns inställningar som språk och valuta.'],
      ['Mätning', 'Räknar besök, så att vi ser vilka sidor som hjälper.'],
      ['Annonser', 'Visar och mäter annonser som passar det du har tittat på.'],
    ],
    ['Tillåt {purpose}', 'Stoppat. Bara du kan radera detta ur din webbläsare:', 'Vad det använder'],
  ),
  nb: text(
    [
      'Valget ditt på dette nettstedet',
      'Vi lagrer det nettstedet trenger for å virke. Med din tillatelse husker vi også innstillingene dine, teller besøk og viser annonser. Du kan alltid ombestemme deg.',
      'Tillat alle',
      'Avvis alle',
      'Velg formål',
      'Lagre valget mitt',
      'Personvernvalg',
    ],
    [
      ['Nødvendige', 'Holder deg innlogget, beskytter skjemaer og husker dette valget. Alltid på.'],
      ['Innstillinger', 'Husker innstillinger som språk og valuta.'],
      ['Måling', 'Teller besøk, så vi ser hvilke sider som hjelper.'],
      ['Annonser', 'Viser og måler annonser som passer til det du har sett på.'],
    ],
    ['Tillat {purpose}', 'Stoppet. Bare du kan slette dette fra nettleseren din:', 'Hva det bruker'],
  ),
  fi: text(
    [
      'Valintasi tällä sivustolla',
      'Tallennamme sen, mitä sivusto tarvitsee toimiakseen. Luvallasi muistamme myös asetuksesi, laskemme käynnit ja näytämme mainoksia. Voit muuttaa mielesi milloin tahansa.',
      'Salli kaikki',
      'Kiellä kaikki',
      'Valitse tarkoitukset',
      'Tallenna valintani',
      'Yksityisyysvalinta',
    ],
    [
      [
        'Välttämättömät',
        'Pitää sinut kirjautuneena, suojaa lomakkeet ja muistaa tämän valinnan. Aina käytössä.',
      ],
      ['Asetukset', 'Muistaa asetukset, kuten kielen ja valuutan.'],
      ['Mittaus', 'Laskee käynnit, jotta näemme, mitkä sivut auttavat.'],
      ['Mainonta', 'Näyttää ja mittaa mainoksia, jotka sopivat katsomaasi.'],
    ],
    ['Salli {purpose}', 'Pysäytetty. Vain sinä voit poistaa nämä selaimestasi:', 'Mitä se käyttää'],
  ),
  nl: text(
    [
      'Uw keuze voor deze site',
      'Wij bewaren wat de site nodig heeft om te werken. Met uw toestemming onthouden wij ook uw instellingen, tellen wij bezoeken en tonen wij advertenties. U kunt altijd van gedachten veranderen.',
      'Alles toestaan',
      'Alles weigeren',
      'Doeleinden kiezen',
      'Mijn keuze bewaren',
      'Privacykeuze',
    ],
    [
      ['Noodzakelijk', 'Houdt u aangemeld, beschermt formulieren en onthoudt deze keuze. Altijd aan.'],
      ['Voorkeuren', 'Onthoudt instellingen zoals taal en valuta.'],
      ['Meting', 'Telt bezoeken, zodat wij zien welke pagina’s helpen.'],
      ['Advertenties', 'Toont en meet advertenties die passen bij wat u hebt bekeken.'],
    ],
    ['{purpose} toestaan', 'Gestopt. Alleen u kunt dit uit uw browser verwijderen:', 'Wat het gebruikt'],
  ),
  de: text(
    [
      'Ihre Wahl auf dieser Website',
      'Wir speichern, was die Website zum Funktionieren braucht. Mit Ihrer Erlaubnis merken wir uns auch Ihre Einstellungen, zählen Besuche und zeigen Werbung. Sie können Ihre Wahl jederzeit ändern.',
      'Alle erlauben',
      'Alle ablehnen',
      'Zwecke wählen',
      'Meine Wahl speichern',
      'Datenschutzwahl',
    ],
    [
      ['Notwendig', 'Hält Sie angemeldet, schützt Formulare und merkt sich diese Wahl. Immer an.'],
      ['Einstellungen', 'Merkt sich Einstellungen wie Sprache und Währung.'],
      ['Messung', 'Zählt Besuche, damit wir sehen, welche Seiten helfen.'],
      ['Werbung', 'Zeigt und misst Werbung, die zu dem passt, was Sie angesehen haben.'],
    ],
    ['{purpose} erlauben', 'Beendet. Nur Sie können dies aus Ihrem Browser löschen:', 'Was es nutzt'],
  ),
  fr: text(
    [
      'Votre choix sur ce site',
      'Nous gardons ce dont le site a besoin pour fonctionner. Avec votre permission, nous retenons aussi vos réglages, comptons les visites et montrons de la publicité. Vous pouvez changer d’avis à tout moment.',
      'Tout permettre',
      'Tout refuser',
      'Choisir les finalités',
      'Enregistrer mon choix',
      'Choix de confidentialité',
    ],
    [
      ['Essentiels', 'Vous garde connecté, protège les formulaires et retient ce choix. Toujours actifs.'],
      ['Préférences', 'Retient des réglages tels que la langue et la monnaie.'],
      ['Mesure', 'Compte les visites, pour voir quelles pages aident.'],
      ['Publicité', 'Montre et mesure la publicité qui correspond à ce que vous avez regardé.'],
    ],
    [
      'Permettre {purpose}',
      'Arrêté. Vous seul pouvez supprimer ceci de votre navigateur :',
      'Ce qui est utilisé',
    ],
  ),
  es: text(
    [
      'Su elección en este sitio',
      'Guardamos lo que el sitio necesita para funcionar. Con su permiso también recordamos sus ajustes, contamos las visitas y mostramos publicidad. Puede cambiar de opinión en cualquier momento.',
      'Permitir todo',
      'Rechazar todo',
      'Elegir finalidades',
      'Guardar mi elección',
      'Elección de privacidad',
    ],
    [
      [
        'Esenciales',
        'Mantiene su sesión, protege los formularios y recuerda esta elección. Siempre activos.',
      ],
      ['Preferencias', 'Recuerda ajustes como el idioma y la moneda.'],
      ['Medición', 'Cuenta las visitas, para ver qué páginas ayudan.'],
      ['Publicidad', 'Muestra y mide publicidad acorde con lo que ha mirado.'],
    ],
    ['Permitir {purpose}', 'Detenido. Solo usted puede borrar esto de su navegador:', 'Qué utiliza'],
  ),
  it: text(
    [
      'La sua scelta su questo sito',
      'Conserviamo ciò che serve al sito per funzionare. Con il suo permesso ricordiamo anche le impostazioni, contiamo le visite e mostriamo pubblicità. Può cambiare idea in ogni momento.',
      'Consenti tutto',
      'Rifiuta tutto',
      'Scegli le finalità',
      'Salva la mia scelta',
      'Scelta sulla privacy',
    ],
    [
      ['Essenziali', 'Mantiene l’accesso, protegge i moduli e ricorda questa scelta. Sempre attivi.'],
      ['Preferenze', 'Ricorda impostazioni come la lingua e la valuta.'],
      ['Misurazione', 'Conta le visite, per vedere quali pagine aiutano.'],
      ['Pubblicità', 'Mostra e misura pubblicità adatta a ciò che ha guardato.'],
    ],
    ['Consenti {purpose}', 'Fermato. Solo lei può cancellare questi dal suo browser:', 'Che cosa usa'],
  ),
  pl: text(
    [
      'Twój wybór w tym serwisie',
      'Przechowujemy to, czego serwis potrzebuje do działania. Za Twoją zgodą zapamiętujemy też ustawienia, liczymy odwiedziny i pokazujemy reklamy. Możesz zmienić zdanie w każdej chwili.',
      'Zezwól na wszystko',
      'Odmów wszystkiego',
      'Wybierz cele',
      'Zapisz mój wybór',
      'Wybór prywatności',
    ],
    [
      ['Niezbędne', 'Utrzymuje logowanie, chroni formularze i pamięta ten wybór. Zawsze włączone.'],
      ['Ustawienia', 'Pamięta ustawienia, takie jak język i waluta.'],
      ['Pomiar', 'Liczy odwiedziny, aby było widać, które strony pomagają.'],
      ['Reklama', 'Pokazuje i mierzy reklamy pasujące do tego, co oglądano.'],
    ],
    [
      'Zezwól: {purpose}',
      'Zatrzymano. Tylko Ty możesz usunąć to ze swojej przeglądarki:',
      'Z czego korzysta',
    ],
  ),
  pt: text(
    [
      'A sua escolha neste site',
      'Guardamos o que o site precisa para funcionar. Com a sua permissão também lembramos as suas definições, contamos visitas e mostramos publicidade. Pode mudar de ideias a qualquer momento.',
      'Permitir tudo',
      'Recusar tudo',
      'Escolher finalidades',
      'Guardar a minha escolha',
      'Escolha de privacidade',
    ],
    [
      ['Essenciais', 'Mantém a sessão, protege formulários e lembra esta escolha. Sempre ativos.'],
      ['Preferências', 'Lembra definições como a língua e a moeda.'],
      ['Medição', 'Conta visitas, para vermos que páginas ajudam.'],
      ['Publicidade', 'Mostra e mede publicidade adequada ao que viu.'],
    ],
    ['Permitir {purpose}', 'Parado. Só você pode apagar isto do seu navegador:', 'O que utiliza'],
  ),
} as const satisfies Record<string, NoticeText & { readonly phrases: NoticePhrases }>;

/** What the notice says besides its own texts, in a language, or in English where none ships. */
export function phrasesIn(language: string): NoticePhrases {
  return (
    (SHIPPED_TEXTS as Readonly<Record<string, { phrases: NoticePhrases }>>)[language]?.phrases ??
    SHIPPED_TEXTS.en.phrases
  );
}

/** The texts that ship in a language, for a notice that begins to speak it; `undefined` where none do. */
export function shippedText(language: string): NoticeText | undefined {
  const shipped = (SHIPPED_TEXTS as Readonly<Record<string, NoticeText & { phrases?: unknown }>>)[language];
  if (!shipped) return undefined;
  const { phrases: _phrases, ...own } = shipped;
  return own;
}
