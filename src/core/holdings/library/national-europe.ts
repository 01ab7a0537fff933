import { identityNumber } from './identity-number.ts';

export const EUROPE = [
  identityNumber({
    id: 'de-steuer-id', name: 'German tax identification number', country: 'DE', body: '\\d{2} ?\\d{3} ?\\d{3} ?\\d{3}', check: 'DE.idnr', strength: 'medium', bare: -1,
    labels: ['steuer-id', 'steuer id', 'steuerid', 'idnr', 'id-nr', 'steueridentifikationsnummer', 'steuerliche identifikationsnummer', 'identifikationsnummer', 'steuer-idnr', 'steuer-identifikationsnummer', 'tin', 'tax id', 'steuer-identnummer', 'steuer ident'],
    source: 'Abgabenordnung, § 139b', good: ['36 574 261 809', '36574261809'], bad: ['36574261808'],
  }),
  identityNumber({
    id: 'de-sozialversicherungsnummer', name: 'German pension insurance number', country: 'DE', body: '\\d{2} ?\\d{6} ?[A-Z] ?\\d{3}', check: 'DE.svnr', strength: 'strong',
    labels: ['sozialversicherungsnummer', 'rentenversicherungsnummer', 'sv-nummer', 'svnr', 'sv-nr', 'rvnr', 'versicherungsnummer', 'rv-nummer', 'sozialversicherungs-nr', 'sozialversicherungsnr'],
    source: 'SGB VI, § 147; VKVV § 2', good: ['15 070649 C 103', '15070649C103'], bad: ['15071349C103'],
  }),
  identityNumber({
    id: 'de-steuernummer', name: 'German tax number', country: 'DE', body: '\\d{2,3}[/ ]\\d{3,4}[/ ]\\d{4,5}|\\d{10,11}|\\d{13}', check: 'DE.stnr', strength: 'weak',
    labels: ['steuernummer', 'steuernr', 'steuer-nr', 'st.-nr', 'st-nr', 'stnr'], source: 'Abgabenordnung, § 139a; AEAO', good: ['181/815/08155'], bad: ['136695978'],
  }),
  identityNumber({
    id: 'de-personalausweis', name: 'German identity card number', country: 'DE', body: '(?=[A-Z]{1,8}\\d)[LMNPRTVWXYCFGHJK][CFGHJKLMNPRTVWXYZ0-9]{8}\\d?', strength: 'weak',
    labels: ['personalausweis', 'personalausweisnummer', 'ausweisnummer', 'ausweis-nr', 'ausweisnr', 'ausweis', 'personalausweis-nr', 'perso', 'identity card'],
    source: 'Personalausweisverordnung, Anhang 1; ICAO Doc 9303', good: ['T220001293', 'L01X00T471'], bad: [],
    more: [{ check: 'does not match', pattern: '^[A-Za-z]+$', passes: 0, fails: 'drop' }],
  }),
  identityNumber({
    id: 'at-sozialversicherungsnummer', name: 'Austrian social insurance number', country: 'AT', body: '\\d{4} ?\\d{6}', check: 'AT.vnr', strength: 'weak',
    labels: ['sozialversicherungsnummer', 'svnr', 'sv-nummer', 'versicherungsnummer', 'vsnr', 'sv-nr'], source: 'ASVG, § 31', good: ['1237 010180'], bad: ['2237 010180'],
  }),
  identityNumber({
    id: 'at-steuernummer', name: 'Austrian tax number', country: 'AT', body: '\\d{2}-\\d{3}/\\d{4}', check: 'AT.tin', strength: 'medium',
    labels: ['abgabenkontonummer', 'steuernummer', 'st.nr', 'tin'], source: 'Bundesabgabenordnung', good: ['59-119/9013'], bad: ['59-119/9012'],
  }),
  identityNumber({
    id: 'ch-ahv', name: 'Swiss OASI number', country: 'CH', body: '756[. ]?\\d{4}[. ]?\\d{4}[. ]?\\d{2}', check: 'CH.ssn', strength: 'strong', bare: -1,
    labels: ['ahv', 'ahv-nr', 'ahv-nummer', 'ahvn13', 'avs', 'no avs', 'sozialversicherungsnummer', 'oasi'], source: 'AHVG (SR 831.10), Art. 50c', good: ['756.9217.0769.85', '7569217076985'], bad: ['756.9217.0769.84'],
  }),
  identityNumber({
    id: 'nl-bsn', name: 'Dutch citizen service number', country: 'NL', body: '\\d{9}|\\d{4}\\.\\d{2}\\.\\d{3}|\\d{3}[ .]\\d{3}[ .]\\d{3}', check: 'NL.bsn', strength: 'weak',
    labels: ['bsn', 'burgerservicenummer', 'sofinummer', 'sofi-nummer', 'burger service nummer'], source: 'Wet algemene bepalingen burgerservicenummer', good: ['111222333', '1112.22.333'], bad: ['1112.52.333'],
  }),
  identityNumber({
    id: 'be-rijksregisternummer', name: 'Belgian national register number', country: 'BE', body: '\\d{2}\\.?\\d{2}\\.?\\d{2}[- ]?\\d{3}[. ]?\\d{2}', check: 'BE.insz', strength: 'strong', bare: -2,
    labels: ['rijksregisternummer', 'rijksregister', 'insz', 'niss', 'numéro national', 'registre national', 'numéro de registre national', 'nationaal nummer'],
    source: 'Wet van 8 augustus 1983 tot regeling van een Rijksregister', good: ['85.07.30-033.28', '85073003328'], bad: ['85.07.30-033.29'],
  }),
  identityNumber({
    id: 'fr-nir', name: 'French social security number', country: 'FR', body: '[1-478] ?\\d{2} ?(?:0[1-9]|1[0-2]|[2-9]\\d) ?(?:\\d{2}|2[AB]) ?\\d{3} ?\\d{3} ?\\d{2}', check: 'FR.nir', strength: 'strong', bare: -1,
    labels: ['nir', 'numéro de sécurité sociale', 'sécurité sociale', 'n° sécu', 'numéro de sécu', 'insee', 'no sécurité sociale'], source: 'Décret n° 82-103 du 22 janvier 1982', good: ['2 95 10 99 126 111 93', '295109912611193'], bad: ['295109912611199'],
  }),
  identityNumber({
    id: 'fr-numero-fiscal', name: 'French tax number', country: 'FR', body: '[0-3]\\d(?: ?\\d{2})? ?\\d{3} ?\\d{3} ?\\d{3}', check: 'FR.nif', strength: 'weak',
    labels: ['numéro fiscal', 'numero fiscal', 'spi', 'référence fiscale', 'nif'], source: 'Code général des impôts; OECD TIN sheet FR', good: ['0701987765493', '07 01 987 765 493'], bad: ['0701987765432'],
  }),
  identityNumber({
    id: 'es-dni', name: 'Spanish DNI', country: 'ES', body: '\\d{8}[- ]?[A-HJ-NP-TV-Z]', check: 'ES.dni', strength: 'medium',
    labels: ['dni', 'nif', 'documento nacional de identidad', 'd.n.i', 'n.i.f'], source: 'Real Decreto 1553/2005', good: ['54362315-K', '54362315K'], bad: ['54362315Z'],
  }),
  identityNumber({
    id: 'es-nie', name: 'Spanish NIE', country: 'ES', body: '[XYZ]-?\\d{7}-?[A-HJ-NP-TV-Z]', check: 'ES.nie', strength: 'strong',
    labels: ['nie', 'número de identidad de extranjero', 'n.i.e'], source: 'Real Decreto 557/2011, art. 206', good: ['X-2482300-W', 'X2482300W'], bad: ['X2482300A'],
  }),
  identityNumber({
    id: 'es-nuss', name: 'Spanish social security number', country: 'ES', body: '\\d{2}[ /-]?\\d{8}[ /-]?\\d{2}', check: 'ES.nss', strength: 'weak',
    labels: ['seguridad social', 'nss', 'nuss', 'naf', 'número de la seguridad social'], source: 'Real Decreto 84/1996', good: ['28 12345678 40'], bad: ['28 12345678 41'],
  }),
  identityNumber({
    id: 'pt-nif', name: 'Portuguese tax number', country: 'PT', body: '(?:PT ?)?[1-35-9]\\d{2} ?\\d{3} ?\\d{3}', check: 'PT.nif', strength: 'weak',
    labels: ['nif', 'contribuinte', 'número de contribuinte', 'nº contribuinte', 'número de identificação fiscal'], source: 'Decreto-Lei n.º 14/2013', good: ['PT 501 964 843', '501964843'], bad: ['PT 501 964 842'],
  }),
  identityNumber({
    id: 'pt-cartao-cidadao', name: 'Portuguese citizen card', country: 'PT', body: '\\d{8} ?\\d ?[A-Z0-9]{2}\\d', check: 'PT.cc', strength: 'medium',
    labels: ['cartão de cidadão', 'cartao de cidadao', 'cc', 'bilhete de identidade'], source: 'Lei n.º 7/2007', good: ['00000000 0 ZZ4'], bad: ['00000000 0 ZZ5'],
  }),
  identityNumber({
    id: 'it-codice-fiscale', name: 'Italian codice fiscale', country: 'IT', body: '[A-Z]{6}\\d[0-9LMNP-V][A-EHLMPRST][0-9LMNP-V]{2}[A-Z]\\d[0-9LMNP-V]{2}[A-Z]', check: 'IT.codicefiscale', strength: 'strong',
    labels: ['codice fiscale', 'cod. fisc', 'c.f', 'cf'], source: 'D.M. 23 dicembre 1976, n. 13813', good: ['RCCMNL83S18D969H'], bad: ['RCCMNL83S18D967H'],
  }),
  identityNumber({
    id: 'ie-pps', name: 'Irish PPS number', country: 'IE', body: '\\d{7}[A-W][A-IWTX]?', check: 'IE.pps', strength: 'medium',
    labels: ['pps', 'ppsn', 'pps number', 'pps no', 'personal public service'], source: 'Social Welfare Consolidation Act 2005, s. 262', good: ['6433435F', '6433435FT'], bad: ['6433435E'],
  }),
  identityNumber({
    id: 'gb-nino', name: 'UK National Insurance number', country: 'GB', body: '(?!BG|GB|NK|KN|TN|NT|ZZ)[A-CEGHJ-PRSTW-Z][A-CEGHJ-NPRSTW-Z] ?\\d{2} ?\\d{2} ?\\d{2} ?[A-D]|QQ ?\\d{2} ?\\d{2} ?\\d{2} ?[A-D]', strength: 'strong',
    labels: ['national insurance', 'national insurance number', 'ni number', 'nino', 'ni no', 'n.i', 'ni', 'nat ins'], source: 'HMRC NIM39110', good: ['HH012345D', 'TJ 01 23 45 D'], bad: ['BG012345A'],
    more: [{ check: 'does not match', pattern: '^[Qq]{2}', passes: 0, fails: -2 }],
  }),
  identityNumber({
    id: 'gb-utr', name: 'UK unique taxpayer reference', country: 'GB', body: '\\d{5} ?\\d{5}', check: 'GB.utr', strength: 'weak',
    labels: ['utr', 'unique taxpayer reference', 'taxpayer reference', 'self assessment'], source: 'HMRC: OECD TIN sheet GB', good: ['1955839661'], bad: ['2955839661'],
  }),
  identityNumber({
    id: 'pl-pesel', name: 'Polish PESEL', country: 'PL', body: '\\d{11}', check: 'PL.pesel', strength: 'medium',
    labels: ['pesel', 'nr pesel', 'numer pesel'], source: 'Ustawa o ewidencji ludności, art. 15', good: ['44051401359'], bad: ['44051401358'],
  }),
  identityNumber({
    id: 'pl-nip', name: 'Polish tax number', country: 'PL', body: '(?:PL ?)?\\d{3}-?\\d{3}-?\\d{2}-?\\d{2}', check: 'PL.nip', strength: 'weak',
    labels: ['nip', 'numer identyfikacji podatkowej'], source: 'Ustawa o zasadach ewidencji podatników', good: ['PL 8567346215', '856-734-62-15'], bad: ['PL 8567346216'],
  }),
  identityNumber({
    id: 'cz-rodne-cislo', name: 'Czech or Slovak birth number', country: 'CZ', body: '\\d{6}/\\d{3,4}', check: 'CZ.rc', strength: 'strong',
    labels: ['rodné číslo', 'rodne cislo', 'rč', 'r.č'], source: 'Zákon č. 133/2000 Sb., § 13; zákon č. 301/1995 Z. z.', good: ['710319/2745'], bad: ['710319/2746'],
  }),
  identityNumber({
    id: 'ro-cnp', name: 'Romanian personal number', country: 'RO', body: '[1-9]\\d{12}', check: 'RO.cnp', strength: 'medium',
    labels: ['cnp', 'cod numeric personal'], source: 'O.U.G. nr. 97/2005', good: ['1630615123457'], bad: ['1630615123458'],
  }),
  identityNumber({
    id: 'bg-egn', name: 'Bulgarian EGN', country: 'BG', body: '\\d{10}', check: 'BG.egn', strength: 'weak',
    labels: ['егн', 'egn', 'единен граждански номер'], source: 'Закон за гражданската регистрация, чл. 11', good: ['8032056031'], bad: ['8032056032'],
  }),
  identityNumber({
    id: 'gr-amka', name: 'Greek AMKA', country: 'GR', body: '\\d{11}', check: 'GR.amka', strength: 'weak',
    labels: ['amka', 'αμκα'], source: 'Νόμος 3655/2008', good: ['01013099997'], bad: ['01013099999'],
  }),
  identityNumber({
    id: 'gr-afm', name: 'Greek tax number', country: 'GR', body: '(?:(?:EL|GR) ?)?\\d{9}', check: 'GR.vat', strength: 'weak',
    labels: ['αφμ', 'α.φ.μ', 'afm', 'tin'], source: 'OECD TIN sheet GR', good: ['094259216'], bad: ['123456781'],
  }),
  identityNumber({
    id: 'hr-oib', name: 'Croatian OIB', country: 'HR', body: '(?:HR ?)?\\d{11}', check: 'HR.oib', strength: 'weak',
    labels: ['oib', 'osobni identifikacijski broj'], source: 'Zakon o osobnom identifikacijskom broju', good: ['33392005961', 'HR 33392005961'], bad: ['33392005962'],
  }),
  identityNumber({
    id: 'si-emso', name: 'Slovenian EMŠO', country: 'SI', body: '\\d{13}', check: 'SI.emso', strength: 'medium',
    labels: ['emšo', 'emso', 'enotna matična številka'], source: 'Zakon o centralnem registru prebivalstva', good: ['0101006500006'], bad: ['0101006500007'],
  }),
  identityNumber({
    id: 'rs-jmbg', name: 'Serbian, Bosnian or Macedonian JMBG', country: 'RS', body: '\\d{13}', check: 'RS.jmbg', strength: 'medium',
    labels: ['jmbg', 'јмбг', 'matični broj', 'матични број', 'единствен матичен број'], source: 'Zakon o jedinstvenom matičnom broju građana', good: ['0101006500006'], bad: ['0101006500007'],
  }),
  identityNumber({
    id: 'ee-isikukood', name: 'Estonian personal code', country: 'EE', body: '[1-8]\\d{10}', check: 'EE.ik', strength: 'medium',
    labels: ['isikukood', 'ik', 'personal code'], source: 'Rahvastikuregistri seadus, § 39', good: ['36805280109'], bad: ['36805280108'],
  }),
  identityNumber({
    id: 'lt-asmens-kodas', name: 'Lithuanian personal code', country: 'LT', body: '[1-9]\\d{10}', check: 'LT.asmens', strength: 'medium',
    labels: ['asmens kodas', 'asmens', 'a.k'], source: 'Gyventojų registro įstatymas', good: ['33309240064'], bad: ['33309240164'],
  }),
  identityNumber({
    id: 'lv-personas-kods', name: 'Latvian personal code', country: 'LV', body: '\\d{6}-\\d{5}', check: 'LV.pvn', strength: 'strong',
    labels: ['personas kods', 'personas kod', 'p.k'], source: 'Fizisko personu reģistra likums', good: ['161175-19997'], bad: ['161375-19997'],
  }),
  identityNumber({
    id: 'hu-adoazonosito', name: 'Hungarian tax identification number', country: 'HU', body: '8\\d{9}', check: 'adóazonosító', strength: 'weak',
    labels: ['adóazonosító', 'adóazonosító jel', 'adoazonosito', 'adószám'], source: '1996. évi XX. törvény, 1. melléklet', good: ['8071592153'], bad: ['8071592154'],
  }),
  identityNumber({
    id: 'lu-matricule', name: 'Luxembourg national number', country: 'LU', body: '(?:18|19|20)\\d{6} ?\\d{5}', check: 'LU matricule', date: 'yyyymmddxxxxx', strength: 'medium',
    labels: ['matricule', 'numéro d’identification national', 'matricule national', 'sozialversicherungsnummer'], source: 'Loi du 19 juin 2013 relative à l’identification des personnes physiques', good: ['1893120105732'], bad: ['1893120105733'],
  }),
  identityNumber({
    id: 'mt-id-card', name: 'Maltese identity card number', country: 'MT', body: '\\d{3,7}[MGAPLHBZ]', strength: 'weak',
    labels: ['maltese id', 'id card', 'karta tal-identità', 'identity card malta', 'id card no'], source: 'Identity Card and other Identity Documents Act, cap. 258', good: ['0399681M'], bad: [],
  }),
  identityNumber({
    id: 'tr-kimlik', name: 'Turkish identity number', country: 'TR', body: '[1-9]\\d{10}', check: 'TR.tckimlik', strength: 'medium',
    labels: ['tc kimlik', 't.c. kimlik', 'kimlik no', 'tckn', 'kimlik numarası'], source: '5490 sayılı Nüfus Hizmetleri Kanunu', good: ['17291716060'], bad: ['17291716050'],
  }),
  identityNumber({
    id: 'ua-rnokpp', name: 'Ukrainian tax number', country: 'UA', body: '\\d{10}', check: 'UA.rntrc', strength: 'weak',
    labels: ['рнокпп', 'іпн', 'rnokpp', 'ідентифікаційний номер'], source: 'Податковий кодекс України, ст. 70', good: ['1759013776'], bad: ['1759013770'],
  }),
];
