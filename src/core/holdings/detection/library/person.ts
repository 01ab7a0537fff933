import type { BuiltIn } from '../detector/detector.ts';
import { list } from './list.ts';
import { NAME_PARTS, PEOPLE_LABELS } from './name-words.ts';

/** Over what names somebody, or something else. */
const PLAIN_HEADINGS = list(`
name, navn, namn, customer, kunde, kund, contact, client, klient, beneficiary, account holder, kontoinhaber, kontoindehaver
kontoinnehavare, owner, holder, sender, recipient, modtager, mottagare, empfänger, from, to, cc, member, medlem, mitglied
author, responsible, ansvarlig, ansvarig, verantwortlich, tenant, lejer, hyresgäst, mieter
`);

/** Over what names somebody. */
const NAME_HEADINGS = list(`
full name, fullname, first name, last name, firstname, lastname, surname, forename, given name, name given, name family
family name, fornavn, efternavn, fulde navn, förnamn, efternamn, vorname, nachname, familienname
passenger, passager, passagerare, fahrgast, employee, medarbejder, medarbetare, anställd, mitarbeiter
patient, contact person, contact name, kontaktperson, ansprechpartner, guardian, guest
gæst, gast, customer name, client name, display name, witness, vidne, vittne, zeuge, zeugin, teacher, lærer, lärare
lehrer, doctor, physician, læge, läkare, arzt, ärztin, nurse, captain, kaptajn, kapten, kapitän, purser, crew member
cardholder, insured, policyholder, next of kin, emergency contact, pårørende, anhörig
angehörige, mother, father, mor, far, mutter, vater, spouse, ægtefælle, make, ehegatte, reported by, approved by, prepared by
signed by, handled by, submitted by, requested by, completed by, received by, checked by, oplyst af, anmeldt af, godkendt af
udfyldt af, underskrevet af, behandlet af, anmäld av, godkänd av, upprättad av, mottagen av, gemeldet von, erstellt von, genehmigt von
bearbeitet von, unterschrieben von, case worker, sagsbehandler, handläggare
sachbearbeiter, referee, attendee, participant, deltager, deltagare, teilnehmer, driver, fører, förare, fahrer, applicant, ansøger, sökande, bewerber
parent, child, barn, kind, elev, pupil, student, signatory, manager, leder, chef, vorgesetzter, supervisor, team lead, director
direktør, direktör, chairman, formand, ordförande, vorsitzender, coordinator, koordinator, trainer, instructor, instruktør
secretary, colleague, kollega, kollege, husband, wife, resident, citizen, borger, claimant, complainant, klager, data subject
requester, requestor, interviewer, interviewee, respondent, crew name, person, contact first name, contact last name
`);

/** Words for people, and what is said to them, before a name. */
const OF_PEOPLE = list(`
full name, customers, passengers, patients, employees, pupils, witnesses, crew, crew member, mr, mrs, ms, dear, kære, kära, hej
hi, hello, hallo, liebe, lieber, sehr geehrte, sehr geehrter, herr, frau, fru, frøken, regards, best, sincerely, hilsen
venlig hilsen, mvh, hälsningar, vänliga hälsningar, med vänliga hälsningar, grüße, grüßen, mit freundlichen grüßen, gruß
signed, born, son, daughter, søn, datter, dotter, sohn, tochter, brother, sister, bror, søster, syster, bruder, schwester
sambo, kone, eleven, barnet, medarbejderen, medarbetaren, kollegaen, kollegan, wife, husband, partner, hustru, ehefrau, ehemann
colleague, kollega, kollege, kollegin, account holder
karteninhaber, kontoinhaber, psykolog, psychologist, lawyer, advokat, rechtsanwalt, rechtsanwältin, tillidsrepræsentant
shop steward, betriebsrat, officer, mate, styrmand, styrman, steuermann, engineer, maskinist, cook, kok, kock, koch, deckhand
cadet, trainee, lærling, lärling, director, direktør, direktör, chairman, formand, ordförande, vorsitzender, vorsitzende, ceo
cfo, dpo, chefen, lederen, case worker, next of kin, emergency contact, student, beneficiary, traveller, traveler, reisende
reisender, resenär, rejsende, azubi, auszubildender, auszubildende, praktikant, praktikantin, bilejer, bilägaren, ägaren
fahrzeughalter, contractor, subcontractor, visitor, besucher, besøgende, besökare, attending, driver, told, met, says, said, asked, called, contacted, phoned, emailed, informed, interviewed, hired
sacked, dismissed, promoted, married, fortalte, mødte, kontaktede, ringede til, spurgte, skrev til, ansatte, berättade, mötte
kontaktade, frågade, ringde, sagte, traf, kontaktierte, fragte, schrieb, for the attention of, attn, att, c/o, z.hd
regarding, concerning, vedrørende, vedr, angående, betreffend, complaint from, klage fra, klagomål från, beschwerde von, named
called, ved navn, vid namn, namens, resident, borger, borgeren, brukare, insured, forsikrede, försäkrad, versicherte
versicherter, policyholder, suspect, sigtede, misstänkt, beschuldigter, victim, offer, opfer, prisoner, candidate, kandidat
`);

/** Words after which a name may stand, or anything else. */
const LEADING = list(`
from, fra, från, to, til, till, an, by, af, av, von, with, med, mit, for, für, för, cc, including, herunder, deriblandt
däribland, inklusive, darunter, einschließlich, namely, nämlich, nemlig
`);

export const PERSON_NAME: BuiltIn = {
  kind: 'pattern',
  id: 'person-name',
  name: 'Person’s name',
  category: 'identity',
  source: 'Given and family names of some forty languages; titles and labels',
  about: 'A name alone says little: it needs a title, a label, a known surname or another finding beside it.',
  anchor: {
    by: 'function',
    name: 'person name',
    headings: [...NAME_HEADINGS, ...PLAIN_HEADINGS],
  },
  start: -0.5,
  context: [
    {
      where: 'before',
      within: 20,
      words: [...NAME_PARTS, ...PEOPLE_LABELS, ...OF_PEOPLE],
      steps: 3.2,
    },
    { where: 'before', within: 20, words: LEADING, steps: 2.5 },
    {
      where: 'before',
      within: 14,
      words: list(`
ship, ferry, vessel, boat, yacht, skibet, færgen, båden, fartyget, färjan, båten, schiff, fähre, hotel, café,
museum
`),
      steps: -5,
    },
    // “The Lord Nelson” is a house, and “the Marie Curie fellowship” a grant.
    { where: 'before', within: 1, words: ['the'], steps: -3 },
    {
      where: 'after',
      within: 14,
      words: list(`
born, født, född, geboren, geb, age, aged, said, says, asked, wrote, called, told, reported, complained,
confirmed, sagde, skrev, ringede, ringde, sade, sagte, schrieb, rief, fragte, has, har, hat, is, er, är, ist,
was, var, war, lives, bor, wohnt, works, arbejder, arbetar, arbeitet, who, som, der, die, will, vil, wird,
travels, rejser, reser, reist, signed, joined, left, booked, bestilte, bokade, buchte, cpr, passport, tel,
tlf, phone
`),
      steps: 1,
    },
    {
      where: 'heading',
      within: 1,
      words: NAME_HEADINGS,
      steps: 6,
    },
    {
      where: 'heading',
      within: 1,
      words: PLAIN_HEADINGS,
      steps: 4,
    },
    {
      where: 'heading',
      within: 1,
      words: list(`
product, product name, ship, ship name, vessel, file name, filename, company, company name, city, town, port,
route, host name, hostname, user agent, street, address, brand, item, title, supplier, produkt, skib,
virksomhed, firma, fartyg, schiff, stad, ort, stadt, varenavn, artikelname, domain, server
products, order, orders, items, service, services, module, package, packages, role, roles, group, groups, department, departments
team, plan, category, categories, tag, tags, event, events, course, courses, project, projects, job, task, table, column, field
policy, rule, template, image, font, theme, icon, button, menu, page, site, website, host, node, cluster, region, country
language, currency, dependency, script, class, function, method, variable, parameter, device, devices, model, vehicle, berth
terminal, location, locations, place, building, room, station, bank, store, shop, restaurant, species, feature, channel, queue
topic, test, tests, step, stage, label, license, organisation, organization, vessel name, ships, vessels, harbour, port name
vare, varer, produkter, ydelse, afdeling, projekt, kursus, artikel, artikler, havn, land, rolle, gruppe, hold
vara, varor, avdelning, kurs, artiklar, hamn, roll, grupp, abteilung, ware, hafen, raum, gerät, verein, behörde
`),
      steps: -7,
    },
    { where: 'after', within: 5, pattern: '^ ?\\((?:1[0-9]|[2-9]?\\d)[,)]', steps: 2 },
    {
      where: 'after',
      within: 14,
      pattern:
        '^ ?(?:Ltd|Inc|GmbH|A/S|ApS|AB|AG|PLC|LLC|Street|Road|straße|vej|gatan|University|Foundation|Airport|Award|Fellowship|Scholarship|Lecture|Trust|Theatre|Theater|Library|Harbour|Building|Stadium|Collection|Expedition|Cup|Day|Prize|Institut|Museum|School|Schule|Hospital|Park|Square|Bridge|House|Hall|Station|Platz|&)(?!\\p{L})',
      steps: -5,
    },
    // In a list of people, one speaks for the next.
    { where: 'around', within: 5, detector: 'person-name', steps: 2 },
    { where: 'line', detector: 'email', steps: 2 },
    { where: 'line', detector: 'phone', steps: 1.5 },
    { where: 'line', detector: 'date-of-birth', steps: 2 },
    { where: 'around', within: 120, detector: 'postal-address', steps: 2 },
    { where: 'line', detector: 'dk-cpr', steps: 2 },
    { where: 'line', detector: 'se-personnummer', steps: 2 },
    { where: 'line', detector: 'passport', steps: 1.5 },
  ],
  competes: true,
  mask: 'ends',
  examples: [
    'Name: ⟦Tove Lindqvist⟧',
    'Navn: ⟦Kåre Østergård Lund⟧, født 1970',
    'Kære ⟦Jens Hansen⟧,',
    'Herr ⟦Jürgen Müller⟧ hat angerufen.',
    'I met ⟦Charlotte Davies⟧ on board.',
    'Pupils: ⟦Noah Whitaker⟧ (8)',
    'Teacher: ⟦Helen Osborne⟧',
    'Signed: ⟦J. R. Hartwell⟧',
    'Mit freundlichen Grüßen\n⟦Käthe Schneider⟧',
    'Mvh ⟦Göran Bergström⟧',
    'Dr. ⟦Osei Darko⟧ signed it.',
    'Passenger: ⟦Anna-Lise van der Berg⟧',
    'Mein Sohn ⟦Jonas⟧ fährt allein.',
    'Hi ⟦Peter⟧, can you send the report?',
    'See you on Monday.\nMvh\n⟦Birgitte⟧',
    '[14:02] ⟦Karen⟧: har du hørt fra ham?',
    '20/11/2026, 09:15 - ⟦Thomas Hartwell⟧: on my way',
    'Best regards, ⟦Thomas Hartwell⟧ Head of Operations',
  ],
  counterExamples: [
    'Charlotte Street is closed.',
    'Kunde: Brindle Strait Ferries A/S',
    'Customer: Marrow Quay Shipping Ltd',
    'Will Terms apply?',
    'Victoria Station',
    'Mark the box',
    'May June July',
    'Paris Agreement',
    'Jordan River cruise',
    'Alternatively, Emmet can be used',
    'Anna Holmqvist Day is a holiday',
    'Hope Ltd',
    'The ship Lady Hamilton left at noon',
    'Mein Sohn Nummer eins',
    'Hej Danmark, her er vi',
    'Peter is a port.',
    'Grace Period ends',
    'the general terms',
    'The Lord Nelson is a pub.',
    'The Marie Curie fellowship is open.',
    '[14:02] Update: berth 4 is closed',
  ],
};
