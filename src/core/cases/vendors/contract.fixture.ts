/** Contracts as firms write them, by clause; the wording is not the law’s. */
export const CONTRACTS: Readonly<Record<string, Readonly<Record<string, string>>>> = {
  english: {
    subject:
      'Schedule 1 describes the subject matter, duration, nature and purpose of the processing, as well as the types of personal data and the categories of data subjects concerned.',
    instructions:
      'Seatable processes Customer Data solely in accordance with the documented instructions of the Customer, save where Union or Member State law requires otherwise.',
    secrecy:
      'Seatable ensures that every employee authorised to access Customer Data is bound by a duty of confidentiality, by contract or by statute.',
    security:
      'Taking account of the risk, Seatable maintains the technical and organisational security measures listed in Schedule 2 (Art. 32 GDPR).',
    subprocessors:
      'The Customer gives general written authorisation to engage further processors. Seatable will inform the Customer thirty days before adding or replacing any of them, and the Customer may object.',
    'same-duties':
      'Seatable imposes on each sub-processor by contract the same data protection obligations and remains fully liable towards the Customer for their performance.',
    rights:
      'Where a data subject exercises a right, Seatable forwards the request within three days and assists the Customer in responding to it.',
    assistance:
      'Seatable assists with impact assessments, with prior consultation of the authority and with the other obligations of Articles 32 to 36.',
    breach:
      'Seatable notifies the Customer of any personal data breach without undue delay, and at the latest 24 hours after becoming aware of it.',
    end: 'On termination of the services Seatable will, as the Customer chooses, return or delete all Customer Data, including existing copies.',
    audit:
      'Seatable provides the information necessary to demonstrate compliance and allows audits and inspections by the Customer or an independent auditor once a year.',
    unlawful:
      'Should Seatable consider that an instruction infringes data protection law, it informs the Customer immediately.',
    transfer:
      'Data may be transferred to a third country only on the basis of an adequacy decision or of the standard contractual clauses of the Commission.',
  },
  german: {
    subject:
      'Gegenstand, Dauer, Art und Zweck der Verarbeitung sowie die Kategorien der Betroffenen und die Datenarten ergeben sich aus Anlage 1.',
    instructions: 'Das Archiv verarbeitet die Daten ausschließlich nach dokumentierten Weisungen des Kunden.',
    secrecy:
      'Alle Mitarbeiter, die zur Verarbeitung befugt sind, wurden schriftlich zur Vertraulichkeit verpflichtet.',
    security:
      'Das Archiv ergreift die technischen und organisatorischen Maßnahmen nach Art. 32 DSGVO, die dem Risiko angemessen sind (Anlage 2).',
    subprocessors:
      'Weitere Auftragsverarbeiter dürfen nur mit vorheriger schriftlicher Genehmigung des Kunden beauftragt werden; über beabsichtigte Änderungen wird er informiert und kann Einspruch erheben.',
    'same-duties':
      'Unterauftragnehmern werden vertraglich dieselben Datenschutzpflichten auferlegt; das Archiv haftet für deren Einhaltung.',
    rights:
      'Bei Anträgen betroffener Personen auf Auskunft oder Löschung unterstützt das Archiv den Kunden bei der Beantwortung und Wahrnehmung ihrer Rechte.',
    assistance:
      'Es unterstützt ihn bei Datenschutz-Folgenabschätzungen, der vorherigen Konsultation und den Pflichten aus Art. 32 bis 36.',
    breach:
      'Verletzungen des Schutzes personenbezogener Daten meldet das Archiv unverzüglich nach Bekanntwerden.',
    end: 'Nach Ende der Leistungen werden alle Daten nach Wahl des Kunden gelöscht oder zurückgegeben und vorhandene Kopien gelöscht.',
    audit:
      'Zum Nachweis der Einhaltung stellt das Archiv alle Informationen bereit und ermöglicht Überprüfungen und Inspektionen.',
    unlawful:
      'Hält das Archiv eine Weisung für einen Verstoß gegen Datenschutzvorschriften, informiert es den Kunden unverzüglich.',
    transfer:
      'In ein Drittland wird nur auf Grundlage eines Angemessenheitsbeschlusses oder der Standardvertragsklauseln übermittelt.',
  },
  danish: {
    subject:
      'Bilag 1 angiver genstanden for behandlingen, dens varighed, karakter og formål, typerne af personoplysninger og kategorierne af registrerede.',
    instructions: 'Leverandøren behandler alene oplysningerne efter dokumenteret instruks fra kunden.',
    secrecy: 'Medarbejdere med adgang har forpligtet sig til fortrolighed og er underlagt tavshedspligt.',
    security:
      'Leverandøren gennemfører de passende tekniske og organisatoriske foranstaltninger, der følger af artikel 32 og risikoen.',
    subprocessors:
      'Leverandøren må kun bruge underdatabehandlere med kundens forudgående skriftlige godkendelse og underretter om planlagte ændringer eller udskiftning.',
    'same-duties':
      'Underdatabehandlere pålægges samme databeskyttelsesforpligtelser, og leverandøren er fuldt ansvarlig for dem.',
    rights:
      'Leverandøren bistår kunden, når registrerede anmoder om at udøve deres rettigheder, så anmodninger kan besvares.',
    assistance:
      'Leverandøren bistår med konsekvensanalyser, forudgående høring og overholdelse af artikel 32-36.',
    breach:
      'Leverandøren underretter kunden uden unødig forsinkelse om brud på persondatasikkerheden, senest 24 timer efter at være blevet opmærksom på det.',
    end: 'Når tjenesten ophører, slettes eller tilbageleveres alle oplysninger efter kundens valg, og kopier slettes.',
    audit:
      'Leverandøren stiller oplysninger til rådighed, der påviser overholdelse, og giver mulighed for revision og inspektion.',
    unlawful:
      'Hvis en instruks efter leverandørens mening strider mot databeskyttelsesreglerne, underrettes kunden omgående.',
    transfer:
      'Overførsel til tredjelande sker kun på grundlag af standardkontraktbestemmelser eller en afgørelse om tilstrækkeligt beskyttelsesniveau.',
  },
};

/** A contract that says nothing of personal data. */
export const SUPPLY = `Delivery. The Supplier delivers two thousand tonnes of marine fuel each month to the terminal named in the order.
Price. The price follows the published index on the day of delivery. Invoices are payable within thirty days after receipt.
Title and risk pass to the Buyer when the fuel enters the vessel. Quality is measured by an independent surveyor at the joint cost of the parties.
Liability is limited to the price of the delivery concerned. Neither party is liable for events beyond its control.
Term. This agreement runs for two years and is renewed by one year unless ended in writing three months before. The parties keep its terms confidential.
Disputes are settled by the Maritime and Commercial Court. The Buyer may inspect the records of the Supplier about deliveries.`;
