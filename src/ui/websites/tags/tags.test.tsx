// @vitest-environment jsdom
import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { AUDITOR, sheetTest } from '../../../../tests/sheet.tsx';
import { FIRST_GATE } from '../../../core/websites/gate/gate-settings.ts';
import { NOTHING_SAID } from '../../../core/websites/gate/tag.ts';
import { FIRST_PURPOSES } from '../../../core/websites/notice/purpose.ts';
import type { ListedTag } from '../../../server/websites/gate/tags.ts';
import type { SiteDetail } from '../../../server/websites/sites/site-detail.ts';
import { TagsTab } from './TagsTab.tsx';

const test = sheetTest('/websites/a.example?tab=tags');
const SITE = { host: 'a.example', purposes: FIRST_PURPOSES } as unknown as SiteDetail;
const tag = (host: string, over: Partial<ListedTag> = {}): ListedTag => ({
  ...{ host, name: '/t.js', what: 'script', placed: [{ what: 'page', url: 'https://a.example/', line: 6 }] },
  ...{ pages: 3, purposes: ['measurement'], needs: ['measurement'], unsorted: 0, trackers: [] },
  ...{ plan: NOTHING_SAID, said: false, byHand: false, ran: null },
  ...over,
});
const system = {
  ...{ name: 'Tagworks', queue: 'works.queue', names: { measurement: ['count'] }, on: 'yes', off: 'no' },
  ...{ start: '["start", "$state", "$wait"]', change: '["change", "$state"]', waitMs: 300 },
};

function show(account = test.officer, mode: 'marked' | 'by itself' = 'marked') {
  test.answers['GET /api/websites/a.example/tags'] = [
    tag('unknown.example', { needs: [], purposes: [], placed: [] }),
    tag('wave.example', { ran: { visit: 7, at: '2026-11-30T10:00:00Z', outcome: 'too early' } }),
    tag('login.example', {
      needs: ['essential'],
      ran: { visit: 7, at: '2026-11-30T10:00:00Z', outcome: 'ran' },
    }),
  ];
  test.answers['POST /api/websites/a.example/tags'] = [];
  test.answers['GET /api/websites/a.example/gate'] = {
    settings: { ...FIRST_GATE, mode },
    plan: {
      told: [],
      holds: [
        { kind: 'request', host: 'wave.example', name: '/t.js', purpose: 'measurement', without: ['uid'] },
      ],
      open: [
        {
          tracker: { kind: 'cookie', name: 'sid', host: 'a.example' },
          why: 'The site’s own server sets it.',
        },
      ],
      kept: [],
    },
  };
  test.answers['GET /api/websites/tag-systems'] = [
    { id: 4, content: system, revision: 2, edited_by: null, edited_at: '2026-11-30T10:00:00Z' },
  ];
  return test.show(<TagsTab site={SITE} />, account);
}

describe('tags', () => {
  it('are added by hand by their address', async () => {
    const user = userEvent.setup();
    show();
    await user.click(await screen.findByRole('button', { name: /Add a tag by hand/ }));
    await user.keyboard('nowhere');
    expect(screen.getByText(/Write the address of its script/)).toBeTruthy();
    await user.clear(screen.getByRole('textbox'));
    await user.keyboard('new.example/n.js?x=1{Enter}');
    await waitFor(() => expect(test.sent()).toHaveLength(1));
    expect(test.sent()[0]?.body).toMatchObject({
      tags: [{ host: 'new.example', name: '/n.js' }],
      byHand: true,
    });
  });

  it('are read by who may only read', async () => {
    show(AUDITOR);
    await screen.findByText(/The gate holds/);
    expect(
      screen.queryByRole('button', { name: /Add a tag|Map a tag system|What the gate holds/ }),
    ).toBeNull();
  });
});

describe('the gate', () => {
  it('is set with what was seen, and tells what it holds and what it cannot', async () => {
    const user = userEvent.setup();
    show(test.officer, 'by itself');
    await user.click(await screen.findByText('Holds 1 thing by itself; can do nothing about 1'));
    expect(screen.getByText(/wave\.example\/t\.js, Measurement: goes without identifiers/)).toBeTruthy();
    expect(screen.getByText(/sid of a\.example: The site’s own server sets it/)).toBeTruthy();
    await user.click(screen.getByRole('button', { name: /^What the gate holds/ }));
    await user.click(screen.getByRole('option', { name: /^marked/ }));
    await waitFor(() =>
      expect(test.sent()[0]).toEqual({
        ...{ method: 'PATCH', path: '/api/websites/a.example/gate' },
        body: { mode: 'marked', saw: { ...FIRST_GATE, mode: 'by itself' } },
      }),
    );
  });
});

describe('a tag system', () => {
  it('shows what it would be told, and is mapped in place', async () => {
    const user = userEvent.setup();
    show();
    await user.click(await screen.findByText('What it would be told'));
    expect(screen.getByText('before an answer: ["start",{"count":"no"},300]')).toBeTruthy();
    expect(screen.getByText('once all is allowed: ["change",{"count":"yes"}]')).toBeTruthy();
    await user.click(screen.getByRole('button', { name: /^Names of Measurement in Tagworks/ }));
    await user.clear(screen.getByRole('textbox'));
    await user.keyboard('count recognise{Enter}');
    await waitFor(() => expect(test.sent()).toHaveLength(1));
    expect(test.sent()[0]).toMatchObject({
      ...{ method: 'PUT', path: '/api/websites/tag-systems/4' },
      body: { revision: 2, system: { names: { measurement: ['count', 'recognise'] } } },
    });
  });
});
