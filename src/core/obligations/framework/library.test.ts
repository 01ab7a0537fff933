import { describe, expect, it } from 'vitest';
import { control, framework, measure } from './framework.fixture.ts';
import { Framework, Measure } from './framework.ts';
import { libraryFaults } from './library.ts';

describe('a library', () => {
  it('is whole where every control has measures that are there, and every measure a control', () => {
    expect(
      libraryFaults({ frameworks: [framework([control('a', ['m'])])], measures: [measure('m')] }),
    ).toEqual([]);
  });

  it.each([
    ['a control without measure', [control('a', [])], 'x a: No measure answers it.'],
    ['a measure that is not there', [control('a', ['m', 'n'])], 'x a: There is no measure n.'],
    ['a measure named twice', [control('a', ['m', 'm'])], 'x a: It names the measure m twice.'],
    ['a family that is not there', [control('a', ['m'], { family: 'g' })], 'x a: There is no family g.'],
    [
      'a family without control',
      [control('a', ['m'], { family: 'g' })],
      'x family all: No control is in it.',
    ],
    [
      'two controls of one id',
      [control('a', ['m']), control('a', ['m'])],
      'x a: There are two controls of this id.',
    ],
    ['a measure that answers nothing', [control('a', ['n'])], 'measure m: It answers no control.'],
  ] as const)('tells of %s', (_, controls, fault) => {
    const found = libraryFaults({ frameworks: [framework([...controls])], measures: [measure('m')] });
    expect(found.map((f) => `${f.at}: ${f.message}`)).toContain(fault);
  });

  it('may hold two versions of a framework, and not one twice', () => {
    const [one, other] = [
      framework([control('a', ['m'])]),
      framework([control('a', ['m'])], { version: '2027-01-01' }),
    ];
    expect(libraryFaults({ frameworks: [one, other], measures: [measure('m')] })).toEqual([]);
    expect(libraryFaults({ frameworks: [one, one], measures: [measure('m')] })).toHaveLength(1);
  });
});

describe('a framework as it is written', () => {
  it.each<[string, object, string]>([
    ['an id with spaces', { id: 'a b' }, 'id'],
    ['a risk of 6', { controls: [control('a', ['m'], { risk: 6 })] }, 'controls.0.risk'],
    ['no guidance', { controls: [control('a', ['m'], { guidance: ' ' })] }, 'controls.0.guidance'],
    [
      'more than 20 measures',
      {
        controls: [
          control(
            'a',
            Array.from({ length: 21 }, (_, i) => `m${i}`),
          ),
        ],
      },
      'controls.0.measures',
    ],
    ['a region that is none', { regions: ['Europe'] }, 'regions.0'],
    ['a day that is none', { version: '2026-02-30' }, 'version'],
    ['a field there is not', { colour: 'red' }, ''],
  ])('with %s is refused at its field', (_, more, field) => {
    const faults = Framework.safeParse({ ...framework([control('a', ['m'])]), ...more }).error?.issues ?? [];
    expect(faults.map((i) => i.path.join('.'))).toContain(field);
  });

  it('tests a measure by one threshold', () => {
    const test = (t: object) => Measure.safeParse({ ...measure('m'), test: { figure: 'a.b', ...t } }).success;
    expect([test({ atMost: 0 }), test({ atLeast: 1 }), test({}), test({ atMost: 1, atLeast: 0 })]).toEqual([
      ...[true, true, false, false],
    ]);
  });
});
