import { describe, expect, it } from 'vitest';
import { control, framework } from './framework.fixture.ts';
import { versionDifferences } from './version-differences.ts';

describe('another version of a framework', () => {
  const before = framework([control('a', ['m']), control('b', ['m']), control('c', ['n'])]);

  it('is told control by control: what is new, gone, or says otherwise, field by field', () => {
    const after = framework([
      control('a', ['m']),
      control('b', ['m', 'n'], { duty: 'by choice', risk: 4 }),
      control('d', ['n'], { ref: 'Art. 9' }),
    ]);
    expect(versionDifferences(before, after)).toEqual([
      {
        ...{ control: 'b', ref: 'b', name: 'b', is: 'changed' },
        fields: [
          { field: 'duty', before: 'required', after: 'by choice' },
          { field: 'risk', before: '1', after: '4' },
          { field: 'measures', before: 'm', after: 'm; n' },
        ],
      },
      { control: 'c', ref: 'c', name: 'c', is: 'gone', fields: [] },
      { control: 'd', ref: 'Art. 9', name: 'd', is: 'new', fields: [] },
    ]);
  });

  it('tells of measures by their names', () => {
    const after = framework([control('a', ['n']), control('b', ['m']), control('c', ['n'])]);
    const names = new Map([['n', { name: 'Train staff' }]]);
    expect(versionDifferences(before, after, names)[0]?.fields).toEqual([
      { field: 'measures', before: 'm', after: 'Train staff' },
    ]);
  });

  it('that says the same differs in nothing, in whatever order its controls stand', () => {
    expect(versionDifferences(before, before)).toEqual([]);
    expect(versionDifferences(before, { ...before, controls: before.controls.toReversed() })).toEqual([]);
  });

  it('has just the other’s differences the other way round', () => {
    const after = framework([control('a', ['m'], { guidance: 'Otherwise.' }), control('d', ['n'])]);
    const turned = versionDifferences(after, before).map((d) => ({
      ...d,
      is: { new: 'gone', gone: 'new', changed: 'changed' }[d.is],
      fields: d.fields.map((f) => ({ field: f.field, before: f.after, after: f.before })),
    }));
    const byControl = (a: { control: string }, b: { control: string }) => a.control.localeCompare(b.control);
    expect(turned.sort(byControl)).toEqual([...versionDifferences(before, after)].sort(byControl));
  });
});
