const list = (text: string): readonly string[] => text.trim().split(/\s+/);

/** Written before a name. */
export const TITLES = list(`
mr mrs ms miss mx dr prof sir madam lord lady rev capt captain nurse
hr fr hr. herr frau fru frøken fröken fräulein doktor professor dipl.-ing kapitän kaptajn kapten
mme mlle monsieur madame sr sra srta señor señora dott sig signora pan pani
`).filter((t) => !['hr.', 'dipl.-ing'].includes(t));

/** Written before the first name of somebody who is spoken of by it alone. */
export const RELATIONS = list(`
son daughter wife husband brother sister colleague pupil patient søn datter kone bror søster kollega elev eleven patienten
dotter fru syster sambo kollegan sohn tochter bruder schwester kollege kollegin patientin schüler schülerin
`);

/** Written before the first name of whoever a letter is to, with a comma behind it. */
export const GREETINGS = list('dear hi hello hey kære hej kära hallo liebe lieber moin');

/** Written at the end of a letter, before the first name of whoever wrote it. */
export const FAREWELLS = list(`
regards sincerely thanks cheers yours faithfully hilsen mvh hälsningar hälsning tack tak grüße gruß vh vänligen
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
holding foundation trust bank insurance services solutions systems software ferries ferry lines line shipping air airlines
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
august juli juni mai mars marts maj sonne hans heil ernst wolf bär falk stern ring kay kai sten sand bo per pia liv saga
mille alle else mie siv vera viola nova stella luna terra aurora ocean laurel linden myrtle olive reason regal retta
`),
);
