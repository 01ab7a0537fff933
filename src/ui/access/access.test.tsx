// @vitest-environment jsdom
import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { sheetTest, AUDITOR } from '../../../tests/sheet.tsx';
import type { ListedFinding } from '../../server/access/breadth/find-breadth.ts';
import type { ChangeView } from '../../server/access/change/view-change.ts';
import type { GrantView, PairView, PlaceNode } from '../../server/access/index/place-answers.ts';
import type { ReviewView } from '../../server/access/review/reviews.ts';
import { mendingOf } from './broad/BroadSheet.tsx';
import { findingFigures, findingWords } from './broad/finding-words.ts';
import { ChangeSheet } from './changes/ChangeSheet.tsx';
import { HandsSheet } from './hands/HandsSheet.tsx';
import { PairWays } from './PairWays.tsx';
import { GrantsTab } from './places/GrantsTab.tsx';
import { placeTreeNode, seenTreeNode } from './places/place-node.ts';
import { WideGrant } from './places/WideGrant.tsx';
import { ReviewSheet } from './reviews/ReviewSheet.tsx';
import { SourcesSheet } from './sources/SourcesSheet.tsx';

const test = sheetTest('/access/places/k');

describe('a place in its tree', () => {
  const node: PlaceNode = { key: 'k', name: 'July', opens: true, mark: 'own', differs: 2 };

  it.each<[Partial<PlaceNode>, object]>([
    [{}, { tag: { words: 'own' }, figure: '◇ 2 below' }],
    [{ mark: 'adds', differs: 0 }, { tag: { words: 'adds', broken: true } }],
    [{ mark: 'inherits', differs: 0 }, {}],
  ])('tells by word and shape what it has of its own: %o', (more, told) => {
    expect(placeTreeNode({ ...node, ...more })).toEqual({ id: 'k', name: 'July', opens: true, ...told });
  });

  it.each<[Partial<PlaceNode>, string, boolean]>([
    [{ strength: 'read', below: true }, 'read', false],
    [{ strength: null, below: true }, 'only below', true],
    [{ strength: null, below: false }, 'not reached', true],
  ])('is told as somebody sees it: %o', (more, figure, dim) => {
    expect(seenTreeNode({ ...node, ...more })).toMatchObject({ figure, dim });
  });
});

describe('what is too broad', () => {
  const finding = (more: Partial<ListedFinding>): ListedFinding => ({
    ...{ id: 1, kind: 'exposed', weight: 9, place: '1/a', name: 'A', placeKey: 'pk', whoKey: null },
    ...{ path: '', data: [], mark: true, link: undefined },
    counts: { reach: 412, used: 9, anyone: 0, sensitive: 97 },
    ...more,
  });

  it('is told with the numbers behind its weight, and mended where one change does it', () => {
    expect(findingFigures(finding({}))).toBe('412 reach it − 9 used it, × 97 sensitive');
    expect(findingWords(finding({ counts: { anyone: 1 } }))).toContain('link for anyone');
    const link = finding({
      kind: 'link without end',
      link: 'l',
      counts: { people: 3, anyone: 0, sensitive: 1 },
    });
    expect(mendingOf(link, new Date('2026-11-30T10:00:00Z'))).toEqual({
      ...{ act: 'end link', place: 'pk', link: 'l', until: '2026-12-14' },
    });
    expect(mendingOf(finding({ kind: 'leaver', placeKey: null, whoKey: 'wk' }), new Date())).toEqual({
      ...{ act: 'clear', who: ['wk'] },
    });
    expect(mendingOf(finding({}), new Date())).toBeUndefined();
  });
});

describe('how somebody comes to a place', () => {
  const pair = (more: Partial<PairView> = {}): PairView => ({
    ...{ person: { key: 'p', name: 'Karl Wede', work: '' }, place: { key: 'k', name: 'July' }, words: [] },
    found: {
      strength: 'change',
      steps: 7,
      ways: [],
      denials: [],
      stoppedAt: null,
      closed: false,
      unknown: null,
    },
    ways: [
      {
        steps: [
          { is: 'person', words: 'Karl Wede', key: 'p' },
          { is: 'group', words: 'Port clerks', key: 'g' },
          { is: 'strength', words: 'change', key: null },
          { is: 'place', words: 'July', key: 'k' },
        ],
        beaten: false,
      },
      {
        steps: [
          { is: 'person', words: 'Karl Wede', key: 'p' },
          { is: 'everyone', words: 'everyone', key: null },
          { is: 'strength', words: 'read', key: null },
          { is: 'place', words: 'Port share', key: 's' },
        ],
        beaten: true,
      },
    ],
    ...{ left: '2026-09-30', lastUse: null },
    ...more,
  });

  it('stands step by step, with the other ways and what stands against them', () => {
    test.show(<PairWays pair={pair()} />);
    expect(screen.getAllByRole('listitem').map((l) => l.textContent)).toEqual([
      ...['Karl Wede', 'is in', 'Port clerks', 'which is granted', 'change', 'at', 'July'],
      'Karl Wede › everyone › read › Port share, denied',
    ]);
    expect(screen.getByRole('link', { name: 'Port clerks' }).getAttribute('href')).toBe('/access/people/g');
    expect(
      screen.getByText(/Nothing denies it. Their account is open, their work ended on 30 Sep 2026/),
    ).toBeTruthy();
  });

  it('is nothing where nothing leads there', () => {
    test.show(
      <PairWays
        pair={pair({ ways: [], left: null, found: { ...pair().found, strength: null, closed: true } })}
      />,
    );
    expect(screen.getByText('No grant, no group and no link leads Karl Wede here.')).toBeTruthy();
    expect(screen.getByText(/Their account is closed./)).toBeTruthy();
  });
});

const GRANT = {
  type: 'grant',
  place: '1/k',
  to: 'all',
  strength: 'read',
  deny: false,
  only: false,
  until: null,
  by: null,
  at: null,
} as const;
const grants = (more: Partial<GrantView> = {}): readonly GrantView[] => [
  {
    ...{
      n: 0,
      is: 'grant',
      to: { name: 'All staff', is: 'group', key: 'g', people: 600 },
      strength: 'read',
      words: '',
    },
    ...{
      at: { key: 'k', name: 'July' },
      here: true,
      until: null,
      by: 'Magnus',
      given: null,
      used: 9,
      line: GRANT,
    },
    ...more,
  },
  {
    ...{
      n: 1,
      is: 'link',
      to: { name: 'anyone who has it', is: 'anyone', key: null, people: null },
      strength: 'read',
    },
    ...{
      words: 'link',
      at: { key: 's', name: 'Port share' },
      here: false,
      until: null,
      by: null,
      given: null,
      used: 0,
    },
    line: null,
  },
];

describe('the grants of a place', () => {
  it('are taken away where they are given here, and only by who may', async () => {
    test.answers['GET /api/access/places/k/grants'] = grants();
    test.answers['POST /api/access/changes'] = { id: 7 };
    test.show(<GrantsTab place={{ key: 'k' } as never} on={undefined} />);
    const box = await screen.findByRole('checkbox', { name: 'Choose All staff, read' });
    expect(screen.getAllByRole('checkbox')).toHaveLength(1);
    expect(box.closest('tr')?.textContent).toContain('9 of 600');
    expect(screen.getByText('◆ no end')).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Choose what to take away' }).disabled).toBe(
      true,
    );
    await userEvent.click(box);
    await userEvent.click(screen.getByRole('button', { name: 'Rehearse taking 1 grant away' }));
    await userEvent.click(
      screen.getByRole('button', { name: 'Rehearse the group that uses it in their stead' }),
    );
    expect(test.sent()).toMatchObject([
      { body: { wish: { act: 'take', lines: [GRANT] } } },
      { body: { wish: { act: 'narrow', place: 'k', instead: [GRANT.to] } } },
    ]);
    await userEvent.click(screen.getByRole('button', { name: 'Who reaches it through All staff' }));
    expect(new URLSearchParams(window.location.search).get('via')).toBe('g');
    test.reset();
    test.show(<GrantsTab place={{ key: 'k' } as never} on={undefined} />, AUDITOR);
    await screen.findByText('◆ no end');
    expect(screen.queryByRole('checkbox')).toBeNull();
  });

  it('that many have and few use are rehearsed at once', async () => {
    test.answers['GET /api/access/places/k/grants'] = grants();
    test.answers['POST /api/access/changes/rehearse'] = {
      ...{
        name: 'x',
        steps: [],
        gain: 0,
        lose: 398,
        loseUsed: 0,
        keep: 14,
        usesKnown: true,
        places: [],
        placeCount: 0,
      },
      ...{
        people: [],
        peopleCount: 0,
        conflicts: [],
        exposure: { k: { items: 31, people: 1, sensitive: 1, data: [] } },
      },
    };
    test.show(<WideGrant place="k" />);
    const strip = await screen.findByRole('region', { name: 'If All staff were taken away here' });
    for (const words of ['−398', '14', '31']) expect(within(strip).getByText(words)).toBeTruthy();
    test.reset();
    // What a third of them use stays unspoken of.
    test.answers['GET /api/access/places/k/grants'] = grants({ used: 200 });
    test.show(<WideGrant place="k" />);
    await new Promise((wake) => setTimeout(wake, 50));
    expect(screen.queryByRole('region')).toBeNull();
  });
});

describe('a change', () => {
  const change = (more: Partial<ChangeView> = {}): ChangeView => ({
    ...{ id: 7, name: 'Take All staff away at July', reason: '', state: 'draft', steps: 1, counts: {} },
    ...{ madeBy: 'Ines', madeAt: '2026-11-30T10:00:00Z', begunAt: null, endedAt: null, undoes: null },
    ...{ undoneBy: null, review: null, refused: null, exposure: {} },
    rehearsal: {
      ...{ steps: ['takes All staff, read, away at July'], gain: 0, lose: 398, loseUsed: 2, keep: 14 },
      ...{ usesKnown: true, places: [], placeCount: 0, people: [], peopleCount: 0 },
      conflicts: [{ rule: 'Payments', people: ['Tove'], count: 3 }],
    },
    ...more,
  });

  it('says what it would do and which rule it breaks, and is done in one act', async () => {
    test.answers['GET /api/access/changes/7'] = change();
    test.answers['POST /api/access/changes/7/begin'] = { id: 7 };
    test.show(<ChangeSheet id="7" />);
    await screen.findByText('−398');
    expect(screen.getByText(/Tove and 2 more would have both sides of “Payments”/)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Do it' }));
    expect(test.sent()).toHaveLength(1);
  });

  it('that does not fit any more says so, and offers only to drop it', async () => {
    test.answers['GET /api/access/changes/7'] = change({
      rehearsal: null,
      refused: {
        words: 'It does not fit what stands now.',
        fields: [{ field: 'steps', message: 'It is gone.' }],
      },
    });
    test.show(<ChangeSheet id="7" />);
    await screen.findByText('It is gone.');
    expect(screen.queryByRole('button', { name: 'Do it' })).toBeNull();
    expect(screen.getByRole('button', { name: 'Drop it' })).toBeTruthy();
  });

  it('that was done in part tells so, with the work order, and can be tried again and taken back', async () => {
    test.answers['GET /api/access/changes/7'] = change({
      state: 'partly',
      rehearsal: null,
      counts: { done: 3, failed: 1, ordered: 2 },
    });
    test.answers['GET /api/access/changes/7/steps'] = {
      rows: [
        {
          n: 0,
          state: 'failed',
          words: 'takes Karl out of Port',
          told: 'the directory answered 500',
          at: null,
          source: 'Directory',
        },
      ],
      next: null,
    };
    test.show(<ChangeSheet id="7" />);
    expect(await screen.findByRole('link', { name: 'The work order' })).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Try again what failed' })).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Take it back' })).toBeTruthy();
    test.reset();
    test.show(<ChangeSheet id="7" />, AUDITOR);
    await screen.findByRole('link', { name: 'The work order' });
    expect(screen.queryByRole('button', { name: /Take it back|Try again/ })).toBeNull();
  });
});

describe('a review', () => {
  it('tells who has not answered, and how it ends where some did not', async () => {
    const review: ReviewView = {
      ...{
        id: 1,
        name: 'Port',
        due: '2026-12-05',
        state: 'open',
        madeAt: '2026-11-14T10:00:00Z',
        madeBy: 'Magnus',
      },
      ...{ endedAt: null, change: null, lines: 36, kept: 10, taken: 2, owners: 2 },
      asked: [{ address: 'lotte@x.example', name: 'Lotte Bruun', lines: 11, open: 11, remindedAt: null }],
    };
    test.answers['GET /api/access/reviews/1'] = review;
    test.answers['GET /api/access/reviews/1/lines'] = { rows: [], next: null };
    test.show(<ReviewSheet id="1" />);
    await screen.findByRole('heading', { name: 'Port: 24 lines wait for an answer' });
    expect(screen.getByText('Lotte Bruun')).toBeTruthy();
    expect(screen.getByRole('button', { name: 'End it: 24 stay unanswered' })).toBeTruthy();
  });
});

describe('what takes two, and where rights are read', () => {
  it('tell what is broken, what could not be read, and what could not be taken', async () => {
    test.answers['GET /api/access/hands'] = [
      {
        id: 1,
        name: 'Payments',
        one: 'being in Pay',
        other: 'being in Books',
        both: [{ key: 'p', name: 'Tove' }],
        count: 1,
      },
    ];
    test.show(<HandsSheet />);
    await screen.findByRole('heading', { name: '◆ 1 rule is broken now' });
    expect(screen.getByRole('link', { name: 'Tove' })).toBeTruthy();
    test.reset();
    test.answers['GET /api/access/sources'] = [
      {
        ...{
          id: 1,
          name: 'Library',
          content: { name: 'Library', everyHours: null, writes: false, opens: '', holds: [] },
        },
        ...{
          address: { kind: 'library', url: 'https://x.example' },
          problem: 'Nothing answers at x.example.',
        },
        ...{
          faults: ['“a”: strength: is none'],
          hasSecret: true,
          isDirectory: false,
          readAt: null,
          triedAt: null,
        },
        ...{ knownSince: null, lines: { place: 3, grant: 1 } },
      },
    ];
    test.show(<SourcesSheet />);
    await screen.findByRole('heading', { name: '◆ 1 source could not be read' });
    expect(screen.getByText('◆ Nothing answers at x.example.')).toBeTruthy();
    expect(screen.getByText('3 places, 1 grant')).toBeTruthy();
    expect(screen.getByText('◆ Library: “a”: strength: is none')).toBeTruthy();
  });
});
