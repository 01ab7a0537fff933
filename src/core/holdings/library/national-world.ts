import { identityNumber } from './identity-number.ts';

export const WORLD = [
  identityNumber({
    id: 'us-ssn', name: 'US social security number', country: 'US', body: '(?!000|666|9)\\d{3}[- ](?!00)\\d{2}[- ](?!0000)\\d{4}|(?!000|666|9)\\d{3}(?!00)\\d{2}(?!0000)\\d{4}', strength: 'strong', bare: -4,
    labels: ['ssn', 'social security', 'social security number', 'soc sec', 'ss#', 'social security no'], source: 'SSA POMS RM 10201; 20 CFR § 422.103', good: ['536-90-4399', '536904399'], bad: ['666-90-4399', '536-00-4399', '900-12-3456'],
    more: [{ check: 'is none of', values: ['078051120', '219099999', '123456789', '111111111'], passes: 0, fails: 'drop' }],
  }),
  identityNumber({
    id: 'us-itin', name: 'US taxpayer identification number', country: 'US', body: '9\\d{2}-(?:5\\d|6[0-5]|7\\d|8[0-8]|9[0-24-9])-\\d{4}', strength: 'medium',
    labels: ['itin', 'taxpayer identification', 'individual taxpayer', 'tin'], source: 'IRS Publication 1915', good: ['912-70-1234'], bad: ['912-10-1234'],
  }),
  identityNumber({
    id: 'us-ein', name: 'US employer identification number', country: 'US', body: '\\d{2}-\\d{7}', check: 'US.ein', strength: 'weak',
    labels: ['ein', 'employer identification', 'federal tax id', 'fein'], source: 'IRS Publication 1635', good: ['91-1144442'], bad: ['00-3456789'],
  }),
  identityNumber({
    id: 'ca-sin', name: 'Canadian social insurance number', country: 'CA', body: '\\d{3}[- ]?\\d{3}[- ]?\\d{3}', check: 'CA.sin', strength: 'weak',
    labels: ['sin', 'social insurance', 'social insurance number', 'numéro d’assurance sociale', 'nas'], source: 'Employment Insurance Act, s. 138', good: ['123-456-782', '123 456 782'], bad: ['123-456-783'],
  }),
  identityNumber({
    id: 'br-cpf', name: 'Brazilian CPF', country: 'BR', body: '\\d{3}\\.?\\d{3}\\.?\\d{3}-?\\d{2}', check: 'BR.cpf', strength: 'strong', bare: -2,
    labels: ['cpf', 'cadastro de pessoas físicas', 'cadastro de pessoa física'], source: 'Instrução Normativa RFB 1548/2015', good: ['390.533.447-05', '39053344705'], bad: ['231.002.999-01'],
  }),
  identityNumber({
    id: 'br-cnpj', name: 'Brazilian CNPJ', country: 'BR', body: '\\d{2}\\.?\\d{3}\\.?\\d{3}/?\\d{4}-?\\d{2}', check: 'BR.cnpj', strength: 'strong', bare: -2,
    labels: ['cnpj'], source: 'Instrução Normativa RFB 2119/2022', good: ['16.727.230/0001-97'], bad: ['16.727.230/0001-98'],
  }),
  identityNumber({
    id: 'mx-curp', name: 'Mexican CURP', country: 'MX', body: '[A-Z][AEIOUX][A-Z]{2}\\d{6}[HMX][A-Z]{5}[A-Z0-9]\\d', check: 'MX.curp', strength: 'strong',
    labels: ['curp', 'clave única de registro de población'], source: 'Instructivo normativo para la asignación de la CURP', good: ['BOXW310820HNERXN09'], bad: ['BOXW310820HNERXN08'],
  }),
  identityNumber({
    id: 'mx-rfc', name: 'Mexican RFC', country: 'MX', body: '[A-ZÑ&]{4}[- ]?\\d{6}[- ]?[A-Z0-9]{3}', check: 'MX.rfc', strength: 'medium',
    labels: ['rfc', 'registro federal de contribuyentes'], source: 'Código Fiscal de la Federación, art. 27', good: ['GODE 561231 GR8'], bad: ['GODE 561331 GR8'],
  }),
  identityNumber({
    id: 'ar-cuit', name: 'Argentine CUIT or CUIL', country: 'AR', body: '(?:20|23|24|27|30|33|34)-?\\d{8}-?\\d', check: 'AR.cuit', strength: 'strong', bare: -2.5,
    labels: ['cuit', 'cuil'], source: 'Resolución General AFIP 10/97', good: ['20-05536168-2'], bad: ['20-05536168-3'],
  }),
  identityNumber({
    id: 'cl-rut', name: 'Chilean RUT', country: 'CL', body: '\\d{1,2}\\.?\\d{3}\\.?\\d{3}-[\\dkK]', check: 'CL.rut', strength: 'medium',
    labels: ['rut', 'run', 'rol único tributario'], source: 'Decreto con Fuerza de Ley 3/1969', good: ['12.531.909-2'], bad: ['12531909-3'],
  }),
  identityNumber({
    id: 'co-nit', name: 'Colombian NIT', country: 'CO', body: '\\d{3}\\.?\\d{3}\\.?\\d{3}-\\d', check: 'CO.nit', strength: 'weak',
    labels: ['nit', 'número de identificación tributaria'], source: 'Estatuto Tributario, art. 555-1', good: ['213.123.432-1'], bad: ['213.123.432-2'],
  }),
  identityNumber({
    id: 'ec-cedula', name: 'Ecuadorian identity number', country: 'EC', body: '\\d{9}-?\\d', check: 'EC.ci', strength: 'weak',
    labels: ['cédula', 'cedula', 'cédula de identidad'], source: 'Ley Orgánica de Gestión de la Identidad', good: ['171430710-3'], bad: ['171430710-4'],
  }),
  identityNumber({
    id: 'au-tfn', name: 'Australian tax file number', country: 'AU', body: '\\d{3} ?\\d{3} ?\\d{3}', check: 'AU.tfn', strength: 'weak',
    labels: ['tfn', 'tax file number'], source: 'Taxation Administration Act 1953, part VA', good: ['123 456 782'], bad: ['123 456 783'],
  }),
  identityNumber({
    id: 'au-abn', name: 'Australian business number', country: 'AU', body: '\\d{2} ?\\d{3} ?\\d{3} ?\\d{3}', check: 'AU.abn', strength: 'weak',
    labels: ['abn', 'australian business number'], source: 'A New Tax System (ABN) Act 1999', good: ['83 914 571 673'], bad: ['99 999 999 999'],
  }),
  identityNumber({
    id: 'nz-ird', name: 'New Zealand IRD number', country: 'NZ', body: '\\d{2,3}-?\\d{3}-?\\d{3}', check: 'NZ.ird', strength: 'weak',
    labels: ['ird', 'ird number', 'inland revenue'], source: 'Tax Administration Act 1994', good: ['49-091-850'], bad: ['136410133'],
  }),
  identityNumber({
    id: 'za-id', name: 'South African identity number', country: 'ZA', body: '\\d{6} ?\\d{4} ?[01]\\d{2}', check: 'ZA.idnr', strength: 'medium',
    labels: ['sa id', 'south african id', 'rsa id', 'identity number', 'id number', 'id no'], source: 'Identification Act 68 of 1997', good: ['7503305044089'], bad: ['8503305044089'],
  }),
  identityNumber({
    id: 'in-aadhaar', name: 'Indian Aadhaar number', country: 'IN', body: '[2-9]\\d{3}[ -]?\\d{4}[ -]?\\d{4}', check: 'IN.aadhaar', strength: 'weak',
    labels: ['aadhaar', 'aadhar', 'uidai', 'uid'], source: 'Aadhaar Act 2016', good: ['2341 2341 2346'], bad: ['2341 2341 2347'],
  }),
  identityNumber({
    id: 'in-pan', name: 'Indian PAN', country: 'IN', body: '[A-Z]{3}[ABCFGHJLPT][A-Z]\\d{4}[A-Z]', check: 'IN.pan', strength: 'medium',
    labels: ['pan', 'permanent account number', 'pan no', 'pan card'], source: 'Income-tax Act 1961, s. 139A', good: ['ACUPA7085R'], bad: ['ABMXA3211G'],
  }),
  identityNumber({
    id: 'cn-ric', name: 'Chinese resident identity number', country: 'CN', body: '[1-9]\\d{16}[\\dX]', check: 'CN.ric', strength: 'strong',
    labels: ['身份证', '公民身份号码', 'resident identity', 'id card'], source: 'GB 11643-1999', good: ['360426199101010071'], bad: ['360426199101010072'],
  }),
  identityNumber({
    id: 'jp-my-number', name: 'Japanese individual number', country: 'JP', body: '\\d{4}[ -]?\\d{4}[ -]?\\d{4}', check: 'JP my number', strength: 'weak',
    labels: ['マイナンバー', '個人番号', 'my number', 'individual number'], source: '行政手続における特定の個人を識別するための番号の利用等に関する法律', good: ['1234 5678 9018'], bad: ['1234 5678 9019'],
  }),
  identityNumber({
    id: 'kr-rrn', name: 'Korean resident registration number', country: 'KR', body: '\\d{6}-\\d{7}', check: 'KR.rrn', date: 'yymmddxxxxxxx', strength: 'strong',
    labels: ['주민등록번호', 'rrn', 'resident registration'], source: '주민등록법', good: ['971013-9019902'], bad: ['971013-9019903'],
  }),
  identityNumber({
    id: 'hk-hkid', name: 'Hong Kong identity card', country: 'HK', body: '[A-Z]{1,2}\\d{6}\\(?[\\dA]\\)?', check: 'HK.hkid', strength: 'weak',
    labels: ['hkid', 'hong kong id', '身份證', 'hong kong identity card'], source: 'Registration of Persons Ordinance, cap. 177', good: ['G123456A'], bad: ['G123456B'],
  }),
  identityNumber({
    id: 'tw-id', name: 'Taiwanese identity number', country: 'TW', body: '[A-Z][12]\\d{8}', check: 'TW.natid', strength: 'medium',
    labels: ['身分證', '身份證字號', 'national id', 'roc id'], source: '戶籍法', good: ['A200501505'], bad: ['A200501506'],
  }),
  identityNumber({
    id: 'th-id', name: 'Thai identity number', country: 'TH', body: '\\d-?\\d{4}-?\\d{5}-?\\d{2}-?\\d', check: 'TH.idnr', strength: 'medium',
    labels: ['เลขประจำตัวประชาชน', 'thai id', 'บัตรประชาชน'], source: 'พระราชบัญญัติบัตรประจำตัวประชาชน', good: ['1-1017-00230-70-8'], bad: ['1-1017-00230-70-5'],
  }),
  identityNumber({
    id: 'my-nric', name: 'Malaysian NRIC', country: 'MY', body: '\\d{6}-\\d{2}-\\d{4}', check: 'MY.nric', strength: 'strong',
    labels: ['nric', 'mykad', 'no. kp', 'kad pengenalan', 'ic no'], source: 'National Registration Act 1959', good: ['770305-02-1234'], bad: ['771305-02-1234'],
  }),
  identityNumber({
    id: 'sg-nric', name: 'Singaporean NRIC or FIN', country: 'SG', body: '[STFGM]\\d{7}[A-Z]', check: 'SG nric', strength: 'medium',
    labels: ['nric', 'fin', 'nric no', 'identification no'], source: 'National Registration Act 1965', good: ['S1234567D'], bad: ['S1234567A'],
  }),
  identityNumber({
    id: 'id-npwp', name: 'Indonesian tax number', country: 'ID', body: '\\d{2}\\.\\d{3}\\.\\d{3}\\.\\d-\\d{3}\\.\\d{3}', check: 'ID.npwp', strength: 'strong',
    labels: ['npwp'], source: 'Peraturan Dirjen Pajak PER-20/PJ/2013', good: ['01.312.166.0-091.000'], bad: [],
  }),
  identityNumber({
    id: 'il-id', name: 'Israeli identity number', country: 'IL', body: '\\d{8}-?\\d', check: 'IL.idnr', strength: 'weak',
    labels: ['teudat zehut', 'תעודת זהות', 'ת.ז', 'israeli id'], source: 'Population Registry Law 1965', good: ['03933742-3'], bad: ['03933742-2'],
  }),
  identityNumber({
    id: 'ru-inn', name: 'Russian tax number', country: 'RU', body: '\\d{12}|\\d{10}', check: 'RU.inn', strength: 'weak',
    labels: ['инн', 'inn'], source: 'Налоговый кодекс РФ, ст. 84', good: ['123456789047'], bad: ['123456789037'],
  }),
  identityNumber({
    id: 'pk-cnic', name: 'Pakistani CNIC', country: 'PK', body: '\\d{5}-\\d{7}-\\d', check: 'PK.cnic', strength: 'strong',
    labels: ['cnic', 'nic'], source: 'NADRA Ordinance 2000', good: ['54104-9890578-6'], bad: [],
  }),
];
