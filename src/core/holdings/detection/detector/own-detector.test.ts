import { describe, expect, it } from 'vitest';
import { DETECTOR_KINDS, DetectorDraft, idOf, newDetector, OwnDetector } from './own-detector.ts';

describe('a new detector', () => {
  it.each(DETECTOR_KINDS)('of the kind %s can be kept as a draft', (kind) => {
    expect(DetectorDraft.safeParse(newDetector(kind, 'an-id', 'A name')).error).toBeUndefined();
  });

  it.each([
    ['roster', 'Choose at least one column that names a record'],
    ['likeness', 'Add at least one blank document'],
    ['learned', 'Train it first'],
  ] as const)('of the kind %s is not whole', (kind, words) => {
    const parsed = OwnDetector.safeParse(newDetector(kind, 'an-id', 'A name'));
    expect(parsed.error?.issues.map((i) => i.message)).toEqual([words]);
  });
});

describe('an id', () => {
  it.each([
    ['Crew number', 'crew-number'],
    ['Ærø færge-nr.', 'aero-faerge-nr'],
    ['Straße 12', 'strasse-12'],
    ['42', 'detector'],
    ['日本', 'detector'],
    ['<script>alert(1)</script>', 'script-alert-1-script'],
  ])('of %j is %s', (name, id) => {
    expect(idOf(name, new Set())).toBe(id);
  });

  it('that is taken gets a number', () => {
    expect(idOf('Crew', new Set(['crew', 'crew-2']))).toBe('crew-3');
  });
});
