import { describe, expect, it, test } from 'vitest';
import { RefusedError } from '../../../core/refusal.ts';
import { KnownTracker } from '../../../core/websites/trackers/known-tracker.ts';
import { csvLine } from '../../http/csv.ts';
import { knownTrackerJson, knownTrackerTable, readKnownTrackers } from './known-tracker-file.ts';

const bytes = (text: string) => new TextEncoder().encode(text);
const ENTRIES = [
  KnownTracker.parse({
    name: '=cmd|x',
    purpose: 'measurement',
    provider: '@home',
    texts: { en: 'Counts, “quoted”', da: 'Tæller\nlinjer' },
  }),
  KnownTracker.parse({
    name: 'uid_*',
    match: 'wildcard',
    kind: 'cookie',
    domain: 'a.example',
    purpose: 'advertising',
    lifetime: '13 months',
  }),
];

describe('a library goes out and comes back', () => {
  it('as CSV that no spreadsheet runs', () => {
    const csv = knownTrackerTable(ENTRIES).map(csvLine).join('');
    expect(csv).toContain("'=cmd|x");
    expect(readKnownTrackers('x.csv', bytes(csv))).toEqual(ENTRIES);
  });

  it('as JSON', () => {
    expect(readKnownTrackers('x.json', bytes(knownTrackerJson(ENTRIES)))).toEqual(ENTRIES);
  });

  test.each([
    [
      'semicolons and a mark of byte order',
      bytes('\uFEFFName;Purpose;Text_sv\r\nuid;measurement;Räknar\r\n'),
      { sv: 'Räknar' },
    ],
    ['tabs', bytes('name\tpurpose\nuid\tmeasurement\n'), {}],
    [
      'Windows-1252',
      Uint8Array.from([...bytes('name,purpose,text_da\nuid,measurement,T'), 0xe6, ...bytes('ller\n')]),
      { da: 'Tæller' },
    ],
  ])('from %s', (_words, content, texts) => {
    expect(readKnownTrackers('x.csv', content)).toMatchObject([
      { name: 'uid', purpose: 'measurement', texts },
    ]);
  });
});

test.each([
  ['no purpose column', 'name,kind\nuid,cookie\n', 'file'],
  ['an unknown kind', 'name,purpose,kind\nuid,measurement,biscuit\n', 'line 2, kind'],
  ['no name', 'name,purpose\na,measurement\n,measurement\n', 'line 3, name'],
  ['an expression that is none', 'name,purpose,match\n(,measurement,expression\n', 'line 2, name'],
  ['broken JSON', '{"format":', 'file'],
  ['other JSON', '{"a":1}', 'file'],
  ['nothing', '', 'file'],
])('%s is refused, and says where', (_words, text, field) => {
  try {
    readKnownTrackers('x', bytes(text));
    expect.unreachable();
  } catch (error) {
    expect(error).toBeInstanceOf(RefusedError);
    expect((error as RefusedError).fields[0]?.field).toBe(field);
  }
});
