const list = (text: string): readonly string[] => text.trim().split(/\s+/);

/** Written before a name. */
export const TITLES = list(`
mr mrs ms miss mx messrs dr prof sir madam lord lady rev capt captain nurse
hr fr hr. herr herrn frau fru frøken fröken fräulein doktor professor dipl.-ing kapitän kaptajn kapten
mme mlle monsieur madame sr sra srta señor señora dott sig signora pan pani
`).filter((t) => !['hr.', 'dipl.-ing'].includes(t));

/** Written before the first name of somebody who is spoken of by it alone. */
export const RELATIONS = list(`
son daughter wife husband brother sister mother father mum dad partner fiancé fiancée boyfriend girlfriend nephew niece
grandson granddaughter colleague pupil patient toddler baby søn sønnen datter datteren kone mand bror søster kollega elev
eleven patienten kæreste samlever barnebarn dotter dottern sonen fru man syster sambo kollegan barnbarn sohn tochter bruder
schwester kollege kollegin patientin schüler schülerin freund freundin enkel enkelin barnet kind
`);

/** Written before the first name of whoever a letter is to, with a comma behind it. */
export const GREETINGS = list(
  'dear hi hello hey kære hej kära hallo liebe lieber moin hejsa tjena goddag servus hei',
);

/** Written at the end of a letter, before the first name of whoever wrote it. */
export const FAREWELLS = list(`
regards sincerely thanks cheers yours faithfully wishes truly hilsen hilsner mvh hälsningar hälsning tack tak grüße grüßen
gruß gruss grüsse vh vänligen hilsenen respectfully cordially
`);

/** Labels of a name or a part of it. */
export const NAME_PARTS = list(`
name navn namn vorname nachname fornavn efternavn förnamn efternamn surname forename firstname lastname fullname familienname
rufname geburtsname pigenavn kaldenavn mellemnavn mellannamn zuname
`);

/** Labels of what somebody is: before a colon, they name somebody. */
export const PEOPLE_LABELS = list(`
passenger passager passagerer passagerare fahrgast patient patienten patientin kunde kunden kund customer client klient
kontaktperson contact kontakt ansprechpartner ansprechpartnerin employee medarbejder medarbetare mitarbeiter mitarbeiterin
anställd ansat signed underskrift underskrevet unterschrift undertecknat unterzeichnet witness witnesses vidne vidner vittne
zeuge zeugin zeugen teacher lærer lärare lehrer lehrerin guardian værge vårdnadshavare tenant lejer hyresgäst mieter mieterin
applicant ansøger sökande bewerber bewerberin driver fører chauffør förare fahrer fahrerin captain kaptajn kapten kapitän
purser bosun doctor læge läkare arzt ärztin physician nurse author forfatter författare autor verfasser manager leder chef
supervisor organiser organizer attendee attendees deltager deltagere deltagare teilnehmer participants present fraværende
apologies afbud indehaver innehavare inhaber holder cardholder owner ejer ägare eigentümer halter member medlem mitglied guest
gæst gäst gast kin pårørende anhörig angehöriger angehörige mother father mor far moder fader mutter vater parent forælder
förälder child barn kind pupil elev schüler schülerin student reporter melder anmelder anmälare handler sagsbehandler
handläggare sachbearbeiter sachbearbeiterin claimant klager klagande kläger defendant tiltalte svarande beklagter recipient
modtager mottagare empfänger sender afsender avsändare absender assignee responsible ansvarlig ansvarig verantwortlich steward
crew seafarer seaman sømand sjöman seemann reported prepared approved checked witnessed completed submitted requested handled
issued received written oplyst anmeldt godkendt udfyldt udarbejdet modtaget anmäld godkänd upprättad mottagen gemeldet
erstellt genehmigt ausgefüllt geprüft
`);

/** Words that a letter is to, or from, when it is to nobody by name; and what firms are called by. */
export const NOBODY = list(`
sir sirs madam all team everyone everybody colleague colleagues customer customers guest guests passenger passengers member
members friend friends parents parent student students staff crew recruiter recipient hiring diary santa world there folks
support service services sales office bookings reception administration finance accounts department board kunde kunder kunden
kundin kund gæst gæster gäst gäster gast gäste kollega kolleger kollegor kollegen kolleginnen kollege alle allesammen venner
vänner freunde freundinnen medlem medlemmer medlemmar mitglied mitglieder forældre föräldrar eltern damen herren herre dame
damer interessenten team teamet holdet personale personal kundeservice kundtjänst kundenservice passagerservice rederi
redaktion redaktionen verwaltung personalabteilung personalafdelingen borger borgere läsare læser leser leserinnen
medarbejdere medarbejder medarbetare mitarbeiter mitarbeiterinnen sponsor sponsors investor partner partners neighbour
neighbours nachbarn naboer grannar danmark sverige deutschland tyskland england europe
`);

/** Written before a name in forms and letters; never part of one. */
export const NAME_LABELS = list(`
name names navn navne namn vorname nachname familienname fornavn efternavn förnamn efternamn surname forename firstname
lastname fullname customer kunde kund client passenger passager passagerare fahrgast employee medarbejder medarbetare
anställd mitarbeiter mitarbeiterin patient patientin contact kontakt kontaktperson guest gæst gäst gast tenant lejer
hyresgäst mieter applicant ansøger sökande bewerber bewerberin signed dear kære hej hallo hello hi sehr liebe lieber
regards hilsen hälsningar grüße from fra från von til till an to cc bcc subject emne ämne betreff email mail phone tlf tel
telefon mobil dob født född geboren born address adresse adress cpr ssn id passport pas pass
`);

/** Capitalised words that follow a first name in streets, places, firms, dates and headings, and so are no surname. */
export const NOT_SURNAMES = list(`
street st road rd avenue ave lane ln drive dr court ct square sq place pl terrace close crescent way park gardens grove hill
bridge house hall hospital school college university church cathedral station airport port harbour harbor quay dock pier
terminal tower building centre center hotel museum library theatre stadium island islands bay beach lake river mount
mountain valley county city town village state states north south east west northern southern eastern western central
january february march april may june july august september october november december monday tuesday wednesday thursday
friday saturday sunday januar februar märz maerz mai juni juli oktober dezember montag dienstag mittwoch donnerstag freitag
samstag sonntag marts maj januari februari mars augusti mandag tirsdag onsdag torsdag fredag lørdag søndag måndag tisdag
lördag söndag ltd limited llc inc plc gmbh ag kg ohg ug aps as ab oy bv nv sa sarl spa corp corporation company co group
holding foundation trust bank insurance services solutions systems software ferries ferry lines shipping air airlines
straße strasse weg platz allee gasse ring vej gade alle allé plads stræde gatan vägen torget plan university universität
universitet universitetet kirche kirke kyrka schule skole skola krankenhaus sygehus sjukhus bahnhof banegård
act bill code law terms conditions policy report agreement contract notice day days week month year award prize cup league
club team department office ministry committee council board commission union party parliament court agency authority
version release edition chapter section table figure page form note notes list number no nr day night eve morning
press news times post herald radio tv music band festival film road english german danish swedish french spanish italian
dutch norwegian finnish polish europe european international national royal united new old great little big the and or of
for in on at is was has had will would can could should have are were this that these those with without your our my his her
their its it we you they he she i please thank thanks if when where what who how why
vi jeg jag hun hon det ni wir ich sie es das ist hat har är når hvis men og och und aber tak tack danke med mit til för thanks
head manager director officer chief engineer coordinator specialist consultant leder direktør chef direktör leiter leiterin
season person persons reason lesson prison comparison garrison
some then there here from into than them may one two man men day see come came end all said name even mile kind
`);

/** First names that are also common words, months or places: alone they say little. */
export const ALSO_WORDS = new Set(
  list(`
will mark may june april august art bill rich grant max don hope grace faith joy sky star price dell ford major royal sunny
constant general early case chase chance christian christen victoria georgia virginia florence sydney paris london milan
jordan israel chelsea austin dallas houston denver carolina dakota madison lincoln washington jackson savannah brooklyn
india asia china america kenya chad holly ivy rose lily daisy violet iris jasmine heather amber ruby pearl jade crystal
summer autumn winter dawn eve star harmony melody gene guy king prince princess queen duke earl baron dean bishop judge
mason carter cooper taylor hunter fisher baker porter parker turner walker miller sawyer archer gardener frank ernest
earnest patience prudence angel heaven destiny trinity genesis justice liberty freedom merit merry mercy modest noble true
van von den der del gay pat sue rob drew nick chip buck rusty sandy stormy rocky river brook lake forest glen cliff dale
heath ridge clay stone reed bud ray sunny rainy sonny junior senior doc ace ash bay blue brown green gray grey red white
black gold silver golden domestic marine marina maritime delta gamma sigma alpha beta omega unit norma alta vista mora
august juli juni mai mars marts maj sonne hans heil ernst wolf bär falk stern ring kay kai sten sand bo per  liv saga
abbey albino ales ally buddy charity diamond dolly dusty ebony emerald fern flora hardy innocent jay jazz job lacy love martial maverick octave patty penny poppy prosper rune rut sherry sierra sterling tanner virgin wellington valentine lune lykke gabe merle linde alba ambra birk devon lyn marin roser sille sol stanton tara thais vilde freda jude nike  loke tor ulv troy brock fox gale hale kent lane miles pierce rain rex roy skip storm ty wade west zion
saffron primrose piers line
mille alle else mie    nova  luna terra aurora ocean laurel linden myrtle olive reason regal retta
`),
);
