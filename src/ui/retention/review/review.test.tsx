// @vitest-environment jsdom
import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import type { Review } from '../../../server/retention/review/reviews.ts';
import { AUDITOR, sheetTest } from '../../../../tests/sheet.tsx';
import { YearlyReview } from './YearlyReview.tsx';

const t = sheetTest('/retention/schedule');
const review = (name: string, due: string, more: Partial<Review> = {}): Review => ({
  ...{ kind: 'retention rule', id: name, name, version: 3, due, last: null },
  waits: due < '2026' ? 'late' : null,
  ...more,
});
const show = (reviews: readonly Review[], account = t.officer) => {
  t.answers['GET /api/retention/reviews'] = reviews;
  t.show(<YearlyReview />, account);
};

describe('the yearly review', () => {
  it('says what waits for an answer, marks what is late, and what was said last', async () => {
    const last = {
      answer: 'ends',
      reason: 'No sailings any more.',
      name: 'Ines Abara',
      at: '2019-01-01T10:00:00Z',
    } as const;
    show([review('Bookkeeping', '2020-01-01', { kind: 'bound', last }), review('Manifests', '2999-01-01')]);
    await screen.findByText('1 rule or bound waits for an answer, of 2');
    const late = within(screen.getByRole('row', { name: /Bookkeeping/ }));
    late.getByText('◆ 1 Jan 2020');
    late.getByText('No sailings any more.');
    expect(late.getByRole('link').getAttribute('href')).toBe('/retention/law/Bookkeeping');
    within(screen.getByRole('row', { name: /Manifests/ })).getByText('nothing yet');
  });

  it('is quiet where nothing is late, and where nothing is in force', async () => {
    show([review('Manifests', '2999-01-01')]);
    await screen.findByText(/^✓ Every rule was looked at within a year; the next is due on 1 Jan 2999/);
    await userEvent.click(screen.getByText('All of them, by when they are due'));
    screen.getByRole('row', { name: /Manifests/ });
    t.reset();
    show([]);
    await screen.findByText('Nothing is in force that could be looked at again.');
  });

  it('is answered for the version that was looked at; what was refused stands beside its field', async () => {
    show([review('Manifests', '2020-01-01')]);
    await userEvent.click(await screen.findByRole('button', { name: 'Say whether Manifests stands' }));
    await userEvent.click(screen.getByRole('button', { name: /^Answer/ }));
    await userEvent.click(await screen.findByRole('option', { name: 'It is to be changed' }));
    t.answers['POST /api/retention/reviews'] = t.refused('Say more.', [
      { field: 'said.reason', message: 'Say why.' },
    ]);
    await userEvent.click(screen.getByRole('button', { name: 'Put it on record' }));
    await screen.findByText('◆ Say why.');
    t.answers['POST /api/retention/reviews'] = {};
    await userEvent.type(screen.getByLabelText('Why'), 'A new Act');
    await userEvent.click(screen.getByRole('button', { name: 'Put it on record' }));
    expect(t.sent().at(-1)?.body).toEqual({
      ...{ kind: 'retention rule', id: 'Manifests', version: 3 },
      said: { answer: 'change', reason: 'A new Act' },
    });
  });

  it('is only read by who may not change the schedule', async () => {
    show([review('Manifests', '2020-01-01')], AUDITOR);
    await screen.findByText('◆ 1 Jan 2020');
    expect(screen.queryByRole('button')).toBeNull();
  });
});
