import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { soundFile } from '../framework/framework-file.fixture.ts';
import { FrameworkFile } from '../framework/framework-file.ts';
import { OscalDocument } from './oscal-shape.fixture.ts';
import { idOf, prop, said, tokenOf, uuidOf } from './oscal.ts';
import { isOscal, readOscal } from './read-framework.ts';
import { oscalOf } from './write-framework.ts';

const to64 = (text: string) => Buffer.from(text).toString('base64');
const from64 = (text: string) => Buffer.from(text, 'base64').toString();
const AT = new Date('2026-11-30T10:00:00Z');

describe('a framework in OSCAL', () => {
  it('has the shape that the standard gives, and is read back as it was', () => {
    fc.assert(
      fc.property(soundFile, (f) => {
        const made = JSON.parse(JSON.stringify(oscalOf(f, AT, to64))) as unknown;
        expect(OscalDocument.safeParse(made).error?.issues).toBeUndefined();
        expect(isOscal(made)).toBe(true);
        const { value, notes } = readOscal(made, from64);
        expect(FrameworkFile.parse(value)).toEqual(f);
        expect(notes).toEqual([]);
      }),
      { numRuns: 300 },
    );
  });

  it('is the same document each time, but for the instant', () => {
    const [f] = fc.sample(soundFile, 1) as [FrameworkFile];
    expect(oscalOf(f, AT, to64)).toEqual(oscalOf(f, AT, to64));
  });
});

const foreign = {
  catalog: {
    uuid: uuidOf('foreign'),
    metadata: {
      title: 'A catalog of others',
      version: '5.1.1',
      'last-modified': '2024-02-20T00:00:00Z',
      'oscal-version': '1.1.2',
    },
    groups: [
      {
        id: 'ac',
        title: 'Access',
        controls: [
          {
            id: 'ac-1',
            title: 'Policy',
            params: [{ id: 'ac-1_prm_1', label: 'roles' }],
            props: [{ name: 'label', value: 'AC-1' }],
            parts: [
              {
                id: 'ac-1_smt',
                name: 'statement',
                parts: [
                  { name: 'item', prose: 'Develop, for {{ insert: param, ac-1_prm_1 }}:' },
                  { name: 'item', prose: 'a policy.' },
                ],
              },
              { id: 'ac-1_gdn', name: 'guidance', prose: 'Policies say who does what.' },
            ],
            controls: [
              { id: 'ac-1.1', title: 'More', props: [{ name: 'label', value: 'AC-1(1)' }] },
              { id: 'ac-1.2', title: 'Gone', props: [{ name: 'status', value: 'withdrawn' }] },
            ],
          },
        ],
      },
      { title: 'Rest', groups: [{ id: 'XY', title: 'Inner', controls: [{ id: 'XY-1', title: 'One' }] }] },
    ],
    controls: [{ id: 'loose', title: 'In no group' }],
  },
};

describe('a catalog of others', () => {
  const { value, notes } = readOscal(foreign, from64) as {
    value: FrameworkFile;
    notes: readonly string[];
  };

  it('gives its groups and controls, those within others too, and none that was withdrawn', () => {
    expect(value.families).toEqual([
      { id: 'ac', name: 'Access' },
      { id: 'xy', name: 'Rest: Inner' },
      { id: 'all', name: 'All' },
    ]);
    expect(value.controls.map((c) => [c.id, c.family, c.ref])).toEqual([
      ['ac-1', 'ac', 'AC-1'],
      ['ac-1.1', 'ac', 'AC-1(1)'],
      ['xy-1', 'xy', 'XY-1'],
      ['loose', 'all', 'loose'],
    ]);
  });

  it('is guided by its statement and guidance, with what is to be filled in left open', () => {
    expect(value.controls[0]?.guidance).toBe(
      'Develop, for [ac-1_prm_1]: a policy. Policies say who does what.',
    );
  });

  it('is as usual in what it does not say, and that is told', () => {
    expect(value.controls[0]).toMatchObject({ duty: 'required', kind: 'prevents', risk: 3, measures: [] });
    expect(notes).toEqual([
      'Of 4 controls it does not say duty, kind or risk: they are taken as required, prevents and 3.',
    ]);
    expect(value).toMatchObject({ id: 'a-catalog-of-others', version: '2024-02-20' });
  });
});

describe('what is no OSCAL', () => {
  it.each<[string, unknown, RegExp]>([
    ['a catalog without metadata', { catalog: { uuid: 'x' } }, /catalog\.metadata/],
    ['a catalog of a wrong kind', { catalog: [] }, /It is no OSCAL catalog/],
    [
      'a profile of nothing',
      { profile: { uuid: 'x', metadata: foreign.catalog.metadata, imports: [] } },
      /imports/,
    ],
    [
      'a profile whose import is not in it',
      { profile: { uuid: 'x', metadata: foreign.catalog.metadata, imports: [{ href: '#y' }] } },
      /there is no resource #y/,
    ],
    [
      'a profile of two whole ones',
      {
        profile: {
          uuid: 'x',
          metadata: foreign.catalog.metadata,
          imports: [{ href: '#a' }, { href: '#b' }],
          'back-matter': {
            resources: ['a', 'b'].map((uuid) => ({
              uuid,
              props: [prop('framework', uuid), prop('framework-version', '2025-01-01')],
            })),
          },
        },
      },
      /all of two frameworks/,
    ],
  ])('is %s', (_, value, words) => {
    expect(() => readOscal(value, from64)).toThrow(words);
  });
});

describe('a property', () => {
  it('keeps lines that its value cannot', () => {
    fc.assert(
      fc.property(
        fc.string({ minLength: 1 }).map((t) => `a${t}b`),
        (text) => {
          expect(said([prop('x', text)], 'x')).toEqual([text]);
        },
      ),
    );
  });
});

it('makes a token of any id, and the id of it again', () => {
  expect(['5-1-a', 'a.1', '27'].map(tokenOf)).toEqual(['_5-1-a', 'a.1', '_27']);
  expect(['5-1-a', 'a.1', '27'].map(tokenOf).map(idOf)).toEqual(['5-1-a', 'a.1', '27']);
});

it('makes a UUID of version 5 of a name, always the same', () => {
  expect(uuidOf('a')).toMatch(/^[0-9a-f]{8}-[0-9a-f]{4}-5[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/);
  expect(uuidOf('a')).toBe(uuidOf('a'));
  expect(uuidOf('a')).not.toBe(uuidOf('b'));
});
