// @vitest-environment jsdom
import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { AUDITOR, sheetTest } from '../../../../tests/sheet.tsx';
import { FIRST_PURPOSES } from '../../../core/websites/notice/purpose.ts';
import { regimeTable } from '../../../core/websites/notice/regime.ts';
import { lane, visitEvent } from '../../../core/websites/visits/visit.fixture.ts';
import type { VisitCourse } from '../../../core/websites/visits/visit.ts';
import type { SiteDetail } from '../../../server/websites/sites/site-detail.ts';
import { VisitSoundings } from './VisitSoundings.tsx';
import { stateWords, VisitsTab } from './VisitsTab.tsx';

const test = sheetTest('/websites/a.example?tab=visits');
const SITE = {
  ...{
    host: 'a.example',
    startUrl: 'https://a.example/',
    region: 'DK',
    chosen: [],
    purposes: FIRST_PURPOSES,
  },
} as unknown as SiteDetail;
const wish = { pages: ['/?campaign=spring'], region: 'DK', chosen: ['measurement'], gpc: false };
const waits = { preferences: 'waits', measurement: 'waits', advertising: 'waits' } as const;
const early = visitEvent({
  ...{ key: 'tag w.js', words: 'wave.example: w.js', at: 310, verdict: 'too early', cell: 'ran' },
  ...{
    purpose: 'measurement',
    why: 'It needs Measurement. In Denmark it may not run unless allowed: an act.',
  },
  cause: [{ what: 'page', url: 'https://a.example/offers', line: 214 }],
});
const events = [
  visitEvent({ key: 'asked', what: 'asked', words: 'page asked for: /' }),
  visitEvent({ key: 'start', what: 'start', words: 'gate starts', at: 60, purposes: waits }),
  visitEvent({
    key: 'sid',
    what: 'stored',
    words: 'sid set, session',
    name: 'sid',
    at: 100,
    cell: 'set',
    verdict: 'permitted',
  }),
  early,
  visitEvent({
    key: 'answer',
    what: 'answer',
    words: 'the visitor answers',
    phase: 1,
    at: 2100,
    cell: 'refuses',
  }),
];
const course = (over: Partial<VisitCourse> = {}): VisitCourse => ({
  ...{ schema: 'yare-warden/visit/1', site: 'a.example', begun: '2026-11-30T10:00:00.000Z', wish, notice: 3 },
  ...{ regime: 'ask first', law: 'an act', lanes: [lane('refuse', events), lane('accept', events)] },
  ...over,
});
const listed = {
  ...{ id: 7, state: 'complete', wish, too_early: 1, started_by: 'Ines', created_at: '2026-11-30T10:00:00Z' },
  finished_at: '2026-11-30T10:00:20Z',
};

function serve(shown: VisitCourse | null = course(), before: VisitCourse | null = null) {
  test.answers['GET /api/websites/a.example/visits'] = shown ? [listed] : [];
  test.answers['GET /api/websites/a.example/visits/7'] = {
    ...{ visit: listed, course: shown, before, digest: 'ab'.repeat(32), matches: true, ledgerId: '12' },
  };
  test.answers['GET /api/websites/regimes'] = regimeTable();
  test.answers['GET /api/websites/a.example'] = SITE;
  test.answers['POST /api/websites/a.example/visits'] = { visit: 8, job: '1' };
}
const line = () => screen.findByRole('table', { name: 'Time line of the visit' });

describe('visits', () => {
  it('say what one is before there is any, and are begun as a sentence', async () => {
    const user = userEvent.setup();
    serve(null);
    test.show(<VisitsTab site={SITE} />);
    await screen.findByText('Never visited');
    await user.click(screen.getByRole('button', { name: /^Pages of the visit/ }));
    await user.clear(screen.getByRole('textbox'));
    await user.keyboard('offers');
    expect(screen.getByText(/A page begins with \//)).toBeTruthy();
    await user.clear(screen.getByRole('textbox'));
    await user.keyboard('/offers?campaign=spring /fleet{Enter}');
    await user.click(screen.getByRole('button', { name: 'Visit' }));
    await waitFor(() => expect(test.sent()).toHaveLength(1));
    expect(test.sent()[0]?.body).toEqual({
      ...{ pages: ['/offers?campaign=spring', '/fleet'], region: 'DK', chosen: ['preferences'], gpc: false },
    });
  });

  it('stand side by side on one line, what ran too early marked', async () => {
    serve();
    test.show(<VisitsTab site={SITE} />);
    const row = within(await line()).getByRole('row', { name: /w\.js/ });
    expect(
      within(row)
        .getAllByRole('cell')
        .map((c) => c.textContent),
    ).toEqual([...['0.31 s', 'wave.example: w.js', '◆ ran', '◆ ran', '']]);
    const start = within(await line()).getByRole('row', { name: /gate starts/ });
    expect(within(start).getAllByRole('cell')[2]?.textContent).toBe('P –  M –  A –');
  });

  it('tell what is new and what is no more since the visit before', async () => {
    const other = visitEvent({ key: 'tag old', words: 'old.js', verdict: 'refused' });
    serve(course(), course({ lanes: [lane('refuse', [other])] }));
    test.show(<VisitsTab site={SITE} />);
    await screen.findByText(/New since the visit before: wave\.example: w\.js.*No more: old\.js/);
  });

  it('say why somebody could not answer', async () => {
    const lost = { ...lane('accept', []), whyNot: 'The page has no notice of ours.' };
    serve(course({ lanes: [lost] }));
    test.show(<VisitsTab site={SITE} />);
    await screen.findByText(/Allowing all: The page has no notice of ours\./);
  });

  it('are begun by nobody who may only read', async () => {
    serve();
    test.show(<VisitsTab site={SITE} />, AUDITOR);
    await line();
    expect(screen.queryByRole('button', { name: 'Visit again' })).toBeNull();
  });
});

describe('an event of a visit', () => {
  it('opens to why, who asked for it, how things stood, and where the law says otherwise', async () => {
    serve();
    window.history.replaceState(null, '', '/websites/a.example?tab=visits&event=3.refuse');
    test.show(<VisitSoundings host="a.example" />);
    await screen.findByText(/It needs Measurement\. In Denmark/);
    const text = document.body.textContent ?? '';
    expect(text).toContain('a.example/offers, line 214');
    expect(text).toContain('the same may run until it is refused');
    expect(text).toContain('Stored then1: sid');
    expect(text).toContain('Answeredno');
  });

  it('without one chosen lists what ran when it should not', async () => {
    serve();
    test.show(<VisitSoundings host="a.example" />);
    await screen.findByText('◆ 1 thing ran when it should not.');
    expect(screen.getByRole('button', { name: 'wave.example: w.js' })).toBeTruthy();
    expect(screen.getByRole('link', { name: 'Report, PDF' }).getAttribute('href')).toMatch(
      /visits\/7\/report\.pdf$/,
    );
  });
});

it('tells a state by first letters', () => {
  const state = { preferences: 'allowed', measurement: 'refused', advertising: 'starts on' } as const;
  expect(stateWords(state, FIRST_PURPOSES.slice(1))).toBe('P ✓  M ✕  A ●');
});
