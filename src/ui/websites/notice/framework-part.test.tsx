// @vitest-environment jsdom
import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { sheetTest } from '../../../../tests/sheet.tsx';
import { firstNotice, type NoticeContent } from '../../../core/websites/notice/notice.ts';
import { SHIPPED_REGIMES } from '../../../core/websites/notice/regime.ts';
import { firstTcf } from '../../../core/websites/tcf/tcf-settings.ts';
import type { SiteDetail } from '../../../server/websites/sites/site-detail.ts';
import { FrameworkPart } from './FrameworkPart.tsx';

const test = sheetTest('/websites/a.example?tab=notice');
const SITE = {
  host: 'a.example',
  purposes: ['preferences', 'measurement', 'advertising'].map((code) => ({ code, name: code })),
} as unknown as SiteDetail;
const VENDORS = [
  { id: 2, name: 'Lanternfish Ads' },
  { id: 5, name: 'Wavemeter Audience' },
];

function show(content: NoticeContent, fixed = false) {
  const set: NoticeContent[] = [];
  test.answers['GET /api/websites/vendor-list'] = {
    ...{ version: 1, lastUpdated: '2026-01-15T16:00:00Z', vendors: VENDORS, takenAt: null },
    purposes: [{ id: 7, name: 'Measure advertising performance' }],
  };
  test.answers['GET /api/websites/regimes'] = SHIPPED_REGIMES;
  test.show(
    <FrameworkPart
      content={content}
      site={SITE}
      set={(c) => set.push(c)}
      fixed={fixed}
      error={() => undefined}
    />,
    test.officer,
  );
  return set;
}

describe('part in the framework', () => {
  it('is taken with all vendors of the list, by two presses', async () => {
    const user = userEvent.setup();
    const set = show(firstNotice());
    await user.click(await screen.findByRole('button', { name: /^Whether it takes part/ }));
    await user.click(screen.getByRole('option', { name: /^takes part/ }));
    await waitFor(() => expect(set[0]?.tcf?.vendors).toEqual([2, 5]));
    expect(screen.queryByText(/all made up/)).toBeNull();
  });

  it('says that the list is made up, and does not let interests stand where the law asks first', async () => {
    const user = userEvent.setup();
    const set = show({ ...firstNotice(), tcf: firstTcf([2, 5], firstNotice().purposes) });
    await screen.findByText(/2 vendors, all made up\. Take in the published one/);
    await user.click(screen.getByRole('button', { name: /^How legitimate interests begin/ }));
    const on = screen.getByRole('option', { name: /stand until somebody objects/ });
    expect(on.textContent).toContain('the law asks first');
    await user.click(on);
    expect(set).toEqual([]);
  });

  it('is only read by who may not change it', async () => {
    show({ ...firstNotice(), tcf: firstTcf([2], firstNotice().purposes) }, true);
    await screen.findByText('Lanternfish Ads');
    expect(screen.queryByRole('button')).toBeNull();
  });
});
