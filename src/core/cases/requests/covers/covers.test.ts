import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { runs } from '../../../../../tests/property-runs.ts';
import { recognise, type ReadDocument } from '../person/recognise.ts';
import { table } from '../../../../../tests/request-tables.ts';
import { Subject } from '../person/subject.ts';
import { withoutPerson } from '../erasure/without-person.ts';
import type { Cover } from './cover.ts';
import { COVER_BLOCK, coveredPieces, coveredText, coveredValues } from './covered-text.ts';
import { standing } from './leftovers.ts';
import { merged, proposeCovers, type PersonalSpan } from './propose-covers.ts';
import { reduceDocument } from './reading.ts';
import { shownTable } from './shown.ts';

const MAJA = Subject.parse({ name: 'Maja Holmqvist', emails: ['maja@post.example'], numbers: ['BS482910'] });

function read(text: string, found: readonly (readonly [string, string, string])[]) {
  const personal: PersonalSpan[] = found.flatMap(([value, detector, category]) =>
    [...text.matchAll(new RegExp(value.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'), 'g'))].map((m) => ({
      start: m.index,
      end: m.index + value.length,
      detector,
      category,
    })),
  );
  const traits = { email: 'e-mail', 'person-name': 'name', phone: 'phone' } as const;
  const document: ReadDocument = {
    ...{ text, segments: [] },
    found: personal.flatMap((p) =>
      p.detector in traits
        ? [{ start: p.start, end: p.end, trait: traits[p.detector as keyof typeof traits] }]
        : [],
    ),
  };
  return { document, personal };
}

const propose = (text: string, found: readonly (readonly [string, string, string])[]) => {
  const { document, personal } = read(text, found);
  return proposeCovers(MAJA, document, recognise(MAJA, document), personal);
};

describe('what is proposed to be covered', () => {
  const LETTER =
    "Dear Ms Holmqvist, you and Per Alm are at one table. Mr Alm's wheelchair goes with 0701 740 605. Your booking is BS482910. Per likes it.";
  const FOUND = [
    ['Per Alm', 'person-name', 'identity'],
    ['0701 740 605', 'phone', 'contact'],
    ['wheelchair', 'disability', 'special category'],
  ] as const;

  it('is every name and number of others, with each mention by one name alone; never hers', () => {
    const { covers, others } = propose(LETTER, FOUND);
    expect(coveredText(LETTER, covers)).toBe(
      `Dear Ms Holmqvist, you and ${COVER_BLOCK} are at one table. Mr ${COVER_BLOCK}'s wheelchair goes with ${COVER_BLOCK}. Your booking is BS482910. ${COVER_BLOCK} likes it.`,
    );
    expect(others).toBe(1);
  });

  it('puts in doubt what is tender where others are told of, and not where nobody is', () => {
    expect(propose(LETTER, FOUND).doubts).toHaveLength(1);
    expect(
      propose('I need a wheelchair, BS482910', [['wheelchair', 'disability', 'special category']]).doubts,
    ).toEqual([]);
  });

  it('leaves a family name that is both hers and another’s to a person', () => {
    const text = 'Olle Holmqvist and Maja Holmqvist. Holmqvist wrote, BS482910.';
    const { covers, doubts } = propose(text, [
      ['Olle Holmqvist', 'person-name', 'identity'],
      ['Maja Holmqvist', 'person-name', 'identity'],
    ]);
    expect(coveredText(text, covers)).toBe(`${COVER_BLOCK} and Maja Holmqvist. Holmqvist wrote, BS482910.`);
    expect(doubts.map((d) => text.slice(d.start, d.end))).toEqual(['Holmqvist']);
  });

  it.each([
    ['in capitals', 'Per Alm', 'Cabin of ALM, PER.', `Cabin of ${COVER_BLOCK}, ${COVER_BLOCK}.`],
    [
      'with an apostrophe',
      "Sean O'Brien",
      "O’Brien's bag, then O'Brien.",
      `${COVER_BLOCK}'s bag, then ${COVER_BLOCK}.`,
    ],
    [
      'joined',
      'Anne-Marie Dahl',
      'Anne-Marie said; Marie signed.',
      `${COVER_BLOCK} said; ${COVER_BLOCK} signed.`,
    ],
    ['with marks set apart', 'Zoé Dahl', 'Zoe\u0301 came.', `${COVER_BLOCK} came.`],
    ['within another word', 'Per Alm', 'Almost all. Personnel.', 'Almost all. Personnel.'],
    ['with a particle', 'Jan van Dijk', 'Van to Dijk. A van.', `Van to ${COVER_BLOCK}. A van.`],
    ['with what a pattern would read', 'Per Alm', 'Alm.* (Alm)', `${COVER_BLOCK}.* (${COVER_BLOCK})`],
  ])('covers a mention by one name %s', (_, name, rest, wanted) => {
    const text = `BS482910: ${name}. ${rest}`;
    const { covers } = propose(text, [[name, 'person-name', 'identity']]);
    expect(coveredText(text, covers)).toBe(`BS482910: ${COVER_BLOCK}. ${wanted}`);
  });

  it('leaves a mention of two letters to a person, for it may be a word', () => {
    const text = 'BS482910: Bo Lind. Bo i byen er dyrt.';
    const { covers, doubts } = propose(text, [['Bo Lind', 'person-name', 'identity']]);
    expect(coveredText(text, covers)).toBe(`BS482910: ${COVER_BLOCK}. Bo i byen er dyrt.`);
    expect(doubts.map((d) => d.start)).toEqual([19]);
  });

  it('leaves no mention of another standing, whatever stands around, and covers nothing else', () => {
    const others = ['Per Alm', 'Lisbeth Krag', "Nora O'Shea", 'Åse Brandt-Holm'];
    const words = ['and', 'berth 4,', 'Maja Holmqvist', 'BS482910', '—', '\n', '(with)', 'Ms Holmqvist'];
    const piece = fc.oneof(
      fc.constantFrom(...words).map((w) => ({ w, other: false })),
      fc.constantFrom(...others, ...others.flatMap((o) => o.split(' '))).map((w) => ({ w, other: true })),
    );
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 30 }), fc.boolean(), (pieces, loud) => {
        const all = [...others.map((w) => ({ w, other: true })), { w: 'BS482910', other: false }, ...pieces];
        const text = all
          .map((p, i) => (loud && p.other && i >= others.length ? p.w.toUpperCase() : p.w))
          .join(' ; ');
        const { covers } = propose(
          text,
          others.map((o) => [o, 'person-name', 'identity'] as const),
        );
        const wanted = all.map((p) => (p.other ? COVER_BLOCK : p.w)).join(' ; ');
        // A full name in capitals that no detector found is two mentions.
        const one = (t: string) => t.replaceAll(`${COVER_BLOCK} ${COVER_BLOCK}`, COVER_BLOCK);
        expect(one(coveredText(text, covers))).toBe(one(wanted));
      }),
      runs(200),
    );
  });

  it('covers no number of an organisation', () => {
    expect(propose('CVR 12345678, BS482910', [['12345678', 'dk-cvr', 'identity']]).covers).toEqual([]);
  });
});

describe('covered text', () => {
  const spans = fc.array(
    fc.tuple(fc.integer({ min: 0, max: 40 }), fc.integer({ min: 1, max: 12 })).map(([start, n]): Cover => ({
      start,
      end: start + n,
      what: 'word',
      ground: 'another person',
      by: 'hand',
    })),
    { maxLength: 8 },
  );
  const text = 'abcdefghijklmnopqrstuvwxyz0123456789ABCDEFGHIJKLMNOPQR';

  it('holds no sign that was covered, and every other once, in order', () => {
    fc.assert(
      fc.property(spans, (covers) => {
        const isCovered = (i: number) => covers.some((c) => i >= c.start && i < c.end);
        const left = [...text].filter((_, i) => !isCovered(i)).join('');
        expect(coveredText(text, covers).replaceAll(COVER_BLOCK, '')).toBe(left);
        expect(coveredText(text, merged(covers)).replaceAll(COVER_BLOCK, '')).toBe(left);
      }),
    );
  });

  it('tells nothing by the length of a cover', () => {
    const cover = (end: number): Cover => ({ start: 0, end, what: 'word', ground: 'secret', by: 'hand' });
    expect(coveredText('abcdefghij', [cover(2)]).startsWith(COVER_BLOCK)).toBe(true);
    const block = (end: number) => coveredPieces('abcdefghij', [cover(end)])[0]?.text;
    expect(block(2)).toBe(block(9));
  });
});

describe('a document reduced to what is theirs', () => {
  const HEAD = ['Name', 'E-mail', 'Remark'];
  const ROWS = [
    ['Per Alm', 'per@post.example', 'wheelchair'],
    ['Maja Holmqvist', 'maja@post.example', 'late'],
    ['Åsa Berg', 'asa@post.example', ''],
  ];

  it('has the headings and their rows, and nothing of the others', () => {
    const document = table(HEAD, ROWS);
    const reduced = reduceDocument(document, recognise(MAJA, document));
    expect(reduced).toMatchObject({ rowsTheirs: 1, rowsLeft: 2 });
    expect(reduced.text).toContain('Name\tE-mail');
    for (const [name = '', mail = ''] of [ROWS[0] ?? [], ROWS[2] ?? []]) {
      expect(reduced.text).not.toContain(name);
      expect(reduced.text).not.toContain(mail);
    }
    for (const s of reduced.segments) expect(document.text).toContain(reduced.text.slice(s.start, s.end));
  });

  it('is shown as a table with a column for each heading', () => {
    const document = table(HEAD, ROWS);
    const { text, segments } = reduceDocument(document, recognise(MAJA, document));
    const reading = {
      text,
      covers: [],
      own: [],
      doubts: [],
      bearer: '',
      why: '',
      segments: segments.map(({ start, end, heading, record }) => ({
        start,
        end,
        ...(heading ? { heading } : {}),
        ...(record === undefined ? {} : { record }),
      })),
    };
    expect(shownTable(reading)).toEqual({
      columns: HEAD,
      rows: [['Maja Holmqvist', 'maja@post.example', 'late']],
    });
  });

  it('keeps of many messages those that tell of them', () => {
    const [a, b] = ['To maja@post.example: hello. ', 'To per@post.example: hello Per. '];
    const document: ReadDocument = {
      ...{ text: a + b, found: [], splits: true },
      segments: [
        { start: 0, end: a.length, place: { part: '1' } },
        { start: a.length, end: a.length + b.length, place: { part: '2' } },
      ],
    };
    expect(reduceDocument(document, recognise(MAJA, document)).text).toBe(a);
  });

  it('keeps each row of theirs, and never a value of another row', () => {
    const row = fc.tuple(
      fc.constantFrom('Per Alm', 'Åsa Berg', 'Maja Holmqvist'),
      fc.constantFrom('maja@post.example', 'per@post.example', ''),
      fc.stringMatching(/^[a-z]{8}$/),
    );
    fc.assert(
      fc.property(fc.array(row, { minLength: 1, maxLength: 10 }), (rows) => {
        const document = table(HEAD, rows);
        const found = recognise(MAJA, document);
        const { text } = reduceDocument(document, found);
        const hers = new Set(found.parts.filter((p) => p.sure !== 'namesake').map((p) => p.record));
        for (const [i, [, , remark]] of rows.entries())
          expect(text.includes(remark)).toBe(
            hers.has(i + 1) || rows.some((r, j) => r[2] === remark && hers.has(j + 1)),
          );
      }),
    );
  });
});

test('a text without somebody keeps every other line as it was', () => {
  const text = 'Name;E-mail\nPer;per@post.example\nMaja Holmqvist;maja@post.example\nÅsa;asa@post.example\n';
  const segments = [...text.matchAll(/[^;\n]+/g)].map((m) => {
    const record = text.slice(0, m.index).split('\n').length - 1;
    return {
      start: m.index,
      end: m.index + m[0].length,
      place: { cell: 'A1' },
      record,
      ...(record === 0 ? {} : { heading: 'x' }),
    };
  });
  const document: ReadDocument = { text, segments, found: [] };
  expect(withoutPerson(document, recognise(MAJA, document))).toBe(
    'Name;E-mail\nPer;per@post.example\nÅsa;asa@post.example\n',
  );
  const note: ReadDocument = { text: 'Call maja@post.example, then Per.', segments: [], found: [] };
  expect(withoutPerson(note, recognise(MAJA, note))).toBe('Call [removed], then Per.');
});

test.each<[string, string, boolean]>([
  ['Per Alm', 'you and per alm sail', true],
  ['Alm', 'Almsund', false],
  ['Alm', 'Alm', false],
  ['Palme', 'Palme.', true],
  ['Holmqvist', 'Ms Holmqvist', false],
  ['maja@post.example', 'to maja@post.example', false],
])('%s in %j stands there: %s', (value, text, stands) => {
  expect(standing([value], [{ file: 'a', text }], MAJA).length > 0).toBe(stands);
});

test('values that were covered are told once each', () => {
  const cover = (start: number, end: number): Cover => ({
    start,
    end,
    what: 'x',
    ground: 'secret',
    by: 'hand',
  });
  expect(coveredValues('Per and Per', [cover(0, 3), cover(8, 11)])).toEqual(['Per']);
});
