import type { Control, Framework, Measure } from './framework.ts';

/** A control for tests: of the family `all`, required, of the least risk. */
export const control = (id: string, measures: readonly string[], more: Partial<Control> = {}): Control => ({
  ...{ id, family: 'all', ref: id, name: id, duty: 'required', kind: 'prevents', risk: 1, guidance: id },
  measures: [...measures],
  ...more,
});

export const framework = (controls: readonly Control[], more: Partial<Framework> = {}): Framework => ({
  ...{ format: 'yare-framework-1', id: 'x', version: '2026-01-01', name: 'X', title: 'X', issuer: 'X' },
  ...{ regions: [], covers: 'All', whole: true, families: [{ id: 'all', name: 'All' }] },
  controls: [...controls],
  ...more,
});

export const measure = (id: string, more: Partial<Measure> = {}): Measure => ({
  ...{ id, name: id, steps: ['Do it'], evidence: ['It'], hours: 8, whose: 'ours' },
  ...more,
});
