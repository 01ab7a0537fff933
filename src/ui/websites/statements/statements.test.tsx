// @vitest-environment jsdom
import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { AUDITOR, sheetTest } from '../../../../tests/sheet.tsx';
import { NO_ANSWERS } from '../../../core/websites/statements/statement.ts';
import type { SiteDetail } from '../../../server/websites/sites/site-detail.ts';
import { StatementTab } from './StatementTab.tsx';

const test = sheetTest('/websites/a.example?tab=statement');
const SITE = { host: 'a.example', siteKey: 'k', visitorOrigin: 'https://v.example' } as unknown as SiteDetail;

function show(account = test.officer) {
  test.answers['GET /api/websites/a.example/statement'] = {
    ...{
      content: { interview: NO_ANSWERS, activities: [] },
      revision: 3,
      languages: ['en', 'da'],
      language: 'en',
    },
    blocks: [
      { is: 'heading', level: 1, text: 'Privacy on a.example' },
      { is: 'table', head: ['Name', 'From'], rows: [['<b>uid</b>', 'wave.example']] },
      { is: 'list', items: ['Contact: us'] },
    ],
    missing: [
      {
        what: 'The authority to complain to',
        law: 'GDPR, art. 13(2)(d)',
        fix: 'Answer it in the interview.',
      },
    ],
    versions: [{ version: 2, madeAt: '2026-11-30T10:00:00Z', by: 'Ines', missing: 1 }],
    activities: [{ id: '5', name: 'Bookings' }],
  };
  return test.show(<StatementTab site={SITE} />, account);
}

describe('a statement', () => {
  it('lists what is missing with its article, and shows names as they are', async () => {
    show();
    await screen.findByText('1 thing missing');
    expect(screen.getByText(/The authority to complain to \(GDPR, art\. 13\(2\)\(d\)\)/)).toBeTruthy();
    expect(screen.getByText('<b>uid</b>')).toBeTruthy();
    expect(screen.getByText(/Version 2/).textContent).toContain('◆ 1 missing');
  });

  it('is answered in place, with the revision that was seen, and told of records of processing', async () => {
    const user = userEvent.setup();
    show();
    await user.click(await screen.findByRole('button', { name: /^Authority to complain to/ }));
    await user.keyboard('the authority{Enter}');
    await waitFor(() => expect(test.sent()).toHaveLength(1));
    expect(test.sent()[0]).toMatchObject({
      method: 'PUT',
      body: { revision: 3, content: { interview: { authority: 'the authority' }, activities: [] } },
    });
    await user.click(screen.getByRole('button', { name: /^Records of processing it tells of/ }));
    await user.click(screen.getByRole('option', { name: /Bookings/ }));
    await user.keyboard('{Escape}');
    await waitFor(() => expect(test.sent().length).toBeGreaterThan(1));
    expect(test.sent().at(-1)?.body).toMatchObject({ content: { activities: ['5'] } });
  });

  it('is published by who may', async () => {
    const user = userEvent.setup();
    show();
    await user.click(await screen.findByRole('button', { name: 'Publish in 2 languages' }));
    await waitFor(() => expect(test.sent()[0]?.method).toBe('POST'));
    test.reset();
    show(AUDITOR);
    await screen.findByText('1 thing missing');
    expect(screen.queryByRole('button', { name: /Publish/ })).toBeNull();
  });
});
