/** Words of health, beliefs, belonging and offences in English, Danish, Swedish and German; a star stands for any ending. */
export const HEALTH = `
diabetes, diabetic, type 1 diabetes, type 2 diabetes, diabetes mellitus, asthma, asthmatic, epilepsy, epileptic, cancer
breast cancer, lung cancer, prostate cancer, bowel cancer, skin cancer, melanoma, lymphoma, leukaemia, leukemia, tumour
tumor, brain tumour, brain tumor, chemotherapy, radiotherapy, depression, depressed, postnatal depression
postpartum depression, anxiety, anxiety disorder, panic attacks, panic disorder, bipolar, bipolar disorder
schizophrenia, schizophrenic, psychosis, ptsd, post-traumatic stress disorder, ocd, obsessive compulsive disorder, adhd
autism, autistic, asperger*, anorexia, bulimia, eating disorder, self-harm, suicidal, suicide attempt, mental illness
mental health problems, mental health issues, nervous breakdown, hiv, hiv-positive, hiv positive, aids, hepatitis
hepatitis a, hepatitis b, hepatitis c, tuberculosis, covid, covid-19, long covid, coronavirus, influenza, flu
norovirus, malaria, measles, chickenpox, mumps, scarlet fever, food poisoning, gastroenteritis, stomach flu
migraine, migraines, arthritis, rheumatoid arthritis, osteoarthritis, osteoporosis, gout, back pain, chronic back pain
sciatica, slipped disc, dementia, alzheimer*, parkinson*, multiple sclerosis, muscular dystrophy, motor neurone disease
stroke, stroke patient, heart attack, heart disease, heart failure, heart condition, heart surgery, angina
arrhythmia, atrial fibrillation, pacemaker, high blood pressure, hypertension, high cholesterol, thrombosis
blood clot, embolism, anaemia, anemia, haemophilia, hemophilia, pregnant, pregnancy, miscarriage, abortion, ivf
fertility treatment, allergy to, allergic to, allergic reaction, nut allergy, peanut allergy, egg allergy
milk allergy, shellfish allergy, penicillin allergy, latex allergy, bee sting allergy, food allergy, severe allergy
hay fever, lactose intolerant, lactose intolerance, gluten intolerance, anaphylaxis, anaphylactic shock, celiac
coeliac, coeliac disease, celiac disease, crohn*, ulcerative colitis, irritable bowel syndrome, ibs, insulin, dialysis
transplant, transplantation, kidney transplant, surgery, operated on, knee operation, hip replacement, knee replacement
appendicitis, gallstones, kidney stones, kidney disease, kidney failure, liver disease, cirrhosis, pneumonia
bronchitis, copd, emphysema, sleep apnoea, sleep apnea, insomnia, burnout, chronic fatigue, fibromyalgia, lupus
endometriosis, psoriasis, eczema, thyroid disease, hypothyroidism, glaucoma, cataract, cataracts, tinnitus, vertigo
alcoholism, alcoholic, drug addiction, substance abuse, addicted to, concussion, whiplash, broken leg, broken arm
broken ankle, broken wrist, broken hip, broken rib, broken ribs, broken collarbone, fractured, sprained ankle
sprained wrist, torn ligament, herniated disc, carpal tunnel syndrome, hernia, seizures, epileptic seizure
chronic pain, glandular fever, croup, whooping cough, tonsillitis, ear infection, sinusitis, urinary tract infection, kidney infection
chest infection, chest pain, chest pains, fainting, fainted, collapsed lung, frostbite, hypothermia, heatstroke, sunstroke, dehydration
sepsis, meningitis, mrsa, shingles, sexually transmitted infection, seasick
diabetiker*, diabetespatient*, sukkersyge, sukkersygen, astma*, epilepsi*, kræft*, brystkræft, lungekræft, tarmkræft
prostatakræft, hudkræft, modermærkekræft, leukæmi, kemoterapi, strålebehandling, depressiv, depressioner, depressionen
angst lidelse, angstlidelse, lider af angst, behandles for angst, angst og depression, social angst, panikangst
angstanfald, bipolar lidelse, skizofreni*, psykose, autisme, autismen, autistisk, anoreksi, bulimi, spiseforstyrrelse
selvskade, selvmordstanker, selvmordsforsøg, psykisk sygdom, psykiske lidelser, hiv-smittet, leverbetændelse
tuberkulose, influenza, influenzaen, madforgiftning, maveinfluenza, skoldkopper, migræne, gigt, leddegigt, slidgigt
knogleskørhed, dårlig ryg, rygproblemer, rygsmerter, diskusprolaps, iskias, demens, sclerose, multipel sklerose
dissemineret sklerose, muskelsvind, apopleksi, blodprop, hjerneblødning, hjertesygdom, hjerteproblemer, hjerteanfald
hjertestop, hjertefejl, hjerteflimmer, hjertesvigt, forhøjet blodtryk, for højt blodtryk, forhøjet kolesterol
blodmangel, gravid, gravide, graviditet, graviditeten, spontan abort, provokeret abort, fået en abort
fået foretaget abort, ufrivillig abort, fertilitetsbehandling, allergisk over for, allergi over for, allergisk reaktion
nøddeallergi, jordnøddeallergi, mælkeallergi, æggeallergi, skaldyrsallergi, penicillinallergi, bistikallergi, høfeber
pollenallergi, laktoseintolerant, laktoseintolerans, glutenallergi, glutenintolerans, cøliaki, tarmbetændelse, dialyse
nyretransplantation, knæoperation, hofteoperation, blindtarmsbetændelse, galdesten, nyresten, nyresygdom, nyresvigt
leversygdom, lungebetændelse, bronkitis, kol, kol-patient, rygerlunger, søvnapnø, søvnløshed, stress
udbrændthed, udbrændt, alkoholiker*, alkoholmisbrug, alkoholisme, stofmisbrug, misbrugsproblemer, hjernerystelse
piskesmæld, brækkede, brækket ben, brækket arm, brækket, forstuvet, forstuvet ankel, kraniebrud, benbrud, krampeanfald
kroniske smerter, fibromyalgi, endometriose, psoriasis, eksem, stofskiftesygdom, grøn stær, grå stær, menieres sygdom
meningitis, hjernehindebetændelse, blodforgiftning, helvedesild, kønssygdom, søsyge
sockersjuka, bröstcancer, lungcancer, prostatacancer, tjocktarmscancer, hudcancer, malignt melanom, leukemi, hjärntumör
cellgift*, strålbehandling, depressionerna, ångest, ångestsyndrom, panikångest, panikattacker, bipolär*, psykos, autistiskt
anorexi, ätstörning, självskadebeteende, självmordstankar, självmordsförsök, psykisk sjukdom, psykisk ohälsa, hivpositiv
hiv-smittad, gulsot, tuberkulos, influensa, influensan, matförgiftning, vinterkräksjuka, magsjuka, vattkoppor, migrän
reumatism, ledgångsreumatism, artros, gikt, benskörhet, ryggproblem, ryggont, diskbråck, ischias, demenssjukdom, multipel skleros
muskeldystrofi, blodpropp, hjärnblödning, hjärtsjukdom, hjärtinfarkt, hjärtfel, hjärtflimmer, förmaksflimmer
hjärtsvikt, hjärtoperation, högt blodtryck, blodbrist, gravida, missfall, gjort abort, genomgått abort, ivf-behandling
allergisk mot, allergi mot, allergisk reaktion, nötallergi, jordnötsallergi, mjölkallergi, äggallergi
skaldjursallergi, penicillinallergi, hösnuva, pollenallergi, laktosintolerant, laktosintolerans, glutenintolerans
glutenintolerant, celiaki, ulcerös kolit, dialys, njurtransplantation, knäoperation, höftoperation
blindtarmsinflammation, gallsten, njursten, njursjukdom, njursvikt, leversjukdom, lunginflammation, luftrörskatarr
sömnapné, sömnlöshet, utmattningssyndrom, utbränd, utmattning, utmattningsdepression, alkoholism, alkoholmissbruk
narkotikamissbruk, beroendesjukdom, hjärnskakning, whiplashskada, brutit benet, brutit armen, brutit handleden
bruten arm, brutet ben, stukat foten, stukad fot, krampanfall, kronisk smärta, kronisk värk, fibromyalgi, endometrios
eksem, sköldkörtelsjukdom, grön starr, grå starr, hjärnhinneinflammation, blodförgiftning, bältros, könssjukdom
zuckerkrankheit, zuckerkrank, epilepsie, krebs*, brustkrebs, lungenkrebs, darmkrebs, prostatakrebs, hautkrebs
leukämie, hirntumor, chemotherapie, strahlentherapie, bestrahlung, depressionen, angstzustände, panikattacken
angststörung, panikstörung, bipolare störung, schizophrenie, psychose, zwangsstörung, autismus, autist, magersucht
magersüchtig, essstörung, selbstverletzung, suizidversuch, selbstmordversuch, suizidgedanken, psychische erkrankung
psychisch krank, hiv-positiv, hiv-infiziert, gelbsucht, tuberkulose, grippe, grippalen infekt, grippaler infekt
lebensmittelvergiftung, magen-darm-infekt, windpocken, migräne, rheuma, rheumatisch, gicht, arthrose, osteoporose
rückenschmerzen, rückenleiden, bandscheibenvorfall, ischias, demenz, multiple sklerose, muskelschwund, schlaganfall
hirnblutung, herzinfarkt, herzkrank*, herzerkrankung, herzfehler, herzinsuffizienz, herzoperation, vorhofflimmern
herzschrittmacher, bluthochdruck, hoher blutdruck, hohen blutdruck, thrombose, blutarmut, schwanger, schwangere
schwangerschaft, fehlgeburt, abtreibung, schwangerschaftsabbruch, kinderwunschbehandlung, allergisch gegen, allergie gegen
allergisch auf, allergische reaktion, nussallergie, erdnussallergie, milchallergie, eiallergie, penicillinallergie
bienengiftallergie, heuschnupfen, pollenallergie, laktoseintoleranz, laktoseintolerant, glutenunverträglichkeit
zöliakie, morbus crohn, colitis ulcerosa, reizdarm, nierentransplantation, knieoperation, hüftoperation
blinddarmentzündung, gallensteine, nierensteine, nierenerkrankung, nierenversagen, lebererkrankung, leberzirrhose
lungenentzündung, bronchitis, schlafapnoe, schlafstörungen, erschöpfungssyndrom, alkoholismus, alkoholabhängig
alkoholkrank, drogensucht, drogenabhängig, suchtkrank, gehirnerschütterung, schleudertrauma, beinbruch, armbruch
rippenbruch, knochenbruch, gebrochen, gebrochener arm, gebrochenes bein, verstaucht, bänderriss, krampfanfall
chronische schmerzen, fibromyalgie, schuppenflechte, neurodermitis, schilddrüsenerkrankung, grüner star, grauer star
hirnhautentzündung, blutvergiftung, gürtelrose, geschlechtskrankheit, tinnitus, hörsturz, tumorerkrankung, reha-maßnahme
`;

export const SICK_LEAVE = `
off sick, sick leave, sick note, sickness absence, signed off work, signed off sick, on medical leave, medical leave
unfit for work, unfit for duty, called in sick, fit note, hospitalised, hospitalized, in hospital, admitted to hospital
sygemeldt, sygemelding, sygemeldte, sygeorlov, delvist sygemeldt, indlagt på hospitalet, langtidssyg, sygefravær
raskmeldt, sjukskriven, sjukskrivning, sjukskrivet, sjukanmäld, sjukfrånvaro, långtidssjukskriven, inlagd på sjukhus
krankgeschrieben, krankmeldung, krankgemeldet, krankenstand, arbeitsunfähig, arbeitsunfähigkeit
arbeitsunfähigkeitsbescheinigung, dauerhaft krank, langzeitkrank, im krankenhaus, dienstunfähig
`;

export const DISABILITY = `
disability, disabled, wheelchair user, wheelchair, wheelchair-bound, blind, registered blind, partially sighted
visually impaired, vision impaired, sight loss, deaf, partially deaf, hard of hearing, hearing impaired, hearing loss
hearing aid, hearing aids, cochlear implant, sign language interpreter, guide dog, assistance dog, service dog, paralysed
paralyzed, paraplegic, quadriplegic, amputee, prosthetic leg, prosthesis, cerebral palsy, spina bifida, learning disability
learning difficulties, intellectual disability, dyslexia, dyslexic, dyspraxia, reduced mobility, limited mobility
mobility impaired, walking frame, walking stick, crutches, mobility scooter, blue badge holder, special needs
handicap*, handikap*, kørestol*, kørestolsbruger, blinde, svagtseende, svagsynet, døv, døve, hørehæmmet, nedsat hørelse
høretab, høreapparat, høreapparater, tegnsprogstolk, førerhund, servicehund, lammet, amputeret, benprotese
spastisk lammet, spastiker, udviklingshæmmet, ordblind, ordblindhed, talblind, gangbesvær, gangbesværet
nedsat mobilitet, rollator, krykker, handicapparkeringskort, funktionsnedsættelse, funktionsnedsættelser, førtidspension
funktionsnedsättning*, funktionshinder, funktionshindrad, rullstol*, synskadad, synnedsättning, blind, döv, dövblind
hörselskadad, hörselnedsättning, hörapparat, teckenspråkstolk, ledarhund, assistanshund, förlamad, amputerad, benprotes
cp-skada, utvecklingsstörning, dyslexi, dyslektiker, dyskalkyli, nedsatt rörlighet, rörelsehindrad, rullator, kryckor
förtidspensionerad, personlig assistent
behinderung, behindert, schwerbehindert*, schwerbehindertenausweis, schwerbehinderung, grad der behinderung, rollstuhl*
sehbehindert, sehbehinderung, blind, gehörlos, taub, taubstumm, schwerhörig, schwerhörigkeit, hörgerät, hörgeräte
gebärdendolmetscher, blindenhund, assistenzhund, gelähmt, querschnittsgelähmt, querschnittslähmung, amputiert, beinprothese
spastik, lernbehinderung, geistig behindert, legasthenie, legastheniker, gehbehindert, gehbehinderung, krücken
eingeschränkte mobilität, mobilitätseingeschränkt, gehhilfe, pflegegrad, erwerbsminderungsrente
`;

export const MEDICATION = `
metformin, insulin glargine, insulin lispro, insulin aspart, semaglutide, semaglutid, liraglutide, liraglutid, empagliflozin
sitagliptin, gliclazide, sertraline, sertralin, fluoxetine, fluoxetin, citalopram, escitalopram, paroxetine, paroxetin
venlafaxine, venlafaxin, duloxetine, duloxetin, mirtazapine, mirtazapin, bupropion, amitriptyline, amitriptylin, quetiapine
quetiapin, olanzapine, olanzapin, risperidone, risperidon, aripiprazole, aripiprazol, haloperidol, clozapine, clozapin
lithium carbonate, lithiumbehandling, diazepam, lorazepam, oxazepam, alprazolam, clonazepam, zopiclone, zopiklon, zolpidem
melatonin, methylphenidate, methylphenidat, metylfenidat, ritalin, lisdexamfetamine, lisdexamfetamin, atomoxetine, atomoxetin
warfarin, apixaban, rivaroxaban, dabigatran, clopidogrel, heparin, atorvastatin, simvastatin, rosuvastatin, pravastatin
ramipril, lisinopril, enalapril, losartan, candesartan, valsartan, amlodipine, amlodipin, metoprolol, bisoprolol, atenolol
propranolol, carvedilol, furosemide, furosemid, spironolactone, spironolakton, hydrochlorothiazide, digoxin, levothyroxine
levothyroxin, levotyroxin, prednisolone, prednisolon, prednisone, hydrocortisone, salbutamol, ventolin, budesonide, budesonid
tiotropium, fluticasone, montelukast, omeprazole, omeprazol, pantoprazole, pantoprazol, lansoprazole, lansoprazol, morphine
morfin, morphin, oxycodone, oxycodon, oxykodon, codeine, kodein, codein, fentanyl, tramadol, methadone, metadon, methadon
buprenorphine, buprenorfin, buprenorphin, pregabalin, gabapentin, ibuprofen, diclofenac, diklofenak, naproxen, amoxicillin
penicillin, doxycycline, doxycyklin, ciprofloxacin, azithromycin, antiretroviral, tamoxifen, letrozole, methotrexate
metotrexat, methotrexat, adalimumab, humira, levodopa, donepezil, memantine, memantin, carbamazepine, carbamazepin, valproate
valproat, valproic acid, valproinsyra, lamotrigine, lamotrigin, levetiracetam, topiramate, topiramat, sumatriptan, naltrexone
disulfiram, antabus, antabuse, viagra, sildenafil, finasteride, isotretinoin, antidepressant*, antidepressiv*, antidepressiva
antipsychotic*, antipsykotisk, blood thinners, blodfortyndende, blodförtunnande, blutverdünner, beta blockers, betablocker
betablokkere, betablockerare, epipen, adrenaline pen, adrenalinpen, insulin pump, insulinpumpe, insulinpump, inhaler
antabusbehandling, sleeping pills, sovepiller, sömntabletter, schlaftabletten, lykkepiller, antibiotika, antibiotics
chemotherapy drugs, cellgifter, hormonbehandling, hormone therapy, p-piller
`;

export const BELIEF = `
muslim, muslims, islam, christian, catholic, roman catholic, protestant, anglican, church of england, lutheran, baptist
methodist, pentecostal, presbyterian, evangelical, jehovah’s witness, jehovah's witness, jehovah’s witnesses
jehovah's witnesses, seventh-day adventist, mormon, latter-day saint, orthodox christian, greek orthodox, russian orthodox
coptic, jew, jewish, judaism, orthodox jew, hindu, hinduism, buddhist, buddhism, sikh, sikhism, jain, bahá’í, bahai, quaker
scientologist, pagan, wiccan, rastafarian, druze, zoroastrian, shia, sunni, atheist, agnostic, mosque, synagogue
gurdwara, kosher, kosher meal, kosher meals, halal, halal meal, halal meals, shabbat, sabbath, ramadan, yom kippur
passover, hijab, turban, prayer room, observes ramadan, fasts during ramadan, converted to islam
converted to judaism, converted to catholicism, baptised, bar mitzvah, church member, church tax, ethical vegan
muslimsk, muslimske, kristen, kristne, katolik*, katolsk, katolske, protestantisk, luthersk, pinsemissionen, baptistisk
jehovas vidne, jehovas vidner, ortodoks, jøde, jøder, jødisk, jødiske, jødedommen, hinduistisk, buddhistisk, sikher, ateist
ateistisk, agnostiker, folkekirken, medlem af folkekirken, meldt ud af folkekirken, moské*, synagoge*, koshermad, halalmad
halalkost, halalkød, faster under ramadanen, faster under ramadan, konverteret til islam, konverteret til katolicismen
konfessionsløs, trossamfund, tørklæde af religiøse grunde, kirkeskat, indre mission
muslimska, katolska, katolsk, kristna, frikyrklig, pingstvän, pingstkyrkan, jehovas vittne, jehovas vittnen, judisk, judiska
jude, judendom, hinduisk, buddistisk, buddist, sikhisk, svenska kyrkan, medlem i svenska kyrkan, gått ur svenska kyrkan
synagoga, koscher, kosher mat, halalslaktat, konverterat till islam, konverterade till islam, konfessionslös, kyrkoavgift
livsåskådning, jom kippur, ortodox, troende
moslem, moslemisch, muslimisch*, muslimin, christ, christin, katholik, katholikin, katholisch*, römisch-katholisch
protestantisch, evangelisch*, evangelisch-lutherisch, lutherisch, freikirchlich, baptistin, zeuge jehovas, zeugin jehovas
zeugen jehovas, neuapostolisch, orthodox, jüdisch*, jüdin, jude, hinduistisch, buddhistin, buddhistisch, sikh, alevit
alevitisch, atheistin, konfessionslos, kirchenmitglied, kirchensteuer, kirchenaustritt, aus der kirche ausgetreten, moschee
koschere mahlzeit, halal-mahlzeit, kopftuch, fastet im ramadan, zum islam konvertiert, zum islam übergetreten, konvertiert
`;

export const OPINION = `
social democrat, communist, socialist, marxist, trotskyist, anarchist, anarkist, nationalist, neo-nazi, conservative voter
labour voter, tory voter, green party member, party member, labour party, conservative party, liberal democrats, lib dems
green party, scottish national party, plaid cymru, sinn féin, reform uk, democratic party, republican party, registered republican
registered democrat, voted labour, voted conservative, voted tory, voted for labour, votes labour, voted green, voted republican
voted democrat, voted for brexit, voted leave, voted remain, political activist, climate activist, party activist
local councillor for, campaigned for, right-wing extremist, left-wing extremist
socialdemokrat, kommunist, socialist, partimedlem, socialdemokratiet, dansk folkeparti, enhedslisten, radikale venstre
liberal alliance, nye borgerlige, danmarksdemokraterne, moderaterne, socialistisk folkeparti
det konservative folkeparti, de konservative, konservativ vælger, venstre vælger, venstremand, stemte på venstre
stemte på konservative, stemte på socialdemokratiet, stemmer på enhedslisten, politisk aktivist, højreekstremist
venstreekstremist, kandidat for venstre, kandidat for enhedslisten, byrådskandidat
socialdemokraterna, moderaterna, sverigedemokraterna, sverigedemokrat, vänsterpartiet, vänsterpartist, miljöpartiet
miljöpartist, centerpartiet, centerpartist, liberalerna, kristdemokraterna, kristdemokrat, moderat väljare
feministiskt initiativ, röstade på centern, röstade på moderaterna, röstade på socialdemokraterna
röstade på sverigedemokraterna, röstar på vänsterpartiet, partipolitiskt aktiv, högerextremist, vänsterextremist, nazist
sozialdemokrat, sozialdemokratin, christdemokrat, kommunistin, sozialist, parteimitglied, parteibuch, cdu-mitglied
spd-mitglied, afd-mitglied, fdp-mitglied, grünen-mitglied, linken-mitglied, cdu-wähler, spd-wähler, afd-wähler, grünen-wähler
wählte cdu, wählte spd, wählt die afd, wählte die afd, wählt die grünen, wählte die grünen, bündnis 90, politischer aktivist
kommunalpolitiker der, rechtsextremist, linksextremist, reichsbürger
`;

export const UNION = `
trade union, labour union, trade union member, trade union membership, trade unionist, union member, union membership
union rep, union representative, union delegate, shop steward, union dues, union fees, union subscription
member of the union, member of a union, member of unite, member of unison, unison member, unite member, gmb member
rmt member, nautilus international, national union of rail, unite the union
fagforeningsmedlem, fagforening*, fagforbund*, fagligt organiseret, fagforeningskontingent, fagligt kontingent
tillidsrepræsentant, tillidsmand, medlem af 3f, medlem af hk, medlem af metal, medlem af foa, medlem af dansk metal
medlem af co-søfart, medlem af krifa, medlem af djøf, dansk metal, co-søfart
fackmedlem, fackmedlemskap, fackförbund*, fackförening*, fackligt ansluten, fackligt aktiv, fackavgift, facklig avgift
facklig förtroendeman, fackombud, skyddsombud, medlem i unionen, medlem i kommunal, medlem i if metall, medlem i facket
medlem i seko, if metall, seko sjöfolk, sjöbefälsföreningen, vårdförbundet, lärarförbundet, byggnadsarbetareförbundet
gewerkschaft*, gewerkschaftsmitglied, gewerkschaftsmitgliedschaft, gewerkschaftsbeitrag, gewerkschaftlich organisiert
gewerkschaftssekretär, vertrauensmann der gewerkschaft, vertrauensfrau der gewerkschaft, verdi-mitglied, ver.di-mitglied
ver.di, ig metall, ig bau, ig bce, evg-mitglied, gdl-mitglied
`;

export const ORIGIN = `
ethnicity, ethnic origin, ethnic background, racial origin, black british, black african, black caribbean, white british
white irish, mixed race, mixed heritage, mixed ethnicity, biracial, african american, afro-caribbean, native american
first nations, aboriginal, romani, romany, roma origin, roma background, roma community, roma descent, roma family, gypsy
irish traveller, traveller of irish heritage, sami, sámi, kurdish, kurd, kurds, arab, somali, inuit, pashtun, tamil, uyghur
berber, hispanic, latino, latina, mestizo, south asian, person of colour, person of color, skin colour, skin color
etnicitet, etnisk oprindelse, etnisk baggrund, etnisk tilhørsforhold, etnisk minoritet, anden etnisk baggrund, romaer
romsk, kurder, kurdisk*, araber, arabisk, somalier, somalisk, grønlænder, tamiler, samisk*, hudfarve, mørk i huden
indvandrerbaggrund, udenlandsk herkomst
etniskt ursprung, etnisk bakgrund, etnisk tillhörighet, romerna, kurd, samer, arab, somalisk, grönländare
hudfärg, mörkhyad, utländsk bakgrund, invandrarbakgrund
ethnische herkunft, ethnische zugehörigkeit, kurde, kurdin, kurdisch*, araber, araberin, sinti, sinti und roma, roma-familie, jenisch
tamile, tamilin, somalierin, hautfarbe, dunkelhäutig, migrationshintergrund, schwarze deutsche, afrodeutsch, afrodeutsche
`;

export const SEXUAL = `
homosexual, homosexuality, gay, gay man, lesbian, bisexual, pansexual, asexual, heterosexual, transgender, trans woman
trans man, transsexual, non-binary, queer, same-sex partner, same-sex relationship, same-sex couple
sexual orientation, sexual preference, came out as, gender reassignment, gender transition, sexually transmitted, chlamydia
gonorrhoea, gonorrhea, syphilis, genital herpes, sex life, sexual relationship, sexual problems, erectile dysfunction
infidelity, extramarital affair
homoseksuel, homoseksuelle, heteroseksuel, bøsse, lesbisk, biseksuel, panseksuel, aseksuel, transkønnet, transperson
nonbinær, ikke-binær, kønsskifte, seksuel orientering, sprunget ud som, klamydia, gonorré, sexliv, utroskab, utro
homosexuell, homosexuella, heterosexuell, bög, bögen, bisexuell, asexuell, transsexuell, transkvinna, transman, icke-binär
könskorrigering, könsbyte, sexuell läggning, kommit ut som, klamydia, otrohet
homosexuelle, homosexueller, heterosexuell, schwul, schwuler, lesbisch, lesbe, bisexuelle, transgeschlechtlich, transfrau
transmann, nichtbinär, geschlechtsangleichung, sexuelle orientierung, sexuellen orientierung, geoutet als, hat sich geoutet
chlamydien, tripper, sexualleben, seitensprung, fremdgegangen, gleichgeschlechtliche, gleichgeschlechtlichen
`;

export const BIOMETRIC = `
fingerprint, fingerprints, fingerprint template, fingerprint scan, iris scan, iris pattern, retina scan, retinal scan
face template, face scan, facial scan, facial recognition template, facial recognition data, facial template, faceprint, voiceprint, voice print
palm print, palm vein, hand geometry, biometric template, biometric templates, biometric data, biometric identifier
biometric passport data, gait recognition
fingeraftryk, fingeraftrykket, irisscanning, ansigtsgenkendelse, ansigtsskanning, stemmeaftryk, håndfladeaftryk
biometriske data, biometriske oplysninger, biometrisk skabelon
fingeravtryck, fingeravtrycket, irisskanning, ansiktsigenkänning, ansiktsskanning, röstavtryck, handflateavtryck
biometriska uppgifter, biometrisk mall, biometrisk data
fingerabdruck, fingerabdrücke, fingerabdrucks, fingerabdruckscan, iris-scan, irisscan, netzhautscan, gesichtserkennung
gesichtsscan, stimmabdruck, handflächenabdruck, handvenenscan, biometrische daten, biometrisches merkmal
biometrische merkmale, biometrisches template
`;

export const GENETIC = `
dna test, dna sample, dna profile, dna result, dna analysis, genetic test, genetic test result, genetic testing
genetic screening, genetic disorder, genetic mutation, genetic predisposition, genetic condition, gene mutation
genome sequencing, brca1, brca2, brca1 mutation, brca2 mutation, brca mutation, carrier of the gene, hereditary disease
huntington*, cystic fibrosis, down syndrome, down's syndrome, down’s syndrome, sickle cell, haemochromatosis
dna-prøve, dna-test, dna-profil, dna-analyse, gentest, genetisk test, genetisk sygdom, genetisk defekt, genmutation
arvelig sygdom, arvelig disposition, genetisk disponeret, cystisk fibrose, downs syndrom
dna-prov, genetiskt test, gentestet, genetisk sjukdom, genetisk mutation, ärftlig sjukdom, ärftlig belastning, cystisk fibros
dna-probe, dna-analyse, gentests, genetischer test, genetische untersuchung, genetische veranlagung, genetischer defekt
gendefekt, erbkrankheit, erblich vorbelastet, mukoviszidose, down-syndrom, sichelzellanämie
`;

export const OFFENCE = `
convicted of, convicted for, convicted, conviction, convictions, previous conviction, previous convictions
spent conviction, criminal record, criminal conviction, criminal convictions, criminal offence, criminal history
sentenced to, imprisoned, prison sentence, custodial sentence, served time, in prison, jailed, on probation, on parole
parole, suspended sentence, community order, restraining order, police caution, found guilty of, pleaded guilty, theft
shoplifting, burglary, robbery, assault, sexual assault, common assault, grievous bodily harm, drunk driving, drink driving
drink-driving, driving under the influence, dui, dwi, dangerous driving, fraud conviction, tax fraud, benefit fraud
drug possession, possession of drugs, drug dealing, smuggling, arrested, arrested for, charged with, indicted, prosecuted for
sexual offence, sex offender, sex offenders register, sex offender register, manslaughter, murder, rape, arson, vandalism, perjury, bribery, money laundering
drug trafficking, domestic violence, embezzlement, stalking
straffeattest, plettet straffeattest, straffet, tidligere straffet, dømt for, domfældt, domfældelse, idømt, fængselsdom
fængselsstraf, betinget dom, samfundstjeneste, bødestraf, sad i fængsel, afsonet, tyveri, butikstyveri, indbrud, røveri
voldsdom, vold mod, dømt for vold, vold i nære relationer, voldtægt, blufærdighedskrænkelse, spritkørsel, spirituskørsel
spritdom, bedrageri, socialt bedrageri, underslæb, smugling, narkotikabesiddelse, hashbesiddelse, hærværk, bestikkelse
hvidvask, trusler mod, brandstiftelse, manddrab, anholdt, anholdt for, sigtet for, tiltalt, tiltalt for, varetægtsfængslet
belastningsregistret, belastningsregistrets, dömd för, dömdes för, dömdes till, tidigare dömd, tidigare straffad
ostraffad, fängelsestraff, fängelsedom, villkorlig dom, skyddstillsyn, samhällstjänst, suttit i fängelse, stöld, ringa stöld, snatteri
inbrott, rån, misshandel, kvinnofridskränkning, sexuella övergrepp, våldtäkt, skadegörelse, rattfylleri, rattfylla, bedrägeri
bidragsbedrägeri, förskingring, smuggling, narkotikabrott, narkotikainnehav, mordbrand, dråp, penningtvätt, olaga hot, anhållen
häktad, gripen för, åtalad, åtalad för, misstänkt för, brottsregister
vorbestraft, vorstrafe, vorstrafen, einschlägig vorbestraft, führungszeugnis mit eintrag, verurteilt, rechtskräftig verurteilt
freiheitsstrafe, geldstrafe, bewährungsstrafe, auf bewährung, haftstrafe, inhaftiert, im gefängnis, strafbefehl
strafverfahren, ermittlungsverfahren, diebstahl, ladendiebstahl, ladendiebin, einbruch, raub, raubes, körperverletzung
trunkenheit am steuer, alkohol am steuer, fahrerflucht, betrug, betrugs, sozialbetrug, steuerhinterziehung, unterschlagung
schmuggel, drogenbesitz, drogenhandel, brandstiftung, vergewaltigung, sachbeschädigung, geldwäsche, nötigung, totschlag
festgenommen, verhaftet, angeklagt, beschuldigt
`;

export const CHILD = `
child, children, minor, pupil, pupils, schoolboy, schoolgirl, schoolchild, toddler, infant, newborn, baby, daughter, son
stepson, stepdaughter, grandson, granddaughter, nephew, niece, underage, unaccompanied minor, school class, kindergarten
primary school, nursery school, foster child
barn, barnet, børn, børnene, elev, elever, eleven, skolebarn, spædbarn, datter, datteren, søn, sønnen, stedsøn, steddatter
barnebarn, mindreårig, mindreårige, børnehave, børnehaven, vuggestue, folkeskole, folkeskolen, plejebarn, barnets
dotter, dottern, son, sonen, barnen, skolelev, spädbarn, bebis, minderårig, minderåriga, omyndig, förskola, förskolan, grundskola
grundskolan, fosterbarn, styvson, styvdotter, barnbarn
Kind, Kinder, Kindes, Kindern, schüler, schülerin, schulkind, säugling, kleinkind, tochter, sohn, stiefsohn, stieftochter
enkel, enkelin, minderjährig*, kita, grundschule, pflegekind
`;

export const TEENAGER = `
teenager, teenaged, preschooler, teenagedreng, teenagepige, tonåring, tonårig, tonårspojke, tonårsflicka, halbwüchsiger
`;
