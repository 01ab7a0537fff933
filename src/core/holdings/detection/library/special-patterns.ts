import { list } from './list.ts';

/** Of several that begin alike, the longest is tried first. */
const any = (words: string) =>
  `(?:${list(words)
    .sort((a, b) => b.length - a.length)
    .join('|')})`;

const INJURED = any(`
broken, broke, fractured, sprained, twisted, dislocated, torn
brækket, brækkede, forstuvet, forstuvede, forvredet
bröt, brutit, bruten, brutet, stukat, stukade, vrickat, vrickade
`);
const WHOSE = any(`
his, her, my, their, the, a, an, left, right, both, two, lower, upper
sin, sit, min, mit, højre, venstre, en, et, sitt, mitt, höger, vänster, ett
`);
const BODY_PART = any(`
wrist, ankle, arm, leg, hip, ribs?, collarbone, foot, toe, finger, hand, knee, elbow, shoulder, nose, jaw, back, neck
pelvis, skull, thumb, ligament, tendon
armen, benet, ben, ankel, anklen, håndled, håndleddet, hofte, hoften, fod, foden, fingeren, skulder, skulderen, ribben
kraveben, kravebenet, knæ, knæet, hånd, hånden, albue, albuen
fot, foten, handled, handleden, höft, höften, revben, nyckelben, nyckelbenet, axel, axeln, knä, knäet, handen, fotled
`);
const BODY_PART_DE = any(`
Arm, Bein, Handgelenk, Fuß, Knöchel, Hüfte, Rippen?, Schlüsselbein, Finger, Knie, Sprunggelenk, Schulter, Hand, Nase
`);

const ALLERGEN = any(`
almond, aspirin, bee, cashew, dairy, dust, egg, fish, gluten, grass, hazelnut, ibuprofen, insect, kiwi, lactose, mustard
nickel, peanut, nut, pollen, sesame, shellfish, soy, soya, strawberry, sulphite, tree nut, walnut, wasp, wheat, cat, dog
`);

/** Injuries and allergies, by what is injured and what the allergy is to. */
export const HEALTH_PATTERN = [
  `(?<!\\p{L})${INJURED} (?:${WHOSE} ){0,3}${BODY_PART}(?!\\p{L})`,
  `(?<!\\p{L})${BODY_PART_DE} (?:gebrochen|verstaucht|verrenkt)(?!\\p{L})`,
  `(?<!\\p{L})gebrochene[nrsm]? ${BODY_PART_DE}(?!\\p{L})`,
  `(?<!\\p{L})${ALLERGEN} (?:allergy|allergies|intolerance)(?!\\p{L})`,
].join('|');

const PARTY = any(`
Labour, Conservatives?, Tories, Tory, Greens?, Green Party, Labour Party, Conservative Party, Liberal Democrats
Lib Dems, SNP, UKIP, Reform UK, Democrats, Democratic Party, Republicans, Republican Party, Socialists
Socialist Party, Communist Party, BNP
Venstre, Socialdemokratiet, Enhedslisten, SF, Radikale Venstre, Konservative, Dansk Folkeparti, Alternativet
Liberal Alliance, Moderaterne, Danmarksdemokraterne, Nye Borgerlige
Socialdemokraterna, Moderaterna, Sverigedemokraterna, Vänsterpartiet, Miljöpartiet, Centerpartiet, Centern
Liberalerna, Kristdemokraterna, SD, KD, MP
SPD, CDU, CSU, FDP, AfD, Grünen, Linken, Linkspartei, Linke, BSW, NPD, Piratenpartei, Freien Wähler, Bündnis 90
`);

export const OPINION_PATTERN = [
  `(?<!\\p{L})(?:member of|joined|active in|active member of|votes? for|voted for|campaigned for|candidate for|councillor for|supporter of|supports|donates to|donated to) (?:the )?${PARTY}(?!\\p{L})`,
  `(?<!\\p{L})(?:medlem af|medlem i|aktiv i|stemte på|stemmer på|stemt på|kandidat for|opstillet for|tillidsvalgt for|röstade på|röstar på|röstat på|kandiderar för|engagerad i) (?:det |de )?${PARTY}(?!\\p{L})`,
  `(?<!\\p{L})(?:Mitglied|aktiv|engagiert|Kandidat|Kandidatin|kandidiert|Stadtrat|Stadträtin|eingetreten) (?:in der|in die|bei der|bei den|für die|der|des) ${PARTY}(?!\\p{L})`,
  `(?<!\\p{L})(?:wählt|wählte|gewählt) (?:immer |stets |die |den )?${PARTY}(?!\\p{L})`,
  `(?<!\\p{L})(?:SPD|CDU|CSU|FDP|AfD|Grünen|Linken|NPD)-(?:Mitglied|Wähler|Wählerin|Anhänger|Anhängerin|Politiker|Politikerin|Stadtrat|Mitgliedschaft|Kandidat|Kandidatin)(?!\\p{L})`,
].join('|');

const ORGANISATION = any(`
3F, HK, FOA, Dansk Metal, Metal, Dansk El-Forbund, DSR, BUPL, Djøf, IDA, Krifa, PROSA, CO-Søfart, NNF
Kommunal, Unionen, IF Metall, Seko, SEKO, Vision, Handels, Byggnads, Vårdförbundet, Lärarförbundet, LO, TCO, Saco
Transport, Sjöbefälsföreningen, Akademikerförbundet SSR
ver\\.di, verdi, Verdi, IG Metall, IG BCE, IG BAU, EVG, GEW, NGG, DGB, GdP, GDL, dbb
Unite, Unite the Union, Unison, UNISON, GMB, RMT, Nautilus, Nautilus International, NASUWT, NEU, PCS, CWU, ASLEF, TSSA
Equity, BECTU, Usdaw, USDAW, Prospect, Teamsters, AFL-CIO, UFCW, SEIU
`);

/** Members of unions, by the union. */
export const UNION_PATTERN = [
  `(?<!\\p{L})(?:member of|membership of|membership in|joined|represented by|rep for|steward for|dues to|pays dues to|subscription to) (?:the )?${ORGANISATION}(?![\\p{L}\\p{N}])`,
  `(?<!\\p{L})(?:medlem af|medlem i|medlem hos|medlemskab af|medlemskap i|organiseret i|kontingent til|tillidsrepræsentant for|ansluten till|med i) (?:fagforeningen |fackförbundet |facket )?${ORGANISATION}(?![\\p{L}\\p{N}])`,
  `(?<!\\p{L})(?:Mitglied|Mitgliedschaft|organisiert|Vertrauensmann|Vertrauensfrau) (?:bei der|in der|bei|der|von) (?:Gewerkschaft )?${ORGANISATION}(?![\\p{L}\\p{N}])`,
  `(?<!\\p{L})(?:fagforeningen|fagforbundet|fackförbundet|fackföreningen|Gewerkschaft) ${ORGANISATION}(?![\\p{L}\\p{N}])`,
  `(?<!\\p{L})(?:union dues|union fee|kontingent|fagforeningskontingent|fackavgift|fackföreningsavgift|gewerkschaftsbeitrag)(?: to| til| till| an)?:? (?:the )?${ORGANISATION}(?![\\p{L}\\p{N}])`,
  `(?<=(?<![\\p{L}\\p{N}])(?:union|fagforening|fackförbund|fackförening|gewerkschaft)(?:s?zugehörigkeit|smedlemskab|smitgliedschaft| membership)?\\s?[:=]\\s{0,2})${ORGANISATION}(?![\\p{L}\\p{N}])`,
].join('|');

const NATION_EN = any(`
African, Afghan, Albanian, Algerian, American, Arab, Asian, Bangladeshi, Bosnian, Brazilian, British, Bulgarian
Caribbean, Chinese, Congolese, Croatian, Danish, Dutch, Egyptian, English, Eritrean, Ethiopian, Filipino, Finnish
French, German, Ghanaian, Greek, Hungarian, Indian, Iranian, Iraqi, Irish, Italian, Jamaican, Japanese, Jewish
Kenyan, Korean, Kurdish, Latvian, Lebanese, Libyan, Lithuanian, Mexican, Moroccan, Nepalese, Nigerian, Norwegian
Pakistani, Palestinian, Persian, Polish, Portuguese, Punjabi, Roma, Romanian, Russian, Sami, Scottish, Senegalese
Serbian, Somali, Spanish, Sudanese, Swedish, Syrian, Tamil, Thai, Tibetan, Tunisian, Turkish, Ugandan, Ukrainian
Vietnamese, Welsh, Yemeni, West African, East African, South Asian, East Asian, Middle Eastern, Latin American
Eastern European, mixed, minority
`);
const NATION_DA = any(`
afghansk, afrikansk, albansk, arabisk, asiatisk, bosnisk, britisk, bulgarsk, dansk, eritreisk, etiopisk, filippinsk
finsk, fransk, færøsk, græsk, grønlandsk, indisk, irakisk, iransk, islandsk, italiensk, jødisk, kinesisk, kroatisk
kurdisk, libanesisk, litauisk, lettisk, makedonsk, marokkansk, nigeriansk, norsk, pakistansk, palæstinensisk
persisk, polsk, romsk, rumænsk, russisk, samisk, serbisk, somalisk, spansk, sri-lankansk, svensk, syrisk, tamilsk
thailandsk, tunesisk, tyrkisk, tysk, ukrainsk, ungarsk, vietnamesisk, blandet, udenlandsk, mellemøstlig
`);
const NATION_SV = any(`
afghanskt?, afrikanskt?, albanskt?, arabiskt?, asiatiskt?, assyriskt?, bosniskt?, brittiskt?, bulgariskt?, chilenskt?
danskt?, eritreanskt?, etiopiskt?, filippinskt?, finskt?, franskt?, grekiskt?, indiskt?, irakiskt?, iranskt?
italienskt?, judiskt?, kinesiskt?, kroatiskt?, kurdiskt?, libanesiskt?, litauiskt?, lettiskt?, marockanskt?
nigerianskt?, norskt?, pakistanskt?, palestinskt?, persiskt?, polskt?, romskt?, rumänskt?, ryskt?, samiskt?
serbiskt?, somaliskt?, spanskt?, syriskt?, syrianskt?, tamilskt?, thailändskt?, tunisiskt?, turkiskt?, tyskt?
ukrainskt?, ungerskt?, vietnamesiskt?, utländskt?, tornedalskt?
`);
const NATION_DE = any(`
afghanisch, afrikanisch, albanisch, arabisch, asiatisch, bosnisch, britisch, bulgarisch, chinesisch, dänisch
eritreisch, äthiopisch, finnisch, französisch, ghanaisch, griechisch, indisch, irakisch, iranisch, italienisch
japanisch, jüdisch, kroatisch, kurdisch, libanesisch, lettisch, litauisch, marokkanisch, nigerianisch, nordafrikanisch
norwegisch, pakistanisch, palästinensisch, persisch, polnisch, portugiesisch, rumänisch, russisch, schwedisch
serbisch, somalisch, spanisch, syrisch, tamilisch, thailändisch, tschetschenisch, tunesisch, türkisch, ukrainisch
ungarisch, vietnamesisch, westafrikanisch, ausländisch, russlanddeutsch
`);

/** Where somebody or their family is from, as “of Turkish descent”. */
export const ORIGIN_PATTERN = [
  `(?<!\\p{L})${NATION_EN}(?:[- ](?:and )?${NATION_EN})? (?:origins?|descent|heritage|ancestry|background|ethnicity|roots)(?!\\p{L})`,
  `(?<!\\p{L})${NATION_DA} (?:oprindelse|herkomst|afstamning|baggrund|rødder)(?!\\p{L})`,
  `(?<!\\p{L})${NATION_SV} (?:ursprung|härkomst|bakgrund|påbrå|rötter)(?!\\p{L})`,
  `(?<!\\p{L})${NATION_DE}(?:er|e|en) (?:Herkunft|Abstammung|Wurzeln|Familie|Volkszugehörigkeit)(?!\\p{L})`,
].join('|');

/** An age below eighteen, in years or months. */
export const CHILD_AGE = [
  '(?<![\\p{L}\\p{N}])(?:aged?|age of|alderen|im Alter von|alder|ålder|Alter)[ :]{1,2}(?:1[0-7]|\\d)(?![\\p{N}.,:/%-]\\p{N}|\\p{N}|\\s?(?:%|or over|and over|to|-|–)\\s?\\p{N}?)',
  '(?<![\\p{L}\\p{N}.,/–-])(?:1[0-7]|\\d)[ -]?(?:years?[ -]old|year[ -]olds?|yrs[ -]old)(?!\\p{L})',
  '(?<![\\p{L}\\p{N}.,/–-])(?:1[0-7]|\\d)[ -]?(?:år gammel|år gamle|år gammal|årig|årige|åriga|åring|åringen)(?!\\p{L})',
  '(?<![\\p{L}\\p{N}.,/–-])(?:1[0-7]|\\d)[ -]?(?:Jahre alt|Jahre jung|jährige[nrs]?|jährig)(?!\\p{L})',
  '(?<![\\p{L}\\p{N}.,/–-])(?:[1-9]|1\\d|2[0-3]) (?:months old|månader gammal|måneder gammel|Monate alt)(?!\\p{L})',
  '(?<=[,(] ?)(?:1[0-7]|\\d) (?:Jahre|years)(?=[,).;]|$)',
  '(?<=[,(] ?)(?:1[0-7]|\\d) år(?!\\p{L})(?=[,).;]|$)',
].join('|');

/** As `CHILD_AGE`, beside a word for a child, where less will do. */
export const CHILD_AGE_NEAR =
  '(?:\\baged?\\b|\\bage\\b|alder|ålder|\\balter\\b|im Alter von)\\W{0,3}(?:1[0-7]|\\d)(?!\\d)|(?<!\\d)(?:1[0-7]|\\d)[ -]?(?:years? old|year-old|yrs|år gammel|år gammal|-årig\\w*|årig\\w*|år(?!\\p{L})|jahre alt|-jährig\\w*|jährig\\w*|months old|måneder|månader|monate alt)';
