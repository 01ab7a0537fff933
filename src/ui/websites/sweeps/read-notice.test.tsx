// @vitest-environment jsdom
import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { AUDITOR, sheetTest } from '../../../../tests/sheet.tsx';
import { FIRST_PURPOSES } from '../../../core/websites/notice/purpose.ts';
import { READING } from '../../../core/websites/reading/notice-reading.fixture.ts';
import type { SiteDetail } from '../../../server/websites/sites/site-detail.ts';
import { ReadNotice } from './ReadNotice.tsx';

const test = sheetTest('/websites/post.example');
const SITE = { host: 'post.example', purposes: FIRST_PURPOSES, reading: READING } as unknown as SiteDetail;
const show = (account = test.officer, reading = READING) =>
  test.show(<ReadNotice site={SITE} reading={reading} />, account);

describe('how the notice is read', () => {
  it('says what is pressed for each choice, and why', () => {
    show();
    const sentence = document.body.textContent;
    expect(sentence).toContain('refused by “Maybe later”');
    expect(sentence).toContain('2 trackers ran after it, the fewest of 3 ways tried');
    expect(sentence).toContain('accepted by “Sounds good”');
    expect(sentence).toContain('“Newsroom” is for Measurement');
    expect(sentence).toContain('“Corner” is for nothing known');
    // One that cannot be changed decides nothing.
    expect(sentence).not.toContain('Printing');
  });

  it('says where the notice offers no way', () => {
    show(test.officer, { ...READING, tried: [], roles: { ...READING.roles, refuse: null } });
    expect(screen.getByText('nothing on it')).toBeTruthy();
  });

  it('is corrected in place, with what was seen, and undone', async () => {
    const user = userEvent.setup();
    show();
    await user.click(screen.getByRole('button', { name: /How a visitor comes to refuse/ }));
    await user.click(screen.getByRole('option', { name: /Save these.*3 trackers ran after it/ }));
    await waitFor(() => expect(test.sent()).toHaveLength(1));
    expect(test.sent()[0]).toEqual({
      method: 'PATCH',
      path: '/api/websites/post.example/reading',
      body: { roles: { refuse: 3 }, readAt: READING.readAt },
    });
    await user.click(screen.getByRole('button', { name: /Purpose of “Corner”/ }));
    await user.click(within(screen.getByRole('listbox')).getByRole('option', { name: /Preferences/ }));
    await waitFor(() => expect(test.sent()).toHaveLength(2));
    expect(test.sent()[1]?.body).toEqual({ switches: { Corner: 'preferences' }, readAt: READING.readAt });
  });

  it('is read anew when asked, by whoever may', async () => {
    const user = userEvent.setup();
    show();
    await user.click(screen.getByRole('button', { name: 'Read it anew' }));
    await waitFor(() => expect(test.sent()[0]?.method).toBe('DELETE'));
    test.reset();
    show(AUDITOR);
    expect(screen.queryByRole('button', { name: 'Read it anew' })).toBeNull();
  });
});
