import type { BuiltIn, Category } from '../detector.ts';
import { list } from './list.ts';

/** Words by which a sentence is about somebody. */
const SOMEBODY = list(`
he, she, his, her, him, hers, i am, i have, i was, i suffer, my, me, patient, employee, passenger, crew member, customer, colleague, applicant, pupil, student, child, mother, father, son, daughter, wife, husband, mr, mrs, ms, diagnosed, diagnosed with, suffers, suffers from, suffering, treated for, identifies as, member of, tested positive, admitted, hospitalised, hospitalized, prescribed, signed off, converted, practising, attends, keeps kosher, observes, is of, comes from, arrested, convicted, charged with, sentenced
han, hun, hans, hendes, ham, hende, jeg, min, patienten, medarbejderen, medarbejder, passageren, passager, kunden, kollegaen, ansøgeren, eleven, barnet, moderen, faderen, sønnen, datteren, hr, fru, diagnosticeret, lider af, behandles for, indlagt, sygemeldt, medlem af, stemmer på, spiser, hans familie, hendes familie, stammer fra, er blevet, fik konstateret, dømt, sigtet, anholdt
hon, hennes, henne, honom, jag, mitt, mina, medarbetaren, anställd, passageraren, kollegan, sökanden, modern, fadern, sonen, dottern, diagnostiserad, diagnosticerad, lider av, behandlas för, inlagd, sjukskriven, medlem i, den anställde, den anställda, arbetstagaren, boende, äter, är av, härstammar, hans familj, hennes familj, röstar på, har fått, dömd, åtalad, anhållen, gripen
er ist, er hat, er hatte, er war, sie ist, sie hat, sie hatte, sie gehört, er gehört, mein mann, familie ist, stammt aus, isst, er wurde, er leidet, er braucht, sie, seine, seiner, ihre, ihm, ihn, ich, mein, meine, patientin, mitarbeiter, mitarbeiterin, fahrgast, kunde, kundin, kollege, kollegin, bewerber, bewerberin, schüler, schülerin, mutter, vater, sohn, tochter, frau, herr, diagnostiziert, leidet an, leidet unter, behandelt wegen, krankgeschrieben, eingeliefert, mitglied, verurteilt, angeklagt, verhaftet
`);

/** Words by which a sentence is about a matter in general. */
const IN_GENERAL = list(`
policy, policies, campaign, awareness, week, month, research, study, studies, statistics, survey, programme, program, guide, guidance, leaflet, brochure, article, book, film, museum, exhibition, conference, seminar, course, training, department, ministry, agency, foundation, charity, association, law, act, regulation, directive, insurance cover, insurance terms, product, products, prevention, general, history of, museum, festival, tour, architecture, market, league, embassy, countries, kampagne, uge, forskning, undersøgelse, statistik, vejledning, brochure, bog, konference, kursus, afdeling, ministerium, styrelse, fond, lov, direktiv, forening, udstilling, politik, kampanj, vecka, forskning, undersökning, vägledning, broschyr, bok, konferens, kurs, avdelning, departement, myndighet, stiftelse, lag, förening, utställning, policy, woche, forschung, studie, statistik, leitfaden, broschüre, buch, konferenz, kurs, abteilung, ministerium, behörde, stiftung, gesetz, richtlinie, verein, ausstellung, prävention, allgemein
`);

/** Over a column in which anything may be written about whoever the row is of. */
const REMARKS = list(`
notes, note, remarks, remark, comment, comments, description, details, reason, bemærkning, bemærkninger, kommentar, kommentarer, noter, beskrivelse, årsag, anmärkning, anmärkningar, notering, noteringar, beskrivning, orsak, bemerkung, bemerkungen, anmerkung, anmerkungen, notiz, notizen, beschreibung, grund
`);

function matter(
  id: string,
  name: string,
  category: Category,
  source: string,
  words: string,
  headings: string,
  examples: readonly string[],
  counterExamples: readonly string[],
  start = -0.6,
  more: string[] = [],
): BuiltIn {
  return {
    kind: 'pattern',
    id,
    name,
    category,
    source,
    about:
      'A word of the matter in a sentence about somebody; a text about the matter in general does not count.',
    anchor: { by: 'words', words: list(words) },
    start,
    context: [
      { where: 'sentence', words: [...SOMEBODY, ...more], steps: 3 },
      { where: 'sentence', detector: 'person-name', steps: start > -1.4 ? 3 : 2 },
      { where: 'heading', within: 1, words: list(headings), steps: 5 },
      { where: 'heading', within: 1, words: REMARKS, steps: 1.5 },
      { where: 'before', within: 30, words: list(headings), steps: 4 },
      { where: 'sentence', words: IN_GENERAL, steps: -2.5 },
    ],
    mask: 'none',
    examples,
    counterExamples,
  };
}

export const SPECIAL: readonly BuiltIn[] = [
  matter(
    'health-condition',
    'Health condition',
    'special category',
    'Regulation (EU) 2016/679, art. 4(15) and 9(1)',
    `diabetes, diabetic, diabetiker*, diabetespatient*, asthma, asthmatic, astma*, epilepsy, epileptic, epilepsi*, epilepsie, cancer, leukaemia, leukemia, leukæmi, leukemi, leukämie, tumour, tumor, kræft*, brystkræft, lungekræft, bröstcancer, lungcancer, prostatacancer, krebs*, brustkrebs, lungenkrebs, chemotherapy, kemoterapi, chemotherapie, cellgift*, depression, depressed, depressiv, depressioner, anxiety, anxiety disorder, panic attacks, panikangst, angst lidelse, angstlidelse, lider af angst, behandles for angst, angst og depression, social angst, ångest, angstzustände, panikattacken, ångestsyndrom, angststörung, bipolar, bipolär*, schizophrenia, schizophrenic, skizofreni*, schizofreni*, schizophrenie, psychosis, psykose, psykos, psychose, ptsd, depressionen, depressionerna, adhd, autism, autistic, autisme, autistisk, autism*, autismus, anorexia, anoreksi, bulimia, bulimi, hiv, hiv-positive, hiv-positiv, aids, hepatitis, tuberculosis, tuberkulose, tuberkulos, covid-19, coronavirus, migraine, migræne, migrän, migräne, arthritis, gigt, leddegigt, reumatism, rheuma, dementia, demens, demenz, alzheimer*, parkinson*, multiple sclerosis, multipel sklerose, multipel skleros, multiple sklerose, sclerose, stroke, blodprop, stroke patient, schlaganfall, heart attack, heart disease, heart condition, hjertesygdom, hjerteproblemer, hjärtsjukdom, hjärtinfarkt, hjerteanfald, herzinfarkt, herzkrank*, herzerkrankung, pacemaker, herzschrittmacher, high blood pressure, hypertension, forhøjet blodtryk, högt blodtryck, bluthochdruck, pregnant, pregnancy, gravid, graviditet, schwanger, schwangerschaft, miscarriage, abortion, provokeret abort, fået en abort, fået foretaget abort, gjort abort, genomgått abort, fehlgeburt, allergy to, allergic to, nut allergy, peanut allergy, allergisk over for, nøddeallergi, jordnøddeallergi, allergisk mot, nötallergi, jordnötsallergi, allergisch gegen, nussallergie, erdnussallergie, penicillin allergy, anaphylaxis, celiac, coeliac, cøliaki, celiaki, zöliakie, insulin, dialysis, dialyse, dialys, transplant, transplantation, surgery, operated on, knee operation, knæoperation, hofteoperation, slipped disc, diskusprolaps, diskbråck, bandscheibenvorfall, burnout, udbrændthed, utmattningssyndrom, utbränd, stress sygemeldt, alcoholism, alcoholic, alkoholiker*, alkoholmisbrug, alkoholism, alkoholiker, alkoholismus, drug addiction, substance abuse, stofmisbrug, narkotikamissbruk, drogensucht, concussion, hjernerystelse, hjärnskakning, gehirnerschütterung, broken leg, broken arm, fractured, brækkede, brækket ben, brutit benet, gebrochen, beinbruch, pneumonia, lungebetændelse, lunginflammation, lungenentzündung, copd, kol-patient, seizures, krampeanfald, krampanfall, krampfanfall, chronic pain, kroniske smerter, kronisk smärta, chronische schmerzen, fibromyalgia, fibromyalgi, fibromyalgie, sleep apnoea, søvnapnø, sömnapné, suicidal, selvmordsforsøg, självmordsförsök, suizidversuch, selbstmordversuch, mental illness, psykisk sygdom, psykisk sjukdom, psychische erkrankung, crohn*, endometriosis, endometriose, psoriasis, lupus, thyroid disease, kidney disease, nyresygdom, njursjukdom, nierenerkrankung`,
    'diagnosis, diagnoses, diagnose, diagnos, health, health note, health notes, medical, medical condition, condition, illness, sygdom, helbred, helbredsoplysninger, sjukdom, hälsa, krankheit, gesundheit, gesundheitszustand, vorerkrankung, vorerkrankungen, allergies, allergier, allergien, medical notes, assistance',
    [
      'She was diagnosed with ⟦diabetes⟧ last year.',
      'Patienten lider af ⟦epilepsi⟧.',
      'Han är sjukskriven för ⟦depression⟧.',
      'Frau Weber leidet unter ⟦Migräne⟧ und braucht Ruhe.',
      'My son has ⟦asthma⟧.',
    ],
    [
      'Diabetes awareness week begins on Monday.',
      'The asthma research programme',
      'Cancer Research annual report',
      'Our policy on pregnancy products',
    ],
    -0.6,
    [
      'has',
      'har',
      'hat',
      'braucht',
      'behöver',
      'due to',
      'because of',
      'på grund af',
      'på grund av',
      'wegen',
    ],
  ),
  matter(
    'disability',
    'Disability',
    'special category',
    'Regulation (EU) 2016/679, art. 4(15) and 9(1); UN CRPD, art. 1',
    `disability, disabled, wheelchair user, wheelchair, wheelchair-bound, blind, visually impaired, deaf, hard of hearing, hearing impaired, hearing aid, guide dog, paralysed, paralyzed, amputee, learning disability, dyslexia, dyslexic, reduced mobility, walking frame, mobility scooter, handicap*, handikap*, kørestol*, kørestolsbruger, blinde, svagtseende, døv, hørehæmmet, høreapparat, førerhund, lammet, ordblind, rollator, funktionsnedsættelse, funktionsnedsättning*, rullstol*, synskadad, döv, hörselskadad, hörapparat, ledarhund, förlamad, dyslexi, rullator, behinderung, behindert, schwerbehindert*, schwerbehindertenausweis, rollstuhl*, sehbehindert, gehörlos, taub, schwerhörig, hörgerät, blindenhund, gelähmt, legasthenie, gehbehindert`,
    'disability, assistance, assistance needed, assistance request, special needs, handicap, funktionsnedsættelse, funktionsnedsättning, behinderung, grad der behinderung, mobility, hjælpebehov',
    [
      'The passenger is ⟦deaf⟧ and travels alone.',
      'Hun er ⟦kørestolsbruger⟧.',
      'Der Fahrgast ist ⟦schwerbehindert⟧.',
      'Hon är ⟦synskadad⟧.',
    ],
    ['Wheelchair ramps are on deck 4.', 'Disability policy', 'The blind spot of the crane'],
    -1.3,
  ),
  matter(
    'medication',
    'Medication',
    'special category',
    'Regulation (EU) 2016/679, art. 4(15); WHO ATC names',
    `metformin, insulin glargine, insulin lispro, sertraline, sertralin, fluoxetine, fluoxetin, citalopram, escitalopram, venlafaxine, venlafaxin, mirtazapine, mirtazapin, quetiapine, quetiapin, olanzapine, olanzapin, risperidone, risperidon, lithium carbonate, lithiumbehandling, diazepam, lorazepam, oxazepam, zopiclone, zopiklon, methylphenidate, methylphenidat, metylfenidat, lisdexamfetamine, atomoxetine, warfarin, apixaban, rivaroxaban, clopidogrel, atorvastatin, simvastatin, ramipril, lisinopril, enalapril, amlodipine, amlodipin, metoprolol, bisoprolol, levothyroxine, levothyroxin, prednisolone, prednisolon, salbutamol, budesonide, budesonid, morphine, morfin, morphin, oxycodone, oxycodon, oxykodon, fentanyl, tramadol, methadone, metadon, methadon, buprenorphine, buprenorfin, antiretroviral, tamoxifen, methotrexate, metotrexat, levodopa, donepezil, carbamazepine, carbamazepin, valproate, valproat, lamotrigine, lamotrigin, levetiracetam, antidepressant*, antidepressiv*, antidepressiva, blood thinners, blodfortyndende, blodförtunnande, blutverdünner, epipen, adrenaline pen`,
    'medication, medicine, drugs, medicin, medikament, medikamente, läkemedel, prescription, recept, rezept, medicinliste',
    ['He takes ⟦sertraline⟧ every morning.', 'Patienten får ⟦metformin⟧.', 'Sie nimmt ⟦Ramipril⟧ ein.'],
    ['Warfarin research study', 'The warfarin guide'],
    0.2,
    [
      'takes',
      'taking',
      'mg',
      'dose',
      'dosis',
      'tager',
      'får',
      'tar',
      'nimmt',
      'daily',
      'dagligt',
      'täglich',
      'prescribed',
    ],
  ),
  matter(
    'religious-belief',
    'Religious or philosophical belief',
    'special category',
    'Regulation (EU) 2016/679, art. 9(1)',
    `muslim, muslims, muslimsk, muslimske, muslimska, muslimisch*, muslimin, moslem, christian, kristen, christ, christin, catholic, katolik*, katolsk, katolske, katolska, katholisch*, mosque, moské*, synagogue, synagoge*, synagoga, kosher, koscher, halal, shabbat, sabbat, ramadan, folkekirken, svenska kyrkan, kirchenmitglied, kirchensteuer, katholik, katholikin, protestant, protestantisch, evangelisch*, lutheran, luthersk, lutersk, baptist, methodist, jehovah’s witness, jehovah's witness, jehovas vidne, jehovas vittne, zeuge jehovas, mormon, orthodox christian, jew, jewish, jøde, jødisk, jødiske, jude, judisk, judiska, jüdisch*, jüdin, hindu, hinduist, buddhist, buddhistisk, sikh, atheist, ateist, agnostic, agnostiker, quaker, bahá’í, converted to islam, konverteret til islam, konverterat till islam, zum islam konvertiert, kosher meal, kosher meals, koshermad, kosher mat, koschere mahlzeit, halal meal, halal meals, halalmad, halalkost, halal-mahlzeit, observes ramadan, fasts during ramadan, faster under ramadan, konfessionslos`,
    'religion, religious belief, belief, faith, denomination, meal, meals, meal preference, måltid, mahlzeit, kost, konfession, tro, trosretning, trossamfund, trosuppfattning, glaube, religionszugehörigkeit, religiøs overbevisning',
    [
      'She is a practising ⟦Muslim⟧.',
      'Han er ⟦jøde⟧ og spiser ikke svinekød.',
      'Religion: ⟦katholisch⟧',
      'Hon är ⟦katolik⟧.',
    ],
    ['The Christian museum', 'Jewish history tour', 'Buddhist architecture in general'],
    -1.4,
    ['practising', 'devout', 'religion', 'konfession', 'praktiserende', 'troende', 'gläubig', 'member'],
  ),
  matter(
    'political-opinion',
    'Political opinion',
    'special category',
    'Regulation (EU) 2016/679, art. 9(1)',
    `social democrat, socialdemokrat, sozialdemokrat, communist, kommunist, kommunistin, socialist, sozialist, conservative voter, labour voter, green party member, party member, partimedlem, parteimitglied, labour party, conservative party, liberal democrats, green party, socialdemokratiet, venstre vælger, dansk folkeparti, enhedslisten, det konservative folkeparti, socialdemokraterna, moderaterna, sverigedemokraterna, vänsterpartiet, miljöpartiet, centerpartiet, cdu-mitglied, spd-mitglied, afd-mitglied, grünen-mitglied, fdp-mitglied, voted labour, voted conservative, voted for labour, votes labour, voted green, stemte på venstre, stemte på konservative, röstade på centern, wählte cdu, wählte spd, wählt die afd, wählte die afd, wählt die grünen, sverigedemokrat, nationalist, political activist, politisk aktivist, right-wing extremist, left-wing extremist, högerextremist, rechtsextremist, anarchist, anarkist, trotskyist`,
    'political opinion, political affiliation, party, politisk overbevisning, politisk åsikt, politische meinung, parteizugehörigkeit, parti',
    [
      'He is a member of the ⟦Labour Party⟧.',
      'Hun er ⟦kommunist⟧.',
      'Er ist ⟦SPD-Mitglied⟧.',
      'Hon är medlem i ⟦Vänsterpartiet⟧.',
    ],
    ['The Labour Party conference', 'Green Party policy'],
    -1.4,
  ),
  matter(
    'trade-union',
    'Trade-union membership',
    'special category',
    'Regulation (EU) 2016/679, art. 9(1)',
    `trade union, labour union, trade union member, trade union membership, union member, union membership, union rep, union representative, shop steward, union dues, union fees, member of the union, member of a union, fagforeningsmedlem, fagforening*, fagforbund*, medlem af 3f, fagforeningskontingent, tillidsrepræsentant, tillidsmand, fackmedlem, fackförbund*, fackförening*, fackligt ansluten, fackavgift, facklig förtroendeman, medlem i unionen, medlem i kommunal, medlem i if metall, medlem af hk, medlem af metal, medlem af foa, member of unite, member of unison, unison member, unite member, verdi-mitglied, gewerkschaft*, gewerkschaftsmitgliedschaft, gewerkschaftsbeitrag, vertrauensmann der gewerkschaft, ver.di-mitglied, ig metall`,
    'union, trade union, union membership, fagforening, fackförbund, fackförening, fack, gewerkschaft, gewerkschaftszugehörigkeit',
    [
      'She has been a ⟦union member⟧ since 2019.',
      'Han er medlem af en ⟦fagforening⟧.',
      'Er ist ⟦Gewerkschaftsmitglied⟧.',
      'Hon är ⟦fackligt ansluten⟧.',
    ],
    ['Trade union conference: history of the trade union in general', 'Gewerkschaft: Gesetz und Richtlinie'],
    -1.2,
  ),
  matter(
    'ethnic-origin',
    'Racial or ethnic origin',
    'special category',
    'Regulation (EU) 2016/679, art. 9(1)',
    `ethnicity, ethnic origin, ethnic background, of african descent, of asian descent, of arab descent, african descent, asian descent, black british, black african, black caribbean, white british, mixed race, biracial, romani, romany, roma origin, roma background, roma community, roma descent, roma family, romaer, romsk, romerna, sinti, gypsy, traveller of irish heritage, sami, sámi, samer, kurdish, kurd, kurder, kurde, kurdin, kurdisk*, kurdisch*, samisk*, tyrkisk baggrund, tyrkisk oprindelse, türkischer herkunft, turkiskt ursprung, turkish origin, turkish descent, pakistani descent, pakistani origin, indian descent, chinese descent, african origin, asian origin, jewish descent, jewish origin,  arab, araber, arabisk, arabischer herkunft, somali, somalier, somalisk, inuit, grønlænder, grönländare, pashtun, tamil, hispanic, latino, latina, african american, native american, etnisk oprindelse, etnisk baggrund, etnisk tilhørsforhold, etniskt ursprung, etnisk bakgrund, ethnische herkunft, ethnische zugehörigkeit, türkischer abstammung, afrikanischer abstammung, migrationshintergrund, jenisch, hautfarbe, hudfarve, hudfärg, skin colour`,
    'ethnicity, ethnic origin, race, etnicitet, etnisk oprindelse, etniskt ursprung, ethnische herkunft, herkunft, ethnic group',
    [
      'The applicant is of ⟦mixed race⟧.',
      'Hun er ⟦kurder⟧ og født i udlandet.',
      'Er ist ⟦türkischer Abstammung⟧.',
      'Ethnicity: ⟦Black Caribbean⟧',
    ],
    ['Tamil film festival', 'Inuit art exhibition', 'Arab market guide'],
    -1.2,
  ),
  matter(
    'sexual-life',
    'Sex life or sexual orientation',
    'special category',
    'Regulation (EU) 2016/679, art. 9(1)',
    `homosexual, homosexuality, gay, lesbian, bisexual, pansexual, asexual, transgender, trans woman, trans man, transsexual, queer, same-sex partner, same-sex relationship, sexual orientation, came out as, homoseksuel, homoseksuelle, bøsse, lesbisk, biseksuel, transkønnet, transperson, kønsskifte, seksuel orientering, homosexuell, homosexuella, bögen, bisexuell, transsexuell, könskorrigering, sexuell läggning, homosexueller, schwul, lesbisch, bisexuelle, transgeschlechtlich, geschlechtsangleichung, sexuelle orientierung, sexually transmitted, chlamydia, klamydia, chlamydien, gonorrhoea, gonorré, syphilis, sex life, sexliv, sexualleben, infidelity, utroskab, otrohet, seitensprung`,
    'sexual orientation, orientation, seksuel orientering, sexuell läggning, sexuelle orientierung, sex life',
    ['He told us that he is ⟦gay⟧.', 'Hun er ⟦lesbisk⟧ og gift.', 'Er ist ⟦schwul⟧.', 'Hon är ⟦bisexuell⟧.'],
    ['Gay Pride festival', 'LGBT queer film festival guide'],
    -1,
  ),
  matter(
    'biometric-data',
    'Biometric data',
    'special category',
    'Regulation (EU) 2016/679, art. 4(14) and 9(1); ISO/IEC 2382-37',
    `fingerprint, fingerprints, fingerprint template, fingerprint scan, iris scan, retina scan, retinal scan, face template, facial recognition template, facial template, faceprint, voiceprint, voice print, palm print, hand geometry, biometric template, biometric data, biometric identifier, gait recognition, fingeraftryk, irisscanning, ansigtsgenkendelse, stemmeaftryk, biometriske data, biometrisk skabelon, fingeravtryck, irisskanning, ansiktsigenkänning, röstavtryck, biometriska uppgifter, biometrisk mall, fingerabdruck, fingerabdrücke, iris-scan, irisscan, gesichtserkennung, stimmabdruck, handflächenabdruck, biometrische daten, biometrisches merkmal`,
    'biometric, biometrics, fingerprint, biometri, biometrie, fingeraftryk, fingeravtryck, fingerabdruck',
    [
      'His ⟦fingerprint⟧ was enrolled at the crew gate.',
      'Medarbejderens ⟦fingeraftryk⟧ er gemt, og han har givet samtykke.',
      'Der ⟦Fingerabdruck⟧ der Mitarbeiterin wurde gespeichert.',
      'Hennes ⟦fingeravtryck⟧ lagras.',
    ],
    ['Certificate fingerprint SHA-256', 'Browser fingerprint research', 'Facial recognition conference'],
    -1.2,
    ['enrolled', 'stored', 'gespeichert', 'gemt', 'lagrad', 'lagras'],
  ),
  matter(
    'genetic-data',
    'Genetic data',
    'special category',
    'Regulation (EU) 2016/679, art. 4(13) and 9(1)',
    `dna test, dna sample, dna profile, dna result, genetic test, genetic testing, genetic disorder, genetic predisposition, genome sequencing, brca1, brca2, carrier of the gene, hereditary disease, dna-prøve, dna-test, dna-profil, gentest, genetisk test, genetisk sygdom, arvelig sygdom, dna-prov, genetiskt test, genetisk sjukdom, ärftlig sjukdom, dna-probe, dna-analyse, genetischer test, genetische veranlagung, erbkrankheit, huntington*, cystic fibrosis, cystisk fibrose, cystisk fibros, mukoviszidose, down syndrome, downs syndrom, down-syndrom, sickle cell`,
    'genetic, dna, genetisk, genetik, gene, genetics',
    [
      'Her ⟦DNA test⟧ showed it.',
      'Patienten har fået en ⟦gentest⟧.',
      'Der Patient ließ einen ⟦Gentest⟧ machen.',
    ],
    ['DNA test statistics and research', 'Genetic testing: guide'],
    -1,
  ),
  matter(
    'criminal-offence',
    'Criminal conviction or offence',
    'offence',
    'Regulation (EU) 2016/679, art. 10',
    `convicted of, convicted, conviction, convictions, criminal record, criminal conviction, criminal offence, sentenced to, imprisoned, prison sentence, served time, on probation, parole, suspended sentence, theft, shoplifting, burglary, robbery, assault, drunk driving, drink driving, driving under the influence, fraud conviction, drug possession, smuggling, arrested, charged with, indicted, sexual offence, manslaughter, murder, rape, arson, vandalism, perjury, bribery, money laundering, drug trafficking, domestic violence, embezzlement, brandstiftelse, voldtægt, hærværk, bestikkelse, hvidvask, trusler mod, våldtäkt, skadegörelse, penningtvätt, mordbrand, brandstiftung, vergewaltigung, sachbeschädigung, geldwäsche, ladendiebin, betrug, straffeattest, straffet, dømt for, domfældt, domfældelse, fængselsdom, fængselsstraf, betinget dom, tyveri, butikstyveri, indbrud, røveri, voldsdom, vold mod, spritkørsel, spirituskørsel, bedrageri, smugling, anholdt, sigtet for, tiltalt, belastningsregistret, dömd för, fängelsestraff, villkorlig dom, stöld, snatteri, inbrott, rån, misshandel, rattfylleri, bedrägeri, smuggling, anhållen, gripen för, åtalad, brottsregister, vorbestraft, vorstrafe, vorstrafen, führungszeugnis, verurteilt, freiheitsstrafe, bewährungsstrafe, haftstrafe, diebstahl, ladendiebstahl, einbruch, körperverletzung, trunkenheit am steuer, betrugs verurteilung, schmuggel, festgenommen, angeklagt`,
    'criminal record, conviction, convictions, offence, straffeattest, strafbare forhold, belastningsregister, brott, vorstrafen, straftat, führungszeugnis, offences',
    [
      'He was ⟦convicted of⟧ theft in 2015.'.replace('⟦convicted of⟧ theft', '⟦convicted of⟧ theft'),
      'Hun er tidligere ⟦straffet⟧.',
      'Han är ⟦dömd för⟧ rattfylleri.'.replace('rattfylleri', 'det'),
      'Der Bewerber ist ⟦vorbestraft⟧.',
    ],
    ['Theft insurance cover', 'Burglary prevention guide', 'Shoplifting statistics'],
    -1.2,
  ),
  {
    kind: 'pattern',
    id: 'child',
    name: 'Child',
    category: 'child',
    source: 'Regulation (EU) 2016/679, recital 38 and art. 8',
    about: 'A word for a child together with an age, a name, a birth date or a school.',
    anchor: {
      by: 'words',
      words: list(
        `child, children, minor, pupil, pupils, schoolchild, toddler, infant, baby, daughter, son, underage, unaccompanied minor, school class, kindergarten, primary school, nursery school, foster child, barn, barnet, børn, børnene, elev, elever, eleven, skolebarn, spædbarn, datter, søn, mindreårig, børnehave, folkeskole, plejebarn, barnets, dotter, son, barnen, skolelev, spädbarn, minderårig, omyndig, förskola, grundskola, fosterbarn, Kind, Kinder, Kindes, schüler, schülerin, schulkind, säugling, tochter, sohn, minderjährig*, kita, grundschule, pflegekind`,
      ),
    },
    start: -3,
    context: [
      {
        where: 'around',
        within: 40,
        pattern:
          '(?:\\baged?\\b|\\bage\\b|alder|ålder|\\balter\\b|im Alter von)\\W{0,3}(?:1[0-7]|\\d)(?!\\d)|(?<!\\d)(?:1[0-7]|\\d)[ -]?(?:years? old|year-old|yrs|år gammel|år gammal|-årig\\w*|årig\\w*|år(?!\\p{L})|jahre alt|-jährig\\w*|jährig\\w*|months old|måneder|månader|monate alt)',
        steps: 5,
      },
      { where: 'sentence', detector: 'person-name', steps: 3 },
      { where: 'sentence', detector: 'date-of-birth', steps: 4 },
      {
        where: 'sentence',
        words: list(
          'guardian, parental consent, class 1a, class 2b, class 3b, class 4b, school trip, school, grade, værge, forældre, klasse, skole, skolerejse, vårdnadshavare, föräldrar, skola, klass, skolresa, erziehungsberechtigte, eltern, schule, klassenfahrt',
        ),
        steps: 1.7,
      },
      { where: 'sentence', words: IN_GENERAL, steps: -2.5 },
      {
        where: 'sentence',
        words: list(
          'discount, fare, fares, ticket, tickets, price, menu, play area, seat, seats, pris, rabat, billetter, menu, legeområde, rabatt, biljett, meny, lekplats, ermäßigung, preis, fahrpreis, kinderteller, spielplatz, free of charge, gratis, kostenlos',
        ),
        steps: -4,
      },
    ],
    mask: 'none',
    examples: [
      'Her ⟦daughter⟧, aged 7, travels with her.',
      '⟦Pupil⟧ Emma Wilson, 9 years old',
      'Min ⟦søn⟧ på 8 år er med.',
      'Mein ⟦Sohn⟧ ist 6 Jahre alt.',
      'Lena, 7 Jahre alt, besucht die ⟦Grundschule⟧.',
    ],
    counterExamples: [
      'Children under 4 travel free of charge: fares',
      'The child seat is on deck 2',
      'Kinderteller 6 Euro',
      'Die Grundschule am Hafen wird renoviert.',
    ],
  },
];
