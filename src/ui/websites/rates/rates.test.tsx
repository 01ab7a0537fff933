// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { sheetTest } from '../../../../tests/sheet.tsx';
import { ratesOf, type RateBy, type RateCount } from '../../../core/websites/consents/rate.ts';
import { FIRST_PURPOSES } from '../../../core/websites/notice/purpose.ts';
import type { SiteDetail } from '../../../server/websites/sites/site-detail.ts';
import { RatesTab } from './RatesTab.tsx';

const test = sheetTest('/websites/a.example?tab=rates');
const SITE = { host: 'a.example', purposes: FIRST_PURPOSES } as unknown as SiteDetail;
const count = (key: string, answered: number, refused: number): RateCount => ({
  ...{ key, shown: answered * 2, answered, refused },
  purposes: { measurement: { asked: answered, allowed: answered - refused } },
});

function show(rows: readonly RateCount[], by: RateBy = 'week') {
  const all = count(
    '',
    rows.reduce((n, r) => n + r.answered, 0),
    rows.reduce((n, r) => n + r.refused, 0),
  );
  test.answers['GET /api/websites/a.example/rates'] = {
    ...{ by, all: ratesOf([all], false)[0], rows: ratesOf(rows, by === 'week') },
  };
  return test.show(<RatesTab site={SITE} />);
}

describe('rates', () => {
  it('tell shares with intervals, mark what is more than chance, and withhold a small group', async () => {
    show([count('2026-11-02', 1000, 500), count('2026-11-09', 1000, 350), count('2026-11-16', 4, 1)]);
    await screen.findByText(/2,004 visitors answered, the notice was shown 4,008 times; 42\.\d%/);
    const [, second] = screen.getAllByRole('link');
    expect(second?.getAttribute('aria-label')).toMatch(/^◆ from 9 Nov.*: 35%, 95% interval 32% to 38%/);
    expect(second?.getAttribute('href')).toContain('from=2026-11-09&to=2026-11-15');
    expect(screen.getByText(/1 group of fewer than 10 visitors withheld: from 16 Nov/)).toBeTruthy();
    expect(screen.getByText(/No answer is no refusal/)).toBeTruthy();
  });

  it('are of what is chosen, by what is chosen, and read as a table', async () => {
    const user = userEvent.setup();
    window.history.replaceState(null, '', '/websites/a.example?tab=rates&by=region&of=measurement');
    show([count('DK', 200, 50), count('SE', 100, 50)], 'region');
    await screen.findByText(/300 visitors answered/);
    await user.click(screen.getByText('Read as a table'));
    const cells = screen.getAllByRole('row').map((r) => r.textContent);
    expect(cells[0]).toContain('Region');
    expect(cells[1]).toContain('Denmark75.0%');
  });

  it.each([
    ['page', '', 'page=%2F'],
    ['page', 'cars', 'page=%2Fcars'],
    ['device', '', 'device=not-told'],
    ['language', 'da', 'language=da'],
    ['version', '3', 'version=3'],
  ] as const)('by %s “%s” lead to the records behind them, of the same days', async (by, key, query) => {
    window.history.replaceState(null, '', `/websites/a.example?tab=rates&by=${by}&days=30`);
    show([count(key, 100, 40)], by);
    const href = (await screen.findByRole('link')).getAttribute('href') ?? '';
    expect(href).toContain(`?tab=consents&${query}&from=`);
    const days =
      (Date.now() - Date.parse(new URLSearchParams(href.split('?')[1]).get('from') ?? '')) / 86_400_000;
    expect(Math.floor(days)).toBe(30);
  });

  it('say what to do where nobody has answered', async () => {
    show([]);
    await screen.findByText('Nobody has answered yet');
  });
});
