import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fileFaults } from './framework-faults.ts';
import { FrameworkFile, resolvedFramework } from './framework-file.ts';
import { AROUND, BASE, soundFile } from './framework-file.fixture.ts';
import { control, measure } from './framework.fixture.ts';
import { Framework } from './framework.ts';

const file = (more: Partial<FrameworkFile> = {}): FrameworkFile => ({
  ...{
    format: 'yare-framework-1',
    id: 'own',
    version: '2026-01-01',
    name: 'Own',
    title: 'Own',
    issuer: 'We',
  },
  ...{ regions: [], covers: 'All', whole: true, families: [{ id: 'all', name: 'All' }] },
  controls: [control('a', ['m1'])],
  ...more,
});

describe('a file of a framework', () => {
  it('has nothing wrong where all it names is there, and makes a framework', () => {
    fc.assert(
      fc.property(soundFile, (f) => {
        expect(FrameworkFile.parse(f)).toEqual(f);
        expect(fileFaults(f, AROUND)).toEqual([]);
        expect(Framework.safeParse(resolvedFramework(f, AROUND)).error?.issues).toBeUndefined();
      }),
    );
  });

  it.each<[string, Partial<FrameworkFile>, string]>([
    ['the id of one that ships', { id: 'base' }, 'id'],
    [
      'to extend one that is not there',
      { extends: { framework: 'no', version: '2026-01-01' } },
      'extends.framework',
    ],
    [
      'to extend a version that is not there',
      { extends: { framework: 'base', version: '2026-01-01' } },
      'extends.version',
    ],
    [
      'to take from a version that is not there',
      { takes: [{ framework: 'base', version: '2020-01-01', controls: ['1'] }] },
      'takes.0.version',
    ],
    [
      'to take a control that is not there',
      { takes: [{ framework: 'base', version: '2025-01-01', controls: ['9'] }] },
      'takes.0.controls',
    ],
    [
      'to take one twice',
      { takes: [{ framework: 'base', version: '2025-01-01', controls: ['1', '1'] }] },
      'takes.0.controls',
    ],
    [
      'to take of what it extends',
      {
        extends: { framework: 'base', version: '2025-01-01' },
        takes: [{ framework: 'base', version: '2025-01-01', controls: ['1'] }],
      },
      'takes.0.framework',
    ],
    ['a measure of its own that ships', { measures: [measure('m1')] }, 'measures.0.id'],
    ['a measure of its own that answers nothing', { measures: [measure('z')] }, 'measures.0.id'],
    [
      'a figure that is not there',
      {
        controls: [control('a', ['z'])],
        measures: [measure('z', { test: { figure: 'no.such', atMost: 0 } })],
      },
      'measures.0.test.figure',
    ],
    ['no control', { controls: [], families: [] }, 'controls'],
    [
      'the second of two controls of one id',
      { controls: [control('a', ['m1']), control('a', ['m1'])] },
      'controls.1.id',
    ],
    ['an unknown measure', { controls: [control('a', ['m9'])] }, 'controls.0.measures'],
  ])('with %s is told so at its field', (_, more, path) => {
    expect(fileFaults(file(more), AROUND).map((f) => f.path.join('.'))).toContain(path);
  });

  it('has the controls of what it extends, with its own in their places', () => {
    const own = control('2', ['m2'], { name: 'Ours' });
    const made = resolvedFramework(
      file({ extends: { framework: 'base', version: '2025-01-01' }, controls: [own, control('5', ['m3'])] }),
      AROUND,
    );
    expect(made.controls.map((c) => c.id)).toEqual(['1', '2', '3', '4', '5']);
    expect(made.controls[1]).toEqual(own);
    expect(made.controls[0]).toEqual(BASE.controls[0]);
  });

  it('knows what it takes by where it is from, in families of their own', () => {
    const made = resolvedFramework(
      file({ takes: [{ framework: 'base', version: '2025-01-01', controls: ['3', '1'] }] }),
      AROUND,
    );
    expect(made.controls.map((c) => [c.id, c.family, c.ref])).toEqual([
      ['base.1', 'base.all', 'Base Art. 1'],
      ['base.3', 'base.all', 'Base Art. 3'],
      ['a', 'all', 'a'],
    ]);
    expect(made.families.map((f) => f.name)).toEqual(['Base: All', 'All']);
  });

  it('holds text alone: no signs that no file could carry', () => {
    const named = (name: string) => FrameworkFile.safeParse(file({ name }));
    expect(named('a\u0001b').success).toBe(false);
    expect(named('a\ud800').success).toBe(false);
    expect(named(' a\r\nb ').data?.name).toBe('a\nb');
    expect(named('Åse 🛳').success).toBe(true);
  });
});
