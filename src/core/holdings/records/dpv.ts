import type { ActivityContent } from './activity.ts';

/** Terms of the Data Privacy Vocabulary 2 (W3C) and of its extension for the GDPR. */
const CONTEXT = {
  dpv: 'https://w3id.org/dpv#',
  gdpr: 'https://w3id.org/dpv/legal/eu/gdpr#',
  dct: 'http://purl.org/dc/terms/',
} as const;

const BASIS: Readonly<Record<ActivityContent['basis'], string>> = {
  consent: 'gdpr:A6-1-a',
  contract: 'gdpr:A6-1-b',
  'legal obligation': 'gdpr:A6-1-c',
  'vital interests': 'gdpr:A6-1-d',
  'public task': 'gdpr:A6-1-e',
  'legitimate interests': 'gdpr:A6-1-f',
};
const SPECIAL: Readonly<Record<Exclude<ActivityContent['special'], 'none'>, string>> = {
  'explicit consent': 'gdpr:A9-2-a',
  'employment law': 'gdpr:A9-2-b',
  'vital interests': 'gdpr:A9-2-c',
  'made public': 'gdpr:A9-2-e',
  'legal claims': 'gdpr:A9-2-f',
  'substantial public interest': 'gdpr:A9-2-g',
  'health care': 'gdpr:A9-2-h',
  'public health': 'gdpr:A9-2-i',
  archiving: 'gdpr:A9-2-j',
};
const SAFEGUARD: Readonly<Record<string, string>> = {
  'standard clauses': 'gdpr:A46-2-c',
  'binding rules': 'gdpr:A46-2-b',
  certification: 'gdpr:A46-2-f',
  derogation: 'gdpr:A49',
};

/** Records of processing as JSON-LD, for other programs. */
export function dpvDocument(
  activities: readonly { readonly id: string; readonly content: ActivityContent }[],
  nameOf: (detector: string) => string,
): object {
  return {
    '@context': CONTEXT,
    '@graph': activities.map(({ id, content: c }) => ({
      '@id': `urn:activity:${id}`,
      '@type': 'dpv:Process',
      'dct:title': c.name,
      ...(c.role === 'controller'
        ? { 'dpv:hasDataController': c.owner }
        : { 'dpv:hasDataProcessor': c.owner }),
      'dpv:hasPurpose': c.purpose,
      'dpv:hasLegalBasis': [
        { '@id': BASIS[c.basis] },
        ...(c.special === 'none' ? [] : [{ '@id': SPECIAL[c.special] }]),
      ],
      'dpv:hasDataSubject': c.people,
      'dpv:hasPersonalData': c.data.map(nameOf),
      'dpv:hasRecipient': c.recipients.map((r) => ({
        'dct:title': r.name,
        ...(r.country ? { 'dpv:hasCountry': r.country } : {}),
        ...(SAFEGUARD[r.safeguard]
          ? { 'dpv:hasDataTransferLegalBasis': { '@id': SAFEGUARD[r.safeguard] } }
          : {}),
      })),
      'dpv:hasStorageCondition': c.retention,
      'dpv:hasTechnicalOrganisationalMeasure': c.measures,
    })),
  };
}
