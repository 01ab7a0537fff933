import type { BuiltIn } from '../detector/detector.ts';
import { list } from './list.ts';
import { bounded, identityNumber, labelled } from './identity-number.ts';

export const HEALTH_NUMBERS: readonly BuiltIn[] = [
  identityNumber({
    id: 'gb-nhs',
    name: 'NHS number',
    country: 'GB',
    category: 'health',
    body: '\\d{3}[ -]?\\d{3}[ -]?\\d{4}',
    check: 'NHS',
    strength: 'medium',
    bare: -2,
    labels: ['nhs', 'nhs number', 'nhs no'],
    source: 'NHS Data Dictionary, NHS NUMBER (mod 11)',
    good: ['943 476 5919', '9434765919'],
    bad: ['943 476 5918'],
  }),
  identityNumber({
    id: 'de-krankenversichertennummer',
    name: 'German health insurance number',
    country: 'DE',
    category: 'health',
    body: '[A-Z]\\d{9}',
    check: 'KVNR',
    strength: 'medium',
    labels: list(`
krankenversichertennummer, krankenversichertennr, kvnr, kv-nummer, kv-nr, versichertennummer
versicherten-nr, versichertennr, krankenkasse, krankenversicherungsnummer, versicherungsnummer
gesundheitskarte
`),
    source: 'SGB V, § 290',
    good: ['A123456780'],
    bad: ['A123456781'],
  }),
  identityNumber({
    id: 'us-mbi',
    name: 'US Medicare number',
    country: 'US',
    category: 'health',
    body: '[1-9][AC-HJKMNP-RT-Y][AC-HJKMNP-RT-Y0-9]\\d-?[AC-HJKMNP-RT-Y][AC-HJKMNP-RT-Y0-9]\\d-?[AC-HJKMNP-RT-Y]{2}\\d{2}',
    strength: 'medium',
    labels: ['medicare', 'mbi', 'medicare number', 'medicare beneficiary', 'medicare id'],
    source: 'CMS, MBI format',
    good: ['1EG4-TE5-MK73', '1EG4TE5MK73'],
    bad: ['1SG4-TE5-MK73'],
  }),
  identityNumber({
    id: 'au-medicare',
    name: 'Australian Medicare number',
    country: 'AU',
    category: 'health',
    body: '[2-6]\\d{3} ?\\d{5} ?\\d',
    check: 'Medicare',
    strength: 'weak',
    labels: ['medicare', 'medicare number', 'medicare no', 'medicare card'],
    source: 'Services Australia, Medicare card number',
    good: ['2123 45670 1'],
    bad: ['2123 45671 1'],
  }),
  identityNumber({
    id: 'ca-bc-phn',
    name: 'British Columbia health number',
    country: 'CA',
    category: 'health',
    body: '9\\d{3} ?\\d{3} ?\\d{3}',
    check: 'CA.bc_bhn',
    strength: 'weak',
    labels: ['phn', 'personal health number', 'health number', 'bc health'],
    source: 'BC Ministry of Health, PHN check digit',
    good: ['9698 658 215'],
    bad: ['9698 658 214'],
  }),
  {
    kind: 'pattern',
    id: 'ehic',
    name: 'European health insurance card',
    category: 'health',
    source: 'Decision S2 of the Administrative Commission (2010/C 106/09); EN 1867',
    anchor: { by: 'pattern', pattern: bounded('80\\d{3}[ ]?\\d{5}[ ]?\\d{5}[ ]?\\d{5}|80\\d{18}') },
    start: 0,
    context: labelled(
      list(`
ehic, ghic, health card, health insurance card, sygesikringskort, det blå eu-sygesikringskort, eu-kort
försäkringskort, krankenversicherungskarte, kennnummer der karte, karte
`),
    ),
    competes: true,
    examples: ['EHIC ⟦80208000010123456789⟧'],
    counterExamples: ['Order 80208000010123456789', '80208000010123456789'],
  },
  {
    kind: 'pattern',
    id: 'icd-10',
    name: 'Diagnosis code',
    category: 'health',
    source: 'WHO ICD-10',
    anchor: { by: 'pattern', pattern: bounded('D?[A-TV-Z]\\d{2}(?:\\.\\d{1,2})?') },
    start: -4,
    context: labelled(
      list(`
icd, icd-10, icd10, icd code, icd-10 code, icd-kode, diagnosis, diagnosis code, diagnoses, diagnosekode, diagnose, diagnos, diagnoskod
diagnoseschlüssel, diagnosen
`),
    ).map((c) => (c.steps === 5 ? { ...c, within: 25, steps: 6 } : c)),
    competes: true,
    mask: 'all',
    examples: ['Diagnosis (ICD-10): ⟦E11.9⟧', 'Diagnose: ⟦F32.1⟧'],
    counterExamples: ['Gate B12 opens', 'Deck A10', 'Vitamin B12'],
  },
];
