import { describe, expect, it } from 'vitest';
import { AREAS } from '../../../src/server/areas.ts';
import { shippedLibrary } from '../../../src/server/obligations/library/shipped-library.ts';

const shipped = shippedLibrary();
const { frameworks, measures } = shipped.shipped;
const controls = frameworks.flatMap((f) => f.controls.map((c) => ({ f, c })));

describe('the library that ships', () => {
  it('has no orphan measure, no control without measure and no broken reference', () => {
    // Reading it throws where it has: this is that it holds something.
    expect(frameworks.length).toBeGreaterThanOrEqual(17);
    expect(controls.length).toBeGreaterThan(700);
    expect(measures.length).toBeGreaterThanOrEqual(250);
  });

  it.each([
    ...['gdpr', 'eprivacy', 'uk-gdpr', 'ccpa', 'lgpd', 'iso-27001', 'iso-27701', 'nist-pf', 'baseline'],
  ])('has all of %s', (id) => expect(shipped.framework(id)?.whole).toBe(true));

  it.each(['fadp', 'pipeda', 'pdpa-sg', 'pdpa-th', 'hipaa', 'nis2', 'ai-act', 'nist-800-53'])(
    'has a part of %s, and says which',
    (id) => {
      const framework = shipped.framework(id);
      expect(framework?.whole).toBe(false);
      expect(framework?.covers).toMatch(/left out|and|laws of their own/);
    },
  );

  it('counts what standards count', () => {
    const inAnnex = shipped.framework('iso-27001')?.controls.filter((c) => c.id.startsWith('a-')) ?? [];
    expect(inAnnex).toHaveLength(93);
    expect(shipped.framework('nist-pf')?.controls).toHaveLength(100);
    const of27701 = shipped.framework('iso-27701')?.controls ?? [];
    expect(of27701.filter((c) => c.id.startsWith('7.'))).toHaveLength(31);
    expect(of27701.filter((c) => c.id.startsWith('8.'))).toHaveLength(18);
  });

  it('says of each control something of its own', () => {
    const newest = shipped.newest().filter((f) => f.id !== 'uk-gdpr');
    const told = newest.flatMap((f) => f.controls.map((c) => c.guidance));
    const twice = told.filter((g, i) => told.indexOf(g) !== i);
    expect(twice).toEqual([]);
    // Two sentences at least: one that says what, one that says what it comes to.
    const short = newest.flatMap((f) =>
      f.controls
        .filter((c) => (c.guidance.match(/[.!?](?:\s|$)/g) ?? []).length < 2)
        .map((c) => `${f.id} ${c.id}`),
    );
    expect(short).toEqual([]);
    // The name said once more is no guidance.
    const plain = (words: string) => words.toLowerCase().replace(/[^a-z]/g, '');
    const same = newest.flatMap((f) => f.controls.filter((c) => plain(c.name) === plain(c.guidance)));
    expect(same.map((c) => c.id)).toEqual([]);
  });

  it('tests by figures that there are, and sends to places that there are', () => {
    const figures = new Map(AREAS.flatMap((a) => a.figures ?? []).map((f) => [f.id, f]));
    for (const { id, test, where } of measures) {
      if (test) {
        expect([id, figures.has(test.figure)]).toEqual([id, true]);
        const good = figures.get(test.figure)?.good;
        expect([id, good]).toEqual([id, test.atMost === undefined ? 'more' : 'less']);
      }
      if (where !== undefined)
        expect([id, AREAS.some((a) => a.area.startsWith(where.split('/')[1] ?? '-'))]).toEqual([id, true]);
    }
  });

  it('tests much of it by itself: sixty measures, in at least half of the controls of the GDPR', () => {
    const live = new Set(measures.flatMap((m) => (m.test ? [m.id] : [])));
    expect(live.size).toBeGreaterThanOrEqual(60);
    const gdpr = shipped.framework('gdpr')?.controls ?? [];
    const served = gdpr.filter((c) => c.measures.some((m) => live.has(m)));
    expect(served.length * 2).toBeGreaterThanOrEqual(gdpr.length);
  });

  it.each(['ccpa', 'lgpd'])(
    'has a newer version of %s, whose controls are known again by their ids',
    (id) => {
      const [newer, older] = shipped.versions(id);
      expect(newer && older && newer.version > older.version).toBe(true);
      const ids = new Set(newer?.controls.map((c) => c.id));
      expect(older?.controls.every((c) => ids.has(c.id))).toBe(true);
      expect(newer?.controls.length).toBeGreaterThan(older?.controls.length ?? 0);
    },
  );

  it('answers several frameworks by one measure, far more often than not', () => {
    const frameworksOf = (id: string) =>
      new Set(controls.filter(({ c }) => c.measures.includes(id)).map(({ f }) => f.id)).size;
    expect(measures.filter((m) => frameworksOf(m.id) > 1).length).toBeGreaterThan(measures.length / 2);
  });
});
