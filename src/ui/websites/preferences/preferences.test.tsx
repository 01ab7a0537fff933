// @vitest-environment jsdom
import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { AUDITOR, sheetTest } from '../../../../tests/sheet.tsx';
import { MailingTools } from './MailingTools.tsx';
import { PersonSoundings } from './PersonSoundings.tsx';
import { PreferenceSoundings } from './PreferenceSoundings.tsx';
import { PreferencesSheet } from './PreferencesSheet.tsx';

const test = sheetTest('/websites/preferences');
const API = '/api/websites/preferences';

const FIGURES = {
  stands: { 'says yes': 3, left: 1, 'never asked': 2 },
  channels: { email: 3, sms: 1 },
  topics: { news: 3 },
  left: 2,
  reasons: [
    { reason: 'too-often', count: 1 },
    { reason: '', count: 1 },
  ],
};

describe('the sheet of preferences', () => {
  it('says what a page would do before there is one, and begins it by one word', async () => {
    const user = userEvent.setup();
    test.answers[`GET ${API}`] = { begun: false, page: null, figures: FIGURES };
    test.show(<PreferencesSheet />, test.officer);
    await user.type(await screen.findByLabelText('Who writes to them?'), ' Harbour Line ');
    await user.click(screen.getByRole('button', { name: 'Begin the page' }));
    await waitFor(() =>
      expect(test.sent()[0]).toMatchObject({ method: 'POST', body: { name: 'Harbour Line' } }),
    );
    test.reset();
    test.show(<PreferencesSheet />, AUDITOR);
    await screen.findByText('Nobody is asked yet what they may be sent');
    expect(screen.queryByRole('button', { name: 'Begin the page' })).toBeNull();
  });
});

describe('how people stand', () => {
  it('is counted by way, topic and reason, silence as what it is', async () => {
    test.answers[`GET ${API}`] = { begun: true, page: null, figures: FIGURES };
    test.show(<PreferenceSoundings />, test.officer);
    await screen.findByText('say yes');
    expect(screen.getByText('They did not say')).toBeTruthy();
    expect(screen.getByText(/no answer is no consent/)).toBeTruthy();
  });
});

describe('a mailing tool', () => {
  const tool = (messages: object, people = 0) => ({
    ...{ id: 4, name: 'Newsletters', url: 'https://m.example/c', format: 'json', people },
    since: '2026-11-30T10:00:00Z',
    messages: { waiting: 0, sent: 7, failed: 0, error: null, ...messages },
  });

  it('shows what arrived, what is on its way and why, and what was given up', async () => {
    test.answers[`GET ${API}/tools`] = {
      tools: [tool({ waiting: 2, failed: 1, error: 'It answered 503.' }, 5)],
    };
    test.show(<MailingTools />, test.officer);
    await screen.findByText('7 messages');
    expect(screen.getByText(/5 people, 2 messages/).textContent).toContain('tried again: It answered 503.');
    expect(screen.getByText('◆ 1: It answered 503.')).toBeTruthy();
  });

  it('is told everything anew by who may', async () => {
    const user = userEvent.setup();
    test.answers[`GET ${API}/tools`] = { tools: [tool({})] };
    test.answers[`POST ${API}/tools/4`] = { people: 6 };
    test.show(<MailingTools />, test.officer);
    await user.click(await screen.findByRole('button', { name: 'Tell it everything anew' }));
    await waitFor(() => expect(test.sent()[0]).toMatchObject({ method: 'POST', path: `${API}/tools/4` }));
    test.reset();
    test.show(<MailingTools />, AUDITOR);
    await screen.findByText('7 messages');
    expect(screen.queryByRole('button')).toBeNull();
  });
});

describe('a person', () => {
  const receipt = {
    ...{ id: '0199', at: '2026-11-30T10:00:00Z', person: 'ab', page: 2, language: 'en', act: 'left' },
    asked: { channels: ['email'], topics: ['news'] },
    ...{ channels: [], topics: [], by: 'one click', reason: 'too-often' },
  };
  const answer = (matches: boolean) => ({
    person: {
      ...{ id: 3, address: 'mona@mail.example', name: '<b>Mona</b>', number: '', language: 'da' },
      ...{ channels: [], topics: [], saidAt: receipt.at, saidSelf: true, leftAt: receipt.at, stands: 'left' },
    },
    records: [{ receipt, words: 'Every day!', digest: 'd', matches, proof: undefined }],
    page: { version: 2, open: true, content: { reasons: ['too-often'] } },
    link: 'https://desk.example/preferences/x',
  });

  it('is told of with a verdict first, and what they chose with how, why and whether it is sealed', async () => {
    test.answers[`GET ${API}/people/3`] = answer(true);
    test.show(<PersonSoundings id="3" />, test.officer);
    await screen.findByText(/✕ No: they want nothing, since/);
    expect(screen.getByText(/by one click in their mail/).textContent).toContain(
      'because: Too often · “Every day!”',
    );
    expect(screen.getByText('Waiting to be sealed, which happens every few seconds')).toBeTruthy();
    expect(screen.getByText(/<b>Mona<\/b>/)).toBeTruthy();
    // Who left cannot leave again.
    expect(screen.queryByRole('button', { name: /want nothing more/ })).toBeNull();
  });

  it('shows the link only to those who may choose for them', async () => {
    test.answers[`GET ${API}/people/3`] = { ...answer(true), link: null };
    test.show(<PersonSoundings id="3" />, AUDITOR);
    await screen.findByText(/Their link is shown to those who may/);
    expect(screen.queryByRole('button', { name: 'Copy' })).toBeNull();
    expect(screen.queryByRole('button', { name: 'Send it to them' })).toBeNull();
  });

  it('is taken out of everything with why, and erased only for a reason', async () => {
    const user = userEvent.setup();
    const yes = answer(true);
    test.answers[`GET ${API}/people/3`] = {
      ...yes,
      person: { ...yes.person, stands: 'says yes', channels: ['email'], topics: ['news'], leftAt: null },
    };
    test.show(<PersonSoundings id="3" />, test.officer);
    await screen.findByText(/✓ By e-mail about News, as they said themselves/);
    await user.click(screen.getByRole('button', { name: /want nothing more/ }));
    const say = screen.getByRole('button', { name: 'Put it on record' });
    expect(say).toHaveProperty('disabled', true);
    await user.selectOptions(screen.getByLabelText('Why'), 'too-often');
    await user.type(screen.getByLabelText('How did they tell you?'), 'By telephone');
    await user.click(say);
    await waitFor(() =>
      expect(test.sent()[0]).toMatchObject({
        method: 'POST',
        body: { reason: 'too-often', words: 'By telephone' },
      }),
    );
    await user.click(await screen.findByRole('button', { name: 'Erase on request' }));
    await user.type(screen.getByLabelText(/Who asked, and where/), 'Case 7');
    await user.click(screen.getByRole('button', { name: 'Erase them' }));
    await waitFor(() =>
      expect(test.sent().at(-1)).toMatchObject({ method: 'DELETE', body: { because: 'Case 7' } }),
    );
  });
});
