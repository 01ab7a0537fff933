import { identityNumber } from './identity-number.ts';

export const NORDIC = [
  identityNumber({
    id: 'dk-cpr', name: 'Danish CPR number', country: 'DK', body: '\\d{6}[- ]?\\d{4}', date: 'ddmmyyxxxx', strength: 'strong', bare: -2.5,
    labels: ['cpr', 'cpr-nr', 'cprnr', 'cpr-nummer', 'cprnummer', 'cpr no', 'personnummer', 'personnr', 'personal id', 'cpr number'],
    source: 'Lov om Det Centrale Personregister (LBK 1010/2023), § 3', good: ['010180-1234', '2110621234', '290200-1233'], bad: ['311180-1234', '300299-1234', '001180-1234'],
    more: [{ check: 'check digit', by: 'mod 11 CPR', passes: 1, fails: 0 }],
  }),
  identityNumber({
    id: 'se-personnummer', name: 'Swedish personal identity number', country: 'SE', body: '(?:18|19|20)?\\d{6}[-+ ]?\\d{4}', check: 'SE personnummer', strength: 'strong', bare: -2,
    labels: ['personnummer', 'personnr', 'pnr', 'person nr', 'person-nr', 'samordningsnummer', 'personal identity number', 'swedish id', 'p-nr'],
    source: 'Folkbokföringslag (1991:481), 18 §; SKV 704', good: ['880320-0016', '19811218-9876', '8112189876'], bad: ['880320-0018', '19811218-9875'],
  }),
  identityNumber({
    id: 'se-organisationsnummer', name: 'Swedish organisation number', country: 'SE', body: '(?:16)?\\d{2}[2-9]\\d{3}-?\\d{4}', check: 'luhn', strength: 'weak',
    labels: ['organisationsnummer', 'org nr', 'orgnr', 'org-nr', 'organisationsnr', 'org no', 'momsreg'],
    source: 'Lag (1974:174) om identitetsbeteckning för juridiska personer m.fl.', good: ['556703-7485', '1234567897'], bad: ['556703-7486'],
  }),
  identityNumber({
    id: 'no-fodselsnummer', name: 'Norwegian national identity number', country: 'NO', body: '\\d{6} ?\\d{5}', check: 'NO.fodselsnummer', strength: 'medium',
    labels: ['fødselsnummer', 'fodselsnummer', 'fødselsnr', 'fnr', 'f nr', 'd-nummer', 'dnr', 'personnummer', 'personnr'],
    source: 'Folkeregisterloven (LOV-2016-12-09-88), § 2-1', good: ['151086 95088', '15108695088'], bad: ['15108695077'],
  }),
  identityNumber({
    id: 'fi-hetu', name: 'Finnish personal identity code', country: 'FI', body: '\\d{6}[-+A-FU-Y]\\d{3}[0-9A-FHJ-NPR-Y]', check: 'FI.hetu', strength: 'strong',
    labels: ['henkilötunnus', 'hetu', 'henkilotunnus', 'personbeteckning', 'personal identity code', 'sotu'],
    source: 'Väestötietolaki 661/2009, 11 §', good: ['131052-308T'], bad: ['131052-308U'],
  }),
  identityNumber({
    id: 'is-kennitala', name: 'Icelandic identification number', country: 'IS', body: '\\d{6}-?\\d{4}', check: 'IS.kennitala', strength: 'medium', bare: -1,
    labels: ['kennitala', 'kt', 'kennitölu'], source: 'Lög um skráningu einstaklinga nr. 140/2019', good: ['120174-3399'], bad: ['320174-3399'],
  }),
  identityNumber({
    id: 'dk-cvr', name: 'Danish company number', country: 'DK', body: '(?:DK[- ]?)?\\d{2} ?\\d{2} ?\\d{2} ?\\d{2}', check: 'DK.cvr', strength: 'weak',
    labels: ['cvr', 'cvr-nr', 'cvrnr', 'cvr nr', 'cvr-nummer', 'vat', 'moms', 'momsnummer', 'se-nr'], source: 'Lov om Det Centrale Virksomhedsregister', good: ['DK 13585628', '13585628'], bad: ['DK 13585627'],
  }),
];
