/** Ways to reach a person. */
export const CHANNELS = ['email', 'sms', 'telephone', 'post', 'app'] as const;
export type Channel = (typeof CHANNELS)[number];

export const CHANNEL_WORDS: Readonly<Record<Channel, string>> = {
  email: 'e-mail',
  sms: 'text message',
  telephone: 'telephone',
  post: 'post',
  app: 'the app',
};

const PHRASES = [
  ...CHANNELS,
  'title',
  'body',
  'how',
  'about',
  'save',
  'leave',
  'why',
  'words',
  'saved',
  'gone',
  'closed',
  'over',
  'receipt',
] as const;

/** What stands on the page that the organisation does not word itself. */
export type PreferencePhrases = Readonly<Record<(typeof PHRASES)[number], string>>;

/** In the order of `PHRASES`. */
const SHIPPED: Readonly<Record<string, readonly string[]>> = {
  en: [
    ...['E-mail', 'Text message', 'Telephone', 'Post', 'The app'],
    ...['What may we send you?', 'Say how we may reach you, and about what. You can change it at any time.'],
    ...[
      'How',
      'About what',
      'Save',
      'Send me nothing any more',
      'Why? You need not say.',
      'In your own words',
    ],
    ...['Saved. It is so from now on.', 'You get nothing more from us.'],
    ...['Nothing can be chosen at the moment. You can still leave.'],
    ...['This link is over, or was cut short. Ask us for a new one.', 'Receipt'],
  ],
  da: [
    ...['E-mail', 'Sms', 'Telefon', 'Post', 'Appen'],
    ...['Hvad må vi sende dig?', 'Sig, hvordan vi må kontakte dig, og om hvad. Du kan altid ændre det.'],
    ...['Hvordan', 'Om hvad', 'Gem', 'Send mig ikke mere', 'Hvorfor? Du behøver ikke svare.'],
    ...['Med dine egne ord', 'Gemt. Sådan er det fra nu af.', 'Du får ikke mere fra os.'],
    ...['Der kan ikke vælges noget lige nu. Du kan stadig melde dig fra.'],
    ...['Linket er udløbet eller ufuldstændigt. Bed os om et nyt.', 'Kvittering'],
  ],
  sv: [
    ...['E-post', 'Sms', 'Telefon', 'Post', 'Appen'],
    ...['Vad får vi skicka till dig?', 'Säg hur vi får nå dig och om vad. Du kan alltid ändra det.'],
    ...['Hur', 'Om vad', 'Spara', 'Skicka mig ingenting mer', 'Varför? Du behöver inte svara.'],
    ...['Med egna ord', 'Sparat. Så är det från och med nu.', 'Du får inget mer från oss.'],
    ...['Inget kan väljas just nu. Du kan fortfarande lämna.'],
    ...['Länken har gått ut eller är ofullständig. Be oss om en ny.', 'Kvitto'],
  ],
  nb: [
    ...['E-post', 'SMS', 'Telefon', 'Post', 'Appen'],
    ...['Hva kan vi sende deg?', 'Si hvordan vi kan nå deg, og om hva. Du kan endre det når som helst.'],
    ...['Hvordan', 'Om hva', 'Lagre', 'Ikke send meg noe mer', 'Hvorfor? Du trenger ikke svare.'],
    ...['Med egne ord', 'Lagret. Slik er det fra nå av.', 'Du får ikke mer fra oss.'],
    ...['Ingenting kan velges akkurat nå. Du kan fortsatt melde deg av.'],
    ...['Lenken er utløpt eller ufullstendig. Be oss om en ny.', 'Kvittering'],
  ],
  fi: [
    ...['Sähköposti', 'Tekstiviesti', 'Puhelin', 'Posti', 'Sovellus'],
    ...[
      'Mitä saamme lähettää sinulle?',
      'Kerro, miten ja mistä saamme ottaa yhteyttä. Voit muuttaa sitä milloin tahansa.',
    ],
    ...['Miten', 'Mistä', 'Tallenna', 'Älkää lähettäkö enää mitään', 'Miksi? Sinun ei tarvitse vastata.'],
    ...['Omin sanoin', 'Tallennettu. Näin on tästä lähtien.', 'Et saa meiltä enää mitään.'],
    ...['Juuri nyt ei voi valita mitään. Voit silti poistua.'],
    ...['Linkki on vanhentunut tai vajaa. Pyydä meiltä uusi.', 'Kuitti'],
  ],
  nl: [
    ...['E-mail', 'Sms', 'Telefoon', 'Post', 'De app'],
    ...['Wat mogen we u sturen?', 'Zeg hoe we u mogen bereiken, en waarover. U kunt het altijd wijzigen.'],
    ...['Hoe', 'Waarover', 'Opslaan', 'Stuur mij niets meer', 'Waarom? U hoeft niet te antwoorden.'],
    ...['In uw eigen woorden', 'Opgeslagen. Zo is het vanaf nu.', 'U krijgt niets meer van ons.'],
    ...['Op dit moment valt er niets te kiezen. Afmelden kan altijd.'],
    ...['Deze link is verlopen of afgebroken. Vraag ons om een nieuwe.', 'Ontvangstbewijs'],
  ],
  de: [
    ...['E-Mail', 'SMS', 'Telefon', 'Post', 'Die App'],
    ...[
      'Was dürfen wir Ihnen senden?',
      'Sagen Sie, wie wir Sie erreichen dürfen und worüber. Sie können es jederzeit ändern.',
    ],
    ...['Wie', 'Worüber', 'Speichern', 'Senden Sie mir nichts mehr', 'Warum? Sie müssen nicht antworten.'],
    ...['In Ihren Worten', 'Gespeichert. So gilt es ab jetzt.', 'Sie erhalten nichts mehr von uns.'],
    ...['Im Moment lässt sich nichts wählen. Abmelden können Sie sich immer.'],
    ...['Dieser Link ist abgelaufen oder unvollständig. Bitten Sie uns um einen neuen.', 'Beleg'],
  ],
  fr: [
    ...['E-mail', 'SMS', 'Téléphone', 'Courrier', 'L’application'],
    ...[
      'Que pouvons-nous vous envoyer ?',
      'Dites comment nous pouvons vous joindre, et à quel sujet. Vous pouvez changer d’avis à tout moment.',
    ],
    ...[
      'Comment',
      'À quel sujet',
      'Enregistrer',
      'Ne m’envoyez plus rien',
      'Pourquoi ? Vous n’êtes pas obligé de répondre.',
    ],
    ...[
      'Avec vos mots',
      'Enregistré. C’est ainsi à partir de maintenant.',
      'Vous ne recevrez plus rien de nous.',
    ],
    ...['Rien ne peut être choisi pour le moment. Vous pouvez toujours partir.'],
    ...['Ce lien est expiré ou incomplet. Demandez-nous-en un nouveau.', 'Reçu'],
  ],
  es: [
    ...['Correo electrónico', 'SMS', 'Teléfono', 'Correo postal', 'La aplicación'],
    ...[
      '¿Qué podemos enviarle?',
      'Diga cómo podemos contactarle y sobre qué. Puede cambiarlo en cualquier momento.',
    ],
    ...['Cómo', 'Sobre qué', 'Guardar', 'No me envíen nada más', '¿Por qué? No es necesario responder.'],
    ...['Con sus propias palabras', 'Guardado. Así queda desde ahora.', 'No recibirá nada más de nosotros.'],
    ...['Por ahora no se puede elegir nada. Siempre puede darse de baja.'],
    ...['Este enlace ha caducado o está incompleto. Pídanos uno nuevo.', 'Recibo'],
  ],
  it: [
    ...['E-mail', 'SMS', 'Telefono', 'Posta', 'L’app'],
    ...[
      'Che cosa possiamo inviarle?',
      'Dica come possiamo contattarla e su cosa. Può cambiarlo in qualsiasi momento.',
    ],
    ...['Come', 'Su cosa', 'Salva', 'Non inviatemi più nulla', 'Perché? Non è tenuto a dirlo.'],
    ...['Con parole sue', 'Salvato. È così da adesso.', 'Non riceverà più nulla da noi.'],
    ...['Al momento non si può scegliere nulla. Può comunque cancellarsi.'],
    ...['Questo link è scaduto o incompleto. Ce ne chieda uno nuovo.', 'Ricevuta'],
  ],
  pl: [
    ...['E-mail', 'SMS', 'Telefon', 'Poczta', 'Aplikacja'],
    ...[
      'Co możemy Panu/Pani wysyłać?',
      'Proszę wskazać, jak i w jakich sprawach możemy się kontaktować. Można to zmienić w każdej chwili.',
    ],
    ...[
      'Jak',
      'W jakich sprawach',
      'Zapisz',
      'Nie wysyłajcie mi już niczego',
      'Dlaczego? Odpowiedź nie jest konieczna.',
    ],
    ...['Własnymi słowami', 'Zapisano. Tak jest od teraz.', 'Nie będzie już od nas żadnych wiadomości.'],
    ...['W tej chwili nie można nic wybrać. Nadal można zrezygnować.'],
    ...['Ten link wygasł lub jest niepełny. Prosimy poprosić o nowy.', 'Potwierdzenie'],
  ],
  pt: [
    ...['E-mail', 'SMS', 'Telefone', 'Correio', 'A aplicação'],
    ...[
      'O que lhe podemos enviar?',
      'Diga como o podemos contactar e sobre quê. Pode mudar a qualquer momento.',
    ],
    ...['Como', 'Sobre quê', 'Guardar', 'Não me enviem mais nada', 'Porquê? Não é obrigado a responder.'],
    ...['Por palavras suas', 'Guardado. É assim a partir de agora.', 'Não receberá mais nada de nós.'],
    ...['De momento não se pode escolher nada. Pode sair na mesma.'],
    ...['Esta ligação expirou ou está incompleta. Peça-nos uma nova.', 'Recibo'],
  ],
};

/** In English where a language does not ship. */
export function preferencePhrases(language: string): PreferencePhrases {
  const shipped = SHIPPED[language] ?? SHIPPED['en'] ?? [];
  return Object.fromEntries(PHRASES.map((name, i) => [name, shipped[i] ?? ''])) as PreferencePhrases;
}
