// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { newClock, type ClockContent } from '../../../core/retention/clock/clock-content.ts';
import type { ListedClock } from '../../../server/retention/clocks/clocks.ts';
import { AUDITOR, OFFICER, sheetTest } from '../../../../tests/sheet.tsx';
import { ClockSheet } from './ClockSheet.tsx';

const t = sheetTest('/retention/clocks/4');

describe('the sheet of a clock', () => {
  const show = (way: ClockContent['way'], counted: Partial<ListedClock>, account = OFFICER) => {
    t.answers['GET /api/objects/clock/4'] = {
      content: newClock('Arrival', way),
      revision: 1,
      editedAt: null,
      editedBy: null,
    };
    t.answers['GET /api/retention/names'] = { items: [], sources: [], groups: [], clocks: [] };
    t.answers['GET /api/retention/clocks'] = [
      {
        ...{ id: 4, name: 'Arrival', way, known: 7, unknown: 2, days: 12, uses: [] },
        ...{ readAt: null, readWords: '', problem: '' },
        ...counted,
      },
    ];
    t.show(<ClockSheet id="4" />, account);
  };

  it.each<readonly [string, Partial<ListedClock>, RegExp]>([
    ['is not read yet', {}, /^It is read within a minute/],
    [
      'was read',
      { readAt: '2026-11-29T08:00:00Z', readWords: '12 days of 14 rows' },
      /^Read .*: 12 days of 14 rows/,
    ],
    [
      'could not be read',
      { readAt: '2026-11-29T08:00:00Z', problem: 'There is no column “day”.' },
      /^◆ Not read .*: There is no column “day”\. What was known before counts on/,
    ],
  ])('says of a table that it %s', async (_, counted, words) => {
    show('column', counted);
    await screen.findByText(words);
    screen.getByText('days in the table');
  });

  it('takes a list from who may change it, and is removed only while nothing counts from it', async () => {
    show('list', {});
    await screen.findByRole('button', { name: 'Send a list …' });
    screen.getByRole('button', { name: 'Remove' });
    t.reset();
    show('list', { uses: [{ kind: 'retention rule', id: '2', name: 'Manifests' }] });
    await screen.findByRole('link', { name: 'Manifests' });
    expect(screen.queryByRole('button', { name: 'Remove' })).toBeNull();
    t.reset();
    show('list', {}, AUDITOR);
    await screen.findByText('days in the list');
    expect(screen.queryByRole('button', { name: /Send|Remove/ })).toBeNull();
  });
});
