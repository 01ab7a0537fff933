import { KnownTracker } from '../../src/core/websites/trackers/known-tracker.ts';

type Entry = Partial<KnownTracker> & Pick<KnownTracker, 'name' | 'purpose' | 'domain'>;

const entry = (
  provider: string,
  given: Entry,
  en: string,
  da: string,
  sv: string,
  de: string,
): KnownTracker => KnownTracker.parse({ provider, texts: { en, da, sv, de }, ...given });

/** What the ferry line has noted of the companies on its sites. */
export const DEMO_LIBRARY: readonly KnownTracker[] = [
  entry(
    'Wavemeter',
    {
      name: 'wave_*',
      match: 'wildcard',
      domain: '',
      kind: 'cookie',
      purpose: 'measurement',
      lifetime: '13 months',
    },
    'Counts visits and tells returning visitors from new ones.',
    'Tæller besøg og kender besøgende igen.',
    'Räknar besök och känner igen återkommande besökare.',
    'Zählt Besuche und erkennt wiederkehrende Besucher.',
  ),
  entry(
    'Wavemeter',
    {
      name: '*',
      match: 'wildcard',
      domain: 'wavemeter.localhost',
      purpose: 'measurement',
      lifetime: '13 months',
    },
    'Counts visits.',
    'Tæller besøg.',
    'Räknar besök.',
    'Zählt Besuche.',
  ),
  entry(
    'Adbuoy',
    {
      name: 'adbuoy_id',
      domain: 'adbuoy.localhost',
      kind: 'cookie',
      purpose: 'advertising',
      lifetime: '390 days',
    },
    'Recognises a visitor on other websites to show advertising.',
    'Genkender besøgende på andre websteder for at vise annoncer.',
    'Känner igen besökare på andra webbplatser för att visa annonser.',
    'Erkennt Besucher auf anderen Websites, um Werbung zu zeigen.',
  ),
  entry(
    'Adbuoy',
    { name: '*', match: 'wildcard', domain: 'adbuoy.localhost', purpose: 'advertising', lifetime: '' },
    'Shows advertising and counts clicks on it.',
    'Viser annoncer og tæller klik på dem.',
    'Visar annonser och räknar klick på dem.',
    'Zeigt Werbung und zählt Klicks darauf.',
  ),
  entry(
    'Mapquay',
    {
      name: 'mq_(view|part)',
      match: 'expression',
      domain: 'mapquay.localhost',
      kind: 'cookie',
      purpose: 'preferences',
      lifetime: '30 days',
    },
    'Remembers how far a map of the port was zoomed.',
    'Husker hvor langt der er zoomet ind på et kort over havnen.',
    'Minns hur långt en karta över hamnen zoomats in.',
    'Merkt sich, wie weit eine Karte des Hafens vergrößert wurde.',
  ),
  entry(
    'Paylock',
    {
      name: 'pl_session',
      domain: 'paylock.localhost',
      kind: 'cookie',
      purpose: 'essential',
      lifetime: 'session',
    },
    'Keeps a payment together until it is done.',
    'Holder sammen på en betaling, til den er gennemført.',
    'Håller ihop en betalning tills den är klar.',
    'Hält eine Zahlung zusammen, bis sie abgeschlossen ist.',
  ),
  entry(
    'Streamhull',
    {
      name: 'sh_*',
      match: 'wildcard',
      domain: 'streamhull.localhost',
      purpose: 'advertising',
      lifetime: '1 year',
    },
    'Recognises who watches a film, and shows advertising in it.',
    'Genkender den, der ser en film, og viser annoncer i den.',
    'Känner igen den som ser en film och visar annonser i den.',
    'Erkennt, wer einen Film ansieht, und zeigt darin Werbung.',
  ),
  entry(
    'Brindle Strait Ferries',
    { name: 'bs_session', domain: '', kind: 'cookie', purpose: 'essential', lifetime: 'session' },
    'Keeps the steps of a booking together.',
    'Holder sammen på trinene i en bestilling.',
    'Håller ihop stegen i en bokning.',
    'Hält die Schritte einer Buchung zusammen.',
  ),
];
